//! The shadows of a height as ordinary drop shadows (docs/measuring.md, "Heights").

use crate::model::{BlurRadius, Coat, CoatKind, Id, Opacity, Raised, Spread};

/// The drop shadows that the shadows of a height stand for: the light's own first. They are drawn from these, so splitting them
/// changes no pixel.
#[must_use]
pub fn split_raised(coat: &Coat, raised: &Raised) -> Vec<Coat> {
    let height = raised.height.get();
    let shadows = raised.shadows.iter().enumerate();
    let split = shadows.map(|(number, shadow)| {
        let blur = BlurRadius::clamped(shadow.blur.get() * height);
        let spread = Spread::clamped(shadow.spread.get() * height);
        Coat {
            id: Id::step_of(&coat.id, number + 1),
            name: name(raised, number),
            on: coat.on,
            opacity: Opacity::clamped(shadow.opacity.get() * coat.opacity.get()),
            blend: coat.blend,
            kind: CoatKind::drop(raised.offset(shadow), blur, spread, raised.colour.clone()),
        }
    });
    split.collect()
}

/// What a shadow is called after: the light, or what is around.
fn name(raised: &Raised, number: usize) -> String {
    match (raised.has_key(), number) {
        (true, 0) => "Key".to_owned(),
        (true, 1) | (false, 0) => "Ambient".to_owned(),
        (true, number) => format!("Ambient {number}"),
        (false, number) => format!("Ambient {}", number + 1),
    }
}
