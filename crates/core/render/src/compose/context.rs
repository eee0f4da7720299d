//! The context shared by all layers of a picture.

use kurbo::{Affine, Vec2};

use super::cache::MaskCache;
use super::viewport::{Part, RenderOptions};
use crate::maths::snapped;
use crate::raster::Rect;
use crate::resolve::Piece;

/// The context shared by all layers of a picture.
pub(super) struct RenderContext<'a> {
    pub options: &'a RenderOptions,
    pub cache: &'a MaskCache,
    pub window: Rect,
    pub scale: f64,
    /// From the scene's px to device pixels.
    pub to_device: Affine,
}

impl<'a> RenderContext<'a> {
    /// The context of a part of a view of a scene.
    pub fn new(
        Part { viewport, window }: Part<'_>,
        options: &'a RenderOptions,
        cache: &'a MaskCache,
    ) -> Self {
        Self { options, cache, window, scale: viewport.scale, to_device: viewport.transform() }
    }

    /// The context of a place moved to the origin by whole pixels, that place, and the pixels it was moved by. Everything made
    /// there is the same wherever the place lies. Other renderers may draw by where a pixel is; nothing is moved for them.
    pub fn near_the_origin(&self, place: Affine) -> (Self, Affine, (i32, i32)) {
        let place = snapped(place);
        let at = place.translation();
        let whole = if self.options.mode.is_exact() { (at.x.floor(), at.y.floor()) } else { (0.0, 0.0) };
        let moved = |place: Affine| place.with_translation(place.translation() - Vec2::from(whole));
        let (dx, dy) = (whole.0 as i32, whole.1 as i32);
        let context = Self { window: self.window.moved(-dx, -dy), to_device: moved(self.to_device), ..*self };
        (context, moved(place), (dx, dy))
    }

    /// From a piece's px to device pixels.
    pub fn place(&self, piece: &Piece) -> Affine {
        snapped(self.to_device * piece.place())
    }
}
