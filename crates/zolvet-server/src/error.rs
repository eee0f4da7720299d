//! Errors as RFC 9457 problem documents.

use actix_web::error::{PathError, QueryPayloadError};
use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, ResponseError, web};
use serde::Serialize;
use serde_json::value::RawValue;
use zolvet_core::model::Problem;
use zolvet_queries::{ErrorDocument, QueryError};
use zolvet_store::StoreError;

/// A problem document (RFC 9457, §3); `problems` and `stored` are its extensions.
#[derive(Debug, Clone, Serialize, utoipa::ToSchema)]
pub struct ProblemDocument {
    /// The kind of problem, in a word.
    pub r#type: &'static str,
    /// The same for people.
    pub title: &'static str,
    /// The HTTP status.
    pub status: u16,
    /// The cause this time, the state that was kept, and a way out.
    pub detail: String,
    /// Places in the body, each with the expectation.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub problems: Vec<Problem>,
    /// The stored revision, where a save was based on an older one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub stored: Option<Stored>,
}

/// The stored revision.
#[derive(Debug, Clone, Serialize, utoipa::ToSchema)]
pub struct Stored {
    /// Its revision.
    pub revision: i64,
    /// The project document.
    #[schema(value_type = zolvet_core::model::Project)]
    pub document: Box<RawValue>,
}

/// An error of a request.
#[derive(Debug, Clone)]
pub struct ApiError(Box<ProblemDocument>);

impl std::fmt::Display for ApiError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0.detail)
    }
}

impl ApiError {
    pub fn new(
        status: StatusCode,
        kind: &'static str,
        title: &'static str,
        detail: impl Into<String>,
    ) -> Self {
        let detail = detail.into();
        let (problems, stored) = (Vec::new(), None);
        Self(Box::new(ProblemDocument {
            r#type: kind,
            title,
            status: status.as_u16(),
            detail,
            problems,
            stored,
        }))
    }

    /// The places of a request that are not as expected.
    pub fn invalid(problems: Vec<Problem>) -> Self {
        let detail = problems.first().map(ToString::to_string).unwrap_or_default();
        let mut error =
            Self::new(StatusCode::UNPROCESSABLE_ENTITY, "invalid", "What was sent is not valid", detail);
        error.0.problems = problems;
        error
    }

    /// One place of the body is not as expected.
    pub fn invalid_at(pointer: &str, message: impl Into<String>) -> Self {
        Self::invalid(vec![Problem { pointer: pointer.to_owned(), message: message.into() }])
    }

    pub fn missing(what: &str) -> Self {
        let detail = format!("There is no such {what}.");
        Self::new(StatusCode::NOT_FOUND, "missing", "Not found", detail)
    }

    /// The cause is written to the log, and not sent: it may contain more than a client should know.
    pub fn internal(cause: impl std::fmt::Display) -> Self {
        // Work that was ended leaves nothing to write, and the answer says that it was ended.
        if zolvet_core::budget::is_stopped() {
            tracing::debug!(%cause, "what was stopped failed");
        } else {
            tracing::error!(%cause, "a request failed");
        }
        let detail =
            "Something failed on our side; what was saved before is kept. It is in the log of the service.";
        Self::new(StatusCode::INTERNAL_SERVER_ERROR, "internal", "Something failed on our side", detail)
    }

    /// Whether it says that the body cannot be used.
    pub fn is_unprocessable(&self) -> bool {
        self.0.status == StatusCode::UNPROCESSABLE_ENTITY.as_u16()
    }

    /// No route admitted the request, so that nothing answers it.
    pub fn not_admitted() -> Self {
        Self::new(StatusCode::FORBIDDEN, "foreign", "Refused", "This address answers to nobody.")
    }

    /// There is no room for it now.
    pub fn busy(detail: impl Into<String>) -> Self {
        Self::new(StatusCode::SERVICE_UNAVAILABLE, "busy", "Busy", detail)
    }
}

impl ResponseError for ApiError {
    fn status_code(&self) -> StatusCode {
        StatusCode::from_u16(self.0.status).unwrap_or(StatusCode::INTERNAL_SERVER_ERROR)
    }

    fn error_response(&self) -> HttpResponse {
        let mut response = HttpResponse::build(self.status_code());
        if [503, 507, 429].contains(&self.0.status) {
            response.insert_header(("Retry-After", "1"));
        }
        let body = serde_json::to_string(&self.0).unwrap_or_default();
        response.content_type("application/problem+json").body(body)
    }
}

impl From<QueryError> for ApiError {
    fn from(error: QueryError) -> Self {
        let ErrorDocument { r#type, title, status, detail, problems } = error.document();
        match error {
            QueryError::Internal(cause) => Self::internal(cause),
            _ => {
                let status = StatusCode::from_u16(status).unwrap_or(StatusCode::UNPROCESSABLE_ENTITY);
                let mut error = Self::new(status, r#type, title, detail);
                error.0.problems = problems.to_vec();
                error
            }
        }
    }
}

impl From<StoreError> for ApiError {
    fn from(error: StoreError) -> Self {
        match error {
            StoreError::Missing(what) => Self::missing(what),
            StoreError::Stale(stored) => {
                let detail =
                    "The project was changed elsewhere since it was opened here; nothing was overwritten.";
                let mut error =
                    Self::new(StatusCode::PRECONDITION_FAILED, "stale", "Changed elsewhere", detail);
                error.0.stored = RawValue::from_string(stored.text)
                    .ok()
                    .map(|document| Stored { revision: stored.revision, document });
                error
            }
            StoreError::Busy => Self::busy(
                "The database is being written to by somebody else; nothing was changed, ask again.",
            ),
            StoreError::Full => {
                tracing::error!("there is no space left for the database");
                let detail = "There is no space left where the database lies; nothing was changed. What you have \
                              stays in your browser; save again once there is.";
                Self::new(StatusCode::INSUFFICIENT_STORAGE, "full", "No space left", detail)
            }
            other => Self::internal(other),
        }
    }
}

/// Answers the error of an address.
pub fn addresses(config: &mut web::ServiceConfig) {
    config
        .app_data(web::PathConfig::default().error_handler(path))
        .app_data(web::QueryConfig::default().error_handler(query));
}

fn path(_error: PathError, _request: &HttpRequest) -> actix_web::Error {
    ApiError::missing("page").into()
}

fn query(error: QueryPayloadError, _request: &HttpRequest) -> actix_web::Error {
    ApiError::invalid_at("", format!("expected another query: {error}")).into()
}
