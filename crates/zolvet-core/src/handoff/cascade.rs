//! What a class says in every theme and state, as the fewest rules from which the cascade makes it again (CSS Cascading and
//! Inheritance 4, "Cascade Sorting Order"). Themes are put in `:where()`, so that they weigh nothing: states come after them.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use super::names::Names;
use crate::css::{Declaration, Rule, changes, restate, said_anew, selector};
use crate::model::{State, Theme};

/// All declarations of a class in one theme: at rest, under `None`, and in its states.
pub(super) type Stack = BTreeMap<Option<State>, Vec<Declaration>>;

/// The declarations of a class in each theme, in the order of the themes.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) struct Table(pub Vec<Stack>);

/// A rule, and the number of the theme it is for: the first theme's rules are for all.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct ThemedRule {
    pub theme: usize,
    pub rule: Rule,
}

impl Table {
    /// The fewest rules that come to this. With `whole`, each state says everything, because other classes may have said
    /// something for it.
    pub fn rules(&self, class: &str, whole: bool) -> Vec<ThemedRule> {
        let Some((first, others)) = self.0.split_first() else { return Vec::new() };
        let at_rest = |stack: &Stack| stack.get(&None).cloned().unwrap_or_default();
        let rest = at_rest(first);
        let mut rules = vec![(0, class.to_owned(), rest.clone())];
        for (at, other) in others.iter().enumerate() {
            rules.push((at + 1, class.to_owned(), changes(&rest, &at_rest(other))));
        }
        let mut spoken: Vec<String> = Vec::new();
        let with_states =
            State::WEAKEST_FIRST.iter().filter_map(|state| Some((*state, first.get(&Some(*state))?)));
        for (state, there) in with_states {
            let selector = selector(class, state);
            let mut said = changes(&rest, there);
            if state.stands_alone() {
                said = overlaid(&as_they_are(&spoken, there, class), &said);
            }
            if whole {
                let own = there.iter().filter(|line| !line.name.starts_with("--")).cloned();
                said = overlaid(&overlaid(&resets(&rest), &said), &own.collect::<Vec<_>>());
            }
            rules.push((0, selector.clone(), said.clone()));
            for (at, other) in others.iter().enumerate() {
                let seen = overlaid(&at_rest(other), &said);
                let wanted = other.get(&Some(state)).cloned().unwrap_or_default();
                // What is gone may be reset already.
                let mut new = changes(&seen, &wanted);
                new.retain(|line| !seen.contains(line));
                restate(&mut new, &wanted);
                spoken.extend(new.iter().map(|line| line.name.to_string()));
                rules.push((at + 1, selector.clone(), new));
            }
            spoken.extend(said.iter().map(|line| line.name.to_string()));
        }
        let rule = |(theme, selector, lines): (usize, String, Vec<Declaration>)| ThemedRule {
            theme,
            rule: Rule { selector, lines: lines.into_iter().map(one_by_one).collect() },
        };
        rules.into_iter().filter(|(_, _, lines)| !lines.is_empty()).map(rule).collect()
    }
}

/// What a state says of these properties, where another state that holds at the same time may have said something else.
/// The class's own shadows in parts need it only where the state draws them.
fn as_they_are(names: &[String], there: &[Declaration], class: &str) -> Vec<Declaration> {
    let part = format!("--{}-", class.trim_start_matches('.'));
    let needed = names.iter().filter(|name| !name.starts_with(&part) || refers(there, name));
    said_anew(needed, there)
}

/// Whether a value among these is made with a custom property.
fn refers(lines: &[Declaration], name: &str) -> bool {
    let reference = format!("var({name})");
    lines.iter().flat_map(|line| &line.values).any(|value| value.contains(&reference))
}

/// Between the shadows of one coat, which are one value until rules are made.
pub(super) const BETWEEN: &str = ",\n";

/// A list with the shadows of each coat one by one.
fn one_by_one(line: Declaration) -> Declaration {
    let values = line.values.iter().flat_map(|value| value.split(BETWEEN)).map(str::to_owned).collect();
    Declaration { values, ..line }
}

/// Resets of what is only said at rest.
fn resets(rest: &[Declaration]) -> Vec<Declaration> {
    rest.iter().filter(|line| !line.name.starts_with("--")).map(Declaration::reset).collect()
}

/// Declarations, with others that win over them.
fn overlaid(below: &[Declaration], above: &[Declaration]) -> Vec<Declaration> {
    let mut all = below.to_vec();
    for line in above {
        match all.iter_mut().find(|other| other.name == line.name) {
            Some(other) => *other = line.clone(),
            None => all.push(line.clone()),
        }
    }
    all
}

/// Rules as text, a line between them: those of other themes under `[data-theme]` and, where their scheme is another,
/// under `prefers-color-scheme` where the page names no theme.
pub(super) fn text(rules: &[ThemedRule], themes: &[&Theme], names: &Names) -> String {
    let Some(first) = themes.first() else { return String::new() };
    let mut blocks: Vec<String> = Vec::new();
    for ThemedRule { theme, rule } in rules {
        let rule = match themes.get(*theme) {
            Some(theme) if theme.id != first.id => {
                rule.within(&format!("[data-theme=\"{}\"]", names.themes[&theme.id]))
            }
            _ => rule.clone(),
        };
        blocks.push(rule.text());
    }
    for (at, theme) in themes.iter().enumerate().filter(|(_, theme)| theme.scheme != first.scheme) {
        let of_it = rules.iter().filter(|rule| rule.theme == at && at > 0);
        let inner: Vec<String> =
            of_it.map(|rule| rule.rule.within(":root:not([data-theme])").text()).collect();
        if !inner.is_empty() {
            let scheme = format!("{:?}", theme.scheme).to_lowercase();
            let mut block = format!("@media (prefers-color-scheme: {scheme}) {{\n");
            for line in inner.join("\n").lines() {
                let _ = if line.is_empty() { writeln!(block) } else { writeln!(block, "  {line}") };
            }
            block.push_str("}\n");
            blocks.push(block);
        }
    }
    blocks.join("\n")
}

/// Rules of the same selector and theme as one, where the first of them stands.
pub(super) fn merged(rules: Vec<ThemedRule>) -> Vec<ThemedRule> {
    let mut all: Vec<ThemedRule> = Vec::new();
    for rule in rules {
        let same =
            |other: &&mut ThemedRule| other.theme == rule.theme && other.rule.selector == rule.rule.selector;
        match all.iter_mut().find(same) {
            Some(ThemedRule { rule: Rule { lines, .. }, .. }) => lines.extend(rule.rule.lines),
            None => all.push(rule),
        }
    }
    all
}

/// A text in a comment, on one line: CSS ends a line at `\r` and `\f` too (CSS Syntax Module 3, "Preprocessing the input
/// stream"), and others at U+2028 and U+2029.
pub(super) fn comment(text: &str) -> String {
    let ends_line = |letter: char| letter.is_control() || ['\u{2028}', '\u{2029}'].contains(&letter);
    text.replace(ends_line, " ").replace("*/", "* /")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_stays_within_its_comment() {
        assert_eq!(comment("a */ b { } \r\n@import 'x';\u{c}c\u{2028}d"), "a * / b { }   @import 'x'; c d");
        assert_eq!(comment("*\u{0}/"), "* /");
    }
}
