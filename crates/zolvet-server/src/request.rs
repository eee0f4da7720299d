//! Request bodies, read with limits on size and time and a quota for all together.

use std::marker::PhantomData;
use std::time::Duration;

use actix_web::dev::Payload;
use actix_web::http::StatusCode;
use actix_web::http::header::{CONTENT_ENCODING, CONTENT_LENGTH, CONTENT_TYPE};
use actix_web::{FromRequest, HttpRequest, web};
use futures_util::future::LocalBoxFuture;
use serde::de::DeserializeOwned;
use serde_json::Value;
use zolvet_core::limits;

use crate::client::Client;
use crate::error::ApiError;
use crate::memory_quota::{MemoryQuota, Reservation};

/// The limit of the bodies of a kind of request.
struct Limits {
    /// Bytes of one body.
    most: usize,
    /// Bytes of all that are here at the same time.
    quota: &'static MemoryQuota,
}

/// Requests to the core: a document and a query.
static QUESTIONS: Limits = Limits { most: limits::DOCUMENT_BYTES + 64 * 1024, quota: &QUESTION_BYTES };
/// Documents that are to be saved: there is always room for them.
static SAVES: Limits = Limits { most: limits::DOCUMENT_BYTES + 64 * 1024, quota: &SAVE_BYTES };
static UPLOADS: Limits = Limits { most: limits::UPLOAD_BYTES, quota: &UPLOAD_BYTES };
/// A body from a client that has shown no key.
static OUTSIDE: Limits = Limits { most: 4 << 10, quota: &OUTSIDE_BYTES };

static QUESTION_BYTES: MemoryQuota = MemoryQuota::new(128 << 20, 48 << 20);
static SAVE_BYTES: MemoryQuota = MemoryQuota::new(64 << 20, 32 << 20);
static UPLOAD_BYTES: MemoryQuota = MemoryQuota::new(96 << 20, 48 << 20);
static OUTSIDE_BYTES: MemoryQuota = MemoryQuota::new(8 << 20, 1 << 20);

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
    /// The bytes that came.
    pub fn bytes(&self) -> &[u8] {
        &self.bytes
    }

    async fn read(
        request: &HttpRequest,
        payload: &mut Payload,
        limits: &'static Limits,
    ) -> Result<Self, ApiError> {
        let client = Client::identify(request)?;
        let limits = if client.is_outside() { &OUTSIDE } else { limits };
        let header = |name| request.headers().get(name).and_then(|value| value.to_str().ok());
        if header(CONTENT_ENCODING).is_some_and(|coding| !coding.eq_ignore_ascii_case("identity")) {
            let detail = "Requests are taken uncompressed: leave Content-Encoding out.";
            return Err(ApiError::new(StatusCode::UNSUPPORTED_MEDIA_TYPE, "encoding", "Compressed", detail));
        }
        // What a request says of its length can refuse it, and reserves nothing.
        let length = header(CONTENT_LENGTH).and_then(|length| length.parse().ok()).unwrap_or(0);
        if length > limits.most {
            return Err(too_large(limits.most));
        }
        let payload = web::Payload::from_request(request, payload)
            .await
            .map_err(|_| ApiError::invalid_at("", "expected a request body"))?;
        let mut body = Self { bytes: Vec::new(), reservation: limits.quota.reserve_for(client.owner()) };
        let give_way = body.reservation.give_way();
        tokio::select! {
            read = tokio::time::timeout(BODY_TIMEOUT, body.fill(payload, limits.most)) => {
                read.map_err(|_| too_slow())??;
            }
            () = give_way.notified() => return Err(too_slow()),
        }
        Ok(body)
    }

    /// Takes the body part by part.
    async fn fill(&mut self, mut payload: web::Payload, most: usize) -> Result<(), ApiError> {
        loop {
            let part = tokio::time::timeout(PART_TIMEOUT, futures_util::StreamExt::next(&mut payload)).await;
            let Some(part) = part.map_err(|_| too_slow())? else { return Ok(()) };
            let part = part.map_err(|error| {
                ApiError::invalid_at("", format!("expected the whole request body: {error}"))
            })?;
            if self.bytes.len() + part.len() > most {
                return Err(too_large(most));
            }
            self.reserve(part.len()).await?;
            self.bytes.extend_from_slice(&part);
        }
    }

    /// Reserves memory for more bytes: at least as many as there are already, so that they are moved a few times only.
    async fn reserve(&mut self, more: usize) -> Result<(), ApiError> {
        if self.bytes.len() + more <= self.bytes.capacity() {
            return Ok(());
        }
        let capacity = (self.bytes.len() + more).max(self.bytes.len() * 2).max(FIRST_BYTES);
        if capacity <= UNCOUNTED_BYTES {
            self.bytes.reserve_exact(capacity - self.bytes.len());
            return Ok(());
        }
        let needed = capacity.saturating_sub(self.reservation.bytes());
        for wait in ROOM_DELAYS.map(Duration::from_millis) {
            if self.reservation.grow(needed) {
                self.bytes.reserve_exact(capacity - self.bytes.len());
                return Ok(());
            }
            tokio::time::sleep(wait).await;
        }
        Err(ApiError::busy("Too many large requests are here at the same time; nothing is lost."))
    }
}

/// Bytes that are reserved for the beginning of a body.
const FIRST_BYTES: usize = 1 << 10;
/// Bytes of a body for which there is always room: there are only so many connections. Ordinary saves are smaller.
const UNCOUNTED_BYTES: usize = 64 << 10;
/// How many ms it is waited for others to give way, time after time.
const ROOM_DELAYS: [u64; 8] = [20, 40, 80, 160, 320, 500, 500, 500];

fn too_large(most: usize) -> ApiError {
    let most = if most < 1 << 20 { format!("{} KB", most >> 10) } else { format!("{} MB", most >> 20) };
    let detail = format!("This request may have {most}; nothing of it was taken.");
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

impl<T> JsonBody<T> {
    /// As it was sent.
    pub fn bytes(&self) -> &[u8] {
        &self.body.bytes
    }

    /// Parses it as any JSON object.
    pub fn value(&self) -> Result<Value, ApiError> {
        let value: Value = self.parse()?;
        if value.is_object() { Ok(value) } else { Err(ApiError::invalid_at("", "expected an object")) }
    }

    fn parse<P: DeserializeOwned>(&self) -> Result<P, ApiError> {
        serde_json::from_slice(&self.body.bytes).map_err(|error| {
            let place = format!("{}:{}", error.line(), error.column());
            ApiError::invalid_at(&place, error.to_string())
        })
    }
}

impl<T: DeserializeOwned> JsonBody<T> {
    /// Parses it.
    pub fn read(&self) -> Result<T, ApiError> {
        self.parse()
    }
}

impl<T: 'static> FromRequest for JsonBody<T> {
    type Error = ApiError;
    type Future = LocalBoxFuture<'static, Result<Self, ApiError>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = json_body(request, payload, &QUESTIONS);
        Box::pin(async move { Ok(Self { body: body.await?, means: PhantomData }) })
    }
}

/// A project document as it was sent.
pub struct Document(pub RequestBody);

impl FromRequest for Document {
    type Error = ApiError;
    type Future = LocalBoxFuture<'static, Result<Self, ApiError>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = json_body(request, payload, &SAVES);
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
        Box::pin(async move { Ok(Self(RequestBody::read(&request, &mut payload, &UPLOADS).await?)) })
    }
}

fn json_body(
    request: &HttpRequest,
    payload: &mut Payload,
    limits: &'static Limits,
) -> impl Future<Output = Result<RequestBody, ApiError>> + use<> {
    let (request, mut payload) = (request.clone(), payload.take());
    async move {
        expect_json(&request)?;
        RequestBody::read(&request, &mut payload, limits).await
    }
}

/// Pages of others can send forms without asking; JSON they cannot.
fn expect_json(request: &HttpRequest) -> Result<(), ApiError> {
    let kind = request.headers().get(CONTENT_TYPE).and_then(|kind| kind.to_str().ok()).unwrap_or_default();
    let essence = kind.split(';').next().unwrap_or_default().trim();
    if essence.eq_ignore_ascii_case("application/json") {
        return Ok(());
    }
    let detail = format!("Expected a Content-Type of application/json, found \"{kind}\".");
    Err(ApiError::new(StatusCode::UNSUPPORTED_MEDIA_TYPE, "media-type", "Not JSON", detail))
}
