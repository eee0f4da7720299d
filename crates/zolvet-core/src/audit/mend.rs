//! Mends: values of the document to set.

use std::collections::BTreeMap;

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
    /// What it becomes; it is taken out of its list when left out.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "schema", schema(value_type = Option<Object>))]
    pub to: Option<Value>,
}

impl Edit {
    pub(super) fn set(at: impl Into<String>, to: impl Into<Value>) -> Self {
        Self { at: at.into(), to: Some(to.into()) }
    }

    /// Takes the item of a list out that `is` it, where there is one.
    pub(super) fn out_of(document: &Value, list: &str, is: impl Fn(&Value) -> bool) -> Option<Self> {
        let at = document[list].as_array()?.iter().position(is)?;
        Some(Self { at: format!("/{list}/{at}"), to: None })
    }
}

impl Mend {
    pub(super) fn one(what: impl Into<String>, at: impl Into<String>, to: impl Into<Value>) -> Self {
        Self { what: what.into(), edits: vec![Edit::set(at, to)] }
    }
}

/// The document with a mend made.
#[must_use]
pub fn mended(document: &Value, mend: &Mend) -> Value {
    let mut document = document.clone();
    for edit in &mend.edits {
        let Some((parent, field)) = edit.at.rsplit_once('/') else { continue };
        let place = field.parse::<usize>().ok();
        match (document.pointer_mut(parent), &edit.to) {
            (Some(Value::Object(fields)), Some(to)) => {
                fields.insert(field.replace("~1", "/").replace("~0", "~"), to.clone());
            }
            (Some(Value::Array(items)), Some(to)) => {
                if let Some(item) = place.and_then(|at| items.get_mut(at)) {
                    *item = to.clone();
                }
            }
            (Some(Value::Array(items)), None) => {
                if let Some(at) = place.filter(|at| *at < items.len()) {
                    items.remove(at);
                }
            }
            _ => {}
        }
    }
    document
}

/// Where a document refers to finishes and swatches: pointers by the field's name and the id.
pub(super) type References = BTreeMap<(String, String), Vec<String>>;

pub(super) fn references(document: &Value) -> References {
    let mut found = References::new();
    walk(document, String::new(), &mut |pointer, name, value| {
        if let (true, Some(id)) = (["finish", "swatch"].contains(&name), value.as_str()) {
            found.entry((name.to_owned(), id.to_owned())).or_default().push(pointer.to_owned());
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
