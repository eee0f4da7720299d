//! The boxes of pieces.

use serde::Serialize;

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
}

/// The boxes of all pieces of a scene, lowest first.
#[must_use]
pub fn boxes(scene: &Scene, assets: &Assets) -> Vec<PieceBox> {
    let piece_box = |piece: &crate::model::Piece| {
        let (w, h) = resolve::silhouette(&piece.shape, assets).size();
        PieceBox { id: piece.id.clone(), x: piece.x.get(), y: piece.y.get(), w, h }
    };
    scene.pieces.iter().map(piece_box).collect()
}
