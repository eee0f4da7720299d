//! Shadows that several states or themes have in common, as custom properties: a state then says only what it changes.

use super::cascade::{Stack, Table};
use super::names::Names;
use crate::css::{Declaration, changes};
use crate::syntax::{UniqueNames, slug};

/// A list of shadows by coat, and the names of these coats.
pub(super) struct Shadows<'a> {
    pub property: &'a str,
    pub coats: Vec<String>,
    pub names: &'a Names,
}

/// The table with parts in place of lists, where that is shorter.
pub(super) fn shared(table: Table, class: &str, shadows: &Shadows<'_>) -> Table {
    let Some(parted) = Parts::new(&table, class, shadows).map(|parts| parts.put_into(&table)) else {
        return table;
    };
    // What a class says is short where its states say little.
    let length = |table: &Table| -> usize {
        let rest = table.stacks.first().and_then(|stack| stack.get(&None)).cloned().unwrap_or_default();
        let states = table.stacks.iter().flat_map(|stack| stack.iter());
        let said =
            states.map(|(state, lines)| if state.is_none() { lines.clone() } else { changes(&rest, lines) });
        said.flatten().map(|line| line.text(2).len()).sum()
    };
    if length(&parted) < length(&table) { parted } else { table }
}

/// The parts of a list at rest in the first theme.
struct Parts<'a> {
    property: &'a str,
    /// The name of each, where it is referred to.
    names: Vec<Option<String>>,
    rest: Vec<String>,
}

/// How a list is said with the parts of the theme it is in.
enum ListForm {
    /// The list at rest, with these parts in place of others.
    Changed(Vec<(usize, String)>),
    /// A list of parts and others.
    Listed(Vec<Entry>),
}

enum Entry {
    Part(usize),
    Other(String),
}

impl<'a> Parts<'a> {
    fn new(table: &Table, class: &str, shadows: &Shadows<'a>) -> Option<Self> {
        let property = shadows.property;
        let rest = list(table.stacks.first()?.get(&None)?, property)?.to_vec();
        if rest.len() != shadows.coats.len() {
            return None;
        }
        let mut used = vec![false; rest.len()];
        for stack in &table.stacks {
            let base = base(stack, &rest, property);
            for (lines, against) in stack.iter().map(|(state, lines)| match state {
                None => (lines, Some(&rest[..])),
                Some(_) => (lines, base),
            }) {
                let (Some(list), Some(against)) = (list(lines, property), against) else { continue };
                match list_form(list, against) {
                    Some(ListForm::Changed(parts)) => parts.iter().for_each(|(at, _)| used[*at] = true),
                    Some(ListForm::Listed(entries)) => entries.iter().for_each(|entry| {
                        if let Entry::Part(at) = entry {
                            used[*at] = true;
                        }
                    }),
                    None => {}
                }
            }
        }
        let mut taken = UniqueNames::default();
        let start = class.trim_start_matches('.').trim_start_matches(&shadows.names.prefix);
        let name = |(coat, used): (&String, bool)| {
            used.then(|| shadows.names.inner(&format!("{start}--{}", taken.unique(&slug(coat), '-'))))
        };
        let names: Vec<_> = shadows.coats.iter().zip(used).map(name).collect();
        names.iter().any(Option::is_some).then_some(Self { property, names, rest })
    }

    fn put_into(&self, table: &Table) -> Table {
        let stack = |stack: &Stack| {
            let base = base(stack, &self.rest, self.property);
            let lines = |(state, lines): (&Option<crate::model::State>, &Vec<Declaration>)| {
                let against = if state.is_none() { Some(&self.rest[..]) } else { base };
                (*state, self.split_list(lines, against, base.unwrap_or(&self.rest)))
            };
            stack.iter().map(lines).collect()
        };
        Table { stacks: table.stacks.iter().map(stack).collect(), transition: table.transition.clone() }
    }

    /// The declarations of one theme and state: the parts, then the rest with references to them.
    fn split_list(
        &self,
        lines: &[Declaration],
        against: Option<&[String]>,
        parts: &[String],
    ) -> Vec<Declaration> {
        let mut parts = parts.to_vec();
        let mut list_of_it = None;
        if let (Some(list), Some(against)) = (list(lines, self.property), against) {
            match list_form(list, against) {
                Some(ListForm::Changed(_)) => {
                    parts = list.to_vec();
                    list_of_it = Some((0..list.len()).map(|at| self.entry(at)).collect());
                }
                Some(ListForm::Listed(entries)) => {
                    let text = |entry| match entry {
                        Entry::Part(at) => self.entry(at),
                        Entry::Other(text) => text,
                    };
                    list_of_it = Some(entries.into_iter().map(text).collect());
                }
                None => {}
            }
        }
        let named = self.names.iter().zip(&parts).filter_map(|(name, part)| Some((name.clone()?, part)));
        let mut all: Vec<Declaration> =
            named.map(|(name, part)| Declaration::one(name, part.clone())).collect();
        all.extend(lines.iter().map(|line| match &list_of_it {
            Some(values) if line.name == self.property => {
                Declaration { name: line.name.clone(), values: Clone::clone(values) }
            }
            _ => line.clone(),
        }));
        all
    }

    fn entry(&self, at: usize) -> String {
        self.names[at].as_ref().map_or_else(|| self.rest[at].clone(), |name| format!("var({name})"))
    }
}

fn list<'l>(lines: &'l [Declaration], property: &str) -> Option<&'l [String]> {
    lines.iter().find(|line| line.name == property).map(|line| line.values.as_slice())
}

/// The list that the parts of a theme stand for; `None` where the theme has a list of its own.
fn base<'l>(stack: &'l Stack, rest: &[String], property: &str) -> Option<&'l [String]> {
    let own = list(stack.get(&None)?, property)?;
    matches!(list_form(own, rest), Some(ListForm::Changed(_))).then_some(own)
}

fn list_form(list: &[String], against: &[String]) -> Option<ListForm> {
    if list.len() == against.len() {
        let differing = list.iter().enumerate().filter(|(at, text)| **text != against[*at]);
        let differing: Vec<_> = differing.map(|(at, text)| (at, text.clone())).collect();
        if differing.len() < list.len() {
            return Some(ListForm::Changed(differing));
        }
    }
    let entry = |text: &String| match against.iter().position(|other| other == text) {
        Some(at) => Entry::Part(at),
        None => Entry::Other(text.clone()),
    };
    let entries: Vec<Entry> = list.iter().map(entry).collect();
    entries.iter().any(|entry| matches!(entry, Entry::Part(_))).then_some(ListForm::Listed(entries))
}
