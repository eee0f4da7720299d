//! Reading a project document, with all that is wrong with it.

use std::fmt;

use serde::de::{MapAccess, SeqAccess, Visitor};
use serde::{Deserialize, Deserializer};

use super::decode::{located, without_places};
use super::migrate::{earlier, migrate};
use super::validate::check_references;
use super::{Problem, Project};
use crate::limits;

impl Project {
    /// Reads a project document, of schema 1, 2 or 3.
    ///
    /// # Errors
    /// The first problem found in the text or in a value, or every reference that leads nowhere.
    pub fn from_json(text: &str) -> Result<Self, Vec<Problem>> {
        if text.len() > limits::DOCUMENT_BYTES {
            let message = format!("expected at most 8 MB of JSON, found {} bytes", text.len());
            return Err(vec![Problem::new("", message)]);
        }
        // What is right and of today's schema needs no tree of values before it. What nobody knows in it is kept by others, who
        // read it as values.
        if serde_json::from_str::<Readable>(text).is_ok()
            && let Ok(project) = without_places(|| serde_json::from_str(text))
        {
            return checked(project);
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
        if earlier(value).is_some() {
            let mut value = value.clone();
            migrate(&mut value);
            return current(&value);
        }
        current(value)
    }
}

fn current(value: &serde_json::Value) -> Result<Project, Vec<Problem>> {
    checked(located(value).map_err(|problem| vec![problem])?)
}

fn checked(project: Project) -> Result<Project, Vec<Problem>> {
    let problems = check_references(&project);
    if problems.is_empty() { Ok(project) } else { Err(problems) }
}

/// JSON that can be read as values: with no number out of range and no broken text, also where nothing of ours is.
struct Readable;

impl<'de> Deserialize<'de> for Readable {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        deserializer.deserialize_any(Self)
    }
}

impl<'de> Visitor<'de> for Readable {
    type Value = Self;

    fn expecting(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        formatter.write_str("JSON")
    }

    fn visit_bool<E>(self, _: bool) -> Result<Self, E> {
        Ok(self)
    }

    fn visit_i64<E>(self, _: i64) -> Result<Self, E> {
        Ok(self)
    }

    fn visit_u64<E>(self, _: u64) -> Result<Self, E> {
        Ok(self)
    }

    fn visit_f64<E>(self, _: f64) -> Result<Self, E> {
        Ok(self)
    }

    fn visit_str<E>(self, _: &str) -> Result<Self, E> {
        Ok(self)
    }

    fn visit_unit<E>(self) -> Result<Self, E> {
        Ok(self)
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut parts: A) -> Result<Self, A::Error> {
        while parts.next_element::<Self>()?.is_some() {}
        Ok(self)
    }

    fn visit_map<A: MapAccess<'de>>(self, mut parts: A) -> Result<Self, A::Error> {
        while parts.next_entry::<Self, Self>()?.is_some() {}
        Ok(self)
    }
}
