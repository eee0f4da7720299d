//! Pictures: the stage, and the small ones beside it.

use actix_web::HttpResponse;
use actix_web::http::header::ACCEPT;
use zolvet_questions::{
    self as questions, PreviewRequest, StageRequest, Thumbnails, ThumbnailsRequest, preview as picture,
    to_png,
};

use super::{RequestContext, respond};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;
use crate::resources::ClientResources;

/// A scene as pixels: PNG when asked for `image/png`, else plain RGBA bytes with the size in `X-Width` and `X-Height`.
#[utoipa::path(post, path = "/api/preview",
    request_body = PreviewRequest,
    responses(
        (status = 200, content_type = "application/octet-stream", body = Vec<u8>),
        (status = 422, body = ProblemDocument),
        (status = 503, body = ProblemDocument)
    )
)]
pub async fn preview(
    context: RequestContext,
    body: JsonBody<PreviewRequest>,
) -> Result<HttpResponse, ApiError> {
    let RequestContext { scheduler, client, request } = context;
    let accept = request.headers().get(ACCEPT).and_then(|accept| accept.to_str().ok());
    if accept.is_some_and(|accept| accept.contains("image/png")) {
        let png = scheduler
            .run_request(client, body, |resources, body| Ok(to_png(&picture(&resources.desk(), body)?)?))
            .await?;
        return Ok(respond("image/png", png));
    }
    let picture =
        scheduler.run_request(client, body, |resources, body| Ok(picture(&resources.desk(), body)?)).await?;
    let (width, height) = (picture.width.to_string(), picture.height.to_string());
    Ok(HttpResponse::Ok()
        .content_type("application/octet-stream")
        .insert_header(("Content-Encoding", "identity"))
        .insert_header(("X-Width", width))
        .insert_header(("X-Height", height))
        .body(picture.rgba))
}

/// What changes on a picture: width, height and the number of regions; x, y, width and height of each; then the RGBA pixels of
/// each. All numbers have 32 bits, the lowest byte first.
#[utoipa::path(post, path = "/api/stage",
    request_body = StageRequest,
    responses(
        (status = 200, content_type = "application/octet-stream", body = Vec<u8>),
        (status = 409, body = ProblemDocument),
        (status = 422, body = ProblemDocument),
        (status = 503, body = ProblemDocument)
    )
)]
pub async fn stage(context: RequestContext, body: JsonBody<StageRequest>) -> Result<HttpResponse, ApiError> {
    let RequestContext { scheduler, client, .. } = context;
    let answer = |resources: &ClientResources<'_>, body: &StageRequest| {
        Ok((body.is_first(), questions::stage(&resources.desk(), body)?.bytes()))
    };
    let (is_first, bytes) = scheduler.run_request(client, body, answer).await?;
    let mut response = HttpResponse::Ok();
    response.content_type("application/octet-stream");
    // The first picture is large and comes once. Those of a drag are small, and compressing them would hold them up.
    if !is_first {
        response.insert_header(("Content-Encoding", "identity"));
    }
    Ok(response.body(bytes))
}

/// The small pictures of a scene, all in one answer.
#[utoipa::path(post, path = "/api/thumbnails",
    request_body = ThumbnailsRequest,
    responses((status = 200, body = Thumbnails), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn thumbnails(
    context: RequestContext,
    body: JsonBody<ThumbnailsRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::thumbnails).await
}
