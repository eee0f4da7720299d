//! Ids.

use serde::{Deserialize, Deserializer, Serialize};

/// The id of a thing, unique among things of its kind: 1 to 128 characters.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(transparent)]
pub struct Id(String);

impl Id {
    /// Takes an id.
    ///
    /// # Errors
    /// A message when it is empty or too long.
    pub fn new(text: impl Into<String>) -> Result<Self, String> {
        let text = text.into();
        if text.is_empty() || text.chars().count() > 128 {
            return Err("expected an id of 1 to 128 characters".to_owned());
        }
        Ok(Self(text))
    }

    /// A short name as an id.
    #[must_use]
    pub fn named(name: &'static str) -> Self {
        Self(name.to_owned())
    }

    /// An id made of a short name and a number.
    #[must_use]
    pub fn numbered(name: &'static str, number: usize) -> Self {
        Self(format!("{name}-{number}"))
    }

    /// An id made of a short name and two numbers.
    #[must_use]
    pub fn part_of(name: &'static str, number: usize, part: usize) -> Self {
        Self(format!("{name}-{number}-{part}"))
    }

    /// The id of one of the coats that another stands for.
    #[must_use]
    pub fn step_of(whole: &Self, number: usize) -> Self {
        let kept: String = whole.0.chars().take(120).collect();
        Self(format!("{kept}.{number}"))
    }

    /// The id as text.
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.0
    }
}

impl std::fmt::Display for Id {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(&self.0)
    }
}

impl<'de> Deserialize<'de> for Id {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        Self::new(String::deserialize(deserializer)?).map_err(serde::de::Error::custom)
    }
}
