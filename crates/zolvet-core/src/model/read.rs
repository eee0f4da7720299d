//! Reading a project document, with all that is wrong with it.

use super::decode::located;
use super::migrate::{is_earlier, migrate};
use super::validate::check_references;
use super::{Problem, Project};
use crate::limits;

impl Project {
    /// Reads a project document, of schema 1 or 2.
    ///
    /// # Errors
    /// The first problem found in the text or in a value, or every reference that leads nowhere.
    pub fn from_json(text: &str) -> Result<Self, Vec<Problem>> {
        if text.len() > limits::DOCUMENT_BYTES {
            let message = format!("expected at most 8 MB of JSON, found {} bytes", text.len());
            return Err(vec![Problem::new("", message)]);
        }
        let mut value = serde_json::from_str(text).map_err(|error| {
            let place = format!("{}:{}", error.line(), error.column());
            vec![Problem::new(place, error.to_string())]
        })?;
        migrate(&mut value);
        current(&value)
    }

    /// Reads a project document that is JSON already.
    ///
    /// # Errors
    /// As [`Project::from_json`].
    pub fn from_value(value: &serde_json::Value) -> Result<Self, Vec<Problem>> {
        if is_earlier(value) {
            let mut value = value.clone();
            migrate(&mut value);
            return current(&value);
        }
        current(value)
    }
}

fn current(value: &serde_json::Value) -> Result<Project, Vec<Problem>> {
    let project: Project = located(value).map_err(|problem| vec![problem])?;
    let problems = check_references(&project);
    if problems.is_empty() { Ok(project) } else { Err(problems) }
}
