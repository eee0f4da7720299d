//! Rules of a style sheet, and what states change.

use super::declare::Declaration;
use crate::model::{State, Transition};

/// A rule: its selector and its declarations.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Rule {
    /// One selector, or several with `,` and a line break between them.
    pub selector: String,
    /// In the order they are written in.
    pub lines: Vec<Declaration>,
}

impl Rule {
    /// As it stands in a style sheet: custom properties first.
    #[must_use]
    pub fn text(&self) -> String {
        let (custom, others): (Vec<_>, Vec<_>) =
            self.lines.iter().partition(|line| line.name.starts_with("--"));
        let between = if custom.is_empty() || others.is_empty() { "" } else { "\n" };
        let text = |lines: Vec<&Declaration>| lines.into_iter().map(|line| line.text(2)).collect::<String>();
        format!("{} {{\n{}{between}{}}}\n", self.selector, text(custom), text(others))
    }

    /// The same selector within an ancestor that `place` selects, which adds nothing to its specificity; or that place
    /// itself for the root.
    #[must_use]
    pub fn within(&self, place: &str) -> Self {
        let selectors = self.selector.split(",\n").map(|one| match one {
            ":root" => place.to_owned(),
            one => format!(":where({place}) {one}"),
        });
        Self { selector: selectors.collect::<Vec<_>>().join(",\n"), lines: self.lines.clone() }
    }
}

/// The declarations of a state that differ from those at rest, and resets of those it does not have.
#[must_use]
pub(crate) fn changes(rest: &[Declaration], there: &[Declaration]) -> Vec<Declaration> {
    let gone = rest.iter().filter(|line| !there.iter().any(|other| other.name == line.name));
    let new = there.iter().filter(|line| !rest.contains(line)).cloned();
    new.chain(gone.map(Declaration::reset)).collect()
}

/// The selector of a state (Selectors 4; `aria-disabled` from WAI-ARIA 1.2).
#[must_use]
pub(crate) fn selector(class: &str, state: State) -> String {
    match state {
        State::Hover => format!("{class}:hover"),
        State::Pressed => format!("{class}:active"),
        State::Focus => format!("{class}:focus-visible"),
        State::Disabled => format!("{class}:disabled,\n{class}[aria-disabled=\"true\"]"),
    }
}

/// The transition of what changes from state to state.
pub(crate) fn transition_declaration(
    style_declarations: &[Declaration],
    transition: &Transition,
) -> Option<Declaration> {
    let moving = ["box-shadow", "text-shadow", "filter", "backdrop-filter", "background"];
    let said = style_declarations.iter().filter(|line| moving.contains(&line.name.as_ref()));
    let values: Vec<String> =
        said.map(|line| format!("{} {}ms {}", line.name, transition.duration, transition.curve)).collect();
    (!values.is_empty()).then_some(Declaration { name: "transition".into(), values })
}
