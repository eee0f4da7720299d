//! Reports on a piece, and CSS read into coats.

use actix_web::{HttpResponse, post, web};
use zolvet_core::arrange::Arranged;
use zolvet_core::report::{CoatOutline, ColourForms, PieceBox, PlacedCode, Report};
use zolvet_questions::{
    self as questions, ArrangeRequest, CoatRequest, ColoursRequest, CssCoats, CssRequest, ResolveRequest,
    SceneCodeRequest, SceneRequest, SplitCoats,
};

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config
        .service(resolve)
        .service(split)
        .service(outline)
        .service(read_css)
        .service(colours)
        .service(placed_code)
        .service(piece_boxes)
        .service(arrange);
}

/// Everything about one piece: both forms of every offset, colours, code, differences, the edge profile.
#[utoipa::path(
    request_body = ResolveRequest,
    responses((status = 200, body = Report), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/resolve")]
pub async fn resolve(
    context: RequestContext,
    body: JsonBody<ResolveRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::resolve).await
}

/// Every piece of a scene as code, with its place, lowest first.
#[utoipa::path(
    request_body = SceneCodeRequest,
    responses((status = 200, body = Vec<PlacedCode>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/scene-code")]
pub async fn placed_code(
    context: RequestContext,
    body: JsonBody<SceneCodeRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::placed_code).await
}

/// The boxes of all pieces of a scene.
#[utoipa::path(
    request_body = SceneRequest,
    responses((status = 200, body = Vec<PieceBox>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/boxes")]
pub async fn piece_boxes(
    context: RequestContext,
    body: JsonBody<SceneRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::piece_boxes).await
}

/// Aligns, distributes or joins pieces, or takes a join apart: answers with the change of the scene.
#[utoipa::path(
    request_body = ArrangeRequest,
    responses((status = 200, body = Arranged), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/arrange")]
pub async fn arrange(
    context: RequestContext,
    body: JsonBody<ArrangeRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::arrange).await
}

/// Where one coat lies on the scene.
#[utoipa::path(
    request_body = CoatRequest,
    responses((status = 200, body = CoatOutline), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/outline")]
pub async fn outline(context: RequestContext, body: JsonBody<CoatRequest>) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::outline).await
}

/// Takes a ramp apart into ordinary coats that draw the same.
#[utoipa::path(
    request_body = CoatRequest,
    responses((status = 200, body = SplitCoats), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/split")]
pub async fn split(context: RequestContext, body: JsonBody<CoatRequest>) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::split).await
}

/// Reads CSS into coats.
#[utoipa::path(
    request_body = CssRequest,
    responses((status = 200, body = CssCoats), (status = 422, body = ProblemDocument))
)]
#[post("/api/css")]
pub async fn read_css(context: RequestContext, body: JsonBody<CssRequest>) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::read_css).await
}

/// Colours in every form, and how far each is from the first.
#[utoipa::path(
    request_body = ColoursRequest,
    responses((status = 200, body = Vec<ColourForms>), (status = 422, body = ProblemDocument))
)]
#[post("/api/colours")]
pub async fn colours(
    context: RequestContext,
    body: JsonBody<ColoursRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::colours).await
}
