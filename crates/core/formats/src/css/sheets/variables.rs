//! Custom properties that hold shadows: a library's own names for them.

use std::cell::Cell;
use std::collections::{BTreeMap, HashSet};

use super::super::shadows::{Property, shadow_list};
use super::depth::is_depth;
use super::element::Page;
use super::library::{Library, SheetTheme};
use super::settings::Settings;
use super::style::Expansions;
use super::text::referred;
use crate::model::{Coat, CssColour};

/// A custom property that holds shadows, with them in each theme.
pub(super) struct ShadowVariable {
    pub name: String,
    pub coats: Vec<Vec<Coat>>,
    /// How many declarations use it.
    pub uses: usize,
}

/// The custom properties of the root that hold shadows, in the order in which they are set. Those that are only parts of longer
/// lists are none of them.
pub(super) fn shadow_variables(
    library: &Library<'_>,
    settings: &Settings,
    room: &Cell<Expansions>,
) -> Vec<ShadowVariable> {
    let names = names(library);
    let (whole, parts) = uses(library);
    let by_theme: Vec<BTreeMap<usize, Vec<Coat>>> = library
        .themes
        .iter()
        .filter(|theme| !theme.is_twin)
        .map(|theme| coats_in(library, theme, &names, settings, room))
        .collect();
    let mut all = Vec::new();
    for (at, name) in names.iter().enumerate() {
        let uses = whole.get(name).copied().unwrap_or(0);
        let Some(first) = by_theme.first().and_then(|coats| coats.get(&at)) else { continue };
        if uses == 0 && parts.contains(name) {
            continue;
        }
        let coats = by_theme.iter().map(|coats| coats.get(&at).unwrap_or(first).clone()).collect();
        all.push(ShadowVariable { name: name.clone(), coats, uses });
    }
    all
}

/// Names that rules for the root set.
fn names(library: &Library<'_>) -> Vec<String> {
    let mut seen = HashSet::new();
    let mut names = Vec::new();
    for rule in &library.cascade.sheet.rules {
        let root = rule.text.contains(":root") || rule.text.contains("html") || rule.text.contains("theme");
        for declaration in rule.declarations.iter().filter(|one| root && one.name.starts_with("--")) {
            if seen.insert(declaration.name.as_str()) {
                names.push(declaration.name.clone());
            }
        }
    }
    names
}

/// How often a custom property is all that a declaration about depth says, and which are only parts of values.
fn uses(library: &Library<'_>) -> (BTreeMap<String, usize>, HashSet<String>) {
    let (mut whole, mut parts) = (BTreeMap::new(), HashSet::new());
    for declaration in library.cascade.sheet.rules.iter().flat_map(|rule| &rule.declarations) {
        let value = declaration.value.trim();
        let alone = value.strip_prefix("var(").and_then(|rest| rest.strip_suffix(')'));
        match alone.map(|name| name.split(',').next().unwrap_or(name).trim()) {
            Some(name) if !value[4..].contains("var(") => {
                if is_depth(declaration) {
                    *whole.entry(name.to_owned()).or_default() += 1;
                }
            }
            _ => parts.extend(referred(value)),
        }
    }
    (whole, parts)
}

/// Whether a shadow says its colour: without one, a list of lengths may be anything.
fn has_colour(shadow: &str) -> bool {
    let is_length =
        |word: &str| word.starts_with(|letter: char| letter.is_ascii_digit() || "+-.".contains(letter));
    shadow.split_whitespace().any(|word| !is_length(word) && word != "inset")
}

/// The coats of those that hold shadows in a theme, by the place of their names.
fn coats_in(
    library: &Library<'_>,
    theme: &SheetTheme,
    names: &[String],
    settings: &Settings,
    room: &Cell<Expansions>,
) -> BTreeMap<usize, Vec<Coat>> {
    library.at_root(theme, settings, room, |style| {
        let coats = |(at, name): (usize, &String)| {
            let value = style.variable(Page::ROOT, name)?;
            // A number, a colour or a name is not worth a try, and two numbers may be anything.
            if !value.contains("px") && !value.contains("em") {
                return None;
            }
            let computed = style.computed(Page::ROOT, &value).ok()?;
            let coats = shadow_list(Property::BoxShadow, &computed, &CssColour::black()).ok()?;
            let each = super::super::sheet::split_at_commas(&computed);
            (!coats.is_empty() && each.iter().all(|one| has_colour(one))).then_some((at, coats))
        };
        names.iter().enumerate().filter_map(coats).collect()
    })
}
