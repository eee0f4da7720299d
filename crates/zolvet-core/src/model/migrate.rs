//! Documents of an earlier form, brought to the form of today.
//!
//! Schema 2 gave a finish coats of its own under a theme. A document of schema 1 that has a field of that name means
//! something else by it, so the field moves out of the way; every other unknown field stays where it is.

use std::borrow::Cow;

use serde::de::{Error, Unexpected};
use serde::{Deserialize, Deserializer, Serialize, Serializer};
use serde_json::{Value, json};

/// The version of a document's form: 2 once it is read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct SchemaVersion;

const CURRENT: u64 = 2;
const MOVED: &str = "themes_in_schema_1";

impl Serialize for SchemaVersion {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_u64(CURRENT)
    }
}

impl<'de> Deserialize<'de> for SchemaVersion {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        match u64::deserialize(deserializer)? {
            CURRENT => Ok(Self),
            other => Err(D::Error::invalid_value(Unexpected::Unsigned(other), &"schema 1 or 2")),
        }
    }
}

/// Brings a document of schema 1 to schema 2; any other stays as it is.
pub fn migrate(document: &mut Value) {
    if !is_earlier(document) {
        return;
    }
    document["schema"] = json!(CURRENT);
    let finishes = document.get_mut("finishes").and_then(Value::as_array_mut);
    for finish in finishes.into_iter().flatten().filter_map(Value::as_object_mut) {
        if let Some(unknown) = finish.shift_remove("themes") {
            finish.insert(MOVED.to_owned(), unknown);
        }
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
    if serde_json::from_str::<Version>(text).is_ok_and(|version| version.schema == 1)
        && let Ok(mut document) = serde_json::from_str::<Value>(text)
    {
        migrate(&mut document);
        return Cow::Owned(document.to_string());
    }
    Cow::Borrowed(text)
}

pub(super) fn is_earlier(document: &Value) -> bool {
    document.get("schema").and_then(Value::as_u64) == Some(1)
}
