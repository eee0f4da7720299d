//! Why an SVG file is no icon.

use super::crossings::TooComplex;

/// An SVG file that is not taken.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum IconError {
    /// It is not well-formed XML, or declares a document type.
    #[error("{line}:{column}: expected SVG: {message}")]
    Xml {
        /// From 1.
        line: u32,
        /// From 1.
        column: u32,
        /// What is wrong.
        message: String,
    },
    /// It contains something an icon must not contain.
    #[error("{line}:{column}: {what} is not taken in an icon")]
    Refused {
        /// From 1.
        line: u32,
        /// From 1.
        column: u32,
        /// What was found.
        what: String,
    },
    /// It is not an SVG drawing.
    #[error("expected an SVG drawing: {0}")]
    Svg(String),
    /// It draws nothing.
    #[error("expected at least one shape that is filled or stroked")]
    Empty,
    /// It is too large to be drawn in good time.
    #[error("expected {expected}, found {found}")]
    TooLarge {
        /// What the limit is.
        expected: &'static str,
        /// What was found.
        found: usize,
    },
    /// Its lines cross too often.
    #[error(transparent)]
    TooComplex(#[from] TooComplex),
}
