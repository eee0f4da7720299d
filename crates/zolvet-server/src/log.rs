//! A line for each request: its id, method, route, status and time. No addresses as they were asked for, which may hold
//! the token of a link.

use actix_web::Error;
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use tracing::{Span, info, info_span};
use tracing_actix_web::{RequestId, RootSpanBuilder};

/// Writes one line for each request.
pub struct RequestLog;

impl RootSpanBuilder for RequestLog {
    fn on_request_start(request: &ServiceRequest) -> Span {
        use actix_web::HttpMessage;
        let id = request.extensions().get::<RequestId>().map(ToString::to_string).unwrap_or_default();
        let method = request.method().as_str().to_owned();
        let route = request.match_pattern().unwrap_or_else(|| "file".to_owned());
        request.extensions_mut().insert(RequestStart(std::time::Instant::now()));
        info_span!("request", %id, %method, %route)
    }

    fn on_request_end<B: MessageBody>(span: Span, outcome: &Result<ServiceResponse<B>, Error>) {
        use actix_web::HttpMessage;
        let _within = span.entered();
        match outcome {
            Ok(response) => {
                let begun = response.request().extensions().get::<RequestStart>().map(|begun| begun.0);
                let ms = begun.map_or(0, |begun| begun.elapsed().as_millis());
                info!(status = response.status().as_u16(), ms, "answered");
            }
            Err(error) => info!(status = error.as_response_error().status_code().as_u16(), "answered"),
        }
    }
}

/// When a request began.
struct RequestStart(std::time::Instant);
