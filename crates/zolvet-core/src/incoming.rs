//! Files in: whichever format they are of, what they would bring into a project.

use serde::Deserialize;

use crate::model::{Problem, Project};
use crate::{css, svg, tokens};

pub use crate::import::{Diagnostic, DiagnosticKind, Incoming, from_project};

/// A format something comes in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum IncomingFormat {
    /// A style sheet.
    Css,
    /// Design tokens.
    Tokens,
    /// The filters of an SVG file.
    Svg,
    /// Another project.
    Json,
}

/// Why a text brings nothing.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum IncomingError {
    /// It is not of the stated format.
    #[error("{place}: {message}")]
    At {
        /// `line:column`, or a JSON pointer; empty where it is the whole.
        place: String,
        /// What was expected.
        message: String,
    },
    /// It is not a project.
    #[error("not a project")]
    Document(Vec<Problem>),
}

/// The content of a text.
///
/// # Errors
/// [`IncomingError`] where it cannot be read at all. What of a style sheet or filter is not understood is remarked.
pub fn read(format: IncomingFormat, text: &str) -> Result<Incoming, IncomingError> {
    let at = |place: String, message: String| IncomingError::At { place, message };
    match format {
        IncomingFormat::Css => Ok(css::import(text)),
        IncomingFormat::Tokens => {
            tokens::read(text).map_err(|error| at(error.place, error.message)).map(|read| read.0)
        }
        IncomingFormat::Svg => svg::import(text).map_err(|error| at(String::new(), error.to_string())),
        IncomingFormat::Json => {
            Project::from_json(text).map_err(IncomingError::Document).map(|project| from_project(&project))
        }
    }
}
