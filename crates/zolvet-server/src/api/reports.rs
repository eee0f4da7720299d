//! Reports on a piece, and CSS read into coats.

use actix_web::HttpResponse;
use zolvet_core::arrange::Arranged;
use zolvet_core::report::{CoatOutline, ColourForms, PieceBox, PlacedCode, Report};
use zolvet_questions::{
    self as questions, ArrangeRequest, CoatRequest, ColoursRequest, CssCoats, CssRequest, ResolveRequest,
    SceneCodeRequest, SceneRequest, SplitCoats,
};

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

/// Everything about one piece: both forms of every offset, colours, code, differences, the edge profile.
#[utoipa::path(post, path = "/api/resolve",
    request_body = ResolveRequest,
    responses((status = 200, body = Report), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn resolve(
    context: RequestContext,
    body: JsonBody<ResolveRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::resolve).await
}

/// Every piece of a scene as code, with its place, lowest first.
#[utoipa::path(post, path = "/api/scene-code",
    request_body = SceneCodeRequest,
    responses((status = 200, body = Vec<PlacedCode>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn placed_code(
    context: RequestContext,
    body: JsonBody<SceneCodeRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::placed_code).await
}

/// The boxes of all pieces of a scene.
#[utoipa::path(post, path = "/api/boxes",
    request_body = SceneRequest,
    responses((status = 200, body = Vec<PieceBox>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn piece_boxes(
    context: RequestContext,
    body: JsonBody<SceneRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::piece_boxes).await
}

/// Aligns, distributes or joins pieces, or takes a join apart: answers with the change of the scene.
#[utoipa::path(post, path = "/api/arrange",
    request_body = ArrangeRequest,
    responses((status = 200, body = Arranged), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn arrange(
    context: RequestContext,
    body: JsonBody<ArrangeRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::arrange).await
}

/// Where one coat lies on the scene.
#[utoipa::path(post, path = "/api/outline",
    request_body = CoatRequest,
    responses((status = 200, body = CoatOutline), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn outline(context: RequestContext, body: JsonBody<CoatRequest>) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::outline).await
}

/// Takes a ramp apart into ordinary coats that draw the same.
#[utoipa::path(post, path = "/api/split",
    request_body = CoatRequest,
    responses((status = 200, body = SplitCoats), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn split(context: RequestContext, body: JsonBody<CoatRequest>) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::split).await
}

/// Reads CSS into coats.
#[utoipa::path(post, path = "/api/css",
    request_body = CssRequest,
    responses((status = 200, body = CssCoats), (status = 422, body = ProblemDocument))
)]
pub async fn read_css(context: RequestContext, body: JsonBody<CssRequest>) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::read_css).await
}

/// Colours in every form, and how far each is from the first.
#[utoipa::path(post, path = "/api/colours",
    request_body = ColoursRequest,
    responses((status = 200, body = Vec<ColourForms>), (status = 422, body = ProblemDocument))
)]
pub async fn colours(
    context: RequestContext,
    body: JsonBody<ColoursRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::colours).await
}
