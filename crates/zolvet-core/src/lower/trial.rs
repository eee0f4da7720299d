//! Pieces to try a finish on: a box, letters and an icon, on light and on dark ground.

use serde::{Deserialize, Serialize};
use serde_json::json;

use crate::model::{Id, Scene, Wear};

/// What a finish is tried on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TrialPiece {
    /// A box with rounded corners.
    Box,
    /// Two heavy letters.
    Text,
    /// A seedling.
    Icon,
}

impl TrialPiece {
    /// All of them.
    pub const ALL: [Self; 3] = [Self::Box, Self::Text, Self::Icon];
}

/// Width and height of the scene a finish is tried in, in px.
pub const TRIAL_SIZE: (f64, f64) = (320.0, 240.0);

/// Two leaves on a stem.
const SEEDLING: &str =
    "M46 100 L46 62 C30 64 12 54 8 30 C28 26 44 36 48 54 C50 30 66 14 94 12 C96 40 80 60 54 62 L54 100 Z";

/// A scene with one piece that wears something. `None` only if a trial piece were no longer a legal one, which
/// `tests::every_trial_is_a_scene` rules out.
#[must_use]
pub fn trial(theme: &Id, wear: &Wear, on: TrialPiece, dark: bool) -> Option<Scene> {
    let (ground, fill, ink) =
        if dark { ("#161b1a", "#2c3533", "#d9e3de") } else { ("#e9e5da", "#fbf9f3", "#2f6d5f") };
    let (shape, x, y, colour) = match on {
        TrialPiece::Box => (json!({"kind": "box", "w": 168, "h": 104, "radii": 18}), 76, 68, fill),
        TrialPiece::Text => (
            json!({"kind": "text", "string": "Ag", "font": "Archivo Black", "size": 112, "weight": 400, "line_height": 1.125}),
            76,
            56,
            ink,
        ),
        TrialPiece::Icon => (
            json!({"kind": "path", "d": SEEDLING, "viewbox": [0, 0, 102, 112], "w": 136, "h": 150}),
            92,
            42,
            ink,
        ),
    };
    let piece = json!({"id": "trial", "name": "trial", "shape": shape, "x": x, "y": y,
        "fill": {"kind": "solid", "colour": colour}, "wear": wear});
    let scene = json!({"id": "trial", "name": "trial", "width": TRIAL_SIZE.0, "height": TRIAL_SIZE.1, "theme": theme,
        "ground": {"kind": "solid", "colour": ground}, "pieces": [piece]});
    serde_json::from_value(scene).ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::model::OwnCoats;

    #[test]
    fn every_trial_is_a_scene() {
        let (theme, wear) = (Id::numbered("theme", 1), Wear::Coats(OwnCoats { coats: Vec::new() }));
        for on in TrialPiece::ALL {
            for dark in [false, true] {
                assert!(trial(&theme, &wear, on, dark).is_some(), "{on:?}");
            }
        }
    }
}
