//! Values to begin with: new pieces, and values of coats that are switched on.

use serde::Serialize;

use crate::model::{
    BoxShape, CssColour, EllipseShape, Falloff, FalloffPoint, Fill, FontSize, Fraction, Grain, Length,
    LineHeight, Radii, Rig, Shape, Size, Spacing, TextShape, Weight,
};

/// Values to begin with.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Defaults {
    /// A new box.
    #[serde(rename = "box")]
    pub box_shape: Shape,
    /// A new ellipse.
    pub ellipse: Shape,
    /// A new text.
    pub text: Shape,
    /// The fill of new shapes.
    pub paper: Fill,
    /// The fill of new text and icons.
    pub ink: Fill,
    /// The grain of a shadow that gets one.
    pub grain: Grain,
    /// The falloff of a shadow that gets one: it changes nothing yet.
    pub falloff: Falloff,
    /// The rig of a light that has none of its own.
    pub rig: Rig,
}

/// Values to begin with.
#[must_use]
pub fn defaults() -> Defaults {
    let size = Size::clamped;
    let point = |at: f64| FalloffPoint { from: Fraction::clamped(at), to: Fraction::clamped(at) };
    Defaults {
        box_shape: Shape::Box(BoxShape {
            w: size(200.0),
            h: size(120.0),
            radii: Radii::All(Length::clamped(16.0)),
        }),
        ellipse: Shape::Ellipse(EllipseShape { w: size(140.0), h: size(140.0) }),
        text: Shape::Text(TextShape {
            string: "Headline".to_owned(),
            font: "Figtree".to_owned(),
            size: FontSize::clamped(48.0),
            weight: Weight::clamped(700.0),
            spacing: Spacing::default(),
            line_height: LineHeight::clamped(1.2),
            align: Default::default(),
            width: None,
        }),
        paper: Fill::solid(CssColour::rgb([0xfb, 0xf9, 0xf3])),
        ink: Fill::solid(CssColour::rgb([0x24, 0x32, 0x2d])),
        grain: Grain { amount: Fraction::clamped(0.3), size: Length::clamped(1.0), seed: 1 },
        falloff: Falloff { points: vec![point(0.0), point(1.0)] },
        rig: Rig::usual(),
    }
}
