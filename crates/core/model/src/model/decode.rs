//! Decoding that can say where it went wrong.
//!
//! Serde's own tagged and untagged enums buffer their content and lose the place of an error inside it. The
//! helpers here buffer too, but decode each part with its path and hand the path outward inside the message,
//! so that every error names its place by JSON pointer (RFC 6901).
//!
//! Keeping track of places takes as long as decoding itself. So a document is decoded without at first, and only a part
//! that fails is decoded once more with places.

use std::cell::Cell;

use serde::de::{DeserializeOwned, Error};
use serde_json::Value;
use serde_path_to_error::{Path, Segment};

use crate::syntax::pointer::child;

/// An error in a document, with its place.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[derive(serde::Serialize, serde::Deserialize)]
#[error("{pointer}: {message}")]
pub struct Problem {
    /// The place, as a JSON pointer; for text that is not JSON at all, `line:column`.
    pub pointer: String,
    /// The expectation, in words.
    pub message: String,
}

impl Problem {
    /// At a JSON pointer (RFC 6901).
    pub fn new(pointer: impl Into<String>, message: impl Into<String>) -> Self {
        Self { pointer: pointer.into(), message: message.into() }
    }
}

/// Marks a message that starts with the pointer of a place inside the value being decoded.
const INNER: char = '\u{1}';

thread_local! {
    /// Whether decoding on this thread keeps no track of places.
    static WITHOUT_PLACES: Cell<bool> = const { Cell::new(false) };
}

/// Decodes without keeping track of places: its errors name none.
pub(super) fn without_places<T>(decode: impl FnOnce() -> T) -> T {
    let before = WITHOUT_PLACES.replace(true);
    let decoded = decode();
    WITHOUT_PLACES.set(before);
    decoded
}

/// Decodes `value`, naming the place of the first error by JSON pointer.
pub(crate) fn located<T: DeserializeOwned>(value: &Value) -> Result<T, Problem> {
    without_places(|| T::deserialize(value)).or_else(|_| with_places(value))
}

fn with_places<T: DeserializeOwned>(value: &Value) -> Result<T, Problem> {
    serde_path_to_error::deserialize(value).map_err(|error| {
        let pointer = pointer_of(error.path());
        split_message(&pointer, &error.inner().to_string())
    })
}

/// Decodes a part of a buffered value, handing the place outward inside the message.
pub fn part<T: DeserializeOwned, E: Error>(value: &Value) -> Result<T, E> {
    if WITHOUT_PLACES.get() {
        return T::deserialize(value).map_err(E::custom);
    }
    with_places(value).map_err(|problem| inner_error(&problem.pointer, &problem.message))
}

/// An error at `pointer` inside the value being decoded.
pub(crate) fn inner_error<E: Error>(pointer: &str, message: &str) -> E {
    E::custom(format_args!("{INNER}{pointer}{INNER}{message}"))
}

fn split_message(outer: &str, message: &str) -> Problem {
    match message.strip_prefix(INNER).and_then(|rest| rest.split_once(INNER)) {
        Some((inner, message)) => Problem::new(format!("{outer}{inner}"), message),
        None => Problem::new(outer, message),
    }
}

fn pointer_of(path: &Path) -> String {
    let mut pointer = String::new();
    for segment in path {
        match segment {
            Segment::Seq { index } => pointer.push_str(&format!("/{index}")),
            Segment::Map { key } => pointer = child(&pointer, key),
            Segment::Enum { .. } | Segment::Unknown => {}
        }
    }
    pointer
}

/// Implements `Deserialize` for an enum of newtype variants chosen by the text in `kind`.
macro_rules! decode_by_kind {
    ($name:ident { $($tag:literal => $variant:ident),+ $(,)? }) => {
        impl $name {
            /// Decodes a JSON value.
            pub(crate) fn decode<E: serde::de::Error>(value: &serde_json::Value) -> Result<Self, E> {
                match value.get("kind").and_then(serde_json::Value::as_str) {
                    $(Some($tag) => $crate::model::decode::part(value).map(Self::$variant),)+
                    _ => Err($crate::model::decode::inner_error(
                        "/kind",
                        concat!("expected one of", $(" ", $tag),+),
                    )),
                }
            }
        }

        // A variant that the list lacks could not be read: the compiler names it here.
        const _: fn(&$name) = |value| match value {
            $($name::$variant(_) => (),)+
        };

        impl<'de> serde::Deserialize<'de> for $name {
            fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
                Self::decode(&serde_json::Value::deserialize(deserializer)?)
            }
        }
    };
}

/// Implements `Deserialize` for an enum of newtype variants chosen by which field is present.
macro_rules! decode_by_field {
    ($name:ident { $($field:literal => $variant:ident),+ $(,)? } else $expected:literal) => {
        // A variant that the list lacks could not be read: the compiler names it here.
        const _: fn(&$name) = |value| match value {
            $($name::$variant(_) => (),)+
        };

        impl<'de> serde::Deserialize<'de> for $name {
            fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
                let value = serde_json::Value::deserialize(deserializer)?;
                $(if value.get($field).is_some() {
                    return $crate::model::decode::part(&value).map(Self::$variant);
                })+
                Err($crate::model::decode::inner_error("", $expected))
            }
        }
    };
}

pub(crate) use {decode_by_field, decode_by_kind};
