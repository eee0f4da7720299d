//! How close a whole project comes.

use serde::Serialize;

use crate::asset::Assets;
use crate::chromium::predicted;
use crate::compose::{MaskCache, Viewport};
use crate::lower::{Numbers, best_target, scene_with_carried_shadows};
use crate::measure::{Faithfulness, faithfulness};
use crate::model::{self, Id, Project, Shape};
use crate::parallel::parallel_map;
use crate::resolve::{self, Piece, Scene};

/// How one piece of a project comes through, in the target that expresses it best.
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
    let scenes = parallel_map(&project.scenes, |scene| {
        let scene = &scene_with_carried_shadows(project, scene, assets);
        let resolved = resolve::scene(project, scene, assets);
        let pieces = scene.shown_pieces();
        parallel_map(&pieces, |model| {
            let comes = comes_through(model, &resolved, numbers, cache)?;
            Some(PieceFaithfulness {
                scene: scene.id.clone(),
                scene_name: scene.name.clone(),
                piece: model.id.clone(),
                piece_name: model.name.clone(),
                comes,
            })
        })
    });
    scenes.into_iter().flatten().flatten().collect()
}

fn comes_through(
    model: &model::Piece,
    scene: &Scene,
    numbers: Numbers,
    cache: &MaskCache,
) -> Option<Faithfulness> {
    let piece = scene.pieces.iter().find(|piece| piece.id == model.id)?;
    if piece.coats.is_empty() {
        return None;
    }
    let lowered = best_target(&numbers.rounded_piece(piece), matches!(model.shape, Shape::Text(_)));
    let view = surroundings(piece, scene);
    let pictures = predicted(scene, &lowered, &view, cache)?;
    Some(faithfulness(piece, &lowered, &pictures, &view))
}

/// Px around a piece that are compared, at most: shadows are faint farther out.
const ROOM: f64 = 160.0;

/// Pixels that are compared at most; of a larger scene, the upper part.
const PIXELS: u32 = 3_000_000;

/// The part of a scene around a piece in which it is compared.
#[must_use]
pub fn surroundings(piece: &Piece, scene: &Scene) -> Viewport {
    let bounds = piece.place().transform_rect_bbox(piece.outer.bounds()).inflate(ROOM, ROOM);
    let (x0, y0) = (bounds.x0.floor().max(0.0), bounds.y0.floor().max(0.0));
    let (x1, y1) = (bounds.x1.ceil().min(scene.width), bounds.y1.ceil().min(scene.height));
    let side = |length: f64| length.clamp(1.0, 4096.0) as u32;
    let width = side(x1 - x0);
    Viewport { x: x0, y: y0, scale: 1.0, width, height: side(y1 - y0).min((PIXELS / width).max(1)) }
}
