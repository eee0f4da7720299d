//! Reading files of every format into the content they would bring into a project.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use crate::css::StyleFile;
use crate::model::{Problem, Project};
use crate::tokens::TokenFile;
use crate::{css, svg, tokens};

pub use crate::import::{Diagnostic, DiagnosticKind, Incoming, from_project};

/// A format something comes in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
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
        /// The expectation.
        message: String,
    },
    /// It is not a project.
    #[error("not a project")]
    Document(Vec<Problem>),
}

/// A file as it comes.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct IncomingFile {
    /// Its name; files refer to one another by it.
    #[serde(default)]
    pub name: String,
    /// Its text.
    pub text: String,
}

/// Settings that files do not contain.
#[derive(Debug, Clone, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default)]
pub struct IncomingSettings {
    /// The font size in px that style sheets are read with; 16 where it is not given.
    pub root_font_size: Option<f64>,
    /// Custom properties that style sheets refer to and do not set.
    pub set: BTreeMap<String, String>,
    /// One finish for each look, under any name.
    pub by_look: bool,
}

/// The content of files of one format, read as one: style sheets in their order, tokens as one set.
///
/// # Errors
/// [`IncomingError`] where one cannot be read at all. What of a style sheet or filter is not understood is remarked.
pub fn read(
    format: IncomingFormat,
    files: &[IncomingFile],
    settings: &IncomingSettings,
) -> Result<Incoming, IncomingError> {
    let at = |place: String, message: String| IncomingError::At { place, message };
    let several = files.len() > 1;
    let name = |file: &IncomingFile| if several { file.name.clone() } else { String::new() };
    let names: Vec<String> = files.iter().map(name).collect();
    let named = || names.iter().map(String::as_str).zip(files);
    let incoming = match format {
        IncomingFormat::Css => {
            let sheets: Vec<StyleFile<'_>> =
                named().map(|(name, file)| StyleFile { name, css: &file.text }).collect();
            let settings =
                css::Settings { root_font_size: settings.root_font_size, set: settings.set.clone() };
            css::import_files(&sheets, &settings)
        }
        IncomingFormat::Tokens => {
            let sets: Vec<TokenFile<'_>> =
                named().map(|(name, file)| TokenFile { name, text: &file.text }).collect();
            tokens::read_files(&sets).map_err(|error| at(error.place, error.message))?.0
        }
        IncomingFormat::Svg => {
            let mut all = Incoming::default();
            for (name, file) in named() {
                let read = svg::import(&file.text).map_err(|error| at(name.to_owned(), error.to_string()))?;
                all.join(read, name);
            }
            all
        }
        IncomingFormat::Json => {
            let mut all = Incoming::default();
            for (name, file) in named() {
                let project = Project::from_json(&file.text).map_err(IncomingError::Document)?;
                all.join(from_project(&project), name);
            }
            all
        }
    };
    Ok(if settings.by_look { incoming.by_look() } else { incoming })
}
