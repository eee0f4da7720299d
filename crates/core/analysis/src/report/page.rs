//! A whole scene as code.

use serde::Serialize;

use crate::asset::Assets;
use crate::css::{CodeOptions, piece_code};
use crate::lower::Target;
use crate::model::{self, Id, Project};
use crate::resolve::{self, PieceStates};

/// A piece's code, and where the element stands on the scene.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlacedCode {
    /// The piece.
    pub piece: Id,
    /// Its element's left on the scene, in px.
    pub x: f64,
    /// Its element's top.
    pub y: f64,
    /// HTML with its rules and filters, for a page or shadow root of its own.
    pub page: String,
}

/// Every piece of a scene that is shown, lowest first, at rest, each in the target that holds it best; `of` names
/// another target for one of them. Anything the code cannot say (clipping to another piece, for example) is left out,
/// as in any hand-off.
#[must_use]
pub fn scene_code(
    project: &Project,
    scene: &model::Scene,
    of: Option<(&str, Target)>,
    assets: &Assets,
) -> Vec<PlacedCode> {
    let shown = scene.pieces.iter().filter(|piece| !piece.hidden);
    let code = |piece: &model::Piece| {
        let (resolved, _) = resolve::piece(project, scene, piece, assets);
        let target = of.and_then(|(id, target)| (id == piece.id.as_str()).then_some(target));
        let options = CodeOptions { target, ..CodeOptions::default() };
        let code = piece_code(&resolved, &piece.shape, &PieceStates::default(), options);
        PlacedCode { piece: piece.id.clone(), x: resolved.x, y: resolved.y, page: code.page }
    };
    shown.map(code).collect()
}
