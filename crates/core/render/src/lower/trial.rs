//! Pieces to try a finish on: a box, letters and an icon, on light and on dark ground.

use serde::{Deserialize, Serialize};

use super::lowered::Target;
use crate::model::{
    Align, BoxShape, CssColour, DepthProperty, Fill, Finish, FontSize, Id, Length, LineHeight, PathShape,
    Piece, Px, Radii, Scene, Shape, Size, Spacing, TextShape, Wear, Weight,
};

/// A piece that finishes are tried on.
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

    /// The suffix of a finish's class for this kind of piece, where it is not the kind it was made for.
    #[must_use]
    pub fn ending(self) -> &'static str {
        match self {
            Self::Box => "-box",
            Self::Text => "-text",
            Self::Icon => "-icon",
        }
    }

    /// The kind of piece that a finish was made for.
    #[must_use]
    pub fn for_finish(finish: &Finish) -> Self {
        match finish.made_with {
            None | Some(DepthProperty::BoxShadow) => Self::Box,
            Some(DepthProperty::TextShadow) => Self::Text,
            Some(DepthProperty::Filter) => Self::Icon,
        }
    }

    /// The kind of piece that a shape is.
    #[must_use]
    pub fn new(shape: &Shape) -> Self {
        match shape {
            Shape::Text(_) => Self::Text,
            Shape::Box(_) | Shape::Ellipse(_) => Self::Box,
            Shape::Path(_) | Shape::Picture(_) | Shape::Drawing(_) | Shape::Join(_) | Shape::Group(_) => {
                Self::Icon
            }
        }
    }

    /// The target that a finish is written in for this kind of piece.
    #[must_use]
    pub fn target(self) -> Target {
        match self {
            Self::Box => Target::BoxShadow,
            Self::Text => Target::TextShadow,
            Self::Icon => Target::DropShadow,
        }
    }

    fn shape(self) -> Shape {
        match self {
            Self::Box => Shape::Box(BoxShape {
                w: Size::clamped(168.0),
                h: Size::clamped(104.0),
                radii: Radii::All(Length::clamped(18.0)),
            }),
            Self::Text => Shape::Text(TextShape {
                string: "Ag".to_owned(),
                font: "Archivo Black".to_owned(),
                size: FontSize::clamped(112.0),
                weight: Weight::clamped(400.0),
                spacing: Spacing::default(),
                line_height: LineHeight::clamped(1.125),
                align: Align::default(),
                width: None,
            }),
            Self::Icon => Shape::Path(PathShape {
                d: SEEDLING.to_owned(),
                viewbox: [0.0, 0.0, 102.0, 112.0],
                w: Size::clamped(136.0),
                h: Size::clamped(150.0),
                rounding: Length::default(),
            }),
        }
    }

    /// The left and the top of the piece in its scene, in px: in the middle, seen by eye.
    fn position(self) -> (f64, f64) {
        match self {
            Self::Box => (76.0, 68.0),
            Self::Text => (76.0, 56.0),
            Self::Icon => (92.0, 42.0),
        }
    }
}

/// Width and height of the scene a finish is tried in, in px.
const TRIAL_SIZE: (f64, f64) = (320.0, 240.0);

/// Two leaves on a stem.
pub const SEEDLING: &str =
    "M46 100 L46 62 C30 64 12 54 8 30 C28 26 44 36 48 54 C50 30 66 14 94 12 C96 40 80 60 54 62 L54 100 Z";

/// The colours of a trial scene.
struct Palette {
    ground: [u8; 3],
    box_fill: [u8; 3],
    /// Of letters and icons.
    glyph_fill: [u8; 3],
}

const LIGHT: Palette =
    Palette { ground: [0xe9, 0xe5, 0xda], box_fill: [0xfb, 0xf9, 0xf3], glyph_fill: [0x2f, 0x6d, 0x5f] };
const DARK: Palette =
    Palette { ground: [0x16, 0x1b, 0x1a], box_fill: [0x2c, 0x35, 0x33], glyph_fill: [0xd9, 0xe3, 0xde] };

/// A scene with one piece that wears something.
#[must_use]
pub fn trial(theme: &Id, wear: &Wear, on: TrialPiece, dark: bool) -> Scene {
    let palette = if dark { DARK } else { LIGHT };
    let fill = if on == TrialPiece::Box { palette.box_fill } else { palette.glyph_fill };
    let (x, y) = on.position();
    let piece = Piece {
        name: "trial".to_owned(),
        shape: on.shape(),
        x: Px::clamped(x),
        y: Px::clamped(y),
        fill: Fill::solid(CssColour::rgb(fill)),
        wear: wear.clone(),
        ..Piece::new(Id::named("trial"))
    };
    Scene {
        page: None,
        id: Id::named("trial"),
        name: "trial".to_owned(),
        width: Size::clamped(TRIAL_SIZE.0),
        height: Size::clamped(TRIAL_SIZE.1),
        theme: theme.clone(),
        ground: Fill::solid(CssColour::rgb(palette.ground)),
        pieces: vec![piece],
        reference: None,
    }
}
