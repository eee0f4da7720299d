//! Elements of a page that pieces stand for.

use serde::{Deserialize, Serialize};

use super::{CssColour, FontSize, Px, Size, Weight};

/// The elements of a page that a piece stands for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
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
    /// How many elements it selected when they were looked at last.
    #[serde(default = "one", skip_serializing_if = "is_one")]
    pub count: u32,
    /// Whether it is there to be used, as buttons, links and fields are.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub used: bool,
    /// The colour behind the element that was looked at; that of the scene's ground when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub behind: Option<CssColour>,
    /// The texts in that element.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub texts: Vec<FittedText>,
}

fn one() -> u32 {
    1
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
fn is_one(count: &u32) -> bool {
    *count == 1
}

/// A text in an element of a page, as its browser has set it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FittedText {
    /// Its first words.
    pub name: String,
    /// The left of its box, in px from that of the element's.
    pub x: Px,
    /// The top of its box, in px from that of the element's.
    pub y: Px,
    /// The width of its box in px.
    pub w: Size,
    /// The height of its box in px.
    pub h: Size,
    /// The colour of its letters.
    pub colour: CssColour,
    /// Its size in px.
    pub size: FontSize,
    /// As CSS has it.
    pub weight: Weight,
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
