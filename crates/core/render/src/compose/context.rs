//! The context shared by all layers of a picture.

use kurbo::Affine;

use super::cache::MaskCache;
use super::viewport::RenderOptions;
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
