//! Stacks found: fewer coats for the same look, and coats for a pulled edge profile.

use actix_web::{HttpResponse, post, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::css::depth_code;
use zolvet_core::measure::Line;
use zolvet_core::model::{Id, OwnCoats, Piece, Project, Wear};
use zolvet_core::picture::png_data_url;
use zolvet_core::resolve;
use zolvet_core::solve::{Drawn, FewerCoats, Holds, Means, Pull, pull, reduce};

use super::pictures::Studio;
use super::{RequestContext, piece_in, project_in, scene_in};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(reduce_stack).service(pull_profile);
}

/// Which stack is to have fewer coats.
#[derive(Deserialize, ToSchema)]
pub struct ReduceRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// A scene.
    scene: Id,
    /// The piece in it that wears the stack.
    piece: Id,
    /// What the fewer coats are for.
    #[serde(default)]
    holds: Holds,
}

/// The pixels of a picture that is compared with another.
const PICTURE: (u32, u32) = (600, 384);

/// The best stacks of fewer shadows, and how they look.
#[derive(Serialize, ToSchema)]
pub struct ReducedPictures {
    /// Shadows that the stack draws now; a ramp counts as many as it stands for.
    shadows: usize,
    /// The piece as it is: a PNG as a data URL.
    picture: String,
    /// Best for each number of shadows, fewest first.
    by_count: Vec<FewerPicture>,
    /// What was not touched or left out, in words.
    notes: Vec<String>,
}

/// A stack of so many shadows, and how it looks.
#[derive(Serialize, ToSchema)]
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
#[utoipa::path(operation_id = "reduce_stack",
    request_body = ReduceRequest,
    responses((status = 200, body = ReducedPictures), (status = 422, body = ProblemDocument))
)]
#[post("/api/solve/reduce")]
pub async fn reduce_stack(
    context: RequestContext,
    body: JsonBody<ReduceRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, body.scene.as_str())?;
            let piece = piece_in(scene, body.piece.as_str())?;
            let assets = resources.assets(&project)?;
            let found = reduce(&project, scene, piece, &assets, body.holds)
                .map_err(|error| ApiError::cannot(error.to_string()))?;
            let studio = Studio { project: &project, scene, assets: &assets, cache: &resources.cache };
            let drawn = |piece: &Piece| Ok::<_, ApiError>(png_data_url(&studio.fitted(piece, PICTURE)?));
            let pictured = |fewer: FewerCoats| {
                let wear = Wear::Coats(OwnCoats { coats: fewer.coats.clone() });
                let worn = Piece { wear, ..piece.clone() };
                let css = depth_code(&resolve::piece(&project, scene, &worn, &assets).0, &worn.shape);
                Ok(FewerPicture { picture: drawn(&worn)?, css, fewer })
            };
            Ok(ReducedPictures {
                shadows: found.shadows,
                picture: drawn(piece)?,
                by_count: found.by_count.into_iter().map(pictured).collect::<Result<_, ApiError>>()?,
                notes: found.notes,
            })
        })
        .await
}

/// Where an edge profile is pulled, and to what.
#[derive(Deserialize, ToSchema)]
pub struct PullRequest {
    /// The project document, as it was before the pull.
    #[schema(value_type = Project)]
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
#[utoipa::path(operation_id = "pull_profile",
    request_body = PullRequest,
    responses((status = 200, body = Drawn), (status = 422, body = ProblemDocument))
)]
#[post("/api/solve/draw")]
pub async fn pull_profile(
    context: RequestContext,
    body: JsonBody<PullRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, body.scene.as_str())?;
            let assets = resources.assets(&project)?;
            let means = Means { assets: &assets, cache: &resources.cache };
            let drawn = pull(&project, scene, &body.piece, means, (body.line, body.pull));
            drawn.map_err(|error| ApiError::cannot(error.to_string()))
        })
        .await
}
