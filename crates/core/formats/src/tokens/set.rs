//! Token files as one set: read, put over one another, groups that extend others filled, other spellings made the format's.

use std::collections::BTreeSet;

use serde_json::{Map, Value};

use super::EXTENSION;
use super::error::{TokenError, at};
use super::modes::{Mode, modes_of};
use super::resolver::{Others, count, put_over, resolved};
use super::spelling::{compose, spelled};
use crate::limits;
use crate::syntax::pointer::pointer;
use crate::syntax::schemes_of;

/// A file of tokens.
#[derive(Debug, Clone, Copy)]
pub struct TokenFile<'a> {
    /// Its name where several are read; resolver files refer to others by it.
    pub name: &'a str,
    /// Its text.
    pub text: &'a str,
}

/// The tokens of files as one value.
pub(super) struct TokenSet {
    /// Values that hold by default.
    pub base: Value,
    /// Values of each other mode, by its name.
    pub modes: Vec<(String, Value)>,
    /// The pointers of contexts that are left out.
    pub left_out: Vec<String>,
}

/// A file that was parsed.
struct Parsed {
    name: String,
    value: Value,
    /// The scheme that it is for, where another is for the other.
    scheme: Option<&'static str>,
}

impl TokenSet {
    /// The tokens of files. A file that we wrote has the values of every theme in it.
    pub fn read(files: &[TokenFile<'_>]) -> Result<Self, TokenError> {
        if files.iter().map(|file| file.text.len()).sum::<usize>() > limits::DOCUMENT_BYTES {
            return Err(at("", &format!("expected at most {} MB", limits::DOCUMENT_BYTES >> 20)));
        }
        let mut parsed: Vec<Parsed> = Vec::new();
        for (file, scheme) in files.iter().zip(schemes_of(files.iter().map(|file| file.name))) {
            let value = json(file)?;
            if !value.is_object() && !value.is_array() {
                return Err(named(file, at("", "expected an object of tokens and groups")));
            }
            parsed.push(Parsed { name: file.name.to_owned(), value, scheme });
        }
        // A resolver says itself which file holds when.
        if parsed.iter().any(|file| file.value.get("resolutionOrder").is_some()) {
            parsed.iter_mut().for_each(|file| file.scheme = None);
        }
        let is_ours = parsed
            .iter()
            .any(|file| file.value.get("$extensions").is_some_and(|all| all.get(EXTENSION).is_some()));
        let mut modes: BTreeSet<String> = parsed.iter().flat_map(|file| modes_of(&file.value)).collect();
        modes.extend(
            parsed
                .iter()
                .filter_map(|file| file.scheme)
                .filter(|scheme| *scheme == "dark")
                .map(str::to_owned),
        );
        if is_ours {
            modes.clear();
        }
        let (base, left_out) = in_mode(&parsed, None)?;
        let modes = modes.into_iter().map(|mode| Ok((in_mode(&parsed, Some(&mode))?.0, mode)));
        let modes =
            modes.map(|found| found.map(|(value, mode)| (mode, value))).collect::<Result<_, TokenError>>()?;
        Ok(Self { base, modes, left_out })
    }
}

/// The tokens of files in a mode, and the pointers of contexts that are left out.
fn in_mode(files: &[Parsed], mode: Mode<'_>) -> Result<(Value, Vec<String>), TokenError> {
    let other = if mode == Some("dark") { "light" } else { "dark" };
    let files = files.iter().filter(|file| file.scheme != Some(other));
    let spelled: Vec<(String, Value)> =
        files.map(|file| (file.name.clone(), spelled(file.value.clone(), mode, file.scheme))).collect();
    let is_resolver = |at: &usize| spelled[*at].1.get("resolutionOrder").is_some();
    let resolvers: Vec<usize> = (0..spelled.len()).filter(is_resolver).collect();
    let (mut all, mut left_out) = (Map::new(), Vec::new());
    // Files that a resolver puts together are not read once more by themselves.
    for at in 0..spelled.len() {
        if !resolvers.is_empty() && !resolvers.contains(&at) {
            continue;
        }
        let (value, contexts) = resolved(spelled[at].1.clone(), &Others(&spelled), mode)?;
        left_out.extend(contexts);
        put_over(&mut all, &value);
    }
    let mut set = Value::Object(all);
    extend(&mut set)?;
    compose(&mut set, 0);
    Ok((set, left_out))
}

/// JSON, also with comments and commas at the end of lists.
fn json(file: &TokenFile<'_>) -> Result<Value, TokenError> {
    let text = file.text.trim_start_matches('\u{feff}');
    serde_json::from_str(text).or_else(|error| {
        let options = jsonc_parser::ParseOptions::default();
        let lenient = jsonc_parser::parse_to_serde_value::<Value>(text, &options).ok();
        lenient.ok_or_else(|| {
            let place = format!("{}:{}", error.line(), error.column());
            named(file, TokenError { place, message: error.to_string() })
        })
    })
}

/// An error with the file it is in.
fn named(file: &TokenFile<'_>, error: TokenError) -> TokenError {
    if file.name.is_empty() {
        return error;
    }
    TokenError { place: format!("{} {}", file.name, error.place), ..error }
}

/// Groups within groups that extend others.
const DEEPEST: usize = 16;
/// Groups that are filled from others.
const MAX_EXTENDED: usize = 2_000;
/// Values that are copied into groups which extend others: two groups that each hold one extending the other double each time.
const MAX_COPIED: usize = 500_000;

/// Fills groups that extend others: their own entries win (Format Module 2025.10, §6.4, "Extending Groups").
fn extend(set: &mut Value) -> Result<(), TokenError> {
    let mut left = MAX_COPIED;
    for _ in 0..DEEPEST {
        let mut found = Vec::new();
        extending(set, &mut Vec::new(), &mut found);
        if found.is_empty() {
            return Ok(());
        }
        if found.len() > MAX_EXTENDED {
            return Err(at("", &format!("expected at most {MAX_EXTENDED} groups that extend others")));
        }
        for (path, target) in found {
            let place = pointer(path.iter().map(String::as_str));
            if place == target || place.starts_with(&format!("{target}/")) {
                return Err(at(&place, "expected a group that does not extend itself or one around it"));
            }
            let source = copied(set.pointer(&target), &mut left).ok_or_else(|| {
                at(&place, &format!("expected groups that copy at most {MAX_COPIED} values in all"))
            })?;
            let Some(group) = set.pointer_mut(&place).and_then(Value::as_object_mut) else { continue };
            group.shift_remove("$extends");
            let own = std::mem::replace(group, source);
            put_over(group, &Value::Object(own));
        }
    }
    Err(at("", "expected groups that do not extend one another in circles"))
}

/// A copy of a group, its values taken from those that are left; `None` where too few are.
fn copied(group: Option<&Value>, left: &mut usize) -> Option<Map<String, Value>> {
    let Some(group) = group.filter(|value| value.is_object()) else { return Some(Map::new()) };
    *left = left.checked_sub(count(group))?;
    group.as_object().cloned()
}

/// Groups that extend others, by their names, and the pointers of the groups they extend.
fn extending(value: &Value, path: &mut Vec<String>, found: &mut Vec<(Vec<String>, String)>) {
    let Value::Object(fields) = value else { return };
    if path.len() > 2 * DEEPEST {
        return;
    }
    if let Some(target) = fields.get("$extends").and_then(target) {
        found.push((path.clone(), target));
    }
    for (name, inner) in fields.iter().filter(|(name, _)| !name.starts_with('$')) {
        path.push(name.clone());
        extending(inner, path, found);
        path.pop();
    }
}

/// The pointer of `{a.b}`, `#/a/b` or `{"$ref": "#/a/b"}`.
fn target(value: &Value) -> Option<String> {
    let text = value.as_str().or_else(|| value.get("$ref")?.as_str())?;
    let named = text.strip_prefix('{').and_then(|rest| rest.strip_suffix('}'));
    Some(named.map_or_else(|| text.trim_start_matches('#').to_owned(), |names| pointer(names.split('.'))))
}
