//! Which hosts, origins and sessions are let in, and the security headers of every response.
//!
//! A request names a host that is ours: [`check`] sees every one. Who may call a route, and whether pages of other origins may, is said
//! where the route is ([`crate::api::table`]), and [`gate`] checks it once the route is found, however its path was written.

use std::net::{IpAddr, Ipv4Addr, Ipv6Addr};
use std::sync::Arc;

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header::{self, HeaderMap, HeaderName, HeaderValue};
use actix_web::http::{Method, StatusCode, Version};
use actix_web::middleware::Next;
use actix_web::{Error, HttpMessage as _, HttpRequest, ResponseError, web};
use zolvet_store::Store;

use crate::client::Principal;
use crate::error::ApiError;
use crate::response;

/// Access to routes.
#[derive(Debug, Clone)]
pub struct Access {
    /// Host names we answer to besides loopback.
    pub hosts: Arc<Vec<String>>,
    /// Everything but links wants the owner's session: others can reach the service.
    pub wants_key: bool,
    /// Pages come by https, so that the session may travel by nothing else.
    pub secure: bool,
}

/// Clients that may call a route.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Caller {
    /// Everybody: the pages themselves, which hold nothing; opening a session; whether the service is there.
    Anyone,
    /// Clients with the link whose token is in the address.
    Visitor,
    /// As [`Self::Visitor`], and pages of any origin: the only exception to our pages asking alone.
    AnyPage,
    /// The owner, or, where nobody else can reach the service, any client on this machine.
    Owner,
}

/// The cookie of the owner's session.
pub const SESSION: &str = "zolvet_session";
/// Cookies of that name that are looked at: a page of a neighbouring host can set some.
const MAX_SESSIONS: usize = 8;

/// `style-src` allows inline styles, which the interface's components set; scripts come from files alone, and so does the
/// core for workers, which is compiled and no text that is run.
const POLICY: &str = "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; \
    img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; frame-src 'self'; base-uri 'none'; form-action 'none'; \
    frame-ancestors 'none'";

const RESOURCE_POLICY: HeaderName = HeaderName::from_static("cross-origin-resource-policy");

/// Refuses foreign hosts, and sets the headers that keep pages to themselves. Large bodies are counted.
pub async fn check(
    mut request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    // An answer to HEAD is that to GET; what would be in it is left out when it is sent.
    if request.method() == Method::HEAD {
        request.head_mut().method = Method::GET;
    }
    let response = match host_is_foreign(&request) {
        Some(refused) => request.into_response(refused.error_response()),
        None => next.call(request).await?.map_into_boxed_body(),
    };
    let mut response = response::count_response_bytes(response).await;
    let headers = response.headers_mut();
    if !headers.contains_key(header::CONTENT_SECURITY_POLICY) {
        headers.insert(header::CONTENT_SECURITY_POLICY, HeaderValue::from_static(POLICY));
    }
    headers.insert(header::X_CONTENT_TYPE_OPTIONS, HeaderValue::from_static("nosniff"));
    headers.insert(header::REFERRER_POLICY, HeaderValue::from_static("no-referrer"));
    if !headers.contains_key(RESOURCE_POLICY) {
        headers.insert(RESOURCE_POLICY, HeaderValue::from_static("same-origin"));
    }
    Ok(response)
}

fn host_is_foreign(request: &ServiceRequest) -> Option<ApiError> {
    let Some(access) = request.app_data::<web::Data<Access>>() else {
        return Some(ApiError::internal("nobody said who is let in"));
    };
    (!host_is_ours(host(request.headers()), &access.hosts)).then(foreign)
}

fn foreign() -> ApiError {
    let detail = "This host or origin is not ours; name it with --allow-host or --public-url to let it in.";
    ApiError::new(StatusCode::FORBIDDEN, "foreign", "Refused", detail)
}

/// Lets pages of any origin read an answer, and ask for it unless they have it (Fetch, section 3.3, "CORS protocol").
fn open_to_pages(headers: &mut HeaderMap) {
    let values = [
        (RESOURCE_POLICY, "cross-origin"),
        (header::ACCESS_CONTROL_ALLOW_ORIGIN, "*"),
        (header::ACCESS_CONTROL_ALLOW_METHODS, "GET, HEAD"),
        (header::ACCESS_CONTROL_ALLOW_HEADERS, "If-None-Match, Last-Event-ID"),
        (header::ACCESS_CONTROL_EXPOSE_HEADERS, "ETag, Zolvet-Revision"),
        (header::ACCESS_CONTROL_MAX_AGE, "600"),
    ];
    for (name, value) in values {
        headers.insert(name, HeaderValue::from_static(value));
    }
}

/// Lets those in who may call a route, and says who they are. Data is kept by no cache unless it says so itself.
pub async fn gate(
    caller: Caller,
    request: ServiceRequest,
    next: Next<BoxBody>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let mut response = match admitted(caller, &request).await {
        Ok(principal) => {
            request.extensions_mut().insert(principal);
            next.call(request).await?
        }
        Err(refused) => request.into_response(refused.error_response()),
    };
    let headers = response.headers_mut();
    if caller == Caller::AnyPage {
        open_to_pages(headers);
    }
    if caller != Caller::Anyone && !headers.contains_key(header::CACHE_CONTROL) {
        headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    }
    Ok(response)
}

async fn admitted(caller: Caller, request: &ServiceRequest) -> Result<Principal, ApiError> {
    let address = address(request.peer_addr().map(|peer| peer.ip()));
    if caller != Caller::AnyPage && !origin_is_ours(request.headers()) {
        return Err(foreign());
    }
    match caller {
        Caller::Anyone => return Ok(Principal::Stranger(address)),
        Caller::Visitor | Caller::AnyPage => {
            let token = request.match_info().get("token").unwrap_or_default();
            let token = token.chars().filter(char::is_ascii_alphanumeric).take(64).collect();
            return Ok(Principal::Visitor(address, token));
        }
        Caller::Owner => {}
    }
    let Some(access) = request.app_data::<web::Data<Access>>() else {
        return Err(ApiError::internal("nobody said who is let in"));
    };
    if !access.wants_key {
        // Whoever comes through a proxy is no neighbour, whatever the address says.
        if is_forwarded(request.version(), request.headers()) {
            let detail = "This request came through a proxy. Start the service with --public-url to be reached \
                          through one.";
            return Err(ApiError::new(StatusCode::FORBIDDEN, "forwarded", "Refused", detail));
        }
        return Ok(Principal::Local(address));
    }
    let Some(store) = request.app_data::<web::Data<Store>>() else {
        return Err(ApiError::internal("there is no store to look sessions up in"));
    };
    for session in sessions(request.request()) {
        if store.session_is_open(&session).await? {
            return Ok(Principal::Session(session));
        }
    }
    let detail =
        "This needs the owner's key, which was shown when the service was started for the first time.";
    Err(ApiError::new(StatusCode::UNAUTHORIZED, "key-needed", "The owner's key is needed", detail))
}

/// The sessions that a request names, in as many cookies of the name as there are.
pub fn sessions(request: &HttpRequest) -> Vec<String> {
    let Ok(cookies) = request.cookies() else { return Vec::new() };
    let named = cookies.iter().filter(|cookie| cookie.name() == SESSION && !cookie.value().is_empty());
    named.take(MAX_SESSIONS).map(|cookie| cookie.value().to_owned()).collect()
}

/// The address of a client; of an IPv6 address the half that names a network, as one client has all of that.
pub fn address(peer: Option<IpAddr>) -> IpAddr {
    match peer.unwrap_or(IpAddr::V4(Ipv4Addr::UNSPECIFIED)) {
        IpAddr::V6(whole) => match whole.to_ipv4_mapped() {
            Some(mapped) => IpAddr::V4(mapped),
            None => IpAddr::V6(Ipv6Addr::from_bits(whole.to_bits() >> 64 << 64)),
        },
        whole => whole,
    }
}

/// Headers by which proxies say whom they ask for: those of RFC 7239, RFC 9110 (section 7.6.3) and RFC 8586, and the customs
/// of many: `X-Forwarded-…`, `X-Original-…`, and whatever is named after a client's address. Some proxies add none and ask
/// for the address they have been told, but by HTTP/1.0, which no browser speaks any more.
fn is_forwarded(version: Version, headers: &HeaderMap) -> bool {
    let is_old = version < Version::HTTP_11;
    is_old
        || headers.keys().any(|name| {
            let name = name.as_str();
            let starts = ["forwarded", "x-forwarded", "x-original", "x-envoy", "x-proxy", "x-scheme"];
            ["via", "cdn-loop", "x-host"].contains(&name)
                || starts.iter().any(|start| name.starts_with(start))
                || name
                    .split(['-', '_'])
                    .any(|word| ["ip", "ips", "ipv4", "ipv6", "clientip", "realip"].contains(&word))
        })
}

fn host(headers: &HeaderMap) -> &str {
    headers.get(header::HOST).and_then(|host| host.to_str().ok()).unwrap_or_default()
}

/// A page that sends a request comes from the very host that it is sent to.
fn origin_is_ours(headers: &HeaderMap) -> bool {
    headers.get(header::ORIGIN).is_none_or(|origin| {
        let origin = origin.to_str().unwrap_or_default();
        let rest = origin.strip_prefix("http://").or_else(|| origin.strip_prefix("https://"));
        rest.is_some_and(|origin| origin.eq_ignore_ascii_case(host(headers)))
    })
}

fn host_is_ours(host: &str, names: &[String]) -> bool {
    let name = match host.rsplit_once(':') {
        Some((name, port)) if port.bytes().all(|digit| digit.is_ascii_digit()) => name,
        _ => host,
    };
    let is = |other: &str| other.eq_ignore_ascii_case(name);
    ["127.0.0.1", "localhost", "[::1]"].iter().any(|one| is(one)) || names.iter().any(|one| is(one))
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]

    use super::*;

    #[test]
    fn what_proxies_add_is_seen() {
        let proxies = [
            "Forwarded",
            "X-Forwarded-For",
            "X-Forwarded-Host",
            "Via",
            "X-Real-IP",
            "CF-Connecting-IP",
            "Client-IP",
            "True-Client-IP",
            "Fastly-Client-IP",
            "X-Client-IP",
            "X-Cluster-Client-IP",
            "X-ClientIP",
            "X-Envoy-External-Address",
            "X-Original-URL",
            "CDN-Loop",
        ];
        // What Chromium sends with a page's own request.
        let browser = [
            "Host",
            "Origin",
            "Referer",
            "Cookie",
            "Content-Type",
            "Accept",
            "Accept-Encoding",
            "Accept-Language",
            "Connection",
            "User-Agent",
            "Sec-Fetch-Site",
            "Sec-Fetch-Mode",
            "Sec-Fetch-Dest",
            "sec-ch-ua",
            "If-Match",
            "sec-ch-ua-platform",
            "sec-ch-ua-mobile",
            "Zolvet-Editor",
            "Zolvet-Question",
            "Pragma",
            "Cache-Control",
        ];
        let with = |name: &str| {
            let name = HeaderName::from_bytes(name.to_ascii_lowercase().as_bytes()).unwrap();
            HeaderMap::from_iter([(name, HeaderValue::from_static("x"))])
        };
        for name in proxies {
            assert!(is_forwarded(Version::HTTP_11, &with(name)), "{name}");
        }
        for name in browser {
            assert!(!is_forwarded(Version::HTTP_11, &with(name)), "{name}");
        }
        assert!(is_forwarded(Version::HTTP_10, &with("Host")));
    }

    #[test]
    fn one_client_has_a_whole_network_of_version_6() {
        let at = |text: &str| address(Some(text.parse().unwrap()));
        assert_eq!(at("2001:db8:1:2:3:4:5:6"), at("2001:db8:1:2:ffff::1"));
        assert_ne!(at("2001:db8:1:2::"), at("2001:db8:1:3::"));
        assert_eq!(at("::ffff:10.0.0.1"), at("10.0.0.1"));
    }
}
