//! What lies behind the elements of a page: each has a ground of its own, which is the scene's for none of them.

use crate::model::{self, BoxShape, Fill, Id, Piece, Px, Shape, Size};

/// Px of a ground that are seen around an element, where its shadows fall.
const AROUND: f64 = 128.0;

/// Plates in the colours behind the elements of a page, the largest lowest. They lie under all pieces; what lies on another element has
/// that one behind it, and no plate, which would be seen around the other.
pub(super) fn plates(scene: &model::Scene) -> Vec<Piece> {
    let mut plates: Vec<(f64, Piece)> = {
        let on_another = |piece: &&Piece| scene.pieces.iter().any(|other| lies_on(piece, other));
        scene.pieces.iter().filter(|piece| !on_another(piece)).filter_map(plate).collect()
    };
    plates.sort_by(|(a, _), (b, _)| b.total_cmp(a));
    let is_free = |id: &Id| scene.pieces.iter().all(|piece| piece.id != *id);
    let ids = (0..).map(|number| Id::numbered(BEHIND, number)).filter(is_free);
    plates.into_iter().zip(ids).map(|((_, plate), id)| Piece { id, ..plate }).collect()
}

const BEHIND: &str = "behind";

/// Whether an element's box is within that of another that is shown.
fn lies_on(piece: &Piece, other: &Piece) -> bool {
    let bounds = |piece: &Piece| {
        let (Shape::Box(shape), Some(_), false) = (&piece.shape, &piece.fitting, piece.hidden) else {
            return None;
        };
        let (x, y) = (piece.x.get(), piece.y.get());
        Some([x, y, x + shape.w.get(), y + shape.h.get()])
    };
    let (Some(own), Some(around)) = (bounds(piece), bounds(other)) else { return false };
    own != around && own[0] >= around[0] && own[1] >= around[1] && own[2] <= around[2] && own[3] <= around[3]
}

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
