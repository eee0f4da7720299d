//! What all layers of a picture are made for.

use kurbo::Affine;

use super::cache::MaskCache;
use super::viewport::RenderOptions;
use crate::raster::Rect;

/// What all layers of a picture are made for.
pub(super) struct RenderContext<'a> {
    pub options: &'a RenderOptions,
    pub cache: &'a MaskCache,
    pub window: Rect,
    pub scale: f64,
    /// From the scene's px to device pixels.
    pub to_device: Affine,
}
