//! Why an SVG file is not taken.

use super::crossings::TooComplex;
use crate::limits;

/// An SVG file that is not taken.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum SvgError {
    /// It is not well-formed XML, or declares a document type.
    #[error("{line}:{column}: expected SVG: {message}")]
    Xml {
        /// From 1.
        line: u32,
        /// From 1.
        column: u32,
        /// The problem.
        message: String,
    },
    /// It contains something that could do harm.
    #[error("{line}:{column}: {what} is not taken")]
    Refused {
        /// From 1.
        line: u32,
        /// From 1.
        column: u32,
        /// The element or attribute found there.
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
        /// The limit.
        expected: String,
        /// The number found.
        found: usize,
    },
    /// Its lines cross too often.
    #[error(transparent)]
    TooComplex(#[from] TooComplex),
}

/// How many lines and curves an outline may have, for [`SvgError::TooLarge`].
pub(super) fn lines_limit() -> String {
    format!("at most {} lines and curves", limits::PATH_ELEMENTS)
}
