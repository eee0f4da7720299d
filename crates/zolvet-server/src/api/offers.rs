//! What can be chosen by its picture on the piece: stacks to start from, blend modes; and curves of falloff.

use actix_web::{HttpResponse, web};
use zolvet_core::model::Project;
use zolvet_core::report::{NamedFalloff, falloffs};
use zolvet_questions::{self as questions, BlendPicture, CoatRequest, StarterPicture, StartersRequest};

use super::RequestContext;
use crate::DEMO;
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

/// Whole stacks to start from, each on the piece.
#[utoipa::path(post, path = "/api/starters",
    request_body = StartersRequest,
    responses((status = 200, body = Vec<StarterPicture>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn offer_starters(
    context: RequestContext,
    body: JsonBody<StartersRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::offer_starters).await
}

/// The sixteen blend modes, a coat of the piece in each.
#[utoipa::path(post, path = "/api/blends",
    request_body = CoatRequest,
    responses((status = 200, body = Vec<BlendPicture>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn offer_blends(
    context: RequestContext,
    body: JsonBody<CoatRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::offer_blends).await
}

/// Curves of falloff to start from.
#[utoipa::path(get, path = "/api/falloffs",
    responses((status = 200, body = Vec<NamedFalloff>))
)]
pub async fn offer_falloffs() -> web::Json<Vec<NamedFalloff>> {
    web::Json(falloffs())
}

/// The demo project's document, to make a project of.
#[utoipa::path(get, path = "/api/demo",
    responses((status = 200, body = Project))
)]
pub async fn offer_demo() -> HttpResponse {
    HttpResponse::Ok().content_type("application/json").body(DEMO)
}
