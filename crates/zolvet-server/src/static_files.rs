//! The files of the front end, embedded in the program.

use std::borrow::Cow;

use actix_web::http::{Method, header};
use actix_web::web::Bytes;
use actix_web::{HttpRequest, HttpResponse, ResponseError};
use rust_embed::Embed;
use zolvet_core::geometry::text::FAMILIES;

use crate::api::other_method;
use crate::error::ApiError;

/// The output of Vite.
#[derive(Embed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct FrontEnd;

/// A file of the front end, if it is there; as it lies in the program, without a copy of it.
pub fn embedded(path: &str) -> Option<Bytes> {
    FrontEnd::get(path).map(|file| bytes(file.data))
}

fn bytes(data: Cow<'static, [u8]>) -> Bytes {
    match data {
        Cow::Borrowed(data) => Bytes::from_static(data),
        Cow::Owned(data) => Bytes::from(data),
    }
}

/// A file of the front end; any other path outside the API is a view of it.
pub async fn file(request: HttpRequest) -> HttpResponse {
    let path = request.path().trim_start_matches('/');
    if path.starts_with("api/") {
        return ApiError::missing("resource").error_response();
    }
    if request.method() != Method::GET {
        return other_method(&[Method::GET, Method::HEAD], request.method());
    }
    if let Some(name) = path.strip_prefix("fonts/") {
        return font(name);
    }
    if let Some(file) = FrontEnd::get(path) {
        let kind = file.metadata.mimetype().to_owned();
        // Vite puts a hash of their content into the names of these.
        let keep = if path.starts_with("assets/") { "max-age=31536000, immutable" } else { "no-cache" };
        return HttpResponse::Ok()
            .content_type(kind)
            .insert_header((header::CACHE_CONTROL, keep))
            .body(bytes(file.data));
    }
    // Views have no dot in their addresses; what has one, or lies where files lie, is a file that is not there.
    let last = path.rsplit('/').next().unwrap_or_default();
    if path.starts_with("assets/") || last.contains('.') {
        return ApiError::missing("file").error_response();
    }
    match FrontEnd::get("index.html") {
        Some(page) => HttpResponse::Ok()
            .content_type("text/html; charset=utf-8")
            .insert_header((header::CACHE_CONTROL, "no-cache"))
            .body(bytes(page.data)),
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
