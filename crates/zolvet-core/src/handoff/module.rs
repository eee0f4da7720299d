//! Names for scripts: a package's typed constants, and a sheet as a CSS module, whose classes are local to it.

use std::collections::BTreeMap;

use serde_json::{Map, Value, json};

use super::json::readable;
use super::names::Names;
use super::options::SheetOptions;
use crate::model::Project;

/// The classes of finishes, and where scenes are written those of their pieces, by the names that scripts call them.
fn classes(project: &Project, wanted: &SheetOptions, names: &Names) -> BTreeMap<String, String> {
    let finishes = wanted.finishes(project).flat_map(|finish| {
        wanted.forms(project, finish).into_iter().map(|on| names.class(finish, on)).collect::<Vec<_>>()
    });
    let pieces = names.pieces.values().filter(|_| wanted.scenes && wanted.finish.is_none()).cloned();
    let called = |class: String| {
        let plain = class.strip_prefix(names.prefix.as_str()).unwrap_or(&class);
        (script_name(plain), class)
    };
    finishes.chain(pieces).map(called).collect()
}

/// A sheet with its classes under the names that scripts call them.
pub(super) fn local_classes(sheet: &str, project: &Project, wanted: &SheetOptions) -> String {
    let classes: BTreeMap<String, String> = classes(project, wanted, &Names::new(project))
        .into_iter()
        .map(|(name, class)| (class, name))
        .collect();
    let is_name =
        |letter: char| letter.is_alphanumeric() || letter == '-' || letter == '_' || !letter.is_ascii();
    let (mut out, mut rest) = (String::with_capacity(sheet.len()), sheet);
    while let Some(at) = rest.find('.') {
        let after = &rest[at + 1..];
        let end = after.find(|letter| !is_name(letter)).unwrap_or(after.len());
        out.push_str(&rest[..=at]);
        out.push_str(classes.get(&after[..end]).map_or(&after[..end], String::as_str));
        rest = &after[end..];
    }
    out.push_str(rest);
    out
}

/// A module from which scripts import a package's names: classes, custom properties and selectors of themes.
pub(super) fn constants(project: &Project, wanted: &SheetOptions) -> String {
    let mut text = String::from("// The names in the sheet, so that a script need not spell them.\n\n");
    for (name, value) in tables(project, wanted) {
        text.push_str(&format!("export const {name} = {};\n", readable(&value).trim_end()));
    }
    text
}

/// The types of [`constants`].
pub(super) fn constant_types(project: &Project, wanted: &SheetOptions) -> String {
    let mut text = String::new();
    for (name, value) in tables(project, wanted) {
        text.push_str(&format!("export declare const {name}: {{\n"));
        for (key, value) in value.as_object().into_iter().flatten() {
            text.push_str(&format!("  readonly {}: {value};\n", quoted(key)));
        }
        text.push_str("};\n");
    }
    text
}

/// The types of a sheet as a CSS module.
pub(super) fn module_types(project: &Project, wanted: &SheetOptions) -> String {
    let mut text = String::from("declare const styles: {\n");
    for name in classes(project, wanted, &Names::new(project)).keys() {
        text.push_str(&format!("  readonly {}: string;\n", quoted(name)));
    }
    text + "};\nexport default styles;\n"
}

fn tables(project: &Project, wanted: &SheetOptions) -> [(&'static str, Value); 4] {
    let names = Names::new(project);
    let table = |all: Vec<(String, String)>| -> Value {
        Value::Object(all.into_iter().map(|(key, value)| (key, json!(value))).collect::<Map<_, _>>())
    };
    let properties = |kind: &str, named: &BTreeMap<crate::model::Id, String>| {
        let one = |name: &String| (script_name(name), names.property(&format!("{kind}-{name}")));
        named.values().map(one).collect::<Vec<_>>()
    };
    let own = ["fill", "ground", "height"].map(|name| (name.to_owned(), names.property(name)));
    [
        ("finishes", table(classes(project, wanted, &names).into_iter().collect())),
        ("properties", table(own.to_vec())),
        ("lights", table(properties("light", &names.lights))),
        ("swatches", table(properties("colour", &names.swatches))),
    ]
}

/// A name as scripts write it: `lid-text` is `lidText`.
fn script_name(name: &str) -> String {
    let mut words = name.split('-').filter(|word| !word.is_empty());
    let mut text = words.next().unwrap_or_default().to_owned();
    for word in words {
        let mut letters = word.chars();
        text.extend(letters.next().into_iter().flat_map(char::to_uppercase));
        text.push_str(letters.as_str());
    }
    text
}

/// A key, in quotes where it is no identifier.
fn quoted(key: &str) -> String {
    let plain = key.chars().all(|letter| letter.is_ascii_alphanumeric())
        && key.starts_with(|letter: char| letter.is_ascii_alphabetic());
    if plain { key.to_owned() } else { json!(key).to_string() }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_those_of_scripts() {
        for (name, expected) in
            [("lid", "lid"), ("lid-text", "lidText"), ("row-7", "row7"), ("7-up", "7Up"), ("öl", "öl")]
        {
            assert_eq!(script_name(name), expected);
        }
        assert_eq!((quoted("lidText"), quoted("7Up")), ("lidText".to_owned(), "\"7Up\"".to_owned()));
    }
}
