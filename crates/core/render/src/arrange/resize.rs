//! Groups of another size: their parts keep their distances from its edges, or all are scaled.

use serde::Deserialize;

use crate::asset::Assets;
use crate::model::{
    BoxShape, CornerRadius, DrawingShape, EllipseRadius, EllipseShape, FontSize, GroupShape, JoinShape,
    Length, PathShape, PictureShape, Piece, Px, Radii, Shape, Size, Spacing, TextShape,
};
use crate::resolve::box_size;
use crate::syntax::tidy;

/// What becomes of the parts of a group that is resized.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Resizing {
    /// They keep their distances from the edges that they are near, and grow where they reach from one to the other.
    Edges,
    /// They are scaled, with their letters and corners; their coats are not.
    Scale,
}

/// A group of another width and height.
#[must_use]
pub fn resized(group: &Piece, (width, height): (f64, f64), how: Resizing, assets: &Assets) -> Piece {
    let (w, h) = box_size(group, assets);
    let Shape::Group(shape) = &group.shape else { return group.clone() };
    if w <= 0.0 || h <= 0.0 {
        return group.clone();
    }
    let part = |part: &Piece| match how {
        Resizing::Scale => scaled(part, (width / w, height / h), assets),
        Resizing::Edges => {
            let (part_w, part_h) = box_size(part, assets);
            let across = Span { start: part.x.get(), length: part_w, within: w };
            let down = Span { start: part.y.get(), length: part_h, within: h };
            anchored(part, (across.grown(width - w), down.grown(height - h)), assets)
        }
    };
    let shape = Shape::Group(GroupShape { parts: shape.parts.iter().map(part).collect() });
    Piece { shape, ..group.clone() }
}

/// A part along one axis of its group.
struct Span {
    start: f64,
    length: f64,
    within: f64,
}

/// The share of its group along which a part reaches from edge to edge.
const REACH: f64 = 0.6;

impl Span {
    /// Its start and length in a group that is larger by so much.
    fn grown(&self, by: f64) -> (f64, f64) {
        let after = self.within - self.start - self.length;
        if self.length >= REACH * self.within {
            (self.start, (self.length + by).max(1.0))
        } else if (self.start - after).abs() < 2.0 {
            (self.start + by / 2.0, self.length)
        } else if self.start <= after {
            (self.start, self.length)
        } else {
            (self.start + by, self.length)
        }
    }
}

/// A part with its box at these starts and of these lengths, as far as its shape can be of another size.
fn anchored(part: &Piece, ((x, w), (y, h)): ((f64, f64), (f64, f64)), assets: &Assets) -> Piece {
    let moved = placed(part, x, y);
    let size = (Size::clamped(tidy(w)), Size::clamped(tidy(h)));
    let shape = match &part.shape {
        Shape::Box(own) => Shape::Box(BoxShape { w: size.0, h: size.1, ..own.clone() }),
        Shape::Ellipse(_) => Shape::Ellipse(EllipseShape { w: size.0, h: size.1 }),
        Shape::Path(own) => Shape::Path(PathShape { w: size.0, h: size.1, ..own.clone() }),
        Shape::Text(own) => Shape::Text(TextShape { width: own.width.map(|_| size.0), ..own.clone() }),
        Shape::Group(_) => return placed(&resized(part, (w, h), Resizing::Edges, assets), x, y),
        // None of them can grow along one axis alone.
        Shape::Picture(_) | Shape::Drawing(_) | Shape::Join(_) => return moved,
    };
    Piece { shape, ..moved }
}

fn placed(part: &Piece, x: f64, y: f64) -> Piece {
    Piece { x: Px::clamped(tidy(x)), y: Px::clamped(tidy(y)), ..part.clone() }
}

fn scaled(part: &Piece, (across, down): (f64, f64), assets: &Assets) -> Piece {
    let both = across.min(down);
    // A rotated part keeps its form; its middle goes along.
    let factors = if part.rotation.get() == 0.0 { (across, down) } else { (both, both) };
    let shape = scaled_shape(&part.shape, factors, assets);
    let (w, h) = box_size(part, assets);
    let (new_w, new_h) = box_size(&Piece { shape: shape.clone(), ..part.clone() }, assets);
    let middle = (part.x.get() + w / 2.0, part.y.get() + h / 2.0);
    let moved = placed(part, middle.0 * across - new_w / 2.0, middle.1 * down - new_h / 2.0);
    Piece { shape, ..moved }
}

fn scaled_shape(shape: &Shape, (across, down): (f64, f64), assets: &Assets) -> Shape {
    let both = across.min(down);
    let sized = |w: Size, h: Size| (side(w, across), side(h, down));
    match shape {
        Shape::Box(own) => {
            let (w, h) = sized(own.w, own.h);
            Shape::Box(BoxShape { w, h, radii: scaled_radii(own.radii, (across, down)) })
        }
        Shape::Ellipse(own) => {
            let (w, h) = sized(own.w, own.h);
            Shape::Ellipse(EllipseShape { w, h })
        }
        Shape::Path(own) => {
            let (w, h) = sized(own.w, own.h);
            Shape::Path(PathShape { w, h, rounding: length(own.rounding, both), ..own.clone() })
        }
        Shape::Text(own) => Shape::Text(TextShape {
            size: FontSize::clamped(tidy(own.size.get() * both)),
            spacing: Spacing::clamped(tidy(own.spacing.get() * both)),
            width: own.width.map(|width| side(width, across)),
            ..own.clone()
        }),
        Shape::Picture(own) => {
            let (w, h) = sized(own.w, own.h);
            Shape::Picture(PictureShape { w, h, ..own.clone() })
        }
        Shape::Drawing(own) => {
            let (w, h) = sized(own.w, own.h);
            Shape::Drawing(DrawingShape { w, h, ..own.clone() })
        }
        Shape::Join(own) => {
            let parts = own.parts.iter().map(|part| scaled(part, (across, down), assets)).collect();
            Shape::Join(JoinShape { parts, rounding: length(own.rounding, both), ..own.clone() })
        }
        Shape::Group(own) => {
            let parts = own.parts.iter().map(|part| scaled(part, (across, down), assets)).collect();
            Shape::Group(GroupShape { parts })
        }
    }
}

fn side(side: Size, by: f64) -> Size {
    Size::clamped(tidy(side.get() * by))
}

fn length(length: Length, by: f64) -> Length {
    Length::clamped(tidy(length.get() * by))
}

fn scaled_radii(radii: Radii, (across, down): (f64, f64)) -> Radii {
    let both = across.min(down);
    match radii {
        Radii::All(all) => Radii::All(length(all, both)),
        Radii::Each(corners) => Radii::Each(corners.map(|corner| match corner {
            CornerRadius::Circle(radius) => CornerRadius::Circle(length(radius, both)),
            CornerRadius::Ellipse(radius) => CornerRadius::Ellipse(EllipseRadius {
                x: length(radius.x, across),
                y: length(radius.y, down),
            }),
        })),
    }
}
