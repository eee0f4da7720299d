//! Errors of the program; each message names its place.

use std::io::ErrorKind;
use std::path::{Path, PathBuf};

use zolvet_core::asset::Assets;
use zolvet_core::model::{Problem, Project, current_form};

use crate::files::read_bytes;
use zolvet_store::StoreError;

#[derive(Debug, thiserror::Error)]
pub enum CliError {
    #[error("{}: {}", path.display(), in_words(source))]
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
    #[error("{}: {}", path.display(), store_message(source))]
    Database { path: PathBuf, source: StoreError },
    #[error("the service failed: {}", in_words(.0))]
    Service(std::io::Error),
    #[error(transparent)]
    TooMuch(#[from] zolvet_core::budget::Stopped),
    #[error("could not be written: {}", in_words(.0))]
    Output(std::io::Error),
    #[error("could not be written as JSON: {0}")]
    Json(serde_json::Error),
}

/// The system's message about a file, without its numbers.
pub fn in_words(error: &std::io::Error) -> String {
    match error.kind() {
        ErrorKind::NotFound => "there is no such file or folder".to_owned(),
        ErrorKind::PermissionDenied => "it may not be read or written".to_owned(),
        ErrorKind::IsADirectory => "it is a folder, expected a file".to_owned(),
        ErrorKind::NotADirectory => "a part of the path is a file, expected a folder".to_owned(),
        ErrorKind::StorageFull => "there is no space left".to_owned(),
        ErrorKind::ReadOnlyFilesystem => {
            "nothing can be written there: it is mounted to be read only".to_owned()
        }
        ErrorKind::AddrInUse => "something else listens there already".to_owned(),
        _ => {
            let text = error.to_string();
            text.split(" (os error").next().unwrap_or(&text).to_owned()
        }
    }
}

/// The message about a database, without its numbers.
fn store_message(error: &StoreError) -> String {
    match error {
        StoreError::File(error) => in_words(error),
        StoreError::Database(error) => {
            let text = error.to_string();
            text.rsplit_once("(code: ").map_or(text.clone(), |(_, said)| {
                said.split_once(") ").map_or(said, |(_, said)| said).to_owned()
            })
        }
        error => error.to_string(),
    }
}

fn listed(problems: &[Problem]) -> String {
    problems.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")
}

/// Reads a project file.
pub fn read_project(path: &Path) -> Result<Project, CliError> {
    Ok(read_document(path)?.0)
}

/// Reads a project file and its text, with fields that are not understood.
pub fn read_document(path: &Path) -> Result<(Project, serde_json::Value), CliError> {
    let text = String::from_utf8(read_bytes(path)?)
        .map_err(|_| CliError::Argument(format!("{}: expected UTF-8 text", path.display())))?;
    let wrong = |problems| CliError::Document { path: path.to_owned(), problems };
    let project = Project::from_json(&text).map_err(wrong)?;
    Assets::check(&project).map_err(wrong)?;
    let document = serde_json::from_str(&current_form(&text)).map_err(CliError::Json)?;
    Ok((project, document))
}
