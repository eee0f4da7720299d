//! How close a whole project comes.

use serde::Serialize;

use super::{Faithfulness, Numbers, best_target, faithfulness, predicted};
use crate::asset::Assets;
use crate::compose::{MaskCache, View};
use crate::model::{Id, Project, Shape};
use crate::resolve::{self, Piece, Scene};

/// How one piece of a project comes through, in the target that holds it best.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PieceFaithfulness {
    /// The scene's id.
    pub scene: Id,
    /// The scene's name.
    pub scene_name: String,
    /// The piece's id.
    pub piece: Id,
    /// The piece's name.
    pub piece_name: String,
    /// How close it comes.
    pub comes: Faithfulness,
}

/// How every piece of a project that has coats comes through, scene by scene, with its numbers written in a form.
#[must_use]
pub fn project_faithfulness(
    project: &Project,
    assets: &Assets,
    numbers: Numbers,
    cache: &MaskCache,
) -> Vec<PieceFaithfulness> {
    let mut found = Vec::new();
    for scene in &project.scenes {
        let resolved = resolve::scene(project, scene, assets);
        for model in scene.pieces.iter().filter(|piece| !piece.hidden) {
            let piece = resolved.pieces.iter().find(|piece| piece.id == model.id);
            let Some(piece) = piece.filter(|piece| !piece.coats.is_empty()) else { continue };
            let held = best_target(&numbers.of_piece(piece), matches!(model.shape, Shape::Text(_)));
            let view = surroundings(piece, &resolved);
            let Some(pictures) = predicted(&resolved, &held, &view, cache) else { continue };
            found.push(PieceFaithfulness {
                scene: scene.id.clone(),
                scene_name: scene.name.clone(),
                piece: piece.id.clone(),
                piece_name: piece.name.clone(),
                comes: faithfulness(piece, &held, &pictures),
            });
        }
    }
    found
}

/// Px around a piece that are compared, at most: what lies farther out is faint.
const ROOM: f64 = 160.0;

/// The part of a scene around a piece in which it is compared.
#[must_use]
pub fn surroundings(piece: &Piece, scene: &Scene) -> View {
    let bounds = piece.place().transform_rect_bbox(piece.outer.bounds()).inflate(ROOM, ROOM);
    let (x0, y0) = (bounds.x0.floor().max(0.0), bounds.y0.floor().max(0.0));
    let (x1, y1) = (bounds.x1.ceil().min(scene.width), bounds.y1.ceil().min(scene.height));
    let side = |length: f64| length.clamp(1.0, 4096.0) as u32;
    View { x: x0, y: y0, scale: 1.0, width: side(x1 - x0), height: side(y1 - y0) }
}
