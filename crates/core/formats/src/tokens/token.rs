//! A token as it was found in a file.

use serde_json::{Map, Value};

use super::EXTENSION;
use super::write::fingerprint;
use crate::limits;
use crate::model::Id;
use crate::syntax::pointer::pointer;

/// Where a token is: the names of its groups and its own.
#[derive(Default)]
pub(super) struct Path(pub Vec<String>);

impl Path {
    pub fn pointer(&self) -> String {
        pointer(self.0.iter().map(String::as_str))
    }
}

/// A token as it was found.
pub(super) struct Token<'a> {
    pub pointer: String,
    /// The names of its groups and its own, joined; without the group we put our own in.
    pub name: String,
    pub kind: &'a str,
    pub fields: &'a Map<String, Value>,
}

impl Token<'_> {
    pub fn value(&self) -> &Value {
        self.fields.get("$value").unwrap_or(&Value::Null)
    }

    pub fn value_pointer(&self) -> String {
        format!("{}/$value", self.pointer)
    }

    /// Our own extension data, and whether the token's value is still the one written with it. The token's own fields
    /// are not repeated there.
    pub fn ours<T: serde::de::DeserializeOwned>(&self, what: &str) -> Option<(T, bool)> {
        let ours = self.fields.get("$extensions")?.get(EXTENSION)?;
        let same = ours.get("written").and_then(Value::as_str) == Some(fingerprint(self.value()).as_str());
        let mut data = ours.get(what)?.clone();
        let fields = data.as_object_mut()?;
        for (name, value) in [("name", &self.name), ("note", &self.description())] {
            fields.entry(name).or_insert_with(|| Value::String(value.clone()));
        }
        Some((serde_json::from_value(data).ok()?, same))
    }

    pub fn description(&self) -> String {
        let text = self.fields.get("$description").and_then(Value::as_str).unwrap_or_default();
        text.chars().take(limits::NOTE_CHARACTERS).collect()
    }

    pub fn foreign(&self) -> Map<String, Value> {
        let mut extensions = match self.fields.get("$extensions") {
            Some(Value::Object(extensions)) => extensions.clone(),
            _ => Map::new(),
        };
        extensions.shift_remove(EXTENSION);
        extensions
    }

    pub fn id(&self) -> Id {
        let text: String = self.pointer.trim_start_matches('/').chars().take(100).collect();
        Id::new(text).unwrap_or_else(|_| Id::numbered("token", 1))
    }
}

/// The name of a token from those of its groups; `$root` at the top of a file has none of them (§6.2).
pub(super) fn name_of(names: &[&str]) -> String {
    let name: String = names.join("/").chars().take(limits::NAME_CHARACTERS / 2).collect();
    if name.is_empty() { "root".to_owned() } else { name }
}

impl<'a> Token<'a> {
    /// Its value as part of the file.
    pub fn value_in_file(&self, file: &'a Value) -> &'a Value {
        file.pointer(&self.value_pointer()).unwrap_or(&Value::Null)
    }
}
