//! The elements that rules are for, at rest and in the states of their control.

use super::rule::selector;
use crate::model::State;

/// An element by its class, and the control whose states it follows.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Subject {
    element: String,
    /// The selector of another element, around it, that is its control.
    control: Option<String>,
    /// Selectors of the controls within that one, whose pointer states are not its own though browsers match them there too.
    inner: Vec<String>,
}

impl Subject {
    /// An element, by a selector, that is its own control.
    #[must_use]
    pub fn new(element: impl Into<String>) -> Self {
        Self { element: element.into(), control: None, inner: Vec::new() }
    }

    /// The same within a control, by its selector.
    #[must_use]
    pub fn within(self, control: Option<String>) -> Self {
        Self { control, ..self }
    }

    /// The same where its control has others within it, by their selectors.
    #[must_use]
    pub fn around(self, inner: Vec<String>) -> Self {
        Self { inner, ..self }
    }

    /// The selector at rest.
    #[must_use]
    pub fn at_rest(&self) -> &str {
        &self.element
    }

    /// Whether its states are those of another element.
    #[must_use]
    pub fn follows_another(&self) -> bool {
        self.control.is_some()
    }

    /// Whether its control has others within it.
    #[must_use]
    pub fn has_inner(&self) -> bool {
        !self.inner.is_empty()
    }

    /// The selector in a state, as strong with inner controls as without (Selectors 4, "The Relational Pseudo-class: :has()").
    #[must_use]
    pub fn in_state(&self, state: State) -> String {
        let guard = self
            .inner_selector(state)
            .map_or_else(String::new, |inner| format!(":where(:not(:has({inner})))"));
        self.selector(state, &guard)
    }

    /// The selector while an inner control is in a state that browsers match on the outer one too; `None` for other states.
    #[must_use]
    pub fn while_inner(&self, state: State) -> Option<String> {
        self.inner_selector(state).map(|inner| self.selector(state, &format!(":has({inner})")))
    }

    /// Only pointer states are matched around their element.
    fn inner_selector(&self, state: State) -> Option<String> {
        if self.inner.is_empty() || !matches!(state, State::Hover | State::Pressed) {
            return None;
        }
        Some(self.inner.iter().map(|inner| selector(inner, state)).collect::<Vec<_>>().join(", "))
    }

    fn selector(&self, state: State, guard: &str) -> String {
        let control = self.control.as_ref().unwrap_or(&self.element);
        let descendant = self.control.as_ref().map_or_else(String::new, |_| format!(" {}", self.element));
        let each = |one: &str| format!("{one}{guard}{descendant}");
        selector(control, state).split(",\n").map(each).collect::<Vec<_>>().join(",\n")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_part_follows_its_control() {
        let alone = Subject::new(".open");
        assert_eq!(alone.in_state(State::Pressed), ".open:active");
        let label = Subject::new(".open-label").within(Some(".open".to_owned()));
        assert_eq!(label.at_rest(), ".open-label");
        assert_eq!(label.in_state(State::Pressed), ".open:active .open-label");
        let disabled = ".open:disabled .open-label,\n.open[aria-disabled=\"true\"] .open-label";
        assert_eq!(label.in_state(State::Disabled), disabled);
    }

    #[test]
    fn a_control_within_another_does_not_press_it() {
        let card = Subject::new(".card").around(vec![".buy".to_owned(), ".save".to_owned()]);
        assert_eq!(
            card.in_state(State::Pressed),
            ".card:active:where(:not(:has(.buy:active, .save:active)))"
        );
        assert_eq!(card.in_state(State::Focus), ".card:focus-visible");
        assert_eq!(
            card.while_inner(State::Hover).as_deref(),
            Some(".card:hover:has(.buy:hover, .save:hover)")
        );
        assert_eq!(card.while_inner(State::Disabled), None);
        let text = Subject::new(".text").within(Some(".card".to_owned())).around(vec![".buy".to_owned()]);
        assert_eq!(text.in_state(State::Hover), ".card:hover:where(:not(:has(.buy:hover))) .text");
    }
}
