//! Whether the service is there, and whether it can save.

use std::time::{Duration, Instant};

use actix_web::{HttpResponse, web};
use tokio::sync::Mutex;
use zolvet_store::{Store, StoreError};

use crate::error::{ApiError, ProblemDocument};

/// The outcome of the last trial save.
#[derive(Default)]
pub struct Readiness(Mutex<Option<(Instant, Result<(), String>)>>);

/// How long that counts.
const COUNTS: Duration = Duration::from_secs(1);

/// Whether the service answers.
#[utoipa::path(get, path = "/healthz",
    responses((status = 200, description = "It answers", body = String, content_type = "text/plain"))
)]
pub async fn health() -> HttpResponse {
    HttpResponse::Ok().content_type("text/plain; charset=utf-8").body("ok")
}

/// Whether the service can save: something is written and read.
#[utoipa::path(get, path = "/readyz",
    responses(
    (status = 200, description = "It can save", body = String, content_type = "text/plain"),
    (status = 503, body = ProblemDocument)
)
)]
pub async fn ready(
    store: web::Data<Store>,
    readiness: web::Data<Readiness>,
) -> Result<HttpResponse, ApiError> {
    let mut last = readiness.0.lock().await;
    let found = match &*last {
        Some((at, found)) if at.elapsed() < COUNTS => found.clone(),
        _ => {
            let found = store.can_write().await.map_err(|error| match error {
                StoreError::Full => "There is no space left for the database.".to_owned(),
                StoreError::Busy => "The database is being written to by somebody else.".to_owned(),
                other => {
                    tracing::error!(%other, "the database cannot be written to");
                    "The database cannot be written to; the log of the service says why.".to_owned()
                }
            });
            *last = Some((Instant::now(), found.clone()));
            found
        }
    };
    found.map_err(ApiError::busy)?;
    Ok(HttpResponse::Ok().content_type("text/plain; charset=utf-8").body("ready"))
}
