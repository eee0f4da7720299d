//! The core for browsers, as `cargo xtask wasm` makes it: a worker of the page draws with it.

use std::path::PathBuf;
use std::sync::OnceLock;

use actix_web::http::header::{self, ContentEncoding};
use actix_web::web::{self, Bytes};
use actix_web::{HttpRequest, HttpResponse};
use zolvet_queries::SOURCE_HASH;
use zolvet_store::Store;

use crate::static_files::{accepts, embedded};

/// A folder that the core may lie in, or come to lie in while the service runs, besides the program itself.
pub struct BrowserCore {
    folder: Option<PathBuf>,
    /// The forms that were found, each read once.
    found: [OnceLock<Module>; FORMS.len()],
}

struct Module {
    bytes: Bytes,
    tag: String,
}

/// The forms it is kept in, the smallest first.
const FORMS: [(&str, &str, ContentEncoding); 2] =
    [("br", "core.wasm.br", ContentEncoding::Brotli), ("gzip", "core.wasm.gz", ContentEncoding::Gzip)];

impl BrowserCore {
    /// A core that lies in a folder, or in the program.
    pub fn new(folder: Option<PathBuf>) -> Self {
        Self { folder, found: Default::default() }
    }

    /// One of the [`FORMS`], from the folder or the program, where it was made from the same core as the program: another
    /// would not answer the same.
    fn form(&self, at: usize) -> Option<&Module> {
        let (slot, (_, file, _)) = (self.found.get(at)?, FORMS.get(at)?);
        if let Some(module) = slot.get() {
            return Some(module);
        }
        let lying = |file: &str| std::fs::read(self.folder.as_ref()?.join(file)).ok().map(Bytes::from);
        let is_same = |id: Option<Bytes>| id.is_some_and(|id| id == SOURCE_HASH.as_bytes());
        let bytes = if is_same(lying("core.id")) {
            lying(file)?
        } else {
            is_same(embedded("core.id")).then(|| embedded(file)).flatten()?
        };
        let tag = Store::asset_id(&bytes);
        Some(slot.get_or_init(|| Module { bytes, tag }))
    }
}

/// The core for browsers; nothing (204) where it is not there, or not yet: that is no error that a page would have to log.
pub async fn browser_core(request: HttpRequest, core: web::Data<BrowserCore>) -> HttpResponse {
    for (at, (name, _, encoding)) in FORMS.into_iter().enumerate() {
        let Some(module) = accepts(&request, name).then(|| core.form(at)).flatten() else { continue };
        let known = request.headers().get(header::IF_NONE_MATCH).and_then(|value| value.to_str().ok());
        let is_known = known.is_some_and(|known| known.contains(&module.tag));
        let mut answer = if is_known { HttpResponse::NotModified() } else { HttpResponse::Ok() };
        // The browser keeps what it has compiled of it for as long as it is the same.
        answer.insert_header((header::ETAG, format!("\"{}\"", module.tag)));
        answer.insert_header((header::CACHE_CONTROL, "no-cache"));
        answer.insert_header((header::VARY, "Accept-Encoding"));
        if is_known {
            return answer.finish();
        }
        return answer.content_type("application/wasm").insert_header(encoding).body(module.bytes.clone());
    }
    HttpResponse::NoContent().insert_header((header::CACHE_CONTROL, "no-store")).finish()
}
