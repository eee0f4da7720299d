//! Rules of a style sheet, and the changes of states.

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
}

/// The declarations of a state that differ from those at rest, and resets of those it does not have.
#[must_use]
pub fn changes(rest: &[Declaration], there: &[Declaration]) -> Vec<Declaration> {
    let gone = rest.iter().filter(|line| !there.iter().any(|other| other.name == line.name));
    let new = there.iter().filter(|line| !rest.contains(line)).cloned();
    let mut changes: Vec<Declaration> = new.chain(gone.map(Declaration::reset)).collect();
    restate(&mut changes, there);
    changes
}

/// The declarations of a state, where another state that holds at the same time may have set the same properties.
pub fn said_anew<'n>(names: impl IntoIterator<Item = &'n String>, there: &[Declaration]) -> Vec<Declaration> {
    let mut lines: Vec<Declaration> = Vec::new();
    for name in names {
        let own = there.iter().find(|line| line.name == *name).cloned();
        let unset = || (!name.starts_with("--")).then(|| Declaration::one(name.clone(), "").reset());
        let known = lines.iter().any(|other| other.name == *name);
        lines.extend(own.or_else(unset).filter(|_| !known));
    }
    lines
}

/// Repeats the declarations that the shorthand `background` resets (CSS Backgrounds and Borders 3, "Backgrounds
/// Shorthand").
fn restate(changes: &mut Vec<Declaration>, there: &[Declaration]) {
    const SET_BACK: [&str; 3] = ["-webkit-background-clip", "background-clip", "background-origin"];
    if !changes.iter().any(|line| line.name == "background") {
        return;
    }
    for line in there.iter().filter(|line| SET_BACK.contains(&line.name.as_ref())) {
        if !changes.contains(line) {
            changes.push(line.clone());
        }
    }
}

/// The selector of a state (Selectors 4; `aria-disabled` from WAI-ARIA 1.2).
#[must_use]
pub fn selector(class: &str, state: State) -> String {
    match state {
        State::Hover => format!("{class}:hover"),
        State::Pressed => format!("{class}:active"),
        State::Focus => format!("{class}:focus-visible"),
        State::Disabled => format!("{class}:disabled,\n{class}[aria-disabled=\"true\"]"),
    }
}

/// The transition of the properties that change from state to state.
pub fn transition_declaration(
    style_declarations: &[Declaration],
    transition: &Transition,
) -> Option<Declaration> {
    let moving = ["box-shadow", "text-shadow", "filter", "backdrop-filter", "background"];
    let said = style_declarations.iter().filter(|line| moving.contains(&line.name.as_ref()));
    let values: Vec<String> =
        said.map(|line| format!("{} {}ms {}", line.name, transition.duration, transition.curve)).collect();
    (!values.is_empty()).then_some(Declaration { name: "transition".into(), values })
}
