//! A whole scene as code.

use serde::Serialize;

use super::code::{Written, code};
use crate::asset::Assets;
use crate::css::CodeOptions;
use crate::lower::Target;
use crate::model::{self, Id, Project};

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

/// Every outermost piece of a scene that is shown, lowest first, in the state it is shown in, a group with its parts, each in the target that holds it best; `of` names
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
    let placed = |piece: &model::Piece| {
        let target = of.and_then(|(id, target)| (id == piece.id.as_str()).then_some(target));
        let options = CodeOptions { target, ..CodeOptions::default() };
        let code = code(project, scene, piece, (Written::AsShown, options), assets);
        PlacedCode { piece: piece.id.clone(), x: piece.x.get(), y: piece.y.get(), page: code.page }
    };
    shown.map(placed).collect()
}
