//! Settings that a style sheet does not contain.

use std::collections::BTreeMap;

/// Assumptions about a page where its style sheets do not set it.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Settings {
    /// The size in px that browsers are set to; 16 where it is not given.
    pub root_font_size: Option<f64>,
    /// Custom properties, with their dashes, that something outside of the sheets sets on the root.
    pub set: BTreeMap<String, String>,
}

impl Settings {
    pub(super) fn font_size(&self) -> f64 {
        self.root_font_size.unwrap_or(16.0)
    }
}
