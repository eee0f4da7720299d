//! Variants: elements whose depth depends on something that rules for other classes set, or rules that ask for more of them.

use std::cell::Cell;
use std::collections::{BTreeSet, HashMap, HashSet};

use super::depth::Depth;
use super::library::{Library, Read, Subject};
use super::sample::Sample;
use super::settings::Settings;
use super::style::Expansions;
use crate::budget;
use crate::model::State;

/// Rules that set one property, with the classes of which an element is tried.
const MAX_TOGETHER: usize = 24;
/// The most elements and rules that are combined in all. Further rules are reported like all that were not paired.
const MAX_PAIRS: usize = 2_000_000;
/// Elements that are compared with those they are variants of.
const MAX_TRIED: usize = 20_000;

/// The rules that set each property.
type Setters<'r> = HashMap<&'r str, Vec<&'r Read>>;

impl Library<'_> {
    /// Adds the variants of the elements that there are, each with the class that makes it one: `.card.red { --shadow:
    /// … }` of `.card`, `.card-red` together with `.card`, and any rule that sets a custom property which is set
    /// nowhere else.
    pub(super) fn add_variants(&mut self, all: &[Read], settings: &Settings) {
        let (room, setters) = (Cell::new(Expansions::default()), self.setters(all));
        let mut known: HashSet<String> =
            self.subjects.iter().map(|subject| subject.selector.clone()).collect();
        let (mut more, mut paired, mut asked) = (Vec::new(), HashSet::new(), BTreeSet::new());
        let mut pairs = 0;
        for subject in &self.subjects {
            if budget::is_stopped() {
                break;
            }
            let needs = self.needs(subject, settings, &room);
            for (name, is_unset) in &needs {
                let mut together = 0;
                for read in setters.get(name.as_str()).into_iter().flatten() {
                    if pairs == MAX_PAIRS {
                        break;
                    }
                    pairs += 1;
                    let Some(sample) = variant(&subject.sample, &read.sample, *is_unset, &mut together)
                    else {
                        continue;
                    };
                    paired.insert(read.rule);
                    let there = self.subjects.len() + more.len();
                    if !known.insert(sample.selector())
                        || there >= Self::MAX_SUBJECTS
                        || known.len() > MAX_TRIED
                    {
                        continue;
                    }
                    let one = subject.as_sample(sample, read.rule);
                    if self.differs(&one, subject, settings, &room) {
                        more.push(one);
                    }
                }
            }
            asked.extend(needs.into_iter().map(|(name, _)| name));
        }
        self.unpaired = self.unpaired_among(&setters, &asked, &paired);
        let from = self.subjects.len();
        self.subjects.extend(more);
        self.add_states(all, from);
    }

    fn setters<'r>(&'r self, all: &'r [Read]) -> Setters<'r> {
        let mut setters = Setters::new();
        for one in all {
            for declaration in &self.cascade.sheet.rules[one.rule].declarations {
                let name = match declaration.name.as_str() {
                    "font" => "font-size",
                    name => name,
                };
                if name.starts_with("--") || ["color", "color-scheme", "font-size"].contains(&name) {
                    setters.entry(name).or_default().push(one);
                }
            }
        }
        setters
    }

    /// The dependencies of an element in any of its states, and whether they prevent reading it.
    fn needs(&self, subject: &Subject, settings: &Settings, room: &Cell<Expansions>) -> Vec<(String, bool)> {
        let (mut asked, mut unset) = (BTreeSet::new(), BTreeSet::new());
        let Some(theme) = self.themes.first() else { return Vec::new() };
        for state in states_of(subject) {
            let looked = self.look(subject, state, theme, settings, room);
            if looked.readings.values().any(|reading| matches!(reading.depth, Depth::Unset(_))) {
                unset.extend(looked.unset);
            }
            asked.extend(looked.asked);
        }
        asked.into_iter().map(|name| (name.clone(), unset.contains(&name))).collect()
    }

    /// Whether an element has other depth than another in any theme and state.
    fn differs(&self, one: &Subject, other: &Subject, settings: &Settings, room: &Cell<Expansions>) -> bool {
        self.themes.iter().any(|theme| {
            states_of(one).any(|state| {
                let look = |subject| self.look(subject, state, theme, settings, room);
                !look(one).is_like(&look(other))
            })
        })
    }

    /// Rules that set something depth depends on, for elements that were not tried together with those that depend on it.
    fn unpaired_among(
        &self,
        setters: &Setters<'_>,
        asked: &BTreeSet<String>,
        paired: &HashSet<usize>,
    ) -> Vec<(super::parse::Place, String)> {
        let subjects: HashSet<&str> = self.subjects.iter().map(|subject| subject.selector.as_str()).collect();
        let around: HashSet<&(String, String)> =
            self.subjects.iter().flat_map(|subject| subject.sample.around()).collect();
        let mut found = Vec::new();
        for name in asked.iter().filter(|name| name.starts_with("--")) {
            for read in setters.get(name.as_str()).into_iter().flatten() {
                let sample = &read.sample;
                let is_read = paired.contains(&read.rule)
                    || !sample.themes.is_empty()
                    || sample.is_anything()
                    || subjects.contains(sample.selector().as_str())
                    || !sample.attributes().is_empty()
                        && sample.attributes().iter().all(|one| around.contains(one));
                if !is_read {
                    found.push((self.cascade.sheet.rules[read.rule].place, name.clone()));
                }
            }
        }
        found
    }
}

/// An element of the same kind as another that also matches a rule for something the other depends on.
fn variant(own: &Sample, setter: &Sample, is_unset: bool, together: &mut usize) -> Option<Sample> {
    if let Some(narrowed) = own.narrowed(setter) {
        return Some(narrowed);
    }
    if !is_unset && !setter.is_modifier_of(own) || *together >= MAX_TOGETHER {
        return None;
    }
    let both = own.union(setter)?;
    *together += 1;
    Some(both)
}

fn states_of(subject: &Subject) -> impl Iterator<Item = Option<State>> {
    std::iter::once(None).chain(subject.states().map(Some))
}
