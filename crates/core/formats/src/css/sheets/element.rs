//! Elements to try a style sheet on: as little of a page as a selector asks for.

use std::collections::BTreeSet;
use std::fmt::Write as _;

use selectors::OpaqueElement;
use selectors::attr::{AttrSelectorOperation, CaseSensitivity, NamespaceConstraint};
use selectors::bloom::BloomFilter;
use selectors::context::{
    MatchingContext, MatchingForInvalidation, MatchingMode, NeedsSelectorFlags, QuirksMode, SelectorCaches,
};
use selectors::matching::{ElementSelectorFlags, matches_selector};

use serde_json::{Value, json};

use super::selector::{Css, Name, Pseudo, PseudoClass, Quoted, Selector};

/// A page: its first element is the root, its second the body.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Page {
    elements: Vec<Element>,
}

/// One element of a page, or one of its pseudo-elements.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) struct Element {
    pub tag: String,
    pub attributes: Vec<(String, String)>,
    /// The pseudo-classes that hold for it, such as `hover`.
    pub flags: BTreeSet<String>,
    /// Set where it stands for a pseudo-element of its parent.
    pub pseudo: Option<Pseudo>,
    pub parent: Option<usize>,
    pub children: Vec<usize>,
}

impl Element {
    pub fn attribute(&self, name: &str) -> Option<&str> {
        self.attributes.iter().find(|(other, _)| other == name).map(|(_, value)| value.as_str())
    }

    /// Sets an attribute; a class is added to those that are there.
    pub fn set(&mut self, name: &str, value: &str) {
        match self.attributes.iter_mut().find(|(other, _)| other == name) {
            Some((_, there)) if name == "class" => {
                if !there.split(' ').any(|one| one == value) {
                    let _ = write!(there, " {value}");
                }
            }
            Some((_, there)) => value.clone_into(there),
            None => self.attributes.push((name.to_owned(), value.to_owned())),
        }
    }

    pub fn classes(&self) -> impl Iterator<Item = &str> {
        self.attribute("class").unwrap_or("").split_whitespace()
    }
}

impl Page {
    /// With nothing in its body.
    pub fn empty() -> Self {
        let mut page = Self { elements: Vec::new() };
        let root = page.add(None, Element { tag: "html".to_owned(), ..Element::default() });
        page.add(Some(root), Element { tag: "body".to_owned(), ..Element::default() });
        page
    }

    pub const ROOT: usize = 0;
    pub const BODY: usize = 1;

    /// All elements, and pseudo-elements.
    pub fn elements(&self) -> &[Element] {
        &self.elements
    }

    /// Adds an element as the last child of another.
    pub fn add(&mut self, parent: Option<usize>, element: Element) -> usize {
        let at = self.elements.len();
        if let Some(parent) = parent.filter(|_| element.pseudo.is_none()) {
            self.elements[parent].children.push(at);
        }
        self.elements.push(Element { parent, ..element });
        at
    }

    /// Adds an element right before one of the children of its parent.
    pub fn add_before(&mut self, sibling: usize, element: Element) -> usize {
        let parent = self.elements[sibling].parent;
        let at = self.add(parent, element);
        if let Some(parent) = parent {
            let children = &mut self.elements[parent].children;
            children.pop();
            let place = children.iter().position(|child| *child == sibling).unwrap_or(children.len());
            children.insert(place, at);
        }
        at
    }

    pub fn element(&self, at: usize) -> &Element {
        &self.elements[at]
    }

    pub fn element_mut(&mut self, at: usize) -> &mut Element {
        &mut self.elements[at]
    }

    /// Whether a selector matches an element. One with a pseudo-element matches nothing but that.
    pub fn matches(&self, selector: &Selector, at: usize) -> bool {
        if selector.pseudo_element().is_some() != self.elements[at].pseudo.is_some() {
            return false;
        }
        let mut caches = SelectorCaches::default();
        let mut context = MatchingContext::new(
            MatchingMode::Normal,
            None,
            &mut caches,
            QuirksMode::NoQuirks,
            NeedsSelectorFlags::No,
            MatchingForInvalidation::No,
        );
        matches_selector(selector, 0, None, Place { page: self, at }, &mut context)
    }

    /// The page as JSON, for someone who builds it: each element with `tag`, `attributes`, `flags` (its pseudo-classes),
    /// `children`, and `this` on the one in question.
    pub fn to_json(&self, this: usize) -> Value {
        let this = if self.elements[this].pseudo.is_some() { self.elements[this].parent } else { Some(this) };
        self.json(Self::ROOT, this)
    }

    fn json(&self, at: usize, this: Option<usize>) -> Value {
        let element = &self.elements[at];
        let children: Vec<Value> = element.children.iter().map(|child| self.json(*child, this)).collect();
        json!({
            "tag": element.tag,
            "attributes": element.attributes,
            "flags": element.flags,
            "children": children,
            "this": this == Some(at),
        })
    }
}

/// An element in its page.
#[derive(Debug, Clone, Copy)]
struct Place<'a> {
    page: &'a Page,
    at: usize,
}

impl<'a> Place<'a> {
    fn element(self) -> &'a Element {
        &self.page.elements[self.at]
    }

    fn to(self, at: usize) -> Self {
        Self { at, ..self }
    }

    /// The sibling so many places farther.
    fn sibling(self, by: isize) -> Option<Self> {
        let siblings = &self.page.elements[self.element().parent?].children;
        let place = siblings.iter().position(|one| *one == self.at)?.checked_add_signed(by)?;
        siblings.get(place).map(|at| self.to(*at))
    }
}

impl selectors::Element for Place<'_> {
    type Impl = Css;

    fn opaque(&self) -> OpaqueElement {
        OpaqueElement::new(self.element())
    }

    fn parent_element(&self) -> Option<Self> {
        self.element().parent.map(|parent| self.to(parent))
    }

    fn parent_node_is_shadow_root(&self) -> bool {
        false
    }

    fn containing_shadow_host(&self) -> Option<Self> {
        None
    }

    fn is_pseudo_element(&self) -> bool {
        self.element().pseudo.is_some()
    }

    fn prev_sibling_element(&self) -> Option<Self> {
        self.sibling(-1)
    }

    fn next_sibling_element(&self) -> Option<Self> {
        self.sibling(1)
    }

    fn first_element_child(&self) -> Option<Self> {
        self.element().children.first().map(|child| self.to(*child))
    }

    fn is_html_element_in_html_document(&self) -> bool {
        true
    }

    fn has_local_name(&self, name: &str) -> bool {
        self.element().tag == name
    }

    fn has_namespace(&self, _: &str) -> bool {
        true
    }

    fn is_same_type(&self, other: &Self) -> bool {
        self.element().tag == other.element().tag
    }

    fn attr_matches(
        &self,
        _: &NamespaceConstraint<&Name>,
        name: &Name,
        operation: &AttrSelectorOperation<&Quoted>,
    ) -> bool {
        self.element().attribute(&name.0).is_some_and(|value| match operation {
            AttrSelectorOperation::Exists => true,
            AttrSelectorOperation::WithValue { operator, case_sensitivity, value: wanted } => {
                operator.eval_str(value, &wanted.0, *case_sensitivity)
            }
        })
    }

    fn match_non_ts_pseudo_class(&self, class: &PseudoClass, _: &mut MatchingContext<Css>) -> bool {
        self.element().flags.contains(&class.0)
    }

    fn match_pseudo_element(&self, pseudo: &Pseudo, _: &mut MatchingContext<Css>) -> bool {
        self.element().pseudo.as_ref() == Some(pseudo)
    }

    fn apply_selector_flags(&self, _: ElementSelectorFlags) {}

    fn is_link(&self) -> bool {
        self.element().flags.contains("link")
    }

    fn is_html_slot_element(&self) -> bool {
        false
    }

    fn has_id(&self, id: &Name, case: CaseSensitivity) -> bool {
        self.element().attribute("id").is_some_and(|own| case.eq(own.as_bytes(), id.0.as_bytes()))
    }

    fn has_class(&self, class: &Name, case: CaseSensitivity) -> bool {
        self.element().classes().any(|own| case.eq(own.as_bytes(), class.0.as_bytes()))
    }

    fn has_custom_state(&self, _: &Name) -> bool {
        false
    }

    fn imported_part(&self, _: &Name) -> Option<Name> {
        None
    }

    fn is_part(&self, _: &Name) -> bool {
        false
    }

    fn is_empty(&self) -> bool {
        self.element().children.is_empty()
    }

    fn is_root(&self) -> bool {
        self.at == Page::ROOT
    }

    fn add_element_unique_hashes(&self, _: &mut BloomFilter) -> bool {
        false
    }
}
