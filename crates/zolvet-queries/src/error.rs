//! Errors of queries.

use serde::{Deserialize, Serialize};
use zolvet_core::budget::Stopped;
use zolvet_core::model::Problem;

/// Why a query has no answer.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, thiserror::Error)]
pub enum QueryError {
    /// These places are not as expected.
    #[error("{}", .0.first().map(ToString::to_string).unwrap_or_default())]
    Invalid(Vec<Problem>),
    /// It is understood, and cannot be done.
    #[error("{0}")]
    Cannot(String),
    /// The project it names is not held here, or no longer: the whole document is to be sent.
    #[error("The project is not held here any more; send the whole document.")]
    Lost,
    /// Something failed that is not the client's fault.
    #[error("{0}")]
    Internal(String),
    /// It would take more time or memory than one request may.
    #[error("{0}.")]
    TooMuch(String),
    /// There is no request of this path.
    #[error("There is no such request: {0}.")]
    Unknown(String),
    /// Files are needed first, by their assets' ids.
    #[error("Files of the project have not come yet.")]
    Files(Vec<String>),
}

/// An error as a problem document (RFC 9457, §3); `problems` is its extension.
#[derive(Debug, Clone, Serialize)]
pub struct ErrorDocument<'a> {
    /// The kind of problem, in a word.
    pub r#type: &'static str,
    /// The same for people.
    pub title: &'static str,
    /// The HTTP status.
    pub status: u16,
    /// The cause this time, and a way out.
    pub detail: String,
    /// Places in the request, each with the expectation.
    #[serde(skip_serializing_if = "<[Problem]>::is_empty")]
    pub problems: &'a [Problem],
}

impl QueryError {
    /// One place of a request is not as expected.
    pub fn invalid_at(pointer: &str, message: impl Into<String>) -> Self {
        Self::Invalid(vec![Problem { pointer: pointer.to_owned(), message: message.into() }])
    }

    /// A sentence for the client.
    pub fn cannot(reason: impl std::fmt::Display) -> Self {
        Self::Cannot(reason.to_string())
    }

    /// Something failed that is not the client's fault.
    pub fn internal(cause: impl std::fmt::Display) -> Self {
        Self::Internal(cause.to_string())
    }

    /// The same error, for a part of the request: its pointers begin with that of the part.
    #[must_use]
    pub fn within(mut self, pointer: &str) -> Self {
        if let Self::Invalid(problems) = &mut self {
            problems.iter_mut().for_each(|problem| problem.pointer.insert_str(0, pointer));
        }
        self
    }

    /// The text for the client.
    #[must_use]
    pub fn document(&self) -> ErrorDocument<'_> {
        let (r#type, title, status) = match self {
            Self::Invalid(_) => ("invalid", "What was sent is not valid", 422),
            Self::Cannot(_) => ("cannot", "This cannot be done", 422),
            Self::Lost => ("lost", "Not held any more", 409),
            Self::Internal(_) => ("internal", "Something failed on our side", 500),
            Self::TooMuch(_) => ("too-much", "Too much", 422),
            Self::Unknown(_) => ("missing", "Not found", 404),
            Self::Files(_) => ("files", "Files are needed", 424),
        };
        let problems = if let Self::Invalid(problems) = self { problems.as_slice() } else { &[] };
        ErrorDocument { r#type, title, status, detail: self.to_string(), problems }
    }
}

impl From<Stopped> for QueryError {
    fn from(stopped: Stopped) -> Self {
        Self::TooMuch(stopped.to_string())
    }
}
