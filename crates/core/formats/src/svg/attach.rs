//! Filters put on elements of a file, and taken off them, by insertions alone.

use usvg::roxmltree::{Document, Node};

use super::filter::Styles;
use super::insertions::Insertions;
use crate::geometry::drawing::after_tag_name;
use crate::markup::escaped;

/// What becomes of the filters that an element has in the file.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Had {
    /// They draw first.
    Stays,
    /// They draw no more.
    Goes,
}

/// The filters that an element has in a file.
pub fn filters_of(styles: &Styles<'_>, node: Node<'_, '_>) -> String {
    styles.property(node, "filter").filter(|value| *value != "none").unwrap_or_default().to_owned()
}

/// Puts a filter on an element; without one, only what becomes of those it has.
pub fn attach(
    insertions: &mut Insertions,
    document: &Document<'_>,
    node: Node<'_, '_>,
    (had, id): (Had, Option<&str>),
) {
    let styles = Styles::new(document);
    let own = filters_of(&styles, node);
    let added = id.map(|id| format!("url(#{id})")).unwrap_or_default();
    let value = match had {
        Had::Stays => format!("{own} {added}").trim().to_owned(),
        Had::Goes if added.is_empty() => "none".to_owned(),
        Had::Goes => added.clone(),
    };
    if value == own || (own.is_empty() && added.is_empty()) {
        return;
    }
    let value = escaped(&value);
    let attribute = node.attribute_node("filter");
    let is_styled = own != node.attribute("filter").unwrap_or_default().trim();
    let start = after_tag_name(document.input_text(), node.range().start);
    // Styles are stronger than the attribute, and what is said last is stronger than what is important before it.
    if is_styled || (had == Had::Goes && attribute.is_some()) {
        let important = if styles.is_important(node, "filter") { " !important" } else { "" };
        match node.attribute_node("style") {
            Some(style) => insertions.insert(style.range_value().end, format!(";filter:{value}{important}")),
            None => insertions.insert(start, format!(" style=\"filter:{value}{important}\"")),
        }
    } else if let Some(attribute) = attribute {
        insertions.insert(attribute.range_value().end, format!(" {added}"));
    } else {
        insertions.insert(start, format!(" filter=\"{value}\""));
    }
}
