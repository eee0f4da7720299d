//! What is wrong with CSS, and where.

/// CSS that was not understood, and where.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{line}:{column}: {message}")]
pub struct CssError {
    /// From 1.
    pub line: u32,
    /// From 1.
    pub column: u32,
    /// What was expected, in words.
    pub message: String,
}
