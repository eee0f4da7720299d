//! Values by mode: a light and a dark one of the same token, in whichever way files say so.

use std::collections::{BTreeSet, HashMap};

use serde_json::{Map, Value};

use super::words::words_of;
use crate::import::Incoming;
use crate::model::{Id, Theme};

/// The mode that values are taken of; none is the one that holds by default.
pub(super) type Mode<'m> = Option<&'m str>;

/// Modes besides the default one that are read.
const MAX_MODES: usize = 7;
/// How deep modes are looked for.
const DEEPEST: usize = 40;

/// Words that names of modes are made of (common practice, no published source).
const WORDS: [&str; 22] = [
    "base",
    "blind",
    "color",
    "colorblind",
    "colour",
    "contrast",
    "dark",
    "day",
    "default",
    "deuteranopia",
    "dim",
    "dimmed",
    "hc",
    "high",
    "increased",
    "light",
    "mode",
    "night",
    "protanopia",
    "theme",
    "tritanopia",
    "wireframe",
];
/// Values of the mode that holds by default.
const DEFAULTS: [&str; 4] = ["light", "default", "base", "day"];

/// The theme's name for a mode; nothing for the default one, and for other contexts.
fn theme_of(name: &str) -> Option<String> {
    let words = words_of(name);
    let telling: Vec<&str> =
        words.iter().map(String::as_str).filter(|word| !["mode", "theme"].contains(word)).collect();
    let is_default =
        matches!(telling.as_slice(), [] | [_]) && telling.iter().all(|word| DEFAULTS.contains(word));
    (is_mode(name) && !is_default).then(|| telling.join("-"))
}

/// The value of a mode, where an object has one for each: all its names are modes, a light and a dark one among them.
pub(super) fn by_mode<'v>(fields: &'v Map<String, Value>, mode: Mode<'_>) -> Option<&'v Value> {
    if !is_by_mode(fields) {
        return None;
    }
    let of_mode =
        mode.and_then(|mode| fields.iter().find(|(name, _)| theme_of(name).as_deref() == Some(mode)));
    let default = || DEFAULTS.iter().find_map(|name| fields.get(*name));
    of_mode.map(|(_, value)| value).or_else(default).or_else(|| fields.values().next())
}

fn is_by_mode(fields: &Map<String, Value>) -> bool {
    let is_dark = |name: &String| theme_of(name).is_some_and(|theme| theme == "dark" || theme == "night");
    fields.len() > 1 && fields.keys().all(|name| is_mode(name)) && fields.keys().any(is_dark)
}

/// A value with that of the mode in the place of each that is by mode.
pub(super) fn chosen(value: Value, mode: Mode<'_>) -> Value {
    within(value, mode, 0)
}

fn within(value: Value, mode: Mode<'_>, depth: usize) -> Value {
    if depth > 6 {
        return value;
    }
    match value {
        Value::Object(fields) => match by_mode(&fields, mode) {
            Some(value) => within(mode_value(value).clone(), mode, depth + 1),
            None => {
                let each = fields.into_iter().map(|(name, value)| (name, within(value, mode, depth + 1)));
                Value::Object(each.collect())
            }
        },
        Value::Array(items) => items.into_iter().map(|item| within(item, mode, depth + 1)).collect(),
        other => other,
    }
}

/// The value of an entry that may be a token.
fn mode_value(value: &Value) -> &Value {
    value.get("$value").or_else(|| value.get("value")).unwrap_or(value)
}

/// The value that the extensions of a token have for a mode.
pub(super) fn extension_value(token: &Map<String, Value>, mode: Mode<'_>) -> Option<Value> {
    let mode = mode?;
    let mut open: Vec<(&Value, usize)> =
        token.get("$extensions").map(|value| (value, 0)).into_iter().collect();
    while let Some((value, depth)) = open.pop() {
        let Value::Object(fields) = value else { continue };
        let of_mode = fields.iter().find(|(name, _)| theme_of(name).as_deref() == Some(mode));
        if let Some((_, value)) = of_mode.filter(|_| fields.keys().all(|name| is_mode(name))) {
            return Some(mode_value(value).clone());
        }
        if depth < 3 {
            open.extend(fields.values().map(|value| (value, depth + 1)));
        }
    }
    None
}

/// Whether a name consists of nothing but words for modes.
fn is_mode(name: &str) -> bool {
    let words = words_of(name);
    !words.is_empty() && words.iter().all(|word| WORDS.contains(&word.as_str()))
}

/// The modes of a file, besides the default one.
pub(super) fn modes_of(file: &Value) -> BTreeSet<String> {
    let mut found = BTreeSet::new();
    let mut open = vec![(file, 0)];
    while let Some((value, depth)) = open.pop() {
        match value {
            Value::Object(fields) => {
                let in_extensions =
                    fields.len() < 16 && fields.values().all(|value| value.get("$value").is_some());
                let all = !fields.is_empty() && fields.keys().all(|name| is_mode(name));
                if is_by_mode(fields) || in_extensions && all {
                    found.extend(fields.keys().filter_map(|name| theme_of(name)));
                }
                if depth < DEEPEST {
                    open.extend(fields.values().map(|value| (value, depth + 1)));
                }
            }
            Value::Array(items) if depth < DEEPEST => {
                open.extend(items.iter().map(|value| (value, depth + 1)))
            }
            _ => {}
        }
    }
    found.into_iter().take(MAX_MODES).collect()
}

/// Adds the values of a set's modes to those of its default mode: as themes.
pub(super) fn with_modes(mut incoming: Incoming, modes: Vec<(String, Incoming)>) -> Incoming {
    if modes.is_empty() {
        return incoming;
    }
    let light = Theme::named("light");
    for swatch in &mut incoming.swatches {
        if let Some(value) = swatch.values.values().next().cloned() {
            swatch.values = [(light.id.clone(), value)].into_iter().collect();
        }
    }
    incoming.themes.push(light);
    let mut finishes: HashMap<Id, usize> =
        incoming.finishes.iter().enumerate().map(|(at, finish)| (finish.id.clone(), at)).collect();
    let mut swatches: HashMap<Id, usize> =
        incoming.swatches.iter().enumerate().map(|(at, swatch)| (swatch.id.clone(), at)).collect();
    for (name, mut other) in modes {
        let theme = Theme::named(&name);
        for finish in std::mem::take(&mut other.finishes) {
            let Some(known) = finishes.get(&finish.id).map(|at| &mut incoming.finishes[*at]) else {
                finishes.insert(finish.id.clone(), incoming.finishes.len());
                incoming.finishes.push(finish);
                continue;
            };
            if known.coats != finish.coats {
                known.themes.insert(theme.id.clone(), finish.coats);
            }
        }
        for swatch in std::mem::take(&mut other.swatches) {
            let Some(known) = swatches.get(&swatch.id).map(|at| &mut incoming.swatches[*at]) else {
                swatches.insert(swatch.id.clone(), incoming.swatches.len());
                incoming.swatches.push(swatch);
                continue;
            };
            let value = swatch.values.into_values().next();
            known.values.extend(value.map(|value| (theme.id.clone(), value)));
        }
        other
            .diagnostics
            .retain(|one| !incoming.diagnostics.iter().any(|known| known.message == one.message));
        incoming.join(other, "");
        incoming.themes.push(theme);
    }
    incoming
}
