//! An error in a token file.

/// A token file that was not understood, and where.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{place}: {message}")]
pub struct TokenError {
    /// `line:column` for text that is not JSON, else a JSON pointer.
    pub place: String,
    /// The expectation, in words.
    pub message: String,
}

pub(super) fn at(place: &str, message: &str) -> TokenError {
    TokenError { place: place.to_owned(), message: message.to_owned() }
}
