//! Writing a piece as CSS, in the target that holds it best or the one that is asked for, with its states.

use std::fmt::Write as _;

use serde::Serialize;

use super::declare::{Declaration, geometry, looks};
use super::text::slug;
use super::values::values;
use crate::filter::markup;
use crate::handoff::{FidelityNote, Held, HeldFilter, Notes, Numbers, Target, best_target, hold, targets_of};
use crate::model::{Shape, State, Transition};
use crate::resolve::{Piece, PieceStates};

/// A piece's code, and how close the target comes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Code {
    /// What the CSS uses.
    pub target: Target,
    /// What it could use, the most natural first.
    pub targets: Vec<Target>,
    /// CSS rules: the piece at rest, then its states.
    pub css: String,
    /// What the page needs besides: SVG filters the CSS refers to. Empty where there are none.
    pub filters: String,
    /// The element the rules are for.
    pub html: String,
    /// The stack as plain values, one line a coat, for somebody who must type them elsewhere.
    pub values: String,
    /// What differs; empty where the CSS is exact.
    pub differences: Vec<FidelityNote>,
}

/// How a piece is to be written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Wanted {
    /// In which target; the one that holds it best when left out.
    pub target: Option<Target>,
    /// How its numbers are written.
    pub numbers: Numbers,
}

/// A piece with its states as CSS rules.
#[must_use]
pub fn piece_code(piece: &Piece, shape: &Shape, states: &PieceStates, wanted: Wanted) -> Code {
    let rest = wanted.numbers.of_piece(piece);
    let is_text = matches!(shape, Shape::Text(_));
    let held = match wanted.target {
        Some(target) => hold(&rest, target),
        None => best_target(&rest, is_text),
    };
    let class = slug(&piece.name);
    let mut writer = Writer { filters: String::new(), notes: held.notes.clone() };
    let mut lines = geometry(&held.element, shape);
    let looks = writer.looks(&held, shape, &class);
    // A border changes what the size means, so its lines stand in place of the plain ones.
    lines.retain(|line| !looks.iter().any(|other| other.name == line.name));
    lines.extend(looks.iter().cloned());
    let mut rules = String::new();
    for (state, piece) in &states.coats {
        let there = hold(&wanted.numbers.of_piece(piece), held.target);
        let name = format!("{class}-{}", state_name(*state));
        let changed = changes(&looks, &writer.looks(&there, shape, &name));
        if !changed.is_empty() {
            rules.push('\n');
            rules.push_str(&rule(&selector(&format!(".{class}"), *state), &changed));
        }
        for note in there.notes.0 {
            if !writer.notes.0.contains(&note) {
                writer.notes.0.push(note);
            }
        }
    }
    if !rules.is_empty() {
        lines.extend(states.transition.as_ref().and_then(|transition| moves(&looks, transition)));
    }
    Code {
        target: held.target,
        targets: targets_of(piece, is_text),
        css: format!("{}{rules}", rule(&format!(".{class}"), &lines)),
        filters: writer.filters,
        html: crate::svg::element(&held.element, shape, &class),
        values: values(&rest),
        differences: writer.notes.0,
    }
}

struct Writer {
    filters: String,
    notes: Notes,
}

impl Writer {
    fn looks(&mut self, held: &Held, shape: &Shape, name: &str) -> Vec<Declaration> {
        if let Some(HeldFilter::Svg(graph)) = &held.filter {
            let graph = graph.turned(-held.element.rotation);
            self.filters.push_str(&markup(&graph, name, held.element.silhouette.size()));
        }
        looks(held, shape, &format!("#{name}"))
    }
}

/// What has to be said in a state: what is other than at rest, and what is no longer there.
#[must_use]
pub(crate) fn changes(rest: &[Declaration], there: &[Declaration]) -> Vec<Declaration> {
    let gone = rest.iter().filter(|line| !there.iter().any(|other| other.name == line.name));
    let new = there.iter().filter(|line| !rest.contains(line)).cloned();
    new.chain(gone.map(Declaration::reset)).collect()
}

/// One rule.
#[must_use]
pub(crate) fn rule(selector: &str, lines: &[Declaration]) -> String {
    let mut text = format!("{selector} {{\n");
    for line in lines {
        let _ = write!(text, "{}", line.text(2));
    }
    text.push_str("}\n");
    text
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

pub(crate) fn state_name(state: State) -> &'static str {
    match state {
        State::Hover => "hover",
        State::Pressed => "pressed",
        State::Focus => "focus",
        State::Disabled => "disabled",
    }
}

/// The transition of what changes from state to state.
pub(crate) fn moves(looks: &[Declaration], transition: &Transition) -> Option<Declaration> {
    let moving = ["box-shadow", "text-shadow", "filter", "backdrop-filter", "background"];
    let said = looks.iter().filter(|line| moving.contains(&line.name));
    let values: Vec<String> =
        said.map(|line| format!("{} {}ms {}", line.name, transition.duration, transition.curve)).collect();
    (!values.is_empty()).then_some(Declaration { name: "transition", values })
}
