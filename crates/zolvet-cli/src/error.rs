//! What the program can fail with; each message names its place.

use std::path::{Path, PathBuf};

use zolvet_core::asset::Assets;
use zolvet_core::model::{Problem, Project, current_form};

use crate::files::read_bytes;

#[derive(Debug, thiserror::Error)]
pub enum CliError {
    #[error("{}: {source}", path.display())]
    File { path: PathBuf, source: std::io::Error },
    #[error("{}: {}", path.display(), listed(problems))]
    Document { path: PathBuf, problems: Vec<Problem> },
    #[error("--css {0}")]
    Css(#[from] zolvet_core::css::SpecimenError),
    #[error("{0}")]
    Argument(String),
    #[error(transparent)]
    Png(#[from] zolvet_core::picture::PngError),
    #[error(transparent)]
    Store(#[from] zolvet_store::StoreError),
    #[error("the service failed: {0}")]
    Service(std::io::Error),
    #[error(transparent)]
    TooMuch(#[from] zolvet_core::budget::Stopped),
    #[error("could not be written: {0}")]
    Output(std::io::Error),
    #[error("could not be written as JSON: {0}")]
    Json(serde_json::Error),
}

fn listed(problems: &[Problem]) -> String {
    problems.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")
}

/// Reads a project file.
pub fn read_project(path: &Path) -> Result<Project, CliError> {
    Ok(read_document(path)?.0)
}

/// Reads a project file, and what it says as it stands, with fields that are not understood.
pub fn read_document(path: &Path) -> Result<(Project, serde_json::Value), CliError> {
    let text = String::from_utf8(read_bytes(path)?)
        .map_err(|_| CliError::Argument(format!("{}: expected UTF-8 text", path.display())))?;
    let wrong = |problems| CliError::Document { path: path.to_owned(), problems };
    let project = Project::from_json(&text).map_err(wrong)?;
    Assets::check(&project).map_err(wrong)?;
    let document = serde_json::from_str(&current_form(&text)).map_err(CliError::Json)?;
    Ok((project, document))
}
