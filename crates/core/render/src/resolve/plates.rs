//! What lies behind the elements of a page: each has a ground of its own, which is the scene's for none of them.

use crate::model::{self, BoxShape, Fill, Id, Piece, Px, Shape, Size};

/// Px of a ground that are seen around an element, where its shadows fall.
const AROUND: f64 = 128.0;

/// Plates in the colours behind the elements of a page, the largest lowest. They lie under all pieces.
pub(super) fn plates(scene: &model::Scene) -> Vec<Piece> {
    let mut plates: Vec<(f64, Piece)> = scene.pieces.iter().filter_map(plate).collect();
    plates.sort_by(|(a, _), (b, _)| b.total_cmp(a));
    let is_free = |id: &Id| scene.pieces.iter().all(|piece| piece.id != *id);
    let ids = (0..).map(|number| Id::numbered(BEHIND, number)).filter(is_free);
    plates.into_iter().zip(ids).map(|((_, plate), id)| Piece { id, ..plate }).collect()
}

const BEHIND: &str = "behind";

fn plate(piece: &Piece) -> Option<(f64, Piece)> {
    let behind = piece.fitting.as_ref()?.behind.clone()?;
    let (Shape::Box(shape), false) = (&piece.shape, piece.hidden) else { return None };
    let (w, h) = (shape.w.get() + 2.0 * AROUND, shape.h.get() + 2.0 * AROUND);
    let shape = BoxShape { w: Size::clamped(w), h: Size::clamped(h), radii: Default::default() };
    let place = |start: Px| Px::clamped(start.get() - AROUND);
    Some((
        w * h,
        Piece {
            name: piece.name.clone(),
            shape: Shape::Box(shape),
            x: place(piece.x),
            y: place(piece.y),
            fill: Fill::solid(behind),
            ..Piece::new(piece.id.clone())
        },
    ))
}
