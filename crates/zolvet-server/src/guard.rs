//! Who may ask: only pages of our own, under a host name that is ours. And what pages may do.

use std::sync::Arc;

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::StatusCode;
use actix_web::http::header::{self, HeaderMap, HeaderValue};
use actix_web::middleware::Next;
use actix_web::{Error, ResponseError, web};

use crate::error::ApiError;

/// Host names we answer to besides loopback.
pub struct Allowed(pub Arc<Vec<String>>);

/// `style-src` allows inline styles, which the interface's components set; scripts come from files alone.
const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; \
    img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'none'; \
    frame-ancestors 'none'";

/// Refuses foreign hosts and origins, and sets the headers that keep pages to themselves.
pub async fn check(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let allowed = request.app_data::<web::Data<Allowed>>().cloned();
    let names: &[String] = allowed.as_ref().map_or(&[], |allowed| &allowed.0);
    let mut response = if is_ours(request.headers(), names) {
        next.call(request).await?.map_into_boxed_body()
    } else {
        let detail = "This host or origin is not ours; name it with --allow-host to let it in.";
        let refused = ApiError::new(StatusCode::FORBIDDEN, "foreign", "Refused", detail).error_response();
        request.into_response(refused)
    };
    let headers = response.headers_mut();
    headers.insert(header::CONTENT_SECURITY_POLICY, HeaderValue::from_static(POLICY));
    headers.insert(header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff"));
    headers.insert(header::REFERRER_POLICY, HeaderValue::from_static("no-referrer"));
    Ok(response)
}

fn is_ours(headers: &HeaderMap, names: &[String]) -> bool {
    let host = headers.get(header::HOST).and_then(|host| host.to_str().ok()).unwrap_or_default();
    let origin_is_ours = headers.get(header::ORIGIN).is_none_or(|origin| {
        let origin = origin.to_str().unwrap_or_default();
        let rest = origin.strip_prefix("http://").or_else(|| origin.strip_prefix("https://"));
        rest.is_some_and(|host| host_is_ours(host, names))
    });
    host_is_ours(host, names) && origin_is_ours
}

fn host_is_ours(host: &str, names: &[String]) -> bool {
    let name = match host.rsplit_once(':') {
        Some((name, port)) if port.bytes().all(|digit| digit.is_ascii_digit()) => name,
        _ => host,
    };
    ["127.0.0.1", "localhost", "[::1]"].contains(&name) || names.iter().any(|allowed| allowed == name)
}
