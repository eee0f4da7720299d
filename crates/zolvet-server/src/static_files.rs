//! The files of the front end, embedded in the program.

use std::borrow::Cow;

use actix_web::http::Method;
use actix_web::http::header::{self, ContentEncoding};
use actix_web::web::Bytes;
use actix_web::{HttpRequest, HttpResponse, ResponseError};
use rust_embed::{Embed, EmbeddedFile};
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
        let mut answer = HttpResponse::Ok();
        answer.content_type(kind).insert_header((header::CACHE_CONTROL, keep));
        return match packed(path, &request) {
            Some((encoding, packed)) => answer
                .insert_header((header::VARY, "Accept-Encoding"))
                .insert_header(encoding)
                .body(bytes(packed.data)),
            None => answer.body(bytes(file.data)),
        };
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

/// A file as it was packed when the front end was built, in a way that is accepted; scripts and styles are.
fn packed(path: &str, request: &HttpRequest) -> Option<(ContentEncoding, EmbeddedFile)> {
    let forms = [("br", ".br", ContentEncoding::Brotli), ("gzip", ".gz", ContentEncoding::Gzip)];
    let mut taken = forms.into_iter().filter(|(name, ..)| accepts(request, name));
    taken.find_map(|(_, ending, encoding)| Some((encoding, FrontEnd::get(&format!("{path}{ending}"))?)))
}

/// Whether an answer may be encoded in a way (RFC 9110, section 12.5.3); a weight of 0 says no.
pub fn accepts(request: &HttpRequest, encoding: &str) -> bool {
    let values = request.headers().get_all(header::ACCEPT_ENCODING).filter_map(|value| value.to_str().ok());
    values.flat_map(|value| value.split(',')).any(|one| {
        let (name, weight) = one.split_once(';').unwrap_or((one, ""));
        let weight = weight.trim().strip_prefix("q=").and_then(|weight| weight.parse().ok());
        name.trim().eq_ignore_ascii_case(encoding) && weight.is_none_or(|weight: f32| weight > 0.0)
    })
}

/// The fonts that pieces are set in, the same files the core draws from.
fn font(name: &str) -> HttpResponse {
    let mut faces = FAMILIES.iter().flat_map(|family| family.faces);
    match faces.find(|face| face.file == name) {
        Some(face) => HttpResponse::Ok().content_type("font/ttf").body(face.data),
        None => ApiError::missing("font").error_response(),
    }
}
