//! The least page on which a selector matches: rules are tried on it.

use std::cmp::Reverse;

use selectors::parser::Combinator;

use super::compound::{Chain, DISABLED, ElementConditions, unfolded};
use super::element::{Element, Page};
use super::selector::Selector;
use super::theme::{Marker, Markers};
use crate::model::State;

/// An element that a selector is about, without the state and theme it is about it in.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Sample {
    chain: Chain,
    /// The state, and which element of the chain is in it.
    pub state: Option<(State, usize)>,
    /// Weaker states that hold at the same time.
    others: Vec<(State, usize)>,
    /// The focus comes from a click.
    clicked: bool,
    /// Markers of the theme it is in.
    pub themes: Vec<Marker>,
}

/// Why there is no sample of a selector.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(super) enum SampleError {
    /// Of a part of another tree, such as `::part()` and `:host`.
    Shadow,
    /// Of an element in one that shows no elements in it.
    Childless,
    /// No element was found on which it matches.
    NotFound,
}

/// The ways to read a selector; none where it is about another tree.
pub(super) fn ways(selector: &Selector) -> Vec<Chain> {
    unfolded(selector, 0)
}

impl Sample {
    /// The sample of one way to read a selector.
    pub fn from_chain(mut chain: Chain, markers: &Markers) -> Self {
        let mut themes = Vec::new();
        // Elements that only say which theme there is are the root's.
        let mut at = chain.len();
        while at > 0 {
            at -= 1;
            let Some(marker) = markers.asked_by(&chain[at].asked) else { continue };
            themes.push(marker);
            if at == 0 {
                chain[0].asked = ElementConditions { is_root: true, ..ElementConditions::default() };
            } else {
                let outer = chain.remove(at).to_left;
                chain[at - 1].to_left = outer;
            }
        }
        let clicked =
            chain.iter().any(|link| link.asked.clicked && link.asked.states.contains(&State::Focus));
        let (state, others) = states_of(&mut chain);
        Self { chain, state, others, clicked, themes }
    }

    /// Whether a finish has no state of its own for it: two states at once, or the focus from a click.
    pub fn is_between(&self) -> bool {
        self.clicked || !self.others.is_empty()
    }

    /// The part that a finish shows in the place of a state between others.
    pub fn shown_as(&self) -> Option<State> {
        self.state.map(|(state, _)| state).filter(|state| !(self.clicked && *state == State::Focus))
    }

    /// The selector of the element, without state and theme: as short as it can be said.
    pub fn selector(&self) -> String {
        let mut text = String::new();
        for link in self.chain.iter().rev() {
            match link.to_left {
                Some(Combinator::Child) => text.push_str(" > "),
                Some(Combinator::Descendant) => text.push(' '),
                Some(Combinator::NextSibling) => text.push_str(" + "),
                Some(Combinator::LaterSibling) => text.push_str(" ~ "),
                _ => {}
            }
            text.push_str(&link.asked.selector());
        }
        text
    }

    /// Its name for people: `.card > .lid` is "card > lid".
    pub fn name(&self) -> String {
        let mut text = String::new();
        for link in self.chain.iter().rev() {
            text.push_str(match link.to_left {
                Some(Combinator::Child) => " > ",
                Some(Combinator::Descendant) => " ",
                Some(Combinator::NextSibling) => " + ",
                Some(Combinator::LaterSibling) => " ~ ",
                _ => "",
            });
            text.push_str(&link.asked.name());
        }
        text
    }

    /// The same element with everything that another one asks of its last element too. Only for those that stand alone.
    pub fn union(&self, other: &Self) -> Option<Self> {
        let wider = &other.chain[0].asked;
        let fits = wider.tag.is_none() && wider.pseudo.is_none() && !wider.is_root;
        (other.is_alone() && fits && !self.is_kind_of(other)).then(|| self.with(other))
    }

    /// Another element of the same kind that matches more selectors, within the same elements.
    pub fn narrowed(&self, other: &Self) -> Option<Self> {
        if !other.is_kind_of(self) {
            return None;
        }
        match (self.chain.len(), other.chain.len()) {
            (_, 1) => Some(self.with(other)),
            (1, _) => Some(Self {
                state: None,
                others: Vec::new(),
                clicked: false,
                themes: Vec::new(),
                ..other.clone()
            }),
            _ => None,
        }
    }

    fn with(&self, other: &Self) -> Self {
        let mut both = self.clone();
        both.chain[0].asked.merge(&other.chain[0].asked);
        both
    }

    /// Whether it is one element that is found by a class, id or attribute, in no state and no theme.
    pub fn is_alone(&self) -> bool {
        let asked = &self.chain[0].asked;
        self.chain.len() == 1
            && self.state.is_none()
            && self.themes.is_empty()
            && !asked.attributes.is_empty()
    }

    /// Whether it is found by a class that is called like one of another element with something more: `btn-red`, `btn--red`.
    pub fn is_modifier_of(&self, base: &Self) -> bool {
        let is_longer = |class: &String, base: &String| {
            class.strip_prefix(base.as_str()).is_some_and(|rest| rest.starts_with(['-', '_']))
        };
        let mut classes = self.attributes().iter().filter(|(name, _)| name == "class");
        classes.any(|(_, class)| {
            let bases = base.attributes().iter().filter(|(name, _)| name == "class");
            bases.into_iter().any(|(_, base)| is_longer(class, base))
        })
    }

    /// The classes, ids and attributes of the elements around it and next to it.
    pub fn around(&self) -> impl Iterator<Item = &(String, String)> {
        self.chain.iter().skip(1).flat_map(|link| &link.asked.attributes)
    }

    /// The classes, ids and attributes that its last element is found by.
    pub fn attributes(&self) -> &[(String, String)] {
        &self.chain[0].asked.attributes
    }

    /// Whether it is in an element that shows no elements in it.
    pub fn is_in_childless(&self) -> bool {
        let holds_none = |tag: &String| CHILDLESS.contains(&tag.as_str());
        self.chain.windows(2).any(|pair| {
            let is_in = matches!(pair[0].to_left, Some(Combinator::Child | Combinator::Descendant));
            is_in && pair[1].asked.tag.as_ref().is_some_and(holds_none)
        })
    }

    /// Whether it is any element, or the page itself.
    pub fn is_anything(&self) -> bool {
        let asked = &self.chain[0].asked;
        asked.attributes.is_empty() && (asked.tag.is_none() || asked.is_page())
    }

    /// Whether it is asked for which of its siblings it is.
    pub fn asks_for_place(&self) -> bool {
        self.chain.iter().any(|link| {
            let asked = &link.asked;
            !asked.besides.is_empty() || asked.before > 0 || asked.after > 0
        })
    }

    /// The same element in the state that another is in.
    pub fn in_state_of(&self, other: &Self) -> Self {
        Self { state: other.state, others: other.others.clone(), clicked: other.clicked, ..self.clone() }
    }

    /// Whether everything that another asks of its last element, this asks of its own.
    pub fn is_kind_of(&self, other: &Self) -> bool {
        let (own, wider) = (&self.chain[0].asked, &other.chain[0].asked);
        let some = wider.tag.is_some() || !wider.attributes.is_empty();
        some && wider.pseudo == own.pseudo
            && (wider.tag.is_none() || wider.tag == own.tag)
            && wider.attributes.iter().all(|one| own.attributes.contains(one))
            && wider.flags.iter().all(|one| own.flags.contains(one))
    }

    /// The handles of its last element: a class, id, attribute or kind.
    pub fn handles(&self) -> Vec<String> {
        let asked = &self.chain[0].asked;
        let attributes = asked.attributes.iter().map(|(name, value)| format!("{name}={value}"));
        attributes.chain(asked.tag.iter().cloned()).collect()
    }

    /// The pseudo-element that it is, if it is one.
    pub fn pseudo(&self) -> Option<&str> {
        self.chain[0].asked.pseudo.as_ref().map(|pseudo| pseudo.0.as_str())
    }

    /// A page on which it is, with so many elements before and after each of its elements; and which of them it is.
    pub fn page(&self, state: Option<State>, markers: &[Marker], siblings: Siblings) -> (Page, usize) {
        let mut page = Page::empty();
        for at in [Page::ROOT, Page::BODY] {
            for marker in markers {
                marker.set_on(page.element_mut(at));
            }
        }
        let elements = put(&mut page, &self.chain, Page::BODY, siblings);
        let mut this = elements[0];
        if let Some(state) = state {
            let own = self.state.filter(|(own, _)| *own == state);
            let others = self.others.iter().filter(|_| own.is_some());
            let place = self.state.map_or(0, |(_, at)| at);
            for (state, place) in others.copied().chain([(state, place)]) {
                let at = elements[place.min(elements.len() - 1)];
                set_state(&mut page, at, state);
                if self.clicked && state == State::Focus {
                    page.element_mut(at).flags.remove("focus-visible");
                }
            }
        }
        if let Some(pseudo) = &self.chain[0].asked.pseudo {
            this = page.add(Some(this), Element { pseudo: Some(pseudo.clone()), ..Element::default() });
            if let Some(state) = state {
                set_state(&mut page, this, state);
            }
        }
        (page, this)
    }
}

/// Elements without children ("void elements", HTML, section 13.1.2), and those that show a control in their place.
const CHILDLESS: [&str; 18] = [
    "area", "audio", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "meter", "progress",
    "source", "textarea", "track", "video", "wbr",
];

/// Elements that stand beside one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Siblings {
    pub before: usize,
    pub after: usize,
}

type InState = (State, usize);

/// The state that a chain is about, which is the strongest, and those that hold at the same time, taken out of it.
fn states_of(chain: &mut Chain) -> (Option<InState>, Vec<InState>) {
    let mut all: Vec<InState> = Vec::new();
    for (at, link) in chain.iter_mut().enumerate() {
        let own = std::mem::take(&mut link.asked.states).into_iter().map(|state| (state, at));
        all.extend(own);
    }
    let Some(strongest) = all.iter().copied().max_by_key(|(state, at)| (strength(*state), Reverse(*at)))
    else {
        return (None, Vec::new());
    };
    // Whatever is pressed is under the pointer too, with all that lies around it.
    let (state, place) = strongest;
    let implied = |(other, at): &InState| {
        *other == state && *at == place
            || state == State::Pressed && *other == State::Hover && *at >= place
            || *other == state && state != State::Disabled && *at > place
    };
    all.retain(|one| !implied(one));
    all.dedup();
    (Some(strongest), all)
}

/// Which of two states an element shows that is in both.
fn strength(state: State) -> usize {
    match state {
        State::Hover => 0,
        State::Focus => 1,
        State::Pressed => 2,
        State::Disabled => 3,
    }
}

/// Puts an element into a state, with everything that browsers put into it too.
fn set_state(page: &mut Page, at: usize, state: State) {
    let flags: &[&str] = match state {
        State::Hover => &["hover"],
        State::Pressed => &["hover", "active"],
        State::Focus => &["focus", "focus-visible", "focus-within"],
        State::Disabled => &["disabled"],
    };
    let element = page.element_mut(at);
    element.flags.extend(flags.iter().map(|flag| (*flag).to_owned()));
    if state == State::Disabled {
        element.flags.remove("enabled");
        for (name, value) in DISABLED {
            element.set(name, value);
        }
        return;
    }
    // What is under the pointer, or has the focus in it, is so with all that lies around it.
    let mut outer = page.element(at).parent;
    while let Some(at) = outer {
        let element = page.element_mut(at);
        for flag in flags.iter().filter(|flag| !["focus", "focus-visible"].contains(flag)) {
            element.flags.insert((*flag).to_owned());
        }
        outer = element.parent;
    }
}

/// Puts the elements of a chain into a page, the outermost first; returns them in the order of the chain.
fn put(page: &mut Page, chain: &Chain, parent: usize, siblings: Siblings) -> Vec<usize> {
    let mut elements = vec![parent; chain.len()];
    let mut left: Option<usize> = None;
    for (place, link) in chain.iter().enumerate().rev() {
        let relation = link.to_left.filter(|_| left.is_some());
        let home = match (relation, left) {
            (Some(Combinator::NextSibling | Combinator::LaterSibling), Some(left)) => {
                page.element(left).parent.unwrap_or(Page::BODY)
            }
            (Some(_), Some(left)) => left,
            _ => parent,
        };
        let at = if link.asked.is_root || link.asked.tag.as_deref() == Some("html") {
            Page::ROOT
        } else if link.asked.tag.as_deref() == Some("body") {
            Page::BODY
        } else {
            let tag = link.asked.tag.clone().unwrap_or_else(|| "div".to_owned());
            let at = page.add(Some(home), Element { tag, ..Element::default() });
            fill_up(page, at, &link.asked, siblings);
            at
        };
        set_on(&link.asked, page, at);
        // Those within `:has()` are in their states always.
        for state in &link.asked.states {
            set_state(page, at, *state);
        }
        elements[place] = at;
        left = Some(at);
    }
    elements
}

/// Puts siblings around an element that is not to be the only one.
fn fill_up(page: &mut Page, at: usize, asked: &ElementConditions, siblings: Siblings) {
    let tag = page.element(at).tag.clone();
    let filler = || Element { tag: tag.clone(), ..Element::default() };
    for _ in 0..asked.before.max(siblings.before) {
        page.add_before(at, filler());
    }
    let parent = page.element(at).parent;
    for _ in 0..asked.after.max(siblings.after) {
        page.add(parent, filler());
    }
}

/// Gives an element everything that is asked of it.
fn set_on(asked: &ElementConditions, page: &mut Page, at: usize) {
    let element = page.element_mut(at);
    for (name, value) in &asked.attributes {
        element.set(name, value);
    }
    element.flags.extend(asked.flags.iter().cloned());
    for chain in &asked.within {
        put(page, chain, at, Siblings::default());
    }
}
