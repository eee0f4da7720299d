//! What an element was as a piece, before anything was changed of it.

use std::sync::Arc;

use super::own_filter::unfiltered;
use super::shapes::candidates;
use super::texts::{AsText, as_text};
use crate::asset::Assets;
use crate::geometry::DrawnShape;
use crate::model::{Coat, DrawingShape, Fill, Piece, Project, Px, Scene, Shape, Size};
use crate::resolve::box_size;

/// What of a piece is other than in its file.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Changed {
    /// Its fill.
    pub fill: bool,
    /// Its shape, or where it lies.
    pub shape: bool,
}

/// An element as the piece that it was taken out as.
pub struct Original {
    shape: Shape,
    fill: Fill,
    x: Px,
    y: Px,
    /// Those that its filter in the file became.
    pub coats: Vec<Coat>,
}

impl Original {
    /// The element that a piece was taken out of `shape` as. `None` where it was not, or is a drawing still.
    #[must_use]
    pub fn of(
        (project, scene): (&Project, &Scene),
        piece: &Piece,
        shape: &DrawingShape,
        assets: &Assets,
    ) -> Option<Self> {
        let from = piece.drawn_from.as_ref()?;
        if from.filter_as_coats {
            let found = unfiltered((project, scene), piece, shape, assets)?;
            return Some(Self {
                shape: found.shape,
                fill: found.fill,
                x: found.x,
                y: found.y,
                coats: found.coats,
            });
        }
        let drawing = assets.drawing(&from.asset)?.ok()?;
        let found = drawing.elements.get(from.element as usize)?;
        let whole = DrawnShape::new(Arc::clone(&drawing), 0..usize::MAX, shape.w.get(), shape.h.get());
        if let Shape::Text(_) = &piece.shape {
            let AsText { shape, fill, x, y } = as_text(found, whole.fit(), assets)?;
            return Some(Self { shape, fill, x, y, coats: Vec::new() });
        }
        let shapes = candidates(&found.tag, &found.areas()?, whole.fit());
        let own = shapes.into_iter().find(|one| one.shape.name() == piece.shape.name())?;
        Some(Self { shape: own.shape, fill: own.fill, x: own.x, y: own.y, coats: Vec::new() })
    }

    /// What of the piece is other than that. `rest` is what is left of the drawing beside it, which tells whether it was moved.
    #[must_use]
    pub fn changed(&self, piece: &Piece, rest: Option<&Piece>) -> Changed {
        let moved = |now: Px, rest: Px, own: Px| (now.get() - rest.get() - own.get()).abs() > 1e-3;
        let is_moved =
            rest.is_some_and(|rest| moved(piece.x, rest.x, self.x) || moved(piece.y, rest.y, self.y));
        let parts = self.shape.parts().iter().zip(piece.shape.parts());
        Changed {
            fill: self.fill != piece.fill || parts.clone().any(|(was, is)| was.fill != is.fill),
            shape: is_moved
                || !is_like(&self.shape, &piece.shape)
                || parts
                    .clone()
                    .any(|(was, is)| (was.x, was.y) != (is.x, is.y) || !is_like(&was.shape, &is.shape)),
        }
    }
}

/// Whether two shapes are the same, or groups of as many parts.
fn is_like(was: &Shape, is: &Shape) -> bool {
    if let (Shape::Group(was), Shape::Group(is)) = (was, is) {
        return was.parts.len() == is.parts.len();
    }
    was == is
}

/// Px of the scene for one px of its file, of a piece that was taken out of a drawing: by its width.
#[must_use]
pub fn scale_of((project, scene): (&Project, &Scene), piece: &Piece, assets: &Assets) -> Option<f64> {
    let asset = &piece.drawn_from.as_ref()?.asset;
    let drawing = assets.drawing(asset)?.ok()?;
    if let Shape::Drawing(shape) = &piece.shape {
        return Some(shape.w.get() / drawing.width);
    }
    let (w, h) = (Size::clamped(drawing.width), Size::clamped(drawing.height));
    let at_its_size = DrawingShape { asset: asset.clone(), elements: None, w, h };
    let original = Original::of((project, scene), piece, &at_its_size, assets)?;
    let was = Piece { shape: original.shape, ..piece.clone() };
    Some(box_size(piece, assets).0 / box_size(&was, assets).0)
        .filter(|scale| scale.is_finite() && *scale > 0.0)
}
