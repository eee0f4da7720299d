//! What can be chosen by its picture on the piece: stacks to start from, blend modes; and curves of falloff.

use actix_web::{HttpResponse, get, post, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::blend::BlendMode;
use zolvet_core::model::{Coat, OwnCoats, Project, Wear};
use zolvet_core::report::{NamedFalloff, Starter, falloffs, starters};

use super::pictures::Studio;
use super::reports::CoatRequest;
use super::{RequestContext, piece_in, project_in, scene_in};
use crate::DEMO;
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(offer_starters).service(offer_blends).service(offer_falloffs).service(offer_demo);
}

/// Which piece would wear them.
#[derive(Deserialize, ToSchema)]
pub struct StartersRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of one of its pieces.
    piece: String,
}

/// A stack to start from, and how it would look.
#[derive(Serialize, ToSchema)]
pub struct StarterPicture {
    /// What it is called.
    name: &'static str,
    /// What it does.
    description: &'static str,
    /// Its coats, to be given ids of their own.
    coats: Vec<Coat>,
    /// A PNG as a data URL.
    picture: String,
}

/// Whole stacks to start from, each on the piece.
#[utoipa::path(
    request_body = StartersRequest,
    responses((status = 200, body = Vec<StarterPicture>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/starters")]
pub async fn offer_starters(
    context: RequestContext,
    body: JsonBody<StartersRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            let piece = piece_in(scene, &body.piece)?;
            let assets = resources.assets(&project)?;
            let studio = Studio { project: &project, scene, assets: &assets, cache: &resources.cache };
            let picture = |starter: Starter| {
                let mut trial = piece.clone();
                trial.wear = Wear::Coats(OwnCoats { coats: starter.coats.clone() });
                let picture = studio.whole(&trial)?;
                let Starter { name, description, coats } = starter;
                Ok(StarterPicture { name, description, coats, picture })
            };
            starters(&project, piece, &assets).into_iter().map(picture).collect::<Result<Vec<_>, ApiError>>()
        })
        .await
}

/// A blend mode, and how the piece would look with a coat in it.
#[derive(Serialize, ToSchema)]
pub struct BlendPicture {
    /// The mode.
    blend: BlendMode,
    /// A PNG as a data URL.
    picture: String,
}

/// The sixteen blend modes, a coat of the piece in each.
#[utoipa::path(
    request_body = CoatRequest,
    responses((status = 200, body = Vec<BlendPicture>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/blends")]
pub async fn offer_blends(
    context: RequestContext,
    body: JsonBody<CoatRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            let piece = piece_in(scene, &body.piece)?;
            let assets = resources.assets(&project)?;
            let studio = Studio { project: &project, scene, assets: &assets, cache: &resources.cache };
            let all = project.coats_of(piece, &scene.theme);
            let worn = |coats: Vec<Coat>| {
                let mut trial = piece.clone();
                trial.wear = Wear::Coats(OwnCoats { coats });
                trial
            };
            let others = all.iter().filter(|coat| coat.id != body.coat).cloned().collect();
            let before = studio.before(&worn(others));
            let picture = |blend: BlendMode| {
                let mut coats = all.to_vec();
                for coat in coats.iter_mut().filter(|coat| coat.id == body.coat) {
                    (coat.blend, coat.on) = (blend, true);
                }
                let picture = before.becomes(&worn(coats))?;
                Ok(BlendPicture { blend, picture })
            };
            BlendMode::ALL.into_iter().map(picture).collect::<Result<Vec<_>, ApiError>>()
        })
        .await
}

/// Curves of falloff to start from.
#[utoipa::path(responses((status = 200, body = Vec<NamedFalloff>)))]
#[get("/api/falloffs")]
pub async fn offer_falloffs() -> web::Json<Vec<NamedFalloff>> {
    web::Json(falloffs())
}

/// The demo project's document, to make a project of.
#[utoipa::path(responses((status = 200, body = Project)))]
#[get("/api/demo")]
pub async fn offer_demo() -> HttpResponse {
    HttpResponse::Ok().content_type("application/json").body(DEMO)
}
