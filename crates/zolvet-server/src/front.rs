//! The front end, carried inside the program.

use actix_web::http::header;
use actix_web::{HttpRequest, HttpResponse, ResponseError};
use rust_embed::Embed;
use zolvet_core::geometry::text::FAMILIES;

use crate::error::ApiError;

/// What Vite built.
#[derive(Embed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Built;

/// A file of the front end; any other path outside the API is a view of it.
pub async fn file(request: HttpRequest) -> HttpResponse {
    let path = request.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return ApiError::missing("resource").error_response();
    }
    if let Some(name) = path.strip_prefix("fonts/") {
        return font(name);
    }
    if let Some(file) = Built::get(path) {
        let kind = file.metadata.mimetype().to_owned();
        // Vite puts a hash of their content into the names of these.
        let keep = if path.starts_with("assets/") { "max-age=31536000, immutable" } else { "no-cache" };
        return HttpResponse::Ok()
            .content_type(kind)
            .insert_header((header::CACHE_CONTROL, keep))
            .body(file.data.into_owned());
    }
    match Built::get("index.html") {
        Some(page) => HttpResponse::Ok()
            .content_type("text/html; charset=utf-8")
            .insert_header((header::CACHE_CONTROL, "no-cache"))
            .body(page.data.into_owned()),
        None => HttpResponse::NotFound().body("The front end is not built: run `cargo xtask demo`."),
    }
}

/// The fonts that pieces are set in, the same files the core draws from.
fn font(name: &str) -> HttpResponse {
    let mut faces = FAMILIES.iter().flat_map(|family| family.faces);
    match faces.find(|face| face.file == name) {
        Some(face) => HttpResponse::Ok().content_type("font/ttf").body(face.data),
        None => ApiError::missing("font").error_response(),
    }
}
