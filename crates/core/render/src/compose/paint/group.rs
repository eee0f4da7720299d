//! The members of a group that is drawn as one thing: a picture of their own, with transparency below them.

use std::hash::{Hash as _, Hasher};

use kurbo::Affine;

use super::scene::{InitialBackdrop, Painting, device_box, layers};
use crate::blur;
use crate::compose::cache::{Key, content_hash};
use crate::compose::context::RenderContext;
use crate::compose::layers::layer::Members;
use crate::compose::masks::tile::{Tile, TilePixels as _};
use crate::compose::viewport::RenderOptions;
use crate::maths::snapped;
use crate::raster::Rect;
use crate::resolve::{PaintOp, Piece};

/// Paints members, which lie on the scene, over one another, as far as they are in the window. Where the window cuts nothing off,
/// their picture is the same wherever the group lies.
pub(in crate::compose) fn painted_members(members: &[Piece], context: &RenderContext<'_>) -> Members {
    let pieces: Vec<&Piece> = members.iter().collect();
    let key = content_hash(|hasher| {
        ("members", context.options.shadow_only, context.options.mode, &context.options.coats).hash(hasher);
        context.scale.to_bits().hash(hasher);
        pieces.iter().for_each(|piece| describe(piece, context, hasher));
    });
    let holds = |rect: Rect| context.window.grown(-1).intersect(rect) == rect;
    let whole = Key { content: key, clip: Rect::default() };
    if let Some(tile) = context.cache.kept_tile(&whole).filter(|tile| holds(tile.rect)) {
        return Members { tile, key };
    }
    let needed = extent(&pieces, context.options, (context.to_device, context.scale), context.window);
    let inside = RenderContext { window: needed, ..*context };
    let layers = layers(&pieces, &inside);
    let touched = layers.iter().fold(Rect::default(), |all, layers| all.around_both(layers.bounds()));
    let at = if holds(touched) { whole } else { Key { clip: context.window, ..whole } };
    let tile = context.cache.tile(at, || {
        let painting = Painting::new(InitialBackdrop::Nothing, &pieces, &layers, &inside);
        let mut tile = Tile::empty(painting.touched().intersect(context.window));
        let rect = tile.rect;
        tile.each_row(|y, row| painting.span(y, rect.x0, row));
        tile
    });
    Members { tile, key }
}

/// Everything a member is painted from, placed by device pixels.
fn describe(piece: &Piece, context: &RenderContext<'_>, hasher: &mut impl Hasher) {
    let bits = |place: Affine| place.as_coeffs().map(f64::to_bits);
    bits(context.place(piece)).hash(hasher);
    piece.look_fingerprint(hasher);
    piece.coats.iter().for_each(|coat| coat.fingerprint(hasher));
    if let Some(clip) = &piece.clip {
        clip.silhouette.fingerprint(hasher);
        bits(snapped(context.to_device * clip.place)).hash(hasher);
    }
    piece.members.iter().for_each(|member| describe(member, context, hasher));
}

/// The pixels that have to be painted so that those of a window are right: more where a piece with a backdrop blur, partly
/// in it, samples beyond it.
pub(in crate::compose) fn extent(
    pieces: &[&Piece],
    options: &RenderOptions,
    (to_device, scale): (Affine, f64),
    window: Rect,
) -> Rect {
    let mut needed = window;
    for piece in pieces.iter().rev() {
        let area = device_box(piece, to_device);
        for coat in piece.coats.iter().filter(|coat| options.coats.includes(&coat.id)) {
            if let PaintOp::Backdrop(backdrop) = &coat.op
                && !area.intersect(needed).is_empty()
            {
                let reach = blur::reach(backdrop.sigma * scale);
                needed = needed.around_both(area.intersect(needed.grown(reach)));
            }
        }
    }
    needed
}
