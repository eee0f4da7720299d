//! Whole style sheets in: every rule with depth in it becomes a finish named after its selector.

use std::collections::BTreeMap;

use super::compute::computed;
use super::error::CssError;
use super::filters::{backdrop_filter, filter_list};
use super::shadows::shadow_list;
use super::sheet::{Declaration, Rule, rules, split_at_commas};
use super::variables::{Room, Scope, properties};
use crate::import::{DiagnosticKind, FileRoom, Incoming};
use crate::limits;
use crate::model::{Coat, Finish, Id, State, Transition};

/// Reads a style sheet. What is not understood is left out and reported with its line and column.
#[must_use]
pub fn import(css: &str) -> Incoming {
    let rules = rules(css);
    let properties = properties(&rules);
    let mut importer = Importer {
        incoming: Incoming::default(),
        at: BTreeMap::new(),
        room: Room::default(),
        left: FileRoom::default(),
    };
    for rule in &rules {
        for (line, column) in &rule.body.nested {
            let message = format!("{}: a rule inside a rule is not read", rule.selectors.join(", "));
            importer.incoming.diagnostic(format!("{line}:{column}"), DiagnosticKind::Dropped, message);
        }
        if let Some(says) = importer.read(rule, &properties) {
            for selector in &rule.selectors {
                importer.rule(selector, &says);
            }
        }
    }
    importer.incoming
}

/// The depth declared by a rule, whatever its selectors.
struct DepthRule {
    coats: Vec<Coat>,
    transition: Option<Transition>,
}

struct Importer {
    incoming: Incoming,
    /// Which finish a selector without its state has become.
    at: BTreeMap<String, usize>,
    room: Room,
    left: FileRoom,
}

impl Importer {
    /// Reads the declarations of a rule; `None` where none of them is about depth.
    fn read(&mut self, rule: &Rule, properties: &BTreeMap<String, String>) -> Option<DepthRule> {
        let speaks = |declaration: &&Declaration| DEPTH.contains(&declaration.name.as_str());
        rule.body.declarations.iter().find(speaks)?;
        let selectors = rule.selectors.join(", ");
        let own = own_properties(&rule.body.declarations);
        let (mut coats, mut says, mut transition) = (Vec::new(), false, None);
        for declaration in &rule.body.declarations {
            if !speaks(&declaration) && declaration.name != "transition" {
                continue;
            }
            let place = format!("{}:{}", declaration.line, declaration.column);
            let mut scope = Scope { own: &own, sheet: properties, room: &mut self.room };
            let value = match scope.substituted(&declaration.value) {
                Ok(value) => computed(&value),
                Err(why) => {
                    self.drop(&place, &selectors, declaration, &why);
                    continue;
                }
            };
            if declaration.name == "transition" {
                transition = transition_of(&value);
                continue;
            }
            match read(&declaration.name, &value, &mut |what| {
                self.note(&place, &selectors, declaration, what)
            }) {
                Ok(found) => {
                    says = true;
                    // The prefixed form says the same once more.
                    if !(declaration.name.starts_with("-webkit-")
                        && has_plain(&rule.body.declarations, &declaration.name))
                    {
                        coats.extend(found);
                    }
                }
                Err(error) => self.drop(&place, &selectors, declaration, &error.message),
            }
        }
        if coats.len() > limits::COATS {
            coats.truncate(limits::COATS);
            let message = format!("{selectors}: more than {} coats: the rest is left out", limits::COATS);
            self.incoming.diagnostic("", DiagnosticKind::Dropped, message);
        }
        for (number, coat) in coats.iter_mut().enumerate() {
            coat.id = Id::numbered("css", number + 1);
        }
        says.then_some(DepthRule { coats, transition })
    }

    fn rule(&mut self, selector: &str, says: &DepthRule) {
        let (base, state) = stated(selector);
        if says.coats.is_empty() && state.is_none() {
            return;
        }
        let new = usize::from(!self.at.contains_key(base));
        if !self.left.take(new, says.coats.len()) {
            let message = format!("{selector}: {}", FileRoom::LIMIT);
            return self.incoming.diagnostic("", DiagnosticKind::Dropped, message);
        }
        self.put(base, state, says.coats.clone(), says.transition.clone());
    }

    fn put(&mut self, base: &str, state: Option<State>, coats: Vec<Coat>, transition: Option<Transition>) {
        let existing = self.at.get(base).copied();
        let at = existing.unwrap_or_else(|| {
            let at = self.incoming.finishes.len();
            self.at.insert(base.to_owned(), at);
            self.incoming.finishes.push(Finish {
                id: Id::numbered("finish-css", at + 1),
                name: name_of(base),
                note: String::new(),
                coats: Vec::new(),
                themes: BTreeMap::new(),
                states: BTreeMap::new(),
                transition: None,
                extensions: serde_json::Map::new(),
            });
            at
        });
        let Some(finish) = self.incoming.finishes.get_mut(at) else { return };
        finish.transition = transition.or(finish.transition.take());
        match state {
            Some(state) => {
                finish.states.insert(state, coats);
            }
            // A selector that comes again, in another theme for instance, does not replace what came first.
            None if finish.coats.is_empty() => finish.coats = coats,
            None => {}
        }
    }

    fn drop(&mut self, place: &str, selector: &str, declaration: &Declaration, why: &str) {
        let message = format!("{selector}: {}: {why}", declaration.name);
        self.incoming.diagnostic(place, DiagnosticKind::Dropped, message);
    }

    fn note(&mut self, place: &str, selector: &str, declaration: &Declaration, what: &str) {
        let message = format!("{selector}: {}: {what}", declaration.name);
        self.incoming.diagnostic(place, DiagnosticKind::Approximated, message);
    }
}

/// The custom properties a rule sets for itself; the first setting counts.
fn own_properties(declarations: &[Declaration]) -> BTreeMap<&str, &str> {
    let mut own = BTreeMap::new();
    for declaration in declarations.iter().filter(|declaration| declaration.name.starts_with("--")) {
        own.entry(declaration.name.as_str()).or_insert(declaration.value.as_str());
    }
    own
}

/// Properties that say something about depth.
const DEPTH: [&str; 6] = [
    "box-shadow",
    "-webkit-box-shadow",
    "text-shadow",
    "filter",
    "backdrop-filter",
    "-webkit-backdrop-filter",
];

fn has_plain(declarations: &[Declaration], prefixed: &str) -> bool {
    declarations.iter().any(|declaration| declaration.name == prefixed.trim_start_matches("-webkit-"))
}

fn read(name: &str, value: &str, note: &mut dyn FnMut(&str)) -> Result<Vec<Coat>, CssError> {
    match name {
        "filter" => filter_list(value, note),
        "backdrop-filter" | "-webkit-backdrop-filter" => backdrop_filter(value, note),
        name => shadow_list(name == "text-shadow", value),
    }
}

/// A selector without the state it is for.
fn stated(selector: &str) -> (&str, Option<State>) {
    const STATES: [(&str, State); 7] = [
        (":hover", State::Hover),
        (":active", State::Pressed),
        (":focus-visible", State::Focus),
        (":focus", State::Focus),
        (":disabled", State::Disabled),
        ("[aria-disabled=\"true\"]", State::Disabled),
        ("[aria-disabled=true]", State::Disabled),
    ];
    let found = STATES.iter().find_map(|(ending, state)| Some((selector.strip_suffix(ending)?, *state)));
    found.map_or((selector, None), |(base, state)| (base, Some(state)))
}

/// `.card > .lid` is called "card > lid".
fn name_of(selector: &str) -> String {
    let name: String = selector.replace(['.', '#'], "").chars().take(80).collect();
    if name.trim().is_empty() { "unnamed".to_owned() } else { name }
}

/// The first time and easing of a `transition` (CSS Transitions 1).
fn transition_of(value: &str) -> Option<Transition> {
    let first = split_at_commas(value).into_iter().next()?;
    let words: Vec<&str> = first.split_whitespace().collect();
    let time = words.iter().find_map(|word| {
        let seconds = word.strip_suffix("ms").and_then(|n| n.parse::<f64>().ok());
        seconds.or_else(|| word.strip_suffix('s').and_then(|n| n.parse::<f64>().ok()).map(|n| n * 1000.0))
    })?;
    let easing = first.find("cubic-bezier(").map(|at| first[at..].trim().to_owned());
    let named = words.iter().find(|word| EASINGS.contains(word)).map(|word| (*word).to_owned());
    let curve = easing.or(named).unwrap_or_else(|| "ease".to_owned());
    let duration = (0.0..=60_000.0).contains(&time).then_some(time.round() as u32)?;
    Some(Transition { duration, curve })
}

const EASINGS: [&str; 5] = ["ease", "linear", "ease-in", "ease-out", "ease-in-out"];

#[cfg(test)]
mod tests {
    use super::*;
    use crate::model::CoatKind;

    #[test]
    fn a_sheet_with_properties_states_and_things_not_understood() {
        let css = ":root { --near: 0 1px 2px rgb(0 0 0 / .3); --far: var(--near), 0 8px 24px #0003 }\n\
                   .card { color: red; box-shadow: var(--far) }\n\
                   .card:hover, .tile { box-shadow: 0 2px 4px black }\n\
                   @media (width > 40rem) { .deep > .pane { -webkit-backdrop-filter: blur(8px); backdrop-filter: blur(8px) saturate(1.4); filter: drop-shadow(1px 2px 3px red) hue-rotate(9deg) } }\n\
                   .bad { box-shadow: 1em 2px }\n\
                   .lost { text-shadow: var(--nowhere) }\n\
                   .plain { color: blue; &:hover { box-shadow: 0 0 1px red } }\n\
                   @keyframes lift { 50% { box-shadow: 0 0 1px red } }\n\
                   :is(.a, .b) { box-shadow: 0 0 1px red }";
        let read = import(css);
        let names: Vec<_> = read.finishes.iter().map(|finish| finish.name.as_str()).collect();
        assert_eq!(names, ["card", "tile", "deep > pane", ":is(a, b)"]);
        assert_eq!(read.finishes[0].coats.len(), 2);
        assert_eq!(read.finishes[0].states[&State::Hover].len(), 1);
        let kinds: Vec<_> = read.finishes[2].coats.iter().map(|coat| coat.kind.name()).collect();
        assert_eq!(kinds, ["backdrop", "drop"]);
        let CoatKind::Drop(drop) = &read.finishes[2].coats[1].kind else { panic!("a drop shadow") };
        // drop-shadow() takes σ itself (Filter Effects 1): 3px are a blur radius of 6.
        assert_eq!(drop.blur.get(), 6.0);
        let said: Vec<_> = read
            .diagnostics
            .iter()
            .map(|diagnostic| format!("{} {}", diagnostic.place, diagnostic.message))
            .collect();
        assert_eq!(
            said,
            [
                "4:120 .deep > .pane: filter: hue-rotate() is not depth: left out",
                "5:8 .bad: box-shadow: expected a length in px, found 1em",
                "6:9 .lost: text-shadow: --nowhere is set nowhere",
                "7:23 .plain: a rule inside a rule is not read",
            ]
        );
    }
}
