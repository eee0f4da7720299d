//! Request bodies, read with limits on size and time and a quota for all together.

use std::marker::PhantomData;
use std::time::Duration;

use actix_web::dev::Payload;
use actix_web::http::StatusCode;
use actix_web::http::header::{CONTENT_ENCODING, CONTENT_LENGTH, CONTENT_TYPE};
use actix_web::{FromRequest, HttpRequest, web};
use futures_util::future::LocalBoxFuture;
use serde::de::DeserializeOwned;
use zolvet_core::limits;

use crate::client::Client;
use crate::error::ApiError;
use crate::memory_quota::{MemoryQuota, Reservation};

/// Bytes a request may have: a document and what is asked of it.
const REQUEST_BYTES: usize = limits::DOCUMENT_BYTES + 64 * 1024;
/// Bytes of requests that are held at the same time.
static QUOTA: MemoryQuota = MemoryQuota::new(160 << 20, 48 << 20);
/// Delay of a response that says the service is busy, so that clients that ask again and again leave time for others.
pub const BUSY_DELAY: Duration = Duration::from_millis(500);
/// How long the next part of a request may take, and all of it.
const PART_TIMEOUT: Duration = Duration::from_secs(10);
const BODY_TIMEOUT: Duration = Duration::from_secs(60);

/// The bytes of a request, and their reservation.
pub struct RequestBody {
    bytes: Vec<u8>,
    reservation: Reservation,
}

impl RequestBody {
    /// What came.
    pub fn bytes(&self) -> &[u8] {
        &self.bytes
    }

    async fn read(request: &HttpRequest, payload: &mut Payload, most: usize) -> Result<Self, ApiError> {
        let header = |name| request.headers().get(name).and_then(|value| value.to_str().ok());
        if header(CONTENT_ENCODING).is_some_and(|coding| !coding.eq_ignore_ascii_case("identity")) {
            let detail = "Requests are taken uncompressed: leave Content-Encoding out.";
            return Err(ApiError::new(StatusCode::UNSUPPORTED_MEDIA_TYPE, "encoding", "Compressed", detail));
        }
        let length = header(CONTENT_LENGTH).and_then(|length| length.parse().ok()).unwrap_or(0);
        if length > most {
            return Err(too_large(most));
        }
        let reservation = QUOTA.reserve_for(Client::of(request).name);
        let mut body = Self { bytes: Vec::new(), reservation };
        body.reserve(length).await?;
        let mut payload = web::Payload::from_request(request, payload)
            .await
            .map_err(|_| ApiError::invalid_at("", "expected a request body"))?;
        let whole = tokio::time::timeout(BODY_TIMEOUT, async {
            loop {
                let part =
                    tokio::time::timeout(PART_TIMEOUT, futures_util::StreamExt::next(&mut payload)).await;
                match part.map_err(|_| too_slow())? {
                    None => return Ok(()),
                    Some(part) => {
                        let part = part.map_err(|error| {
                            ApiError::invalid_at("", format!("expected the whole request body: {error}"))
                        })?;
                        if body.bytes.len() + part.len() > most {
                            return Err(too_large(most));
                        }
                        body.reserve(part.len()).await?;
                        body.bytes.extend_from_slice(&part);
                    }
                }
            }
        });
        whole.await.map_err(|_| too_slow())??;
        Ok(body)
    }

    /// Reserves memory for more bytes.
    async fn reserve(&mut self, more: usize) -> Result<(), ApiError> {
        let needed = (self.bytes.len() + more).saturating_sub(self.reservation.bytes());
        if needed == 0 {
            return Ok(());
        }
        if !self.reservation.grow(needed) {
            tokio::time::sleep(BUSY_DELAY).await;
            return Err(ApiError::busy(
                "Too many large requests are here at the same time; nothing is lost.",
            ));
        }
        self.bytes.reserve_exact(more);
        Ok(())
    }
}

fn too_large(most: usize) -> ApiError {
    let detail = format!("This request may have {} MB; nothing of it was taken.", most >> 20);
    ApiError::new(StatusCode::PAYLOAD_TOO_LARGE, "too-large", "Too large", detail)
}

fn too_slow() -> ApiError {
    let detail = "The request did not arrive in time; nothing of it was taken. Send it again.";
    ApiError::new(StatusCode::REQUEST_TIMEOUT, "too-slow", "Too slow", detail)
}

/// A JSON body that is not parsed yet; that may take a while and is done by the scheduler.
pub struct JsonBody<T> {
    body: RequestBody,
    means: PhantomData<fn() -> T>,
}

impl<T: DeserializeOwned> JsonBody<T> {
    /// Parses it.
    pub fn read(&self) -> Result<T, ApiError> {
        serde_json::from_slice(&self.body.bytes).map_err(|error| {
            let place = format!("{}:{}", error.line(), error.column());
            ApiError::invalid_at(&place, error.to_string())
        })
    }
}

impl<T: 'static> FromRequest for JsonBody<T> {
    type Error = ApiError;
    type Future = LocalBoxFuture<'static, Result<Self, ApiError>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = json_body(request, payload);
        Box::pin(async move { Ok(Self { body: body.await?, means: PhantomData }) })
    }
}

/// A project document as it was sent.
pub struct Document(pub RequestBody);

impl FromRequest for Document {
    type Error = ApiError;
    type Future = LocalBoxFuture<'static, Result<Self, ApiError>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = json_body(request, payload);
        Box::pin(async move { Ok(Self(body.await?)) })
    }
}

/// An uploaded file.
pub struct Upload(pub RequestBody);

impl FromRequest for Upload {
    type Error = ApiError;
    type Future = LocalBoxFuture<'static, Result<Self, ApiError>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let (request, mut payload) = (request.clone(), payload.take());
        Box::pin(
            async move { Ok(Self(RequestBody::read(&request, &mut payload, limits::UPLOAD_BYTES).await?)) },
        )
    }
}

fn json_body(
    request: &HttpRequest,
    payload: &mut Payload,
) -> impl Future<Output = Result<RequestBody, ApiError>> + use<> {
    let (request, mut payload) = (request.clone(), payload.take());
    async move {
        expect_json(&request)?;
        RequestBody::read(&request, &mut payload, REQUEST_BYTES).await
    }
}

/// Pages of others can send what looks like a form without asking; JSON they cannot.
fn expect_json(request: &HttpRequest) -> Result<(), ApiError> {
    let kind = request.headers().get(CONTENT_TYPE).and_then(|kind| kind.to_str().ok()).unwrap_or_default();
    let essence = kind.split(';').next().unwrap_or_default().trim();
    if essence.eq_ignore_ascii_case("application/json") {
        return Ok(());
    }
    let detail = format!("Expected a Content-Type of application/json, found \"{kind}\".");
    Err(ApiError::new(StatusCode::UNSUPPORTED_MEDIA_TYPE, "media-type", "Not JSON", detail))
}
