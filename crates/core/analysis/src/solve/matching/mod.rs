//! Stacks from pictures: the box of an element, what it lies on, its fill and border, and its shadows (docs/measuring.md,
//! "Pictures").

mod best;
mod border;
mod coats;
mod drawn;
mod element;
mod find;
mod found;
mod looked;
mod mask;
mod notes;
mod pixels;
mod place;
mod radius;
mod rounding;
mod settling;
mod side;
mod starts;
mod steps;
mod typed;

use drawn::Drawing;
use element::Element;
use pixels::Pixels;
use settling::suggested;

pub use coats::coats;
pub use drawn::drawn_match;
pub use found::{MatchRequest, MatchedPicture, MatchedStack};
pub use notes::MatchNote;
pub use place::PlacedBox;

/// The most pixels of a picture.
pub const MOST_PIXELS: u64 = 4_200_000;

/// Finds an element and its stack; nothing where a picture shows no box, or is larger than
/// [`MOST_PIXELS`].
#[must_use]
pub fn match_picture(request: &MatchRequest<'_>) -> Option<MatchedPicture> {
    if u64::from(request.picture.width) * u64::from(request.picture.height) > MOST_PIXELS {
        return None;
    }
    let pixels = Pixels::new(request.picture, request.is_compressed);
    let mut element = Element::found(&pixels, request)?;
    let by_count = element.by_count();
    let suggested = suggested(&by_count);
    let Drawing { place, ground, fill, border, .. } = element.drawing();
    let under = [ground.r, ground.g, ground.b].map(f64::from);
    let notes = by_count.get(suggested).map(|stack| notes::notes(&stack.outside, under));
    Some(MatchedPicture {
        place,
        ground,
        fill,
        border,
        by_count,
        suggested,
        notes: notes.unwrap_or_default(),
    })
}
