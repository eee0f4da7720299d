//! Documents of an earlier form, brought to the form of today.
//!
//! Schema 2 gave a finish coats of its own under a theme, schema 3 gave a project a prefix and themes selectors. A field of
//! that name in an earlier document means something else, so it moves out of the way; every other unknown field stays where
//! it is.

use std::borrow::Cow;

use serde::de::{Error, Unexpected};
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use serde_json::{Map, Value, json};

use super::Prefix;

/// The version of a document's form: 3 once it is read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct SchemaVersion;

const CURRENT: u64 = 3;

impl Serialize for SchemaVersion {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_u64(CURRENT)
    }
}

impl<'de> Deserialize<'de> for SchemaVersion {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        match u64::deserialize(deserializer)? {
            CURRENT => Ok(Self),
            other => Err(D::Error::invalid_value(Unexpected::Unsigned(other), &"schema 1, 2 or 3")),
        }
    }
}

/// Brings a document of schema 1 or 2 to schema 3; any other stays as it is.
pub fn migrate(document: &mut Value) {
    let Some(version) = earlier(document) else { return };
    document["schema"] = json!(CURRENT);
    if version == 1 {
        for finish in items(document, "finishes") {
            move_away(finish, "themes", version);
        }
    }
    for theme in items(document, "themes") {
        move_away(theme, "selectors", version);
    }
    let name = document.get("name").and_then(Value::as_str).unwrap_or_default();
    let prefix = json!(Prefix::proposed(name).as_str());
    if let Some(project) = document.as_object_mut() {
        move_away(project, "prefix", version);
        // Beside the name, where a reader looks for it.
        let at = project.keys().position(|key| key == "name").map_or(project.len(), |at| at + 1);
        project.shift_insert(at, "prefix".to_owned(), prefix);
    }
}

fn items<'d>(document: &'d mut Value, field: &str) -> impl Iterator<Item = &'d mut Map<String, Value>> {
    let items = document.get_mut(field).and_then(Value::as_array_mut);
    items.into_iter().flatten().filter_map(Value::as_object_mut)
}

/// Gives a field that was unknown in an earlier schema a name that is unknown still.
fn move_away(fields: &mut Map<String, Value>, field: &str, version: u64) {
    if let Some(unknown) = fields.shift_remove(field) {
        fields.insert(format!("{field}_in_schema_{version}"), unknown);
    }
}

/// The text of a document in the form of today: as it is where it has that, or is no document at all.
#[must_use]
pub fn current_form(text: &str) -> Cow<'_, str> {
    #[derive(Deserialize)]
    struct Version {
        schema: u64,
    }
    // Only what is to change is read as a whole.
    if serde_json::from_str::<Version>(text).is_ok_and(|version| (1..CURRENT).contains(&version.schema))
        && let Ok(mut document) = serde_json::from_str::<Value>(text)
    {
        migrate(&mut document);
        return Cow::Owned(document.to_string());
    }
    Cow::Borrowed(text)
}

/// The version of a document of an earlier schema.
pub(super) fn earlier(document: &Value) -> Option<u64> {
    document.get("schema").and_then(Value::as_u64).filter(|version| (1..CURRENT).contains(version))
}
