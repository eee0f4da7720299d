//! Where strokes lie beside the edge of a silhouette.

use crate::blend::BlendMode;
use crate::model::Surface;
use crate::resolve::{Coat, PaintOp, Piece};

/// Whether a coat is a stroke that lies outside the silhouette, in part or whole.
pub(super) fn crosses_the_edge(coat: &Coat) -> bool {
    matches!(&coat.op, PaintOp::Stroke { style, .. } if style.reach().0 > 0.0)
}

/// Whether strokes may be drawn below the surface, whole, so that nothing shines through between the two: an opaque
/// stroke outside looks the same.
pub(super) fn lie_below(piece: &Piece, strokes: &[&Coat]) -> bool {
    let opaque = |coat: &&Coat| {
        let solid = matches!(&coat.op, PaintOp::Stroke { style, paint } if style.reach().1 <= 0.0 && paint.is_opaque());
        solid && coat.opacity >= 1.0 && coat.blend == BlendMode::Normal
    };
    piece.surface == Surface::Keep && piece.fill.is_opaque() && strokes.iter().all(opaque)
}
