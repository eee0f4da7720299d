//! A scene as a picture, plain or as a PNG file.

use actix_web::HttpResponse;
use actix_web::http::header::ACCEPT;
use zolvet_queries::{PreviewRequest, preview as picture, to_png};

use super::{RequestContext, respond};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

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
            .run_request(client, body, |resources, body| {
                Ok(to_png(&picture(&resources.query_context(), body)?)?)
            })
            .await?;
        return Ok(respond("image/png", png));
    }
    let picture = scheduler
        .run_request(client, body, |resources, body| Ok(picture(&resources.query_context(), body)?))
        .await?;
    let (width, height) = (picture.width.to_string(), picture.height.to_string());
    Ok(HttpResponse::Ok()
        .content_type("application/octet-stream")
        .insert_header(("Content-Encoding", "identity"))
        .insert_header(("X-Width", width))
        .insert_header(("X-Height", height))
        .body(picture.rgba))
}
