//! Raised shadows as coats of a document.

use super::rig::LightRig;
use crate::blend::BlendMode;
use crate::model::{
    BlurRadius, CartesianOffset, Coat, CoatKind, ColourSource, CssColour, Id, Offset, OffsetPx, Opacity,
    Spread,
};
use crate::resolve::{self, PaintOp, ShadowPaint};
use crate::solve::shadow::Shadow;

/// The coats of a height, named after what casts them.
#[must_use]
pub fn coats(shadows: &[Shadow], rig: &LightRig) -> Vec<Coat> {
    let has_light = rig.ambient < 1.0;
    let coat = |(number, shadow): (usize, &Shadow)| {
        let name = match (has_light, number) {
            (true, 0) => "Key".to_owned(),
            (true, 1) | (false, 0) => "Ambient".to_owned(),
            (true, number) => format!("Ambient {number}"),
            (false, number) => format!("Ambient {}", number + 1),
        };
        let (blur, spread) = (BlurRadius::clamped(shadow.blur), Spread::clamped(shadow.spread));
        let offset = CartesianOffset { x: OffsetPx::clamped(shadow.dx), y: OffsetPx::clamped(shadow.dy) };
        let offset = Offset::Cartesian(offset);
        let colour = ColourSource::Literal(CssColour::black());
        Coat {
            id: Id::numbered("raised", number + 1),
            name,
            on: true,
            opacity: Opacity::clamped(shadow.opacity),
            blend: BlendMode::Normal,
            kind: CoatKind::drop(offset, blur, spread, colour),
        }
    };
    shadows.iter().enumerate().map(coat).collect()
}

/// A coat as a shadow that darkens white, if it is a drop shadow of one colour.
#[must_use]
pub fn darkening(coat: &resolve::Coat) -> Option<Shadow> {
    let PaintOp::Shadow(shadow) = &coat.op else { return None };
    let ShadowPaint::Colour(colour) = shadow.paint else { return None };
    let dark = 1.0 - (colour.r + colour.g + colour.b) / 3.0;
    (!coat.op.is_on_surface()).then(|| Shadow {
        dx: shadow.dx,
        dy: shadow.dy,
        blur: shadow.blur,
        spread: shadow.spread,
        opacity: f64::from(colour.a * dark),
        colour: [0.0; 3],
    })
}
