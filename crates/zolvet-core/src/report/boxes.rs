//! The boxes of pieces.

use kurbo::Affine;
use serde::Serialize;

use super::handles::axes_of;
use crate::asset::Assets;
use crate::model::{Id, Scene};
use crate::resolve;

/// Where the box of a piece is on its scene before it is rotated, in px.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PieceBox {
    /// The piece.
    pub id: Id,
    /// Its left.
    pub x: f64,
    /// Its top.
    pub y: f64,
    /// Its width; that of text is known only once it is set.
    pub w: f64,
    /// Its height.
    pub h: f64,
    /// The rotated piece's own two axes on the scene: right and down.
    pub axes: [[f64; 2]; 2],
}

/// The boxes of all pieces of a scene, lowest first.
#[must_use]
pub fn boxes(scene: &Scene, assets: &Assets) -> Vec<PieceBox> {
    let piece_box = |piece: &crate::model::Piece| {
        let (w, h) = resolve::silhouette(&piece.shape, assets).size();
        let axes = axes_of(Affine::rotate(piece.rotation.get().to_radians()));
        PieceBox { id: piece.id.clone(), x: piece.x.get(), y: piece.y.get(), w, h, axes }
    };
    scene.pieces.iter().map(piece_box).collect()
}
