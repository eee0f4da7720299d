//! An error in CSS, with its place.

/// CSS that was not understood, and where.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{line}:{column}: {message}")]
pub struct CssError {
    /// From 1.
    pub line: u32,
    /// From 1.
    pub column: u32,
    /// The expectation, in words.
    pub message: String,
    /// Whether it is CSS that browsers take, but more than a document can hold.
    pub is_limit: bool,
}

impl CssError {
    /// Something that is no CSS.
    pub(super) fn new(line: u32, column: u32, message: impl Into<String>) -> Self {
        Self { line, column, message: message.into(), is_limit: false }
    }

    /// The same, where it is only more than a document can hold.
    pub(super) fn limit(self, is_limit: bool) -> Self {
        Self { is_limit, ..self }
    }
}
