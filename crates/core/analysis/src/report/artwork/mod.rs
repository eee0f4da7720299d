//! The elements of a drawing, and taking them out of it as pieces (docs/drawings.md, "Taking out").

mod fills;
mod shapes;
mod take_out;

use serde::Serialize;

use crate::asset::Assets;
use crate::geometry::drawing::{Drawing, Element, Untakeable};
use crate::model::{DrawingShape, Piece, Shape};
use crate::syntax::tidy;

pub use shapes::OWN_STROKE;
pub use take_out::take_out;

/// What a drawing consists of.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Artwork {
    /// The elements that the piece shows, highest first.
    pub elements: Vec<ArtworkElement>,
    /// Families that its texts ask for and that are not at hand.
    pub missing_families: Vec<String>,
}

/// An element of a drawing, or the smallest thing that can be taken out of it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ArtworkElement {
    /// Its number in painting order.
    pub number: u32,
    /// Its name in the file.
    pub name: String,
    /// The names of the groups around it, outermost first.
    pub groups: Vec<String>,
    /// The name of its tag.
    pub tag: String,
    /// Where it is, in px of the piece's box: left, top, width, height.
    pub place: [f64; 4],
    /// Why nothing smaller can be taken out of it; nothing where it is a single element.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub bound: Option<&'static str>,
}

/// The elements of a piece that is a drawing; `None` where it is none, or cannot be read.
#[must_use]
pub fn artwork(piece: &Piece, assets: &Assets) -> Option<Artwork> {
    let Shape::Drawing(shape) = &piece.shape else { return None };
    let drawing = assets.drawing(&shape.asset)?.ok()?;
    let run = run_of(shape, &drawing);
    let elements = run.rev().map(|number| described(&drawing.elements[number], number, shape, &drawing));
    Some(Artwork { elements: elements.collect(), missing_families: drawing.missing_families.clone() })
}

/// The numbers of the elements that a piece shows.
fn run_of(shape: &DrawingShape, drawing: &Drawing) -> std::ops::Range<usize> {
    let count = drawing.elements.len();
    shape.elements.map_or(0..count, |run| (run.from as usize).min(count)..(run.to as usize).min(count))
}

fn described(element: &Element, number: usize, shape: &DrawingShape, drawing: &Drawing) -> ArtworkElement {
    let page = drawing.page();
    let (across, down) = (shape.w.get() / page.width(), shape.h.get() / page.height());
    let bounds = element.bounds.intersect(page);
    ArtworkElement {
        number: u32::try_from(number).unwrap_or(u32::MAX),
        name: element.name.clone(),
        groups: element.groups.clone(),
        tag: element.tag.clone(),
        place: [bounds.x0 * across, bounds.y0 * down, bounds.width() * across, bounds.height() * down]
            .map(tidy),
        bound: element.bound.map(reason),
    }
}

/// Why elements can be taken out together only.
fn reason(bound: Untakeable) -> &'static str {
    match bound {
        Untakeable::Opacity => "The group is faded as one.",
        Untakeable::Blend => "It blends with what lies below it.",
        Untakeable::Clip => "The group is clipped.",
        Untakeable::Mask => "The group is masked.",
        Untakeable::Filter => "The group has a filter.",
        Untakeable::Use => "The file draws it as a copy of something else.",
    }
}
