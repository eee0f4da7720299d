//! Mends: values of the document to set.

use serde::Serialize;
use serde_json::Value;

/// What would remove a finding.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Mend {
    /// In words, as something to do.
    pub what: String,
    /// In their order.
    pub edits: Vec<Edit>,
}

/// One value of the document.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Edit {
    /// Which, as a JSON pointer (RFC 6901); its last part may be a field that is not there yet.
    pub at: String,
    /// What it becomes.
    #[cfg_attr(feature = "schema", schema(value_type = Object))]
    pub to: Value,
}

impl Mend {
    pub(super) fn one(what: impl Into<String>, at: impl Into<String>, to: impl Into<Value>) -> Self {
        Self { what: what.into(), edits: vec![Edit { at: at.into(), to: to.into() }] }
    }
}

/// The document with a mend made.
#[must_use]
pub fn mended(document: &Value, mend: &Mend) -> Value {
    let mut document = document.clone();
    for edit in &mend.edits {
        let Some((parent, field)) = edit.at.rsplit_once('/') else { continue };
        match document.pointer_mut(parent) {
            Some(Value::Object(fields)) => {
                fields.insert(field.replace("~1", "/").replace("~0", "~"), edit.to.clone());
            }
            Some(Value::Array(items)) => {
                if let Some(item) = field.parse::<usize>().ok().and_then(|at| items.get_mut(at)) {
                    *item = edit.to.clone();
                }
            }
            _ => {}
        }
    }
    document
}

/// Every place of a document at which an object has a field with a text, as pointers to the text.
pub(super) fn places(document: &Value, field: &str, text: &str) -> Vec<String> {
    let mut found = Vec::new();
    walk(document, String::new(), &mut |pointer, name, value| {
        if name == field && value.as_str() == Some(text) {
            found.push(pointer.to_owned());
        }
    });
    found
}

/// Every place at which a text stands that `fits`, with the name of its field, as pointers.
pub(super) fn texts(document: &Value, mut fits: impl FnMut(&str, &str) -> bool) -> Vec<String> {
    let mut found = Vec::new();
    walk(document, String::new(), &mut |pointer, name, value| {
        if value.as_str().is_some_and(|text| fits(name, text)) {
            found.push(pointer.to_owned());
        }
    });
    found
}

fn walk(value: &Value, pointer: String, seen: &mut dyn FnMut(&str, &str, &Value)) {
    let mut step = |name: &str, value: &Value| {
        let at = format!("{pointer}/{}", name.replace('~', "~0").replace('/', "~1"));
        seen(&at, name, value);
        walk(value, at, seen);
    };
    match value {
        Value::Object(fields) => fields.iter().for_each(|(name, value)| step(name, value)),
        Value::Array(items) => items.iter().enumerate().for_each(|(at, value)| step(&at.to_string(), value)),
        _ => {}
    }
}
