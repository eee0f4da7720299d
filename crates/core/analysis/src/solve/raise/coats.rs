//! Raised shadows as coats of a document.

use super::rig::LightRig;
use crate::blend::BlendMode;
use crate::model::{
    BlurRadius, CartesianOffset, Coat, CoatKind, ColourSource, CssColour, FollowingOffset, Id, Offset,
    OffsetPx, Opacity, Spread,
};
use crate::solve::shadow::Shadow;

/// The coats of a height: named after what casts them, and following a light where one is given.
#[must_use]
pub fn coats(shadows: &[Shadow], rig: &LightRig, light: Option<&Id>) -> Vec<Coat> {
    let has_light = rig.ambient < 1.0;
    let coat = |(number, shadow): (usize, &Shadow)| {
        let name = match (has_light, number) {
            (true, 0) => "Key".to_owned(),
            (true, 1) | (false, 0) => "Ambient".to_owned(),
            (true, number) => format!("Ambient {number}"),
            (false, number) => format!("Ambient {}", number + 1),
        };
        let (blur, spread) = (BlurRadius::clamped(shadow.blur), Spread::clamped(shadow.spread));
        let colour = ColourSource::Literal(CssColour::black());
        Coat {
            id: Id::numbered("raised", number + 1),
            name,
            on: true,
            opacity: Opacity::clamped(shadow.opacity),
            blend: BlendMode::Normal,
            kind: CoatKind::drop(offset(shadow, rig, light), blur, spread, colour),
        }
    };
    shadows.iter().enumerate().map(coat).collect()
}

fn offset(shadow: &Shadow, rig: &LightRig, light: Option<&Id>) -> Offset {
    let (x, y) = rig.away();
    if let Some(light) = light {
        let distance = (shadow.dx * x + shadow.dy * y) * 100.0;
        let distance = OffsetPx::clamped(distance.round() / 100.0 + 0.0);
        return Offset::Following(FollowingOffset { distance, follows: light.clone() });
    }
    Offset::Cartesian(CartesianOffset { x: OffsetPx::clamped(shadow.dx), y: OffsetPx::clamped(shadow.dy) })
}
