//! Text inserted into a file, everything else left as it is.

use std::ops::Range;

use usvg::roxmltree::{Document, Node};

use crate::geometry::drawing::after_tag_name;
use crate::markup::escaped;

/// Changes of a text, by place.
#[derive(Default)]
pub struct Insertions(Vec<(Range<usize>, String)>);

impl Insertions {
    /// Inserts text before the byte at a place; what is inserted first comes first.
    pub fn insert(&mut self, at: usize, text: String) {
        self.replace(at..at, text);
    }

    /// Puts text in the place of some bytes.
    pub fn replace(&mut self, range: Range<usize>, text: String) {
        if !text.is_empty() || !range.is_empty() {
            self.0.push((range, text));
        }
    }

    /// The text with all changes.
    pub fn applied(mut self, text: &str) -> String {
        self.0.sort_by_key(|(range, _)| range.start);
        let (mut result, mut copied) = (String::with_capacity(text.len() + 1024), 0);
        for (range, inserted) in self.0 {
            result += text.get(copied..range.start).unwrap_or_default();
            result += &inserted;
            copied = range.end.max(copied);
        }
        result + text.get(copied..).unwrap_or_default()
    }
}

/// Sets an attribute of an element, whether it has it or not.
pub fn set_attribute(
    insertions: &mut Insertions,
    document: &Document<'_>,
    node: Node<'_, '_>,
    name: &str,
    value: &str,
) {
    match node.attribute_node(name) {
        Some(attribute) => insertions.replace(attribute.range_value(), escaped(value)),
        None => {
            let at = after_tag_name(document.input_text(), node.range().start);
            insertions.insert(at, format!(" {name}=\"{}\"", escaped(value)));
        }
    }
}
