//! The owner's session, where others can reach the service.

use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

use actix_web::cookie::{Cookie, SameSite, time};
use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, delete, post, web};
use serde::Deserialize;
use utoipa::ToSchema;
use zolvet_store::Store;

use crate::access::{Access, SESSION};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(open_session).service(close_session);
}

/// The owner's key.
#[derive(Deserialize, ToSchema)]
pub struct KeyRequest {
    key: String,
}

/// Keys that were tried and were wrong: the more of them, the longer until the next may be tried.
#[derive(Default)]
pub struct KeyAttempts(Mutex<(u32, Option<Instant>)>);

/// Wrong keys in a row after which the next has to wait.
const FREE_ATTEMPTS: u32 = 5;
/// The longest wait.
const MAX_WAIT: Duration = Duration::from_secs(60);

impl KeyAttempts {
    fn may_try(&self) -> bool {
        let attempts = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        attempts.1.is_none_or(|until| Instant::now() >= until)
    }

    fn record(&self, right: bool) {
        let mut attempts = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if right {
            *attempts = (0, None);
            return;
        }
        attempts.0 += 1;
        let wait = Duration::from_secs(1 << (attempts.0.saturating_sub(FREE_ATTEMPTS)).min(6)).min(MAX_WAIT);
        attempts.1 = (attempts.0 >= FREE_ATTEMPTS).then(|| Instant::now() + wait);
    }
}

/// Days the cookie is kept; the session itself may end before.
const COOKIE_DAYS: i64 = 30;

/// Exchanges the owner's key for a session, which a cookie keeps.
#[utoipa::path(operation_id = "open_session",
    request_body = KeyRequest,
    responses((status = 204), (status = 401, body = ProblemDocument), (status = 429, body = ProblemDocument))
)]
#[post("/api/session")]
pub async fn open_session(
    store: web::Data<Store>,
    access: web::Data<Access>,
    attempts: web::Data<KeyAttempts>,
    body: JsonBody<KeyRequest>,
) -> Result<HttpResponse, ApiError> {
    if !attempts.may_try() {
        let detail = "Too many wrong keys were tried; wait a minute.";
        return Err(ApiError::new(StatusCode::TOO_MANY_REQUESTS, "slowly", "Not so fast", detail));
    }
    let opened = store.open_session(body.read()?.key.trim()).await?;
    attempts.record(opened.is_some());
    let Some(token) = opened else {
        return Err(ApiError::new(
            StatusCode::UNAUTHORIZED,
            "wrong-key",
            "Wrong key",
            "This is not the owner's key.",
        ));
    };
    let cookie = Cookie::build(SESSION, token)
        .path("/")
        .http_only(true)
        .same_site(SameSite::Strict)
        .secure(access.secure)
        .max_age(time::Duration::days(COOKIE_DAYS))
        .finish();
    Ok(HttpResponse::NoContent().cookie(cookie).finish())
}

/// Ends the session.
#[utoipa::path(operation_id = "close_session", responses((status = 204)))]
#[delete("/api/session")]
pub async fn close_session(store: web::Data<Store>, request: HttpRequest) -> Result<HttpResponse, ApiError> {
    if let Some(session) = request.cookie(SESSION) {
        store.close_session(session.value()).await?;
    }
    let mut gone = Cookie::build(SESSION, "").path("/").finish();
    gone.make_removal();
    Ok(HttpResponse::NoContent().cookie(gone).finish())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn wrong_keys_are_slowed() {
        let attempts = KeyAttempts::default();
        for _ in 0..FREE_ATTEMPTS {
            assert!(attempts.may_try());
            attempts.record(false);
        }
        assert!(!attempts.may_try(), "the next has to wait");
        attempts.record(true);
        assert!(attempts.may_try(), "the right one ends the wait");
    }
}
