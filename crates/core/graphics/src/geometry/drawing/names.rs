//! Names for the elements of a file, by which what is drawn is found in it again.
//!
//! The parser of drawings keeps ids and nothing else of an element. Elements without one are given one before it reads the file.

use std::collections::HashMap;
use std::ops::Range;

use usvg::roxmltree::{Document, Node};

use super::prepared::{drop_shadows, without_quotes};

/// The elements of a file that are drawn, by id.
pub(super) struct Names {
    elements: HashMap<String, SourceElement>,
}

/// An element of a file.
#[derive(Debug, Clone)]
pub(super) struct SourceElement {
    /// Its title, label or id, or the text that it sets; `None` where it has none.
    pub name: Option<String>,
    pub tag: String,
    /// Its bytes in the file.
    pub range: Range<usize>,
}

/// The start of ids that are given to elements.
const GIVEN: &str = "zolvet-element-";

impl Names {
    /// The elements of a document, and its text with an id in each of them, prepared for the parser.
    pub fn of(document: &Document<'_>) -> (Self, String) {
        let text = document.input_text();
        let mut changes = drop_shadows(document);
        let mut elements = HashMap::new();
        for (number, node) in document.descendants().filter(|node| is_drawn(node)).enumerate() {
            let id = match node.attribute("id") {
                Some(id) => id.to_owned(),
                None => {
                    let id = format!("{GIVEN}{number}");
                    let at = after_tag_name(text, node.range().start);
                    changes.push((at..at, format!(" id=\"{id}\"")));
                    id
                }
            };
            elements.entry(id).or_insert_with(|| SourceElement {
                name: name_of(&node),
                tag: node.tag_name().name().to_owned(),
                range: node.range(),
            });
        }
        changes.sort_by_key(|(range, _)| range.start);
        let (mut named, mut copied) = (String::with_capacity(text.len() + text.len() / 4), 0);
        for (range, written) in changes {
            named += text.get(copied..range.start).unwrap_or_default();
            named += &written;
            copied = range.end.max(copied);
        }
        named += &text[copied..];
        (Self { elements }, without_quotes(&named))
    }

    pub fn get(&self, id: &str) -> Option<&SourceElement> {
        self.elements.get(id)
    }
}

const DRAWN: [&str; 14] = [
    "g", "a", "svg", "switch", "use", "path", "rect", "circle", "ellipse", "line", "polyline", "polygon",
    "text", "image",
];

/// Whether an element is drawn where it stands.
#[must_use]
pub fn is_drawn(node: &Node<'_, '_>) -> bool {
    node.is_element() && DRAWN.contains(&node.tag_name().name())
}

/// Where the name of the tag that starts at a place of a text ends.
#[must_use]
pub fn after_tag_name(text: &str, start: usize) -> usize {
    let rest = &text[start..];
    let is_end = |letter: char| letter.is_ascii_whitespace() || letter == '/' || letter == '>';
    start + rest.find(is_end).unwrap_or(rest.len())
}

/// Letters of a name that are kept.
const NAME_LETTERS: usize = 60;

/// What people call a kind of element.
pub(super) fn kind_of(tag: &str) -> &str {
    match tag {
        "rect" => "Rectangle",
        "circle" => "Circle",
        "ellipse" => "Ellipse",
        "line" | "polyline" => "Line",
        "polygon" => "Polygon",
        "path" => "Path",
        "text" => "Text",
        "image" => "Picture",
        "use" => "Copy",
        _ => "Group",
    }
}

/// What people call an element: its title, its label, the name a drawing program gave it, its id, or the text that it sets.
fn name_of(node: &Node<'_, '_>) -> Option<String> {
    let title =
        node.children().find(|child| child.tag_name().name() == "title").and_then(|title| title.text());
    let attribute = |name: &str| node.attributes().find(|one| one.name() == name).map(|one| one.value());
    let own =
        title.or_else(|| attribute("aria-label")).or_else(|| attribute("label")).or_else(|| attribute("id"));
    let set = || {
        let texts = node.descendants().filter(Node::is_text).filter_map(|inner| inner.text());
        (node.tag_name().name() == "text").then(|| texts.collect::<String>())
    };
    let text = own.map(str::to_owned).or_else(set)?;
    let words: Vec<&str> = text.split_whitespace().collect();
    let name: String = words.join(" ").chars().take(NAME_LETTERS).collect();
    (!name.is_empty()).then_some(name)
}
