//! Drawings as pixels: what they show, and in its alpha what they cover.

use std::hash::Hash as _;
use std::sync::Arc;

use kurbo::Affine;

use super::tile::Tile;
use crate::compose::cache::{Key, MaskCache, content_hash};
use crate::geometry::DrawnShape;
use crate::raster::Rect;

/// A drawing over the pixels of `clip`, from the cache when it is there. `place` leads from its box to device pixels.
pub(in crate::compose) fn drawn_tile(
    drawn: &DrawnShape,
    place: Affine,
    clip: Rect,
    cache: &MaskCache,
) -> Arc<Tile> {
    cache.tile(Key { content: drawn_key(drawn, place), clip }, || drawn.painted(place, clip))
}

/// Equal for drawings that are painted the same.
pub(in crate::compose) fn drawn_key(drawn: &DrawnShape, place: Affine) -> [u64; 2] {
    content_hash(|hasher| {
        "drawing".hash(hasher);
        drawn.hash(hasher);
        place.as_coeffs().map(f64::to_bits).hash(hasher);
    })
}
