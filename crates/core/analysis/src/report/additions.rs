//! Coats to add: each a real coat, made for this piece, so that it can be shown on it before it is chosen.

use serde::Serialize;

use super::height::height;
use super::recipe::{
    Patch, Recipe, Softness, black, blended, coat, faint, floor_shadow, frost, own_lightness, stroke, white,
};
use crate::asset::Assets;
use crate::blend::BlendMode;
use crate::model::{
    Blur, BlurRadius, Coat, CoatKind, Factor, Fill, Id, Opacity, Piece, Project, Raised, Ramp, RampEnd,
    RampShadow, Sigma, Signed, Spread, StrokeSide, Tint,
};

/// A coat that could be added.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Addition {
    /// Its effect, in a few words.
    pub description: &'static str,
    /// The coat, to be given an id of its own.
    pub coat: Coat,
}

/// The coats that could be added to a piece; those with an offset follow the project's first light. Their numbers are
/// the trade's (docs/measuring.md, "Facts": common practice), lengths of patches and thickness by the piece's size.
#[must_use]
pub fn additions(project: &Project, piece: &Piece, assets: &Assets) -> Vec<Addition> {
    let recipe = Recipe::new(project, piece, assets);
    let made = [recipe.shadows(height(project)), recipe.on_the_surface(), recipe.around_it()].concat();
    let numbered = made.into_iter().enumerate().map(|(number, (description, coat))| {
        let coat = Coat { id: Id::numbered("addition", number), ..coat };
        Addition { description, coat }
    });
    numbered.collect()
}

/// The effect of a coat, and the coat.
type OfferedCoat = (&'static str, Coat);

impl Recipe {
    fn shadows(&self, height: Raised) -> Vec<OfferedCoat> {
        let glow =
            blended(self.drop("Glow", 0.0, Softness(24.0, 2.0, 0.8), own_lightness(0.0)), BlendMode::Screen);
        vec![
            ("soft, from the main light", self.drop("Drop shadow", 8.0, Softness(16.0, 0.0, 0.25), black())),
            (
                "tight and dark, where it touches",
                self.drop("Contact shadow", 1.0, Softness(2.0, 0.0, 0.35), black()),
            ),
            (
                "the piece's colour on the ground",
                self.drop("Own-colour shadow", 6.0, Softness(10.0, 0.0, 0.4), own_lightness(0.0)),
            ),
            ("many shadows from one description", coat("Ramp", CoatKind::Ramp(self.ramp()))),
            ("what the light casts at a height", coat("Height", CoatKind::Raised(height))),
            ("light all round, on dark grounds", glow),
            (
                "dark along the edge near the light",
                self.inner("Pressed in", 6.0, Softness(10.0, 0.0, 0.4), black()),
            ),
            (
                "bright along the edge near the light",
                self.inner("Lit edge", 1.0, Softness(1.0, 0.0, 0.7), white()),
            ),
        ]
    }

    fn ramp(&self) -> Ramp {
        let end = |distance: f64, blur: f64, spread: f64| RampEnd {
            offset: self.offset(distance),
            blur: BlurRadius::clamped(blur),
            spread: Spread::clamped(spread),
            colour: black(),
        };
        Ramp {
            shadow: RampShadow::Drop,
            near: end(1.0, 2.0, 0.0),
            far: end(30.0, 48.0, -6.0),
            count: 6,
            growth: Factor::clamped(1.6),
            lean: Signed::clamped(-0.3),
            total: Opacity::clamped(0.45),
        }
    }

    fn on_the_surface(&self) -> Vec<OfferedCoat> {
        let (w, h) = (self.width, self.height);
        let patch = Patch {
            x: (w * 0.15).round().max(1.0),
            y: (h * 0.05).round(),
            width: (w * 0.7).round(),
            height: (h * 0.4).round(),
            blur: (h * 0.25).round().clamp(1.0, 60.0),
        };
        let tint = coat("Tint", CoatKind::Tint(Tint { fill: self.light_to_dark() }));
        let line = stroke("Stroke", 2.0, StrokeSide::Inside, Fill::solid(white()));
        vec![
            ("a soft patch of light, kept inside", self.highlight("Highlight", patch, 0.6)),
            ("light to dark over the surface", faint(tint, 0.15)),
            ("a line along the edge", faint(line, 0.6)),
            ("softens the piece itself", coat("Blur", CoatKind::Blur(Blur { sigma: Sigma::clamped(2.0) }))),
        ]
    }

    fn around_it(&self) -> Vec<OfferedCoat> {
        let length = (self.shorter_side() * 0.12).clamp(4.0, 40.0).round();
        vec![
            ("solid, away from the light", self.thickness(length)),
            ("thrown on a floor, softer far out", floor_shadow("Floor shadow")),
            ("blurs what lies behind a see-through fill", frost()),
        ]
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn every_recipe_is_a_coat() {
        for lights in
            [json!([]), json!([{"id": "l", "name": "L", "bearing": 0, "colour": "#fff", "strength": 1}])]
        {
            for side in [0.0, 3.0, 8192.0_f64] {
                let document = json!({
                    "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}], "lights": lights,
                    "scenes": [{"id": "a", "name": "A", "width": 100, "height": 100, "theme": "t", "ground": {"kind": "none"},
                        "pieces": [{"id": "p", "name": "P", "shape": {"kind": "box", "w": side, "h": side}, "x": 0, "y": 0, "wear": {"coats": []}}]}]
                });
                let project = Project::from_value(&document).expect("a project");
                let found = additions(&project, &project.scenes[0].pieces[0], &Assets::default());
                assert_eq!(found.len(), 15, "{side}");
                let mut with = project.clone();
                let coats = found.into_iter().map(|addition| addition.coat).collect();
                with.scenes[0].pieces[0].wear = crate::model::Wear::Coats(crate::model::OwnCoats { coats });
                let back = serde_json::to_value(&with).expect("JSON");
                assert!(Project::from_value(&back).is_ok_and(|back| back == with));
            }
        }
    }
}
