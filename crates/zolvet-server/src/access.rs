//! Which hosts, origins and sessions are let in, and the security headers of every response.
//!
//! Only pages of our own ask, under a host name that is ours. Where others can reach the service, everything but links
//! wants the owner's session.

use std::sync::Arc;

use actix_web::body::{BoxBody, MessageBody};
use actix_web::cookie::Cookie;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header::{self, HeaderMap, HeaderName, HeaderValue};
use actix_web::http::{Method, StatusCode};
use actix_web::middleware::Next;
use actix_web::{Error, ResponseError, web};
use zolvet_store::Store;

use crate::error::ApiError;

/// Who is let in.
#[derive(Debug, Clone)]
pub struct Access {
    /// Host names we answer to besides loopback.
    pub hosts: Arc<Vec<String>>,
    /// Everything but links wants the owner's session: others can reach the service.
    pub wants_key: bool,
    /// Pages come by https, so that the session may travel by nothing else.
    pub secure: bool,
}

/// The cookie of the owner's session.
pub const SESSION: &str = "zolvet_session";

/// `style-src` allows inline styles, which the interface's components set; scripts come from files alone, and so does the
/// core for workers, which is compiled and no text that is run.
const POLICY: &str = "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; \
    img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'none'; \
    frame-ancestors 'none'";

const RESOURCE_POLICY: HeaderName = HeaderName::from_static("cross-origin-resource-policy");

/// Refuses foreign hosts and origins and those without a session, and sets the headers that keep pages to themselves.
pub async fn check(
    mut request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    // An answer to HEAD is that to GET; what would be in it is left out when it is sent.
    if request.method() == Method::HEAD {
        request.head_mut().method = Method::GET;
    }
    let is_data = request.path().starts_with("/api/");
    let mut response = match refused(&request).await {
        Some(refused) => request.into_response(refused.error_response()),
        None => next.call(request).await?.map_into_boxed_body(),
    };
    let headers = response.headers_mut();
    headers.insert(header::CONTENT_SECURITY_POLICY, HeaderValue::from_static(POLICY));
    headers.insert(header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff"));
    headers.insert(header::REFERRER_POLICY, HeaderValue::from_static("no-referrer"));
    headers.insert(RESOURCE_POLICY, HeaderValue::from_static("same-origin"));
    if is_data && !headers.contains_key(header::CACHE_CONTROL) {
        headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    }
    Ok(response)
}

async fn refused(request: &ServiceRequest) -> Option<ApiError> {
    let Some(access) = request.app_data::<web::Data<Access>>() else {
        return Some(ApiError::internal("nobody said who is let in"));
    };
    if !is_ours(request.headers(), &access.hosts) {
        let detail =
            "This host or origin is not ours; name it with --allow-host or --public-url to let it in.";
        return Some(ApiError::new(StatusCode::FORBIDDEN, "foreign", "Refused", detail));
    }
    let open = is_open(request.path());
    if !access.wants_key {
        // Whoever comes through a proxy is no neighbour, whatever the address says.
        if is_forwarded(request.headers()) && !open {
            let detail = "This request came through a proxy. Start the service with --public-url to be reached \
                          through one.";
            return Some(ApiError::new(StatusCode::FORBIDDEN, "forwarded", "Refused", detail));
        }
        return None;
    }
    if open {
        return None;
    }
    let session = request.cookie(SESSION).map(|cookie: Cookie<'_>| cookie.value().to_owned());
    let store = request.app_data::<web::Data<Store>>();
    let is_owner = match (session, store) {
        (Some(session), Some(store)) => match store.session_is_open(&session).await {
            Ok(open) => open,
            Err(error) => return Some(error.into()),
        },
        _ => false,
    };
    if is_owner {
        return None;
    }
    let detail =
        "This needs the owner's key, which was shown when the service was started for the first time.";
    Some(ApiError::new(StatusCode::UNAUTHORIZED, "key-needed", "The owner's key is needed", detail))
}

/// What answers without the owner's key: the pages themselves, which hold nothing; links and what they show; opening a
/// session; and whether the service is there.
fn is_open(path: &str) -> bool {
    let is_data = path.starts_with("/api/") || path == "/api";
    !is_data || path.starts_with("/api/shared/") || path == "/api/session"
}

fn is_forwarded(headers: &HeaderMap) -> bool {
    headers.keys().any(|name| name == header::FORWARDED || name.as_str().starts_with("x-forwarded"))
}

/// The host is one of ours, and a page that sends a request comes from that very host.
fn is_ours(headers: &HeaderMap, names: &[String]) -> bool {
    let host = headers.get(header::HOST).and_then(|host| host.to_str().ok()).unwrap_or_default();
    let origin_is_ours = headers.get(header::ORIGIN).is_none_or(|origin| {
        let origin = origin.to_str().unwrap_or_default();
        let rest = origin.strip_prefix("http://").or_else(|| origin.strip_prefix("https://"));
        rest.is_some_and(|origin| origin.eq_ignore_ascii_case(host))
    });
    host_is_ours(host, names) && origin_is_ours
}

fn host_is_ours(host: &str, names: &[String]) -> bool {
    let name = match host.rsplit_once(':') {
        Some((name, port)) if port.bytes().all(|digit| digit.is_ascii_digit()) => name,
        _ => host,
    };
    let is = |other: &str| other.eq_ignore_ascii_case(name);
    ["127.0.0.1", "localhost", "[::1]"].iter().any(|one| is(one)) || names.iter().any(|one| is(one))
}
