//! The context shared by all layers of a picture.

use kurbo::Affine;

use super::cache::MaskCache;
use super::viewport::{Part, RenderOptions};
use crate::raster::Rect;

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
}
