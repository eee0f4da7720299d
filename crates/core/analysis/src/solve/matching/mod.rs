//! Stacks from pictures: the box of an element, what it lies on, its fill and border, and its shadows (docs/measuring.md,
//! "Pictures").

mod border;
mod coats;
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
mod steps;

use crate::colour::Rgba;
use element::Element;
use pixels::{Colour, Pixels};
use side::FoundSide;

pub use coats::coats;
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
    let under = |sides: &[FoundSide]| sides.last().map_or([1.0; 3], |found| found.under.at_corner);
    let by_count = element.by_count();
    let suggested = suggested(&by_count);
    let notes = by_count.get(suggested).map(|stack| notes::notes(&stack.outside, under(&element.outside)));
    Some(MatchedPicture {
        place: element.place.scaled(1.0 / request.density),
        ground: rgba(under(&element.outside)),
        fill: rgba(under(&element.inside)),
        border: element.border.map(|border| (border.width / request.density, rgba(border.colour))),
        by_count,
        suggested,
        notes: notes.unwrap_or_default(),
    })
}

/// The first stack that is as good as whole 255ths are, or nearly as good as the best.
fn suggested(all: &[MatchedStack]) -> usize {
    let cost = |stack: &MatchedStack| stack.error.mean + stack.error.p99 / 6.0;
    let least = all.iter().map(cost).fold(f64::INFINITY, f64::min);
    let is_exact = |stack: &MatchedStack| stack.error.mean <= 0.3 && stack.error.p99 <= 1.5;
    all.iter().position(|stack| is_exact(stack) || cost(stack) <= least * 1.12 + 0.06).unwrap_or(0)
}

fn rgba(colour: Colour) -> Rgba {
    let [r, g, b] = colour.map(|channel| ((channel * 255.0).round() / 255.0).clamp(0.0, 1.0) as f32);
    Rgba::new(r, g, b, 1.0)
}
