//! Pieces that lie on a piece: its label, its icon.

use crate::resolve::{Piece, Scene};

/// The share of a piece's box that is on another where the one lies on the other.
const MAX_OF_IT: f64 = 0.9;

/// The places, in a scene's list, of the pieces that lie on the one at a place: painted after it, smaller, and on its box.
#[must_use]
pub fn lying_on(scene: &Scene, at: usize) -> Vec<usize> {
    let box_of = |piece: &Piece| piece.place().transform_rect_bbox(piece.silhouette.bounds());
    let Some(below) = scene.pieces.get(at).map(box_of) else { return Vec::new() };
    let lies_on = |piece: &Piece| {
        let own = box_of(piece);
        own.area() < below.area() && own.intersect(below).area() >= MAX_OF_IT * own.area()
    };
    let upper = scene.pieces.iter().enumerate().skip(at + 1);
    upper.filter(|(_, piece)| lies_on(piece)).map(|(at, _)| at).collect()
}
