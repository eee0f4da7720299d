//! Stacks from pictures: the box of an element, what it lies on, its fill and border, and its shadows (docs/measuring.md,
//! "Pictures").

mod border;
mod coats;
mod drawn;
mod element;
mod find;
mod found;
mod mask;
mod notes;
mod pixels;
mod place;
mod radius;
mod rounding;
mod side;
mod starts;
mod steps;

use drawn::Drawing;
use element::{Element, cost};
use pixels::Pixels;

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
    let element = Element::found(&pixels, request)?;
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

/// The first stack that is as good as whole 255ths are, or nearly as good as the best.
fn suggested(all: &[MatchedStack]) -> usize {
    let least = all.iter().map(|stack| cost(&stack.error)).fold(f64::INFINITY, f64::min);
    let is_exact = |stack: &MatchedStack| stack.error.mean <= 0.3 && stack.error.p99 <= 1.5;
    all.iter().position(|stack| is_exact(stack) || cost(&stack.error) <= least * 1.12 + 0.06).unwrap_or(0)
}
