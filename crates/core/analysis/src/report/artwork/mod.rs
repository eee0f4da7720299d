//! The elements of a drawing, and taking them out of it as pieces (docs/drawings.md, "Taking out").

mod fills;
mod original;
mod own_filter;
mod places;
mod shapes;
mod take_out;
mod texts;
mod trial;

use std::sync::Arc;

use kurbo::{Affine, Shape as _};
use serde::Serialize;

use crate::asset::Assets;
use crate::geometry::DrawnShape;
use crate::geometry::drawing::{Drawing, Element, Untakeable};
use crate::geometry::icon::Icon;
use crate::model::{DrawingShape, Fill, Length, PathShape, Piece, Shape};
use crate::raster::Rect;
use crate::syntax::tidy;

pub use original::{Changed, Original, scale_of};
pub use own_filter::{AsCoats, as_coats};
pub use shapes::OWN_STROKE;
pub use take_out::take_out;
pub use texts::AsText;

use places::run_of;
use texts::as_text;

/// What a drawing consists of.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Artwork {
    /// The elements that the piece shows, highest first.
    pub elements: Vec<ArtworkElement>,
    /// Families that its texts ask for and that are not at hand.
    pub missing_families: Vec<String>,
    /// The same as an icon, where all of it has one colour.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub in_one_colour: Option<OneColour>,
    /// The same as a text, where it is one line in a font that is at hand.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub as_text: Option<AsText>,
}

/// A drawing in one colour as a shape, filled with that.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OneColour {
    /// The shape.
    pub shape: Shape,
    /// Its fill.
    pub fill: Fill,
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

/// The elements of a piece that is a drawing, none for an element that became a path; `None` where it is neither, or cannot be read.
#[must_use]
pub fn artwork(piece: &Piece, assets: &Assets) -> Option<Artwork> {
    let Shape::Drawing(shape) = &piece.shape else { return path_of_text(piece, assets) };
    let drawing = assets.drawing(&shape.asset)?.ok()?;
    let run = run_of(shape, &drawing);
    let alone =
        drawing.elements.get(run.clone()).and_then(|run| if let [only] = run { Some(only) } else { None });
    let page = drawing.page();
    let fit = Affine::scale_non_uniform(shape.w.get() / page.width(), shape.h.get() / page.height());
    let elements = run.rev().map(|number| described(&drawing.elements[number], number, shape, &drawing));
    Some(Artwork {
        elements: elements.collect(),
        missing_families: drawing.missing_families.clone(),
        in_one_colour: in_one_colour(shape, &drawing, assets),
        as_text: alone.and_then(|element| as_text(element, fit, assets)),
    })
}

/// What a path is that was taken out of a drawing: it may have been a text.
fn path_of_text(piece: &Piece, assets: &Assets) -> Option<Artwork> {
    let (from, Shape::Path(path)) = (piece.drawn_from.as_ref()?, &piece.shape) else { return None };
    let drawing = assets.drawing(&from.asset)?.ok()?;
    let element = drawing.elements.get(from.element as usize)?;
    let areas = element.areas()?;
    let bounds = areas.iter().map(|area| area.outline.bounding_box()).reduce(|a, b| a.union(b))?;
    let fit = Affine::scale_non_uniform(path.w.get() / bounds.width(), path.h.get() / bounds.height())
        * Affine::translate(-bounds.origin().to_vec2());
    Some(Artwork {
        elements: Vec::new(),
        missing_families: drawing.missing_families.clone(),
        in_one_colour: None,
        as_text: as_text(element, fit, assets),
    })
}

/// A whole drawing as an icon, where it has one colour and is not stretched.
fn in_one_colour(shape: &DrawingShape, drawing: &Drawing, assets: &Assets) -> Option<OneColour> {
    if shape.elements.is_some() {
        return None;
    }
    let colour = drawing.only_colour()?;
    let Icon { d, viewbox, has_text } = Icon::read(assets.drawing_file(&shape.asset)?.text()).ok()?;
    let stretch = (viewbox[2] / viewbox[3]) / (drawing.width / drawing.height);
    let path = PathShape { d, viewbox, w: shape.w, h: shape.h, rounding: Length::clamped(0.0) };
    let is_whole = !has_text && (stretch - 1.0).abs() < 1e-3;
    is_whole.then(|| OneColour { shape: Shape::Path(path), fill: fills::solid(colour) })
}

/// The number of the highest element that paints something at a place of a drawing's box, in px of it.
#[must_use]
pub fn element_at(piece: &Piece, (x, y): (f64, f64), assets: &Assets) -> Option<u32> {
    let Shape::Drawing(shape) = &piece.shape else { return None };
    let drawing = assets.drawing(&shape.asset)?.ok()?;
    let (w, h) = (shape.w.get(), shape.h.get());
    // Three px of the box, so that thin lines can be hit.
    let (place, window) = (Affine::translate((1.5 - x, 1.5 - y)), Rect::new(0, 0, 3, 3));
    let paints = |number: &usize| {
        let element = DrawnShape::new(Arc::clone(&drawing), *number..number + 1, w, h);
        element.painted(place, window).values().any(|pixel| pixel[3] > 0.1)
    };
    run_of(shape, &drawing).rev().find(paints).and_then(|number| u32::try_from(number).ok())
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
