//! How style sheets say which theme a page is in: by an attribute or a class of its root, or by what the reader prefers.

use super::element::Element;

/// An attribute or class by which a page says its theme.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub(super) struct Marker {
    attribute: String,
    value: String,
}

/// Classes that say nothing but the theme (common practice, no published source).
const CLASSES: [(&str, &str); 10] = [
    ("dark", "dark"),
    ("light", "light"),
    ("dark-mode", "dark"),
    ("light-mode", "light"),
    ("dark-theme", "dark"),
    ("light-theme", "light"),
    ("theme-dark", "dark"),
    ("theme-light", "light"),
    ("mode-dark", "dark"),
    ("mode-light", "light"),
];

impl Marker {
    /// The marker that an attribute is, if it is one: `data-theme`, `data-bs-theme`, `data-color-scheme` and the like.
    pub fn of(attribute: &str, value: &str) -> Option<Self> {
        let named = attribute.starts_with("data-")
            && ["theme", "color-scheme", "color-mode", "mode"].iter().any(|end| attribute.ends_with(end));
        let is_marker = if attribute == "class" {
            CLASSES.iter().any(|(class, _)| *class == value)
        } else {
            (named || attribute == "theme") && !value.is_empty()
        };
        is_marker.then(|| Self { attribute: attribute.to_owned(), value: value.to_owned() })
    }

    /// What the theme is called.
    pub fn theme(&self) -> String {
        let of_class = CLASSES.iter().find(|(class, _)| self.attribute == "class" && *class == self.value);
        of_class.map_or_else(|| self.value.to_ascii_lowercase(), |(_, theme)| (*theme).to_owned())
    }

    pub fn set_on(&self, element: &mut Element) {
        element.set(&self.attribute, &self.value);
    }
}
