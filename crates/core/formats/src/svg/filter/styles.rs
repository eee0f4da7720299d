//! Properties of SVG elements: from `style`, style rules, or attributes (SVG 2, section 6).

use simplecss::{AttributeOperator, PseudoClass, StyleSheet};
use usvg::roxmltree::{Document, Node};

/// The style rules of a file, the strongest last.
pub(crate) struct Styles<'a> {
    rules: Vec<simplecss::Rule<'a>>,
}

/// Characters of style sheets that are read.
const MAX_MATCHES: usize = 200_000;

impl<'a> Styles<'a> {
    pub fn new(document: &'a Document<'_>) -> Self {
        let mut sheet = StyleSheet::new();
        let texts = document.descendants().filter(|node| node.tag_name().name() == "style");
        let mut left = MAX_MATCHES;
        for text in texts.filter_map(|node| node.text()) {
            if text.len() <= left {
                left -= text.len();
                sheet.parse_more(text);
            }
        }
        // The rules are said once more for each of their selectors; the order of those as strong as one another stays.
        sheet.rules.sort_by_key(|rule| rule.selector.specificity());
        Self { rules: sheet.rules }
    }

    /// A property of an element.
    pub fn property<'s>(&'s self, node: Node<'s, '_>, name: &str) -> Option<&'s str> {
        self.styled(node, name).map(|said| said.value).or_else(|| node.attribute(name).map(str::trim))
    }

    /// Whether a property of an element is declared `!important`.
    pub fn is_important(&self, node: Node<'_, '_>, name: &str) -> bool {
        self.styled(node, name).is_some_and(|said| said.important)
    }

    /// The declaration of a property that holds for an element, from its style or a rule.
    fn styled<'s>(&'s self, node: Node<'s, '_>, name: &str) -> Option<Said<'s>> {
        let own = own_style(node, name);
        let ruled = self.ruled(node, name);
        match (own, ruled) {
            // CSS Cascading 5, section 6.1: importance comes before where a declaration stands.
            (Some(own), Some(ruled)) if ruled.important && !own.important => Some(ruled),
            (own, ruled) => own.or(ruled),
        }
    }

    fn ruled(&self, node: Node<'_, '_>, name: &str) -> Option<Said<'_>> {
        let fitting = self.rules.iter().rev().filter_map(|rule| {
            let said = rule.declarations.iter().rev().find(|one| one.name == name)?;
            rule.selector
                .matches(&Styled(node))
                .then_some(Said { value: said.value, important: said.important })
        });
        let mut strongest = None;
        for said in fitting {
            if said.important {
                return Some(said);
            }
            strongest = strongest.or(Some(said));
        }
        strongest
    }

    /// An inherited property: that of the element, or of the nearest around it that has one.
    pub fn inherited<'s>(&'s self, node: Node<'s, '_>, name: &str) -> Option<&'s str> {
        // Deeper than anything a person writes.
        let around = std::iter::successors(Some(node), Node::parent).take(200);
        around.filter(Node::is_element).find_map(|node| self.property(node, name))
    }
}

/// The value of a declaration.
#[derive(Clone, Copy)]
struct Said<'a> {
    value: &'a str,
    important: bool,
}

/// A property in the `style` of an element.
fn own_style<'n>(node: Node<'n, '_>, name: &str) -> Option<Said<'n>> {
    let style = node.attribute("style")?;
    let declared = style.rsplit(';').filter_map(|declaration| declaration.split_once(':'));
    let (_, value) = declared
        .map(|(property, value)| (property.trim(), value.trim()))
        .find(|(property, _)| *property == name)?;
    let bare = value.strip_suffix("important").and_then(|rest| rest.trim_end().strip_suffix('!'));
    Some(Said { value: bare.map_or(value, str::trim_end), important: bare.is_some() })
}

/// An element as selectors see it.
struct Styled<'n, 'i>(Node<'n, 'i>);

impl simplecss::Element for Styled<'_, '_> {
    fn parent_element(&self) -> Option<Self> {
        self.0.parent_element().map(Styled)
    }

    fn prev_sibling_element(&self) -> Option<Self> {
        self.0.prev_sibling_element().map(Styled)
    }

    fn has_local_name(&self, name: &str) -> bool {
        self.0.tag_name().name() == name
    }

    fn attribute_matches(&self, name: &str, operator: AttributeOperator<'_>) -> bool {
        self.0.attribute(name).is_some_and(|value| operator.matches(value))
    }

    fn pseudo_class_matches(&self, class: PseudoClass<'_>) -> bool {
        class == PseudoClass::FirstChild && self.0.prev_sibling_element().is_none()
    }
}
