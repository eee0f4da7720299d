//! What all layers of a picture are made for.

use kurbo::Affine;

use super::cache::MaskCache;
use super::view::Part;
use crate::raster::Rect;

/// What all layers of a picture are made for.
pub(super) struct Scope<'a> {
    pub part: &'a Part,
    pub cache: &'a MaskCache,
    pub window: Rect,
    pub scale: f64,
    /// From the scene's px to device pixels.
    pub to_device: Affine,
}
