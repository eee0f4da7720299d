//! Pages of somebody's own: kept, shown in a frame, and asked for selectors.

use actix_web::{HttpRequest, HttpResponse, web};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use zolvet_core::limits;
use zolvet_core::model::{Asset, Id, PageGround};
use zolvet_host::{ReadPage, Task};
use zolvet_page::{Offers, POLICY};
use zolvet_store::Store;

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::request::{JsonBody, Upload};
use crate::response::{ResponseBody, ResponseRoom};

/// A page that is kept.
#[derive(Serialize, ToSchema)]
pub struct KeptPage {
    /// The file, to be listed in the document.
    asset: Asset,
    /// How many elements it has.
    elements: usize,
    /// What it refers to and is not in it.
    missing: Vec<String>,
}

/// Keeps a page: an HTML file, one that holds all it needs (MHTML), or a ZIP archive of a page and its files. It is rebuilt as one
/// file that runs nothing and leads nowhere.
#[utoipa::path(post, path = "/api/pages",
    operation_id = "upload_page",
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 201, body = KeptPage),
        (status = 413, body = ProblemDocument),
        (status = 422, body = ProblemDocument),
        (status = 503, body = ProblemDocument)
    )
)]
pub async fn upload(
    store: web::Data<Store>,
    context: RequestContext,
    body: Upload,
) -> Result<HttpResponse, ApiError> {
    let read = context.scheduler.run_helper(context.client, Task::Page, body.0.bytes()).await?;
    let page: ReadPage = serde_json::from_slice(&read).map_err(ApiError::internal)?;
    let id = store.keep_asset(PageGround::MEDIA_TYPE, page.html.as_bytes()).await?;
    let id = Id::new(id).map_err(ApiError::internal)?;
    let name: String = page.title.chars().take(limits::NAME_CHARACTERS).collect();
    let media_type = PageGround::MEDIA_TYPE.to_owned();
    let asset = Asset { id, name, media_type, font: None, data: None };
    Ok(HttpResponse::Created().json(KeptPage { asset, elements: page.elements, missing: page.missing }))
}

/// A page for a frame. Whatever was kept, it is rebuilt, and its policy lets it load nothing but what it carries.
#[utoipa::path(get, path = "/api/pages/{id}",
    operation_id = "read_page",
    params(("id" = String, Path)),
    responses((status = 200, content_type = "text/html", body = String), (status = 404, body = ProblemDocument))
)]
pub async fn frame(
    store: web::Data<Store>,
    context: RequestContext,
    id: web::Path<String>,
    request: HttpRequest,
) -> Result<HttpResponse, ApiError> {
    let room = ResponseRoom::reserve(store.asset_length(&id).await?, &request).await?;
    let html = kept(&store, &id).await?;
    let page = context.scheduler.run_helper(context.client, Task::PageFrame, &html).await?;
    let policy = format!("{POLICY}; frame-ancestors 'self'; sandbox allow-same-origin");
    Ok(HttpResponse::Ok()
        .content_type("text/html; charset=utf-8")
        .insert_header(("Cache-Control", "private, max-age=3600"))
        .insert_header(("Content-Security-Policy", policy))
        .body(ResponseBody::new(page, &request, room)))
}

/// The bytes of a page; other files are none.
async fn kept(store: &Store, id: &str) -> Result<Vec<u8>, ApiError> {
    let file = store.asset(id).await?;
    let is_page = file.media_type == PageGround::MEDIA_TYPE;
    if is_page { Ok(file.bytes) } else { Err(ApiError::missing("page")) }
}

/// An element of a page.
#[derive(Deserialize, ToSchema)]
pub struct OffersRequest {
    /// Its number, which it has in the frame.
    element: usize,
}

/// Selectors for an element of a page.
#[utoipa::path(post, path = "/api/pages/{id}/offers",
    operation_id = "offer_selectors",
    params(("id" = String, Path)),
    request_body = OffersRequest,
    responses((status = 200, body = Offers), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument))
)]
pub async fn offers(
    store: web::Data<Store>,
    context: RequestContext,
    id: web::Path<String>,
    body: JsonBody<OffersRequest>,
) -> Result<HttpResponse, ApiError> {
    let OffersRequest { element } = body.read()?;
    let html = kept(&store, &id).await?;
    let mut input = format!("{element}\n").into_bytes();
    input.extend_from_slice(&html);
    let found = context.scheduler.run_helper(context.client, Task::PageOffers, &input).await?;
    Ok(super::respond("application/json", found))
}
