//! Elements of a page that pieces stand for.

use serde::{Deserialize, Serialize};

/// The elements of a page that a piece stands for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fitting {
    /// The selector of the elements.
    pub selector: String,
    /// Whether their own shadows stay under the coats.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub keeps_own: bool,
    /// Their own shadow, as CSS has it; needed where it stays.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub own: String,
    /// What it takes to win over the page's own rules.
    #[serde(default)]
    pub strength: Strength,
}

/// What a rule takes to win over those of a page.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Strength {
    /// No specificity.
    Weightless,
    /// That of its selector.
    #[default]
    Plain,
    /// That of its selector, and of a class besides.
    Doubled,
    /// Declarations that are important.
    Important,
}

impl Strength {
    /// Every one, the weakest first.
    pub const ALL: [Self; 4] = [Self::Weightless, Self::Plain, Self::Doubled, Self::Important];

    /// A selector that is as strong (Selectors 4, "Calculating a selector's specificity").
    #[must_use]
    pub fn selector(self, selector: &str) -> String {
        let selector = selector.trim();
        let one = if selector.contains(',') { format!(":is({selector})") } else { selector.to_owned() };
        match self {
            Self::Weightless => format!(":where({selector})"),
            Self::Plain | Self::Important => one,
            Self::Doubled => format!(":root {one}"),
        }
    }
}
