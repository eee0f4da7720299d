//! What a filter on an element takes its shadows from.

use super::notes::{Fidelity, Notes};
use crate::model::Surface;
use crate::resolve::{PaintOp, Piece, ShadowKind};

/// Whether the surface of a piece, or those of all members of a group, are opaque: then a filter takes the silhouette
/// from them.
pub(super) fn is_solid(piece: &Piece) -> bool {
    if piece.members.is_empty() {
        return piece.surface == Surface::Keep && piece.fill.is_opaque();
    }
    let is_whole = |member: &Piece| member.opacity >= 1.0 && member.clip.is_none() && is_solid(member);
    piece.members.iter().all(is_whole)
}

/// Notes how a filter on a group differs from the design: it is cast by everything that is painted (Filter Effects 1,
/// "SourceAlpha").
pub(super) fn note_filter_on_group(group: &Piece, notes: &mut Notes) {
    let takes_silhouette = |op: &PaintOp| !matches!(op, PaintOp::Blur(_) | PaintOp::Backdrop(_));
    if !group.coats.iter().any(|coat| takes_silhouette(&coat.op)) {
        return;
    }
    if !is_solid(group) {
        let what = "A filter on a group is cast by what is painted: as see-through as its parts";
        notes.whole(Fidelity::Approximated, what);
    }
    if has_casting_members(group) {
        notes.whole(Fidelity::Approximated, "A filter on a group also casts the shadows of its parts");
    }
}

/// Whether a member of a group paints beyond its silhouette.
fn has_casting_members(group: &Piece) -> bool {
    let paints_beyond = |op: &PaintOp| match op {
        PaintOp::Blur(_) => true,
        PaintOp::Backdrop(_) | PaintOp::Highlight(_) | PaintOp::Tint(_) | PaintOp::Stroke { .. } => false,
        PaintOp::Shadow(shadow) => shadow.kind != ShadowKind::Inner,
        PaintOp::Extrude(_) | PaintOp::Cast(_) => true,
    };
    let casts = |member: &Piece| member.coats.iter().any(|coat| paints_beyond(&coat.op));
    group.members.iter().any(|member| casts(member) || has_casting_members(member))
}
