//! Stacks found: fewer coats for the same look, and coats for a pulled edge profile.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::css::depth_code;
use zolvet_core::measure::Line;
use zolvet_core::model::{Id, Piece};
use zolvet_core::picture::png_data_url;
use zolvet_core::resolve;
use zolvet_core::solve::{Drawn, EdgeLine, FewerCoats, Holds, Pull, RenderResources, pull, reduce};

use crate::thumbnail_renderer::ThumbnailRenderer;

use crate::{QueryContext, QueryError, piece_in, scene_in};

/// Which stack is to have fewer coats.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReduceRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// A scene.
    scene: Id,
    /// The piece in it that wears the stack.
    piece: Id,
    /// The capabilities of the tool that shows the fewer coats.
    #[serde(default)]
    holds: Holds,
}

/// The pixels of a picture that is compared with another.
const PICTURE: (u32, u32) = (600, 384);

/// The best stacks of fewer shadows, and how they look.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ReducedPictures {
    /// Shadows that the stack draws now; a ramp counts as many as it stands for.
    shadows: usize,
    /// The piece as it is: a PNG as a data URL.
    picture: String,
    /// Best for each number of shadows, fewest first.
    by_count: Vec<FewerPicture>,
    /// Each coat that was not changed or was left out, in words.
    notes: Vec<String>,
}

/// A stack of so many shadows, and how it looks.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FewerPicture {
    /// The stack.
    #[serde(flatten)]
    fewer: FewerCoats,
    /// A PNG as a data URL.
    picture: String,
    /// Its declarations of depth.
    css: String,
}

/// Finds the best stacks of fewer coats that look like a piece's own.
///
/// # Errors
/// The place where the request is not as expected.
pub fn reduce_stack(
    context: &QueryContext<'_>,
    request: &ReduceRequest,
) -> Result<ReducedPictures, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, request.scene.as_str())?;
    let piece = piece_in(scene, request.piece.as_str())?;
    let assets = context.assets(&project)?;
    let found = reduce(&project, scene, piece, &assets, request.holds)
        .map_err(|error| QueryError::cannot(error.to_string()))?;
    let renderer = ThumbnailRenderer { project: &project, scene, assets: &assets, cache: context.cache };
    let drawn = |piece: &Piece| Ok::<_, QueryError>(png_data_url(&renderer.fitted(piece, PICTURE)?));
    let pictured = |fewer: FewerCoats| {
        let worn = piece.wearing(fewer.coats.clone());
        let css = depth_code(&resolve::piece(&project, scene, &worn, &assets).0, &worn.shape, None);
        Ok(FewerPicture { picture: drawn(&worn)?, css, fewer })
    };
    Ok(ReducedPictures {
        shadows: found.shadows,
        picture: drawn(piece)?,
        by_count: found.by_count.into_iter().map(pictured).collect::<Result<_, QueryError>>()?,
        notes: found.notes,
    })
}

/// The place where an edge profile is pulled, and the value it is pulled to.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PullRequest {
    /// The project document, as it was before the pull.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// A scene.
    scene: Id,
    /// The piece in it.
    piece: Id,
    /// The line that the profile is measured along.
    line: Line,
    /// The place, and the darkness there.
    pull: Pull,
}

/// Finds the stack whose edge profile goes where it was pulled, and stays elsewhere.
///
/// # Errors
/// The place where the request is not as expected.
pub fn pull_profile(context: &QueryContext<'_>, request: &PullRequest) -> Result<Drawn, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, request.scene.as_str())?;
    let assets = context.assets(&project)?;
    let edge = EdgeLine { scene, piece: &request.piece, line: request.line };
    let means = RenderResources { assets: &assets, cache: context.cache };
    let drawn = pull(&project, edge, means, request.pull);
    drawn.map_err(|error| QueryError::cannot(error.to_string()))
}
