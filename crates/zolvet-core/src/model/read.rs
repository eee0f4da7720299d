//! Reading a project document, with all that is wrong with it.

use super::decode::located;
use super::validate::check_references;
use super::{Problem, Project};
use crate::limits;

impl Project {
    /// Reads a project document.
    ///
    /// # Errors
    /// The first problem found in the text or in a value, or every reference that leads nowhere.
    pub fn from_json(text: &str) -> Result<Self, Vec<Problem>> {
        if text.len() > limits::DOCUMENT_BYTES {
            let message = format!("expected at most 8 MB of JSON, found {} bytes", text.len());
            return Err(vec![Problem::new("", message)]);
        }
        let value = serde_json::from_str(text).map_err(|error| {
            let place = format!("{}:{}", error.line(), error.column());
            vec![Problem::new(place, error.to_string())]
        })?;
        Self::from_value(&value)
    }

    /// Reads a project document that is JSON already.
    ///
    /// # Errors
    /// As [`Project::from_json`].
    pub fn from_value(value: &serde_json::Value) -> Result<Self, Vec<Problem>> {
        let project: Self = located(value).map_err(|problem| vec![problem])?;
        let problems = check_references(&project);
        if problems.is_empty() { Ok(project) } else { Err(problems) }
    }
}
