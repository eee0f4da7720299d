//! Shapes that an element of a drawing may be.

use std::borrow::Cow;

use kurbo::{Affine, BezPath, PathEl, Point, Rect, Shape as _};

use super::fills::fill;
use crate::geometry::StrokeSide;
use crate::geometry::drawing::{ElementArea, ElementPaint};
use crate::limits;
use crate::model::{
    BoxShape, Coat, CoatKind, CornerRadius, EllipseRadius, EllipseShape, Fill, Id, Length, PathShape, Px,
    Radii, Shape, Size, Stroke,
};
use crate::syntax::{path_text, tidy};

/// A shape of ours in a drawing's box.
pub struct Candidate {
    pub shape: Shape,
    pub fill: Fill,
    pub coats: Vec<Coat>,
    pub x: Px,
    pub y: Px,
}

/// The id of the coat that a stroke of the file becomes.
pub const OWN_STROKE: &str = "own-stroke";

/// Decimals of coordinates of outlines, in px.
const DECIMALS: i32 = 4;

/// Shapes that an element may be, the simplest first. `place` leads from the drawing to the px of its box. It is one area, or one
/// with a stroke over it, in paints that ours have.
pub fn candidates(tag: &str, areas: &[ElementArea<'_>], place: Affine) -> Vec<Candidate> {
    let (area, line) = match areas {
        [area] => (area.clone(), None),
        [area, line] if area.pen.is_none() && line.pen.is_some() => (area.clone(), Some(line)),
        letters => match together(letters) {
            Some(area) => (area, None),
            None => return Vec::new(),
        },
    };
    let ElementArea { outline, paint, .. } = &area;
    let outline = place * outline.as_ref();
    let bounds = outline.bounding_box();
    if bounds.width() <= 0.0 || bounds.height() <= 0.0 {
        return Vec::new();
    }
    let simple = match tag {
        "rect" => rounded(&outline, bounds),
        "circle" | "ellipse" => {
            let (w, h) = size(bounds);
            Some(Shape::Ellipse(EllipseShape { w, h }))
        }
        _ => None,
    };
    let is_short = outline.elements().len() <= limits::PATH_ELEMENTS;
    let shapes = simple.into_iter().chain(is_short.then(|| path(&outline, bounds)));
    let found = shapes.map(|shape| {
        let fill = fill(paint, place, bounds)?;
        let coats =
            line.map_or(Some(Vec::new()), |line| stroke(line, place, bounds).map(|coat| vec![coat]))?;
        Some(Candidate {
            shape,
            fill,
            coats,
            x: Px::clamped(tidy(bounds.x0)),
            y: Px::clamped(tidy(bounds.y0)),
        })
    });
    found.flatten().collect()
}

/// Areas in one colour as one, such as letters.
fn together<'a>(areas: &[ElementArea<'a>]) -> Option<ElementArea<'a>> {
    let (first, others) = areas.split_first()?;
    let ElementPaint::Colour(colour) = first.paint else { return None };
    let mut outline = first.outline.clone().into_owned();
    for area in others {
        if !matches!(area.paint, ElementPaint::Colour(other) if other == colour) {
            return None;
        }
        outline.extend(area.outline.iter());
    }
    let paint = ElementPaint::Colour(colour);
    Some(ElementArea { outline: Cow::Owned(outline), paint, pen: None })
}

/// A stroke as a coat across the edge.
fn stroke(line: &ElementArea<'_>, place: Affine, bounds: Rect) -> Option<Coat> {
    let pen = line.pen?;
    let width = pen.width * place.determinant().abs().sqrt();
    let around = bounds.inflate(width / 2.0, width / 2.0);
    let kind = CoatKind::Stroke(Stroke {
        width: Length::clamped(tidy(width)),
        side: StrokeSide::Centre,
        join: pen.join,
        cap: pen.cap,
        fill: fill(&line.paint, place, around)?,
    });
    Some(Coat::new(Id::new(OWN_STROKE.to_owned()).ok()?, "Stroke", kind))
}

fn size(bounds: Rect) -> (Size, Size) {
    (Size::clamped(tidy(bounds.width())), Size::clamped(tidy(bounds.height())))
}

/// A box with the radii that its outline has where it leaves the sides.
fn rounded(outline: &BezPath, bounds: Rect) -> Option<Shape> {
    let (w, h) = size(bounds);
    let near = bounds.width().max(bounds.height()) * 1e-4;
    let on = |is_on: &dyn Fn(Point) -> bool, at: &dyn Fn(Point) -> f64| {
        let ends = outline.elements().iter().filter_map(PathEl::end_point);
        ends.filter(|point| is_on(*point)).map(at).reduce(f64::min)
    };
    let x = on(&|point| (point.y - bounds.y0).abs() < near, &|point| point.x - bounds.x0)?;
    let y = on(&|point| (point.x - bounds.x0).abs() < near, &|point| point.y - bounds.y0)?;
    let [x, y] = [x, y].map(|radius| Length::clamped(tidy(if radius < near { 0.0 } else { radius })));
    let radii =
        if x == y { Radii::All(x) } else { Radii::Each([CornerRadius::Ellipse(EllipseRadius { x, y }); 4]) };
    Some(Shape::Box(BoxShape { w, h, radii }))
}

fn path(outline: &BezPath, bounds: Rect) -> Shape {
    let (w, h) = size(bounds);
    let moved = Affine::translate(-bounds.origin().to_vec2()) * outline;
    let viewbox = [0.0, 0.0, w.get(), h.get()];
    Shape::Path(PathShape { d: path_text(&moved, DECIMALS), viewbox, w, h, rounding: Length::clamped(0.0) })
}
