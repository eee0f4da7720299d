//! Uploaded files: pictures, icons and fonts.

use std::sync::Arc;

use actix_web::{HttpResponse, get, post, web};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use zolvet_core::font::{self, Font};
use zolvet_core::geometry::text::has_family;
use zolvet_core::limits;
use zolvet_core::model::{Asset, FontUse, Id};
use zolvet_core::picture::media_type;
use zolvet_store::Store;

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::request::Upload;
use crate::resources::Resources;

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(upload).service(read);
}

/// What an upload is called.
#[derive(Deserialize)]
pub struct UploadName {
    name: Option<String>,
}

/// What an uploaded file is.
#[derive(Serialize, ToSchema)]
pub struct Uploaded {
    /// The picture or font, to be listed in the document; there for PNG, JPEG, WebP and fonts.
    #[serde(skip_serializing_if = "Option::is_none")]
    asset: Option<Asset>,
    /// The outline, for a path piece; there for SVG.
    #[serde(skip_serializing_if = "Option::is_none")]
    icon: Option<Outline>,
    /// In px; 0 for a font.
    width: f64,
    /// In px; 0 for a font.
    height: f64,
}

/// An icon's outline.
#[derive(Serialize, ToSchema)]
pub struct Outline {
    /// SVG path data.
    d: String,
    /// The rectangle of the drawing it belongs to: x, y, width, height.
    viewbox: [f64; 4],
}

/// Takes a picture (PNG, JPEG, WebP) or a font (TrueType, OpenType, WOFF 2), which is kept, or an icon (SVG), which comes
/// back as path data.
#[utoipa::path(operation_id = "upload_asset",
    params(("name" = Option<String>, Query, description = "What the file is called")),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 201, body = Uploaded),
        (status = 413, body = ProblemDocument),
        (status = 422, body = ProblemDocument),
        (status = 503, body = ProblemDocument)
    )
)]
#[post("/api/assets")]
pub async fn upload(
    store: web::Data<Store>,
    context: RequestContext,
    name: web::Query<UploadName>,
    body: Upload,
) -> Result<HttpResponse, ApiError> {
    let RequestContext { scheduler, client, request } = context;
    let file = Arc::new(body.0);
    let bytes = file.bytes();
    let kind = request.headers().get("content-type").and_then(|kind| kind.to_str().ok()).unwrap_or_default();
    let looks_like_svg = kind.contains("svg") || bytes.trim_ascii_start().starts_with(b"<");
    let name = name.into_inner().name.unwrap_or_else(|| "Picture".to_owned());
    let name: String = name.chars().take(limits::NAME_CHARACTERS).collect();
    let taken = Arc::clone(&file);
    if looks_like_svg {
        let expected = |message| ApiError::invalid_at("", message);
        let icon = scheduler
            .run(client, move |resources| resources.reader_process.icon(taken.bytes()).map_err(expected))
            .await?;
        let [_, _, width, height] = icon.viewbox;
        let icon = Some(Outline { d: icon.d, viewbox: icon.viewbox });
        return Ok(HttpResponse::Created().json(Uploaded { asset: None, icon, width, height }));
    }
    if let Some(media_type) = font::media_type(bytes) {
        let font = scheduler.run(client, move |resources| read_font(resources, taken.bytes())).await?;
        return keep_font(&store, font, (media_type, bytes, name)).await;
    }
    let (width, height) = scheduler
        .run(client, move |resources| {
            let bitmap = resources
                .reader_process
                .picture(taken.bytes())
                .map_err(|message| ApiError::invalid_at("", message))?;
            Ok((f64::from(bitmap.picture.width), f64::from(bitmap.picture.height)))
        })
        .await?;
    let unknown = || ApiError::invalid_at("", "expected a PNG, JPEG or WebP picture, an SVG icon or a font");
    let media_type = media_type(bytes).ok_or_else(unknown)?;
    let id = store.keep_asset(media_type, bytes).await?;
    let id = Id::new(id).map_err(ApiError::internal)?;
    let asset = Some(Asset { id, name, media_type: media_type.to_owned(), font: None, data: None });
    Ok(HttpResponse::Created().json(Uploaded { asset, icon: None, width, height }))
}

fn read_font(resources: &Resources, bytes: &[u8]) -> Result<Font, ApiError> {
    resources.reader_process.font(bytes).map_err(|message| ApiError::invalid_at("", message))
}

/// Keeps a font, with what it says of itself.
async fn keep_font(
    store: &Store,
    font: Font,
    (media_type, bytes, name): (&str, &[u8], String),
) -> Result<HttpResponse, ApiError> {
    let id = Id::new(store.keep_asset(media_type, bytes).await?).map_err(ApiError::internal)?;
    // A name that ships means the font that ships.
    let family =
        if has_family(&font.family) { format!("{} (own)", font.family) } else { font.family.clone() };
    let said = FontUse { family, weights: font.weights, licence: font.licence };
    let asset = Some(Asset { id, name, media_type: media_type.to_owned(), font: Some(said), data: None });
    Ok(HttpResponse::Created().json(Uploaded { asset, icon: None, width: 0.0, height: 0.0 }))
}

/// An uploaded file as it was sent.
#[utoipa::path(operation_id = "read_asset",
    params(("id" = String, Path)),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 404, body = ProblemDocument))
)]
#[get("/api/assets/{id}")]
pub async fn read(store: web::Data<Store>, id: web::Path<String>) -> Result<HttpResponse, ApiError> {
    let asset = store.asset(&id).await?;
    Ok(HttpResponse::Ok()
        .content_type(asset.media_type)
        .insert_header(("Cache-Control", "private, max-age=31536000, immutable"))
        .insert_header(("X-Content-Type-Options", "nosniff"))
        .body(asset.bytes))
}
