//! The files of the front end, embedded in the program.

use std::sync::OnceLock;

use actix_web::http::{Method, StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, ResponseError};
use rust_embed::Embed;
use zolvet_core::geometry::text::FAMILIES;

use crate::error::ApiError;

/// The output of Vite.
#[derive(Embed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct FrontEnd;

/// A file of the front end, if it is there.
pub fn embedded(path: &str) -> Option<Vec<u8>> {
    FrontEnd::get(path).map(|file| file.data.into_owned())
}

/// A file of the front end; any other path outside the API is a view of it.
pub async fn file(request: HttpRequest) -> HttpResponse {
    let path = request.path().trim_start_matches('/');
    if path.starts_with("api/") || ["healthz", "readyz"].contains(&path) {
        return unanswered(&request);
    }
    if request.method() != Method::GET {
        return not_allowed(&["GET", "HEAD"], request.method());
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
            .body(file.data.into_owned());
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
            .body(page.data.into_owned()),
        None => HttpResponse::NotFound().body("The front end is not built: run `cargo xtask demo`."),
    }
}

/// What no route took: an address that is not there, or one that is there for other methods.
fn unanswered(request: &HttpRequest) -> HttpResponse {
    let allowed = methods_of(request.path());
    if allowed.is_empty() {
        return ApiError::missing("resource").error_response();
    }
    not_allowed(&allowed, request.method())
}

/// An answer that names the methods an address has (RFC 9110, §9.3.7 and §15.5.6).
fn not_allowed(allowed: &[&str], method: &Method) -> HttpResponse {
    let mut names = allowed.join(", ");
    names.push_str(", OPTIONS");
    if method == Method::OPTIONS {
        return HttpResponse::NoContent().insert_header((header::ALLOW, names)).finish();
    }
    let detail = format!("This address answers to {names}.");
    let error = ApiError::new(StatusCode::METHOD_NOT_ALLOWED, "method", "Another method is needed", detail);
    let mut response = error.error_response();
    if let Ok(names) = header::HeaderValue::from_str(&names) {
        response.headers_mut().insert(header::ALLOW, names);
    }
    response
}

/// The methods of an address, as the description has them.
fn methods_of(path: &str) -> Vec<&'static str> {
    static PATHS: OnceLock<Vec<(String, Vec<&'static str>)>> = OnceLock::new();
    let paths = PATHS.get_or_init(crate::api::methods);
    let fits = |template: &str| {
        let (mut wanted, mut found) = (template.split('/'), path.split('/'));
        loop {
            match (wanted.next(), found.next()) {
                (None, None) => return true,
                (Some(wanted), Some(found)) if wanted == found => {}
                (Some(wanted), Some(found)) if wanted.starts_with('{') && !found.is_empty() => {}
                _ => return false,
            }
        }
    };
    paths.iter().filter(|(template, _)| fits(template)).flat_map(|(_, methods)| methods.clone()).collect()
}

/// The fonts that pieces are set in, the same files the core draws from.
fn font(name: &str) -> HttpResponse {
    let mut faces = FAMILIES.iter().flat_map(|family| family.faces);
    match faces.find(|face| face.file == name) {
        Some(face) => HttpResponse::Ok().content_type("font/ttf").body(face.data),
        None => ApiError::missing("font").error_response(),
    }
}
