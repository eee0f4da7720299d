//! The beginning of every name that a project's CSS defines.

use serde::{Deserialize, Deserializer, Serialize};

/// The beginning of every class and custom property of a project's CSS, without the hyphen after it: none, or a small letter
/// and up to 23 small letters, digits and hyphens.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(transparent)]
pub struct Prefix(String);

/// Characters of a prefix.
const MAX_CHARACTERS: usize = 24;
/// Letters of a prefix that is proposed.
const PROPOSED: usize = 4;

impl Prefix {
    /// Every prefix, and nothing else, matches it (a regular expression of ECMA-262): for forms.
    pub const PATTERN: &str = "^([a-z]([a-z0-9-]{0,22}[a-z0-9])?)?$";

    /// Takes a prefix; an empty one is none.
    ///
    /// # Errors
    /// A message where it cannot begin a name.
    pub fn new(text: impl Into<String>) -> Result<Self, String> {
        let text = text.into();
        let plain = |letter: char| letter.is_ascii_lowercase() || letter.is_ascii_digit() || letter == '-';
        let begins = text.is_empty() || text.starts_with(|letter: char| letter.is_ascii_lowercase());
        if !begins || text.ends_with('-') || text.len() > MAX_CHARACTERS || !text.chars().all(plain) {
            return Err(format!(
                "expected a small letter and up to {} small letters, digits and hyphens, or nothing",
                MAX_CHARACTERS - 1
            ));
        }
        Ok(Self(text))
    }

    /// A short prefix from a project's name: the first letters of its words, or the first letters of its only word; `depth`
    /// where the name has no letters from a to z.
    #[must_use]
    pub fn proposed(name: &str) -> Self {
        let lower = name.to_lowercase();
        let words: Vec<&str> = lower
            .split(|letter: char| !letter.is_ascii_alphanumeric())
            .filter(|word| word.starts_with(|letter: char| letter.is_ascii_lowercase()))
            .collect();
        let letters: String = match words.as_slice() {
            [one] => one.chars().take(PROPOSED).collect(),
            several => several.iter().filter_map(|word| word.chars().next()).take(PROPOSED).collect(),
        };
        Self(if letters.is_empty() { "depth".to_owned() } else { letters })
    }

    /// The prefix as text.
    #[must_use]
    pub fn as_str(&self) -> &str {
        &self.0
    }

    /// No prefix: names stand as they are.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }
}

impl<'de> Deserialize<'de> for Prefix {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        Self::new(String::deserialize(deserializer)?).map_err(serde::de::Error::custom)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_proposed_prefix_is_short_and_legal() {
        for (name, prefix) in [
            ("Quillmere Allotments", "qa"),
            ("Zolvet", "zolv"),
            ("3 of 9 – big & small things, and more", "obst"),
            ("名前", "depth"),
            ("9", "depth"),
            ("", "depth"),
        ] {
            assert_eq!(Prefix::proposed(name).as_str(), prefix, "{name}");
            assert_eq!(Prefix::new(prefix), Ok(Prefix::proposed(name)));
        }
        for bad in ["9a", "-a", "a-", "A", "a b", "a.b", "ä", "abcdefghijklmnopqrstuvwxy"] {
            assert!(Prefix::new(bad).is_err(), "{bad}");
        }
        assert!(Prefix::new("").is_ok_and(|none| none.is_empty()));
    }

    #[test]
    fn the_pattern_is_the_rule() {
        let pattern = regex::Regex::new(Prefix::PATTERN).unwrap();
        let mut texts = vec![String::new()];
        for _ in 0..4 {
            let longer = texts
                .iter()
                .flat_map(|text| ["a", "0", "-", "A", "é", "\n"].map(|one| format!("{text}{one}")));
            texts = std::iter::once(String::new()).chain(longer).collect();
        }
        texts
            .extend((22..27).flat_map(|count| ["a", "-"].map(|last| format!("{}{last}", "b".repeat(count)))));
        for text in texts {
            assert_eq!(pattern.is_match(&text), Prefix::new(text.as_str()).is_ok(), "{text:?}");
        }
    }
}
