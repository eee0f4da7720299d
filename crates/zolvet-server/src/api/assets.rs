//! Uploaded files: pictures, icons and fonts.

use actix_web::{HttpRequest, HttpResponse, web};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use zolvet_core::asset::media_type;
use zolvet_core::font::{self, Font};
use zolvet_core::geometry::drawing::DrawingFile;
use zolvet_core::geometry::text::has_family;
use zolvet_core::limits;
use zolvet_core::model::{Asset, FontUse, Id};
use zolvet_core::picture::Bitmap;
use zolvet_host::{ReadDrawing, Task};
use zolvet_store::Store;

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::request::Upload;
use crate::response::{ResponseBody, ResponseRoom};

/// The name of an upload.
#[derive(Deserialize)]
pub struct UploadName {
    name: Option<String>,
}

/// The content of an uploaded file.
#[derive(Serialize, ToSchema)]
pub struct Uploaded {
    /// The file, to be listed in the document.
    #[serde(skip_serializing_if = "Option::is_none")]
    asset: Option<Asset>,
    /// The outline, for a path piece; there for SVG that can be one.
    #[serde(skip_serializing_if = "Option::is_none")]
    icon: Option<Outline>,
    /// What the drawing is; there for SVG.
    #[serde(skip_serializing_if = "Option::is_none")]
    drawing: Option<ReadDrawing>,
    /// In px, as its density says it is meant; 0 for a font.
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
    /// There is text in the file, which is not part of the outline.
    has_text: bool,
}

/// Keeps a picture (PNG, JPEG, WebP), a font (TrueType, OpenType, WOFF 2) or a drawing (SVG), which comes back as an outline as
/// well where it can be an icon.
#[utoipa::path(post, path = "/api/assets",
    operation_id = "upload_asset",
    params(("name" = Option<String>, Query, description = "What the file is called")),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses(
        (status = 201, body = Uploaded),
        (status = 413, body = ProblemDocument),
        (status = 422, body = ProblemDocument),
        (status = 503, body = ProblemDocument)
    )
)]
pub async fn upload(
    store: web::Data<Store>,
    context: RequestContext,
    name: web::Query<UploadName>,
    body: Upload,
) -> Result<HttpResponse, ApiError> {
    let RequestContext { scheduler, client, request } = context;
    let bytes = body.0.bytes();
    let kind = request.headers().get("content-type").and_then(|kind| kind.to_str().ok()).unwrap_or_default();
    let looks_like_svg = kind.contains("svg") || bytes.trim_ascii_start().starts_with(b"<");
    let name = name.into_inner().name.unwrap_or_else(|| "Picture".to_owned());
    let name: String = name.chars().take(limits::NAME_CHARACTERS).collect();
    if looks_like_svg || DrawingFile::is_like(bytes) {
        let read = scheduler.run_helper(client.clone(), Task::Drawing, bytes).await?;
        let drawing: ReadDrawing = serde_json::from_slice(&read).map_err(ApiError::internal)?;
        // What is no icon is a drawing all the same.
        let icon = match scheduler.run_helper(client, Task::Icon, bytes).await {
            Ok(read) => Some(outline(&read)?),
            Err(_) => None,
        };
        return keep_drawing(&store, drawing, icon, (bytes, name)).await;
    }
    let unknown =
        || ApiError::invalid_at("", "expected a PNG, JPEG or WebP picture, an SVG drawing or a font");
    let media_type = media_type(bytes).ok_or_else(unknown)?;
    if font::media_type(bytes).is_some() {
        let font = zolvet_host::font(scheduler.run_helper(client, Task::Font, bytes).await?)?;
        return keep_font(&store, font, (media_type, bytes, name)).await;
    }
    // What is too large is told without a helper.
    Bitmap::size_of(bytes).map_err(|error| ApiError::invalid_at("", error.to_string()))?;
    let size = scheduler.run_helper(client, Task::PictureSize, bytes).await?;
    let (width, height): (f64, f64) = serde_json::from_slice(&size).map_err(ApiError::internal)?;
    let id = store.keep_asset(media_type, bytes).await?;
    let id = Id::new(id).map_err(ApiError::internal)?;
    let asset = Some(Asset { id, name, media_type: media_type.to_owned(), font: None, data: None });
    Ok(HttpResponse::Created().json(Uploaded { asset, icon: None, drawing: None, width, height }))
}

/// An outline from the answer of [`Task::Icon`].
fn outline(read: &[u8]) -> Result<Outline, ApiError> {
    let (d, viewbox, has_text): (String, [f64; 4], bool) =
        serde_json::from_slice(read).map_err(ApiError::internal)?;
    Ok(Outline { d, viewbox, has_text })
}

/// Keeps a drawing.
async fn keep_drawing(
    store: &Store,
    drawing: ReadDrawing,
    icon: Option<Outline>,
    (bytes, name): (&[u8], String),
) -> Result<HttpResponse, ApiError> {
    let media_type = DrawingFile::MEDIA_TYPE;
    let id = Id::new(store.keep_asset(media_type, bytes).await?).map_err(ApiError::internal)?;
    let asset = Some(Asset { id, name, media_type: media_type.to_owned(), font: None, data: None });
    let (width, height) = (drawing.width, drawing.height);
    Ok(HttpResponse::Created().json(Uploaded { asset, icon, drawing: Some(drawing), width, height }))
}

/// Keeps a font, with its own names.
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
    Ok(HttpResponse::Created().json(Uploaded { asset, icon: None, drawing: None, width: 0.0, height: 0.0 }))
}

/// An uploaded file as it was sent.
#[utoipa::path(get, path = "/api/assets/{id}",
    operation_id = "read_asset",
    params(("id" = String, Path)),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 404, body = ProblemDocument))
)]
pub async fn read(
    store: web::Data<Store>,
    request: HttpRequest,
    id: web::Path<String>,
) -> Result<HttpResponse, ApiError> {
    // There is room for it before it is read.
    let room = ResponseRoom::reserve(store.asset_length(&id).await?, &request).await?;
    let asset = store.asset(&id).await?;
    // What the bytes are, whatever was said of them once; nothing that a browser would run or draw as a page.
    let known = media_type(&asset.bytes).filter(|known| *known != DrawingFile::MEDIA_TYPE);
    let media_type = known.unwrap_or("application/octet-stream");
    Ok(HttpResponse::Ok()
        .content_type(media_type)
        .insert_header(("Cache-Control", "private, max-age=31536000, immutable"))
        .insert_header(("Content-Security-Policy", "sandbox; default-src 'none'"))
        .insert_header(("Content-Disposition", "attachment"))
        .body(ResponseBody::new(asset.bytes, &request, room)))
}
