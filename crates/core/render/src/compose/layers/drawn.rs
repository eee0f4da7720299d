//! The surface of a piece that is a drawing.

use std::sync::Arc;

use kurbo::Affine;

use super::layer::Members;
use crate::compose::context::RenderContext;
use crate::compose::masks::coverage::Coverage;
use crate::compose::masks::drawn::{drawn_key, drawn_tile};
use crate::geometry::Silhouette;

/// The pixels of a piece that is a drawing, as its coverage is made.
pub(in crate::compose) fn drawn_surface(
    silhouette: &Silhouette,
    place: Affine,
    context: &RenderContext<'_>,
) -> Option<Members> {
    let Silhouette::Drawing(drawn) = silhouette else { return None };
    let (local, moved) = Coverage::plain(silhouette, place).near_the_origin();
    let (dx, dy) = moved.whole;
    let clip = local.source(context.window.moved(-dx, -dy)).map(|(rect, _)| rect).unwrap_or_default();
    let tile = drawn_tile(drawn, local.place, clip, context.cache);
    Some(Members { tile: Arc::new(tile.moved(dx, dy)), key: drawn_key(drawn, local.place) })
}
