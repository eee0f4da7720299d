//! Token files as one set: read, put over one another, groups that extend others filled, older spellings made today's.

use serde_json::{Map, Value};

use super::error::{TokenError, at};
use super::older::modern;
use super::resolver::{Others, by_default, put_over};
use crate::limits;
use crate::syntax::pointer::pointer;

/// A file of tokens.
#[derive(Debug, Clone, Copy)]
pub struct TokenFile<'a> {
    /// What it is called where several are read; resolver files refer to others by it.
    pub name: &'a str,
    /// Its text.
    pub text: &'a str,
}

/// The tokens of files as one value, and the pointers of contexts that are left out.
pub(super) fn one_set(files: &[TokenFile<'_>]) -> Result<(Value, Vec<String>), TokenError> {
    if files.iter().map(|file| file.text.len()).sum::<usize>() > limits::DOCUMENT_BYTES {
        return Err(at("", "expected at most 8 MB"));
    }
    let mut parsed: Vec<(String, Value)> = Vec::new();
    for file in files {
        let value = json(file)?;
        if !value.is_object() {
            return Err(named(file, at("", "expected an object of tokens and groups")));
        }
        parsed.push((file.name.to_owned(), modern(value)));
    }
    let mut left_out = Vec::new();
    let resolvers: Vec<usize> =
        (0..parsed.len()).filter(|at| parsed[*at].1.get("resolutionOrder").is_some()).collect();
    let mut all = Map::new();
    // Files that a resolver puts together are not read once more by themselves.
    for at in 0..parsed.len() {
        if !resolvers.is_empty() && !resolvers.contains(&at) {
            continue;
        }
        let others = Others(&parsed);
        let (value, contexts) = by_default(parsed[at].1.clone(), &others)?;
        left_out.extend(contexts);
        put_over(&mut all, &value);
    }
    let mut set = Value::Object(all);
    extend(&mut set)?;
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
const MOST_EXTENDED: usize = 2_000;

/// Fills groups that extend others: what they say themselves wins (Format Module 2025.10, §6.4, "Extending Groups").
fn extend(set: &mut Value) -> Result<(), TokenError> {
    for _ in 0..DEEPEST {
        let mut found = Vec::new();
        extending(set, &mut Vec::new(), &mut found);
        if found.is_empty() {
            return Ok(());
        }
        if found.len() > MOST_EXTENDED {
            return Err(at("", "expected at most 2000 groups that extend others"));
        }
        for (path, target) in found {
            let place = pointer(path.iter().map(String::as_str));
            let source = set.pointer(&target).and_then(Value::as_object).cloned().unwrap_or_default();
            let Some(group) = set.pointer_mut(&place).and_then(Value::as_object_mut) else { continue };
            group.shift_remove("$extends");
            let own = std::mem::replace(group, source);
            put_over(group, &Value::Object(own));
        }
    }
    Err(at("", "expected groups that do not extend one another in circles"))
}

/// Groups that extend others, by their names, and the pointers of what they extend.
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
