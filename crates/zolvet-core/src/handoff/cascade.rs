//! The declarations of a class in every theme and state, as the fewest rules from which the cascade makes it again (CSS
//! Cascading and Inheritance 4, "Cascade Sorting Order").

use std::collections::BTreeMap;
use std::fmt::Write as _;

use super::light_dark::one_value;
use super::names::Names;
use super::themes::Themes;
use crate::css::{Declaration, Rule, Subject, changes, said_anew};
use crate::model::State;

/// All declarations of a class in one theme: at rest, under `None`, and in its states.
pub(super) type Stack = BTreeMap<Option<State>, Vec<Declaration>>;

/// The declarations of a class in each theme, in the order of the themes.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) struct Table {
    pub stacks: Vec<Stack>,
    /// How it moves from state to state.
    pub transition: Option<Declaration>,
}

/// A rule, and the media query it is in.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct MediaRule {
    pub media: Option<&'static str>,
    pub rule: Rule,
}

/// Rules and the selectors of the elements that they are for.
#[derive(Default)]
pub(super) struct Block {
    pub text: String,
    /// Classes with computed properties.
    pub selectors: Vec<String>,
    /// Classes that take their own fill.
    pub filled: Vec<String>,
    /// Selectors of classes whose height can be set.
    pub raised: Vec<String>,
    /// Their declarations under a reader's preference.
    pub preferred: Vec<MediaRule>,
}

/// The media query of pointers that hover, which a finger does not.
const HOVER_MEDIA: &str = "(hover: hover)";
/// The media query of readers who accept motion.
const MOTION_MEDIA: &str = "(prefers-reduced-motion: no-preference)";

impl Table {
    /// Declarations that hold in every theme at rest, without states.
    pub fn at_rest(lines: impl IntoIterator<Item = Vec<Declaration>>) -> Self {
        let stacks = lines.into_iter().map(|lines| BTreeMap::from([(None, lines)])).collect();
        Self { stacks, transition: None }
    }

    /// The fewest rules that come to this. With `whole`, each state says everything, because other classes may have said
    /// something for it.
    pub fn rules(
        &self,
        subject: &Subject,
        themes: &Themes<'_>,
        names: &Names,
        whole: bool,
    ) -> Vec<MediaRule> {
        let class = subject.at_rest();
        let rings_on_top = FocusRings::new(&self.with_light_dark(themes), names);
        let focus = |base: usize| rings_on_top.focus_lines(themes, names, base);
        let Some(ThemedStack { stack, preferred }) = ThemedStack::new(&rings_on_top, themes, names) else {
            return Vec::new();
        };
        let rest = stack.get(&None).cloned().unwrap_or_default();
        let mut rules = vec![(None, class.to_owned(), rest.clone())];
        let mut spoken: Vec<String> = Vec::new();
        let with_states =
            State::WEAKEST_FIRST.iter().filter_map(|state| Some((*state, stack.get(&Some(*state))?)));
        for (state, there) in with_states {
            let mut said = changes(&rest, there);
            if state.stands_alone() {
                said = overlaid(&as_they_are(&spoken, there, class), &said);
            }
            if whole {
                let own = there.iter().filter(|line| !line.name.starts_with("--")).cloned();
                said = overlaid(&overlaid(&resets(&rest), &said), &own.collect::<Vec<_>>());
            }
            spoken.extend(said.iter().map(|line| line.name.to_string()));
            let media = (state == State::Hover).then_some(HOVER_MEDIA);
            rules.push((media, subject.in_state(state), said));
        }
        rules.push((None, subject.in_state(State::Focus), focus(0)));
        rules.extend(preferred.into_iter().map(|(media, lines)| (Some(media), class.to_owned(), lines)));
        if rings_on_top.rings.windows(2).any(|pair| pair[0] != pair[1]) {
            let preferred = themes.preferred().into_iter();
            rules.extend(
                preferred.map(|(media, base)| (Some(media), subject.in_state(State::Focus), focus(base))),
            );
        }
        let moving =
            self.transition.iter().map(|line| (Some(MOTION_MEDIA), class.to_owned(), vec![line.clone()]));
        rules.extend(moving);
        let rule = |(media, selector, lines): (Option<&'static str>, String, Vec<Declaration>)| MediaRule {
            media,
            rule: Rule { selector, lines: lines.into_iter().map(one_by_one).collect() },
        };
        rules.into_iter().filter(|(_, _, lines)| !lines.is_empty()).map(rule).collect()
    }

    /// The same with one value for both themes wherever only colours differ; as it is unless there is one light and one dark theme.
    pub(super) fn with_light_dark(&self, themes: &Themes<'_>) -> Self {
        let Some((light, dark)) = themes.light_and_dark() else { return self.clone() };
        let (Some(of_light), Some(of_dark)) = (self.stacks.get(light), self.stacks.get(dark)) else {
            return self.clone();
        };
        let stack = |own: &Stack| -> Stack {
            let lines = |(state, lines): (&Option<_>, &Vec<Declaration>)| {
                let line = |line: &Declaration| {
                    let there = |stack: &Stack| {
                        stack.get(state).into_iter().flatten().find(|other| other.name == line.name).cloned()
                    };
                    let both = there(of_light).zip(there(of_dark));
                    both.and_then(|(light, dark)| one_line(&light, &dark)).unwrap_or_else(|| line.clone())
                };
                (*state, lines.iter().map(line).collect())
            };
            own.iter().map(lines).collect::<BTreeMap<_, _>>()
        };
        Self { stacks: self.stacks.iter().map(stack).collect(), transition: self.transition.clone() }
    }
}

fn one_line(light: &Declaration, dark: &Declaration) -> Option<Declaration> {
    if light.values.len() != dark.values.len() {
        return None;
    }
    let values = light.values.iter().zip(&dark.values).map(|(light, dark)| one_value(light, dark));
    Some(Declaration { name: light.name.clone(), values: values.collect::<Option<_>>()? })
}

/// A table in which the shadows that focus adds to those at rest lie on top of every state, instead of being a state.
struct FocusRings {
    stacks: Vec<Stack>,
    /// Shadows that focus adds in each theme, with a comma at the end; none where focus is a state like others.
    rings: Vec<String>,
}

impl FocusRings {
    fn new(table: &Table, names: &Names) -> Self {
        let rings: Option<Vec<Vec<String>>> = table.stacks.iter().map(added_by_focus).collect();
        let Some(rings) = rings else { return Self { stacks: table.stacks.clone(), rings: Vec::new() } };
        let property = names.inner(RING);
        let mut stacks = table.stacks.clone();
        for stack in &mut stacks {
            stack.remove(&Some(State::Focus));
            for lines in stack.values_mut() {
                let shadows = lines.iter_mut().find(|line| line.name == SHADOWS);
                if let Some(first) = shadows.and_then(|line| line.values.first_mut()) {
                    *first = format!("var({property},) {first}");
                } else {
                    let none = Declaration::one(SHADOWS, format!("var({property},) 0 0 #0000"));
                    lines.push(none);
                }
                // Else a child would inherit the ring of what it lies in.
                lines.insert(0, Declaration::one(property.clone(), ""));
            }
        }
        let text = |ring: &Vec<String>| {
            let list = ring.iter().flat_map(|shadow| shadow.split(BETWEEN));
            list.map(|shadow| format!("{shadow}, ")).collect::<String>().trim_end().to_owned()
        };
        Self { stacks, rings: rings.iter().map(text).collect() }
    }

    /// Declarations under focus, where `base` is the theme of pages that begin none.
    fn focus_lines(&self, themes: &Themes<'_>, names: &Names, base: usize) -> Vec<Declaration> {
        if self.rings.is_empty() {
            return Vec::new();
        }
        let choice = themes.choose(RING, &self.rings, base);
        let mut lines = choice.helpers;
        lines.push(Declaration::one(names.inner(RING), choice.value));
        lines
    }
}

/// The property that holds the shadows of focus.
const RING: &str = "focus--ring";

const SHADOWS: &str = "box-shadow";

/// The shadows that focus adds to those at rest, where that is all it changes.
fn added_by_focus(stack: &Stack) -> Option<Vec<String>> {
    let (rest, focus) = (stack.get(&None)?, stack.get(&Some(State::Focus))?);
    let others = |lines: &[Declaration]| -> Vec<Declaration> {
        lines.iter().filter(|line| line.name != SHADOWS).cloned().collect()
    };
    let list = |lines: &[Declaration]| {
        lines.iter().find(|line| line.name == SHADOWS).map(|line| line.values.clone())
    };
    let (before, after) = (list(rest)?, list(focus)?);
    let mut missing = before.iter().peekable();
    let added: Vec<String> =
        after.into_iter().filter(|shadow| missing.next_if(|next| *next == shadow).is_none()).collect();
    (missing.peek().is_none() && !added.is_empty() && others(rest) == others(focus)).then_some(added)
}

/// A table as that of one theme: each difference between themes is a property for each theme, of which one is chosen.
struct ThemedStack {
    stack: Stack,
    /// Declarations that change at rest under a reader's preference, by its media query.
    preferred: Vec<(&'static str, Vec<Declaration>)>,
}

impl ThemedStack {
    fn new(table: &FocusRings, themes: &Themes<'_>, names: &Names) -> Option<Self> {
        let mut stack = table.stacks.first()?.clone();
        let differing = differing_properties(&table.stacks);
        let mut preferred: Vec<(&'static str, Vec<Declaration>)> =
            themes.preferred().into_iter().map(|(media, _)| (media, Vec::new())).collect();
        for name in &differing {
            let key = name.trim_start_matches('-');
            let key = key.strip_prefix(names.prefix.as_str()).unwrap_or(key);
            let raw = |theme: usize| names.inner(&format!("{key}--{}", themes.name(theme)));
            let references: Vec<String> =
                (0..table.stacks.len()).map(|theme| format!("var({})", raw(theme))).collect();
            let chosen = |base: usize| {
                let choice = themes.choose(&format!("{key}--if"), &references, base);
                let mut lines = choice.helpers;
                lines.push(Declaration::one(name.clone(), choice.value));
                lines
            };
            for (state, lines) in &mut stack {
                let place = lines.iter().position(|line| line.name == *name).unwrap_or(lines.len());
                lines.retain(|line| line.name != *name);
                let values = table.stacks.iter().enumerate().map(|(theme, stack)| {
                    let there = stack.get(state).into_iter().flatten().find(|line| line.name == *name);
                    let there = there.cloned().unwrap_or_else(|| Declaration::one(name.clone(), "").reset());
                    // Functions of a filter stand after one another, all else is a list.
                    let values =
                        if name == "filter" { vec![there.values.join("\n    ")] } else { there.values };
                    Declaration { name: raw(theme).into(), values }
                });
                let said: Vec<Declaration> = values.chain(chosen(0)).collect();
                let place = place.min(lines.len());
                lines.splice(place..place, said);
            }
            for ((_, base), (_, lines)) in themes.preferred().into_iter().zip(&mut preferred) {
                lines.extend(chosen(base));
            }
        }
        preferred.retain(|(_, lines)| !lines.is_empty());
        Some(Self { stack, preferred })
    }
}

/// The properties whose value is another in another theme, in any state.
fn differing_properties(stacks: &[Stack]) -> Vec<String> {
    let Some((first, others)) = stacks.split_first() else { return Vec::new() };
    let mut names: Vec<String> = Vec::new();
    for other in others {
        for state in first.keys().chain(other.keys()) {
            let lines = |stack: &Stack| stack.get(state).cloned().unwrap_or_default();
            let (one, other) = (lines(first), lines(other));
            let new = one
                .iter()
                .filter(|line| !other.contains(line))
                .chain(other.iter().filter(|line| !one.contains(line)));
            for line in new {
                if !names.contains(&line.name.to_string()) {
                    names.push(line.name.to_string());
                }
            }
        }
    }
    names
}

/// The declarations of a state, where another state that holds at the same time may have set the same properties. The
/// class's own shadows in parts need it only where the state draws them.
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

/// Resets of properties that are only set at rest.
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

/// Rules as text, a line between them.
pub(super) fn text(rules: &[MediaRule]) -> String {
    let mut blocks: Vec<String> = Vec::new();
    for together in rules.chunk_by(|a, b| a.media == b.media) {
        let inner: Vec<String> = together.iter().map(|one| one.rule.text()).collect();
        blocks.push(within(together.first().and_then(|one| one.media), &inner.join("\n")));
    }
    blocks.join("\n")
}

/// Rules within a media query, where there is one.
pub(super) fn within(media: Option<&str>, rules: &str) -> String {
    let Some(media) = media else { return rules.to_owned() };
    format!("@media {media} {{\n{}}}\n", indented(rules))
}

/// Each line two spaces further in.
pub(super) fn indented(text: &str) -> String {
    let mut all = String::new();
    for line in text.lines() {
        let _ = if line.is_empty() { writeln!(all) } else { writeln!(all, "  {line}") };
    }
    all
}

/// Rules of the same selector and media query as one, where the first of them stands.
pub(super) fn merged(rules: Vec<MediaRule>) -> Vec<MediaRule> {
    let mut all: Vec<MediaRule> = Vec::new();
    for rule in rules {
        let same =
            |other: &&mut MediaRule| other.media == rule.media && other.rule.selector == rule.rule.selector;
        match all.iter_mut().find(same) {
            Some(MediaRule { rule: Rule { lines, .. }, .. }) => lines.extend(rule.rule.lines),
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
