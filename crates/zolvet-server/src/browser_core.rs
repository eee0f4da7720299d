//! The core for browsers, as `cargo xtask wasm` makes it: a worker of the page draws with it.

use std::path::PathBuf;

use actix_web::http::header::{self, ContentEncoding};
use actix_web::{HttpRequest, HttpResponse, ResponseError, web};
use zolvet_questions::CORE;
use zolvet_store::Store;

use crate::error::ApiError;
use crate::static_files::embedded;

/// A folder that it may lie in, or come to lie in while the service runs, besides the program itself.
pub struct BrowserCore(pub Option<PathBuf>);

/// The forms it is kept in, the smallest first.
const FORMS: [(&str, &str, ContentEncoding); 2] =
    [("br", "core.wasm.br", ContentEncoding::Brotli), ("gzip", "core.wasm.gz", ContentEncoding::Gzip)];

/// The core for browsers; 404 where it is not there, or not yet.
pub async fn browser_core(request: HttpRequest, folder: web::Data<BrowserCore>) -> HttpResponse {
    let accepted = request.headers().get(header::ACCEPT_ENCODING).and_then(|value| value.to_str().ok());
    let takes = |name: &str| accepted.is_some_and(|accepted| accepted.contains(name));
    for (name, file, encoding) in FORMS {
        let Some(bytes) = takes(name).then(|| found(&folder, file)).flatten() else { continue };
        let tag = Store::asset_id(&bytes);
        let known = request.headers().get(header::IF_NONE_MATCH).and_then(|value| value.to_str().ok());
        let is_known = known.is_some_and(|known| known.contains(&tag));
        let mut answer = if is_known { HttpResponse::NotModified() } else { HttpResponse::Ok() };
        // The browser keeps what it has compiled of it for as long as it is the same.
        answer.insert_header((header::ETAG, format!("\"{tag}\"")));
        answer.insert_header((header::CACHE_CONTROL, "no-cache"));
        answer.insert_header((header::VARY, "Accept-Encoding"));
        if is_known {
            return answer.finish();
        }
        return answer.content_type("application/wasm").insert_header(encoding).body(bytes);
    }
    ApiError::missing("file").error_response()
}

/// A file of the module, from the folder or the program, where it was made from the same core as the program: another would
/// not answer the same.
fn found(folder: &BrowserCore, file: &str) -> Option<Vec<u8>> {
    let lying = |file: &str| std::fs::read(folder.0.as_ref()?.join(file)).ok();
    let is_same = |id: Option<Vec<u8>>| id.is_some_and(|id| id == CORE.as_bytes());
    if is_same(lying("core.id")) {
        return lying(file);
    }
    is_same(embedded("core.id")).then(|| embedded(file)).flatten()
}
