//! The owner's session, where others can reach the service.

use std::collections::HashMap;
use std::net::IpAddr;
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

use actix_web::cookie::{Cookie, SameSite, time};
use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, web};
use serde::Deserialize;
use utoipa::ToSchema;
use zolvet_store::Store;

use crate::access::{Access, SESSION, address, sessions};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

/// The owner's key.
#[derive(Deserialize, ToSchema)]
pub struct KeyRequest {
    key: String,
}

/// Wrong keys that were tried lately, by address. They keep nobody out who has the right one: 160 bits are guessed by nobody,
/// and all that is saved is the trouble of answering.
#[derive(Default)]
pub struct KeyAttempts(Mutex<HashMap<IpAddr, Attempts>>);

#[derive(Clone, Copy)]
struct Attempts {
    wrong: u32,
    last: Instant,
}

/// Wrong keys from an address, each within [`FORGOTTEN_AFTER`] of the one before, after which it is told to wait.
const FREE_ATTEMPTS: u32 = 5;
/// How long wrong keys count.
const FORGOTTEN_AFTER: Duration = Duration::from_secs(60);
/// Addresses that are remembered.
const MAX_ADDRESSES: usize = 10_000;

impl KeyAttempts {
    /// Counts a wrong key; says whether it was one too many.
    fn count_wrong(&self, address: IpAddr) -> bool {
        let mut attempts = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if attempts.len() >= MAX_ADDRESSES {
            attempts.retain(|_, one| one.last.elapsed() < FORGOTTEN_AFTER);
        }
        if attempts.len() >= MAX_ADDRESSES && !attempts.contains_key(&address) {
            return true;
        }
        let now = Instant::now();
        let one = attempts.entry(address).or_insert(Attempts { wrong: 0, last: now });
        if one.last.elapsed() >= FORGOTTEN_AFTER {
            one.wrong = 0;
        }
        *one = Attempts { wrong: one.wrong.saturating_add(1), last: now };
        one.wrong > FREE_ATTEMPTS
    }
}

/// Days the cookie is kept; the session itself may end before.
const COOKIE_DAYS: i64 = 30;

/// Exchanges the owner's key for a session, which a cookie keeps.
#[utoipa::path(post, path = "/api/session",
    operation_id = "open_session",
    request_body = KeyRequest,
    responses((status = 204), (status = 401, body = ProblemDocument), (status = 429, body = ProblemDocument))
)]
pub async fn open_session(
    store: web::Data<Store>,
    access: web::Data<Access>,
    attempts: web::Data<KeyAttempts>,
    request: HttpRequest,
    body: JsonBody<KeyRequest>,
) -> Result<HttpResponse, ApiError> {
    let Some(token) = store.open_session(body.read()?.key.trim()).await? else {
        if attempts.count_wrong(address(request.peer_addr().map(|peer| peer.ip()))) {
            let detail = "This is not the owner's key, and too many wrong ones were tried; wait a minute.";
            return Err(ApiError::new(StatusCode::TOO_MANY_REQUESTS, "slowly", "Not so fast", detail));
        }
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
#[utoipa::path(delete, path = "/api/session",
    operation_id = "close_session", responses((status = 204))
)]
pub async fn close_session(store: web::Data<Store>, request: HttpRequest) -> Result<HttpResponse, ApiError> {
    for session in sessions(&request) {
        store.close_session(&session).await?;
    }
    let mut gone = Cookie::build(SESSION, "").path("/").finish();
    gone.make_removal();
    Ok(HttpResponse::NoContent().cookie(gone).finish())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn wrong_keys_are_counted_by_address() {
        let attempts = KeyAttempts::default();
        let [one, other] = [[10, 0, 0, 1], [10, 0, 0, 2]].map(IpAddr::from);
        for _ in 0..FREE_ATTEMPTS {
            assert!(!attempts.count_wrong(one));
        }
        assert!(attempts.count_wrong(one), "one too many");
        assert!(!attempts.count_wrong(other), "of somebody else it is the first");
    }
}
