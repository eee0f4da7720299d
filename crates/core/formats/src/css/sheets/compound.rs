//! Conditions of a selector, one set for each element it names.

use std::fmt::Write as _;

use cssparser::{ToCss as _, serialize_identifier};
use selectors::attr::{AttrSelectorOperator, ParsedAttrSelectorOperation};
use selectors::parser::{Combinator, NthType};

use super::selector::{Component, Pseudo, Selector};
use crate::model::State;

/// The conditions of one compound selector on an element.
#[derive(Debug, Clone, Default, PartialEq)]
pub(super) struct ElementConditions {
    pub tag: Option<String>,
    /// Classes and ids among them.
    pub attributes: Vec<(String, String)>,
    /// Pseudo-classes that are no states of ours.
    pub flags: Vec<String>,
    pub states: Vec<State>,
    /// It has the focus from a click, which browsers show no ring for.
    pub clicked: bool,
    pub is_root: bool,
    pub pseudo: Option<Pseudo>,
    /// Descendants it must contain, from `:has()`.
    pub within: Vec<Chain>,
    /// Other conditions, as they stand in the selector.
    pub besides: String,
    /// How many siblings it needs before and after it at least.
    pub before: usize,
    pub after: usize,
}

/// An element, and how it relates to the one to the left in the selector.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Link {
    pub asked: ElementConditions,
    pub to_left: Option<Combinator>,
}

/// From the element in question outwards.
pub(super) type Chain = Vec<Link>;

/// Ways to read one selector that are tried: each of the selectors in `:is()` is one.
const MAX_WAYS: usize = 24;

/// Attributes of disabled controls (WAI-ARIA 1.2; HTML).
pub(super) const DISABLED: [(&str, &str); 3] =
    [("disabled", ""), ("aria-disabled", "true"), ("data-disabled", "true")];

impl ElementConditions {
    /// The attribute or class that is all it asks for, besides that it may be the root or the body.
    pub fn single_attribute(&self) -> Option<(String, String)> {
        let plain = self.besides.is_empty()
            && self.flags.is_empty()
            && self.states.is_empty()
            && self.pseudo.is_none()
            && self.within.is_empty();
        let page = self.tag.as_deref().is_none_or(|tag| ["html", "body"].contains(&tag));
        match self.attributes.as_slice() {
            [one] if plain && page => Some(one.clone()),
            _ => None,
        }
    }

    /// Whether it is the root or the body and nothing more.
    pub fn is_page(&self) -> bool {
        let named = self.tag.as_deref().map_or(self.is_root, |tag| ["html", "body"].contains(&tag));
        named && self.attributes.is_empty() && self.besides.is_empty() && self.pseudo.is_none()
    }

    pub fn merge(&mut self, other: &Self) {
        self.tag = self.tag.take().or_else(|| other.tag.clone());
        extend_new(&mut self.attributes, &other.attributes);
        extend_new(&mut self.flags, &other.flags);
        self.states.extend(other.states.iter().copied());
        self.clicked |= other.clicked;
        self.is_root |= other.is_root;
        self.pseudo = self.pseudo.take().or_else(|| other.pseudo.clone());
        self.within.extend(other.within.iter().cloned());
        self.besides.push_str(&other.besides);
        self.before = self.before.max(other.before);
        self.after = self.after.max(other.after);
    }

    pub fn name(&self) -> String {
        let mut words: Vec<&str> = self.tag.iter().map(String::as_str).collect();
        let named = |name: &str| ["class", "id"].contains(&name);
        words.extend(self.attributes.iter().filter(|(name, _)| named(name)).map(|(_, value)| value.as_str()));
        let mut text = words.join(".");
        for (name, value) in self.attributes.iter().filter(|(name, _)| !named(name)) {
            let value = if value.is_empty() { name } else { value };
            let _ = write!(text, "{}{value}", if text.is_empty() { "" } else { " " });
        }
        if self.is_root && text.is_empty() {
            text.push_str("root");
        }
        for flag in &self.flags {
            let _ = write!(text, "{}{flag}", if text.is_empty() { "" } else { " " });
        }
        if let Some(pseudo) = &self.pseudo {
            let _ = write!(text, "{}{}", if text.is_empty() { "" } else { " " }, pseudo.0);
        }
        if text.is_empty() { "everything".to_owned() } else { text }
    }

    pub fn selector(&self) -> String {
        let mut text = self.tag.clone().unwrap_or_default();
        for (name, value) in &self.attributes {
            let mark = match name.as_str() {
                "class" => '.',
                "id" => '#',
                _ => '[',
            };
            text.push(mark);
            if mark != '[' {
                let _ = serialize_identifier(value, &mut text);
            } else if value.is_empty() {
                let _ = write!(text, "{name}]");
            } else {
                let _ = write!(text, "{name}=\"{value}\"]");
            }
        }
        if self.is_root {
            text.push_str(":root");
        }
        for flag in &self.flags {
            let _ = write!(text, ":{flag}");
        }
        text.push_str(&self.besides);
        if let Some(pseudo) = &self.pseudo {
            text.push_str(&pseudo.to_css_string());
        }
        if text.is_empty() { "*".to_owned() } else { text }
    }
}

/// Adds those that are not there.
fn extend_new<T: Clone + PartialEq>(list: &mut Vec<T>, more: &[T]) {
    for one in more {
        if !list.contains(one) {
            list.push(one.clone());
        }
    }
}

/// Selectors within selectors that are followed.
const MAX_DEPTH: usize = 8;

/// The ways to read a selector, each without `:is()` and `:where()`.
pub(super) fn unfolded(selector: &Selector, depth: usize) -> Vec<Chain> {
    if depth > MAX_DEPTH {
        return Vec::new();
    }
    // For each way: what has been read so far, and what lies outside of everything.
    let mut ways: Vec<(Chain, Chain)> = vec![(Vec::new(), Vec::new())];
    let mut parts = selector.iter();
    let mut pseudo = None;
    loop {
        let mut compounds = vec![(ElementConditions::default(), OuterElements::default())];
        for part in parts.by_ref() {
            compounds = with_part(compounds, part, depth);
            if compounds.is_empty() {
                return Vec::new();
            }
        }
        let to_left = parts.next_sequence();
        if to_left == Some(Combinator::PseudoElement) {
            pseudo = compounds.into_iter().next().map(|(asked, _)| asked);
            continue;
        }
        let own = pseudo.take();
        let mut next = Vec::new();
        for (chain, outside) in &ways {
            for (asked, outer) in &compounds {
                let (mut chain, mut outside, mut asked) = (chain.clone(), outside.clone(), asked.clone());
                if let Some(own) = &own {
                    asked.merge(own);
                }
                outer.put_around(asked, to_left, &mut chain, &mut outside);
                next.push((chain, outside));
            }
        }
        next.truncate(MAX_WAYS);
        ways = next;
        if to_left.is_none() {
            break;
        }
    }
    ways.into_iter().map(|(chain, outside)| wrapped(chain, outside)).collect()
}

/// Conditions on the elements around one, from a selector within `:is()`.
#[derive(Debug, Clone, Default)]
struct OuterElements {
    relation: Option<Combinator>,
    chain: Chain,
}

impl OuterElements {
    /// Puts an element and the elements around it at the end of a chain; those that cannot lie there lie outside of
    /// everything.
    fn put_around(
        &self,
        asked: ElementConditions,
        to_left: Option<Combinator>,
        chain: &mut Chain,
        outside: &mut Chain,
    ) {
        let between = matches!(to_left, None | Some(Combinator::Descendant)) && !self.chain.is_empty();
        if !between {
            chain.push(Link { asked, to_left });
            return outside.extend(self.chain.iter().cloned());
        }
        chain.push(Link { asked, to_left: self.relation });
        chain.extend(self.chain.iter().cloned());
        if let Some(last) = chain.last_mut() {
            last.to_left = to_left;
        }
    }

    fn add(&mut self, relation: Option<Combinator>, chain: &[Link]) {
        if self.chain.is_empty() {
            self.relation = relation;
        } else if let Some(last) = self.chain.last_mut() {
            last.to_left = Some(Combinator::Descendant);
        }
        self.chain.extend(chain.iter().cloned());
    }
}

/// A chain with others around it.
fn wrapped(mut chain: Chain, outside: Chain) -> Chain {
    if let (Some(last), false) = (chain.last_mut(), outside.is_empty()) {
        last.to_left = Some(Combinator::Descendant);
    }
    chain.extend(outside);
    chain
}

/// Conditions on an element with one part more; each is read in all its ways.
fn with_part(
    compounds: Vec<(ElementConditions, OuterElements)>,
    part: &Component,
    depth: usize,
) -> Vec<(ElementConditions, OuterElements)> {
    let lists = match part {
        Component::Is(list) | Component::Where(list) => list,
        // Of other trees, or nothing that any element is.
        Component::Slotted(_) | Component::Part(_) | Component::Host(_) | Component::Invalid(_) => {
            return Vec::new();
        }
        _ => {
            let mut compounds = compounds;
            for (asked, _) in &mut compounds {
                asked.add(part, depth);
            }
            return compounds;
        }
    };
    let mut next = Vec::new();
    for (asked, outer) in &compounds {
        for inner in lists.slice() {
            for way in unfolded(inner, depth + 1) {
                let Some((first, rest)) = way.split_first() else { continue };
                let (mut asked, mut outer) = (asked.clone(), outer.clone());
                asked.merge(&first.asked);
                outer.add(first.to_left, rest);
                next.push((asked, outer));
            }
        }
    }
    next.truncate(MAX_WAYS);
    next
}

impl ElementConditions {
    fn add(&mut self, part: &Component, depth: usize) {
        match part {
            Component::LocalName(local) => self.tag = Some(local.lower_name.0.clone()),
            Component::ID(id) => self.attributes.push(("id".to_owned(), id.0.clone())),
            Component::Class(class) => self.attributes.push(("class".to_owned(), class.0.clone())),
            Component::AttributeInNoNamespaceExists { local_name_lower, .. } => {
                self.attribute(&local_name_lower.0, None);
            }
            Component::AttributeInNoNamespace { local_name, operator, value, .. } => {
                self.attribute(&local_name.0, Some((*operator, &value.0)));
            }
            Component::AttributeOther(other) => match &other.operation {
                ParsedAttrSelectorOperation::Exists => self.attribute(&other.local_name_lower.0, None),
                ParsedAttrSelectorOperation::WithValue { operator, value, .. } => {
                    self.attribute(&other.local_name_lower.0, Some((*operator, &value.0)));
                }
            },
            Component::Root => self.is_root = true,
            Component::Nth(nth) => {
                self.nth(nth.ty, (nth.an_plus_b.0, nth.an_plus_b.1));
                self.besides.push_str(&part.to_css_string());
            }
            // It is not in a state that a sample is only put into.
            Component::Negation(list) if list.slice().iter().all(is_state) => {
                self.clicked |= list.slice().iter().any(|one| one.to_css_string() == ":focus-visible");
            }
            Component::Negation(_) | Component::Empty | Component::NthOf(_) => {
                self.besides.push_str(&part.to_css_string());
            }
            Component::NonTSPseudoClass(class) => match state_of(&class.0) {
                Some(state) => self.states.push(state),
                None => self.flags.push(class.0.clone()),
            },
            Component::PseudoElement(pseudo) => self.pseudo = Some(pseudo.clone()),
            Component::Has(list) => {
                let first =
                    list.first().and_then(|one| unfolded(&one.selector, depth + 1).into_iter().next());
                // The last of the chain stands for the element itself.
                let inner = first.map(|mut chain| {
                    chain.pop();
                    chain
                });
                self.within.extend(inner.filter(|chain| !chain.is_empty()));
                self.besides.push_str(&part.to_css_string());
            }
            _ => {}
        }
    }

    fn attribute(&mut self, name: &str, value: Option<(AttrSelectorOperator, &String)>) {
        let (operator, text) = value.map_or((None, String::new()), |(one, text)| (Some(one), text.clone()));
        if operator != Some(AttrSelectorOperator::Substring)
            && DISABLED.iter().any(|(own, is)| *own == name && (text.is_empty() || text == *is))
        {
            return self.states.push(State::Disabled);
        }
        let text = if name == "class" { text.trim().to_owned() } else { text };
        self.attributes.push((name.to_owned(), text));
    }

    /// How many siblings it needs to be the first that is meant.
    fn nth(&mut self, kind: NthType, (step, offset): (i32, i32)) {
        let place = (0..=64).map(|n| step.saturating_mul(n).saturating_add(offset)).find(|place| *place > 0);
        let others = place.map_or(0, |place| usize::try_from(place - 1).unwrap_or(0).min(16));
        match kind {
            NthType::Child | NthType::OfType => self.before = self.before.max(others),
            NthType::LastChild | NthType::LastOfType => self.after = self.after.max(others),
            NthType::OnlyChild | NthType::OnlyOfType => {}
        }
    }
}

/// Whether a selector is about nothing but one of our states.
fn is_state(selector: &Selector) -> bool {
    let mut parts = selector.iter();
    let one = parts.by_ref().all(|part| match part {
        Component::NonTSPseudoClass(class) => state_of(&class.0).is_some(),
        Component::AttributeInNoNamespaceExists { local_name_lower, .. } => is_disabled(&local_name_lower.0),
        Component::AttributeInNoNamespace { local_name, .. } => is_disabled(&local_name.0),
        Component::Class(class) => class.0 == "disabled",
        _ => false,
    });
    one && parts.next_sequence().is_none()
}

fn is_disabled(attribute: &str) -> bool {
    DISABLED.iter().any(|(name, _)| *name == attribute)
}

fn state_of(class: &str) -> Option<State> {
    Some(match class {
        "hover" => State::Hover,
        "active" => State::Pressed,
        "focus" | "focus-visible" | "focus-within" => State::Focus,
        "disabled" => State::Disabled,
        _ => return None,
    })
}
