//! Documents of the Resolver Module (2025.10): sets of tokens, and modifiers that put others in their place.

use serde_json::{Map, Value};

use super::error::{TokenError, at};
use super::modes::{Mode, by_mode};
use crate::syntax::pointer::pointer;

/// Values that are put together in one document.
const MAX_VALUES: usize = 4_000_000;

/// The tokens of a document as they hold in a mode: sets and the contexts of modifiers, the default ones but for those of the
/// mode, in their order (§6, "Resolution Logic"), and the pointers of the contexts that no mode has. A file of tokens is itself.
///
/// # Errors
/// [`TokenError`] where a part is missing, or lies in another file.
pub(super) fn resolved(
    file: Value,
    others: &Others<'_>,
    mode: Mode<'_>,
) -> Result<(Value, Vec<String>), TokenError> {
    let Some(order) = file.get("resolutionOrder") else {
        return Ok((file, Vec::new()));
    };
    let place = "/resolutionOrder";
    let order = order.as_array().ok_or_else(|| at(place, "expected a list"))?;
    let mut tokens = Map::new();
    let mut left = MAX_VALUES;
    for (number, item) in order.iter().enumerate() {
        let place = format!("{place}/{number}");
        let target = others.followed(&file, item, &place)?;
        for source in sources(target, mode, &place)? {
            let source = others.followed(&file, source, &place)?;
            left = left
                .checked_sub(count(source))
                .ok_or_else(|| at(&place, &format!("expected sources of at most {MAX_VALUES} values")))?;
            put_over(&mut tokens, source);
        }
    }
    if let Some(extensions) = file.get("$extensions") {
        tokens.insert("$extensions".to_owned(), extensions.clone());
    }
    let left_out = left_out(&file);
    Ok((Value::Object(tokens), left_out))
}

/// Files that a resolver may refer to, by their names.
pub(super) struct Others<'o>(pub &'o [(String, Value)]);

impl<'o> Others<'o> {
    /// The target of a reference: within its own file, or in another (§4.2, "Reference Objects").
    fn followed<'v>(&'v self, file: &'v Value, value: &'v Value, place: &str) -> Result<&'v Value, TokenError>
    where
        'o: 'v,
    {
        let Some(reference) = value.get("$ref").and_then(Value::as_str) else { return Ok(value) };
        let (name, pointer) = reference.split_once('#').unwrap_or((reference, ""));
        let there = if name.is_empty() { Some(file) } else { self.file(name) };
        let name = file_name(name);
        let there = there.ok_or_else(|| at(place, &format!("expected the file {name} too")))?;
        there.pointer(pointer).ok_or_else(|| at(place, "expected a set, modifier or source that is there"))
    }
}

impl Others<'_> {
    /// The file of a path: of those of its name, the one whose folders are most like those of the path. Files that are chosen
    /// one by one have lost theirs.
    fn file(&self, path: &str) -> Option<&Value> {
        let segments = |path: &str| -> Vec<String> {
            path.rsplit(['/', '\\']).filter(|part| *part != ".").map(str::to_owned).collect()
        };
        let wanted = segments(path);
        let alike = |name: &str| segments(name).iter().zip(&wanted).take_while(|(a, b)| a == b).count();
        let same = self.0.iter().filter(|(name, _)| file_name(name) == file_name(path));
        same.max_by_key(|(name, _)| alike(name)).map(|(_, value)| value)
    }
}

fn file_name(path: &str) -> &str {
    path.rsplit(['/', '\\']).next().unwrap_or_default()
}

/// The contexts of modifiers that do not hold by default.
fn left_out(file: &Value) -> Vec<String> {
    let modifiers = file.get("modifiers").and_then(Value::as_object).into_iter().flatten();
    let each = modifiers.filter_map(|(name, modifier)| {
        let contexts =
            modifier.get("contexts")?.as_object().filter(|contexts| by_mode(contexts, None).is_none())?;
        let first = contexts.keys().next().map(String::as_str);
        let default = modifier.get("default").and_then(Value::as_str).or(first);
        let others = contexts.keys().filter(move |context| Some(context.as_str()) != default);
        Some(others.map(move |context| pointer(["modifiers", name, "contexts", context])))
    });
    each.flatten().collect()
}

/// The sources of a set, or those of a modifier's context: the default one, or that of the mode.
fn sources<'a>(target: &'a Value, mode: Mode<'_>, place: &str) -> Result<&'a [Value], TokenError> {
    let sources = target.get("sources").or_else(|| {
        let contexts = target.get("contexts")?.as_object()?;
        if let Some(context) = mode.and_then(|_| by_mode(contexts, mode)) {
            return Some(context);
        }
        match target.get("default").and_then(Value::as_str) {
            Some(name) => contexts.get(name),
            None => contexts.values().next(),
        }
    });
    let sources = sources.and_then(Value::as_array);
    sources.map(Vec::as_slice).ok_or_else(|| at(place, "expected sources, or contexts with a default"))
}

/// The values in a value, itself included.
pub(super) fn count(value: &Value) -> usize {
    1 + match value {
        Value::Object(fields) => fields.values().map(count).sum(),
        Value::Array(items) => items.iter().map(count).sum(),
        _ => 0,
    }
}

/// Puts groups and tokens over those of the same name.
pub(super) fn put_over(tokens: &mut Map<String, Value>, source: &Value) {
    let Value::Object(source) = source else { return };
    for (name, value) in source {
        match (tokens.get_mut(name), value) {
            (Some(Value::Object(there)), Value::Object(_)) if value.get("$value").is_none() => {
                put_over(there, value);
            }
            _ => drop(tokens.insert(name.clone(), value.clone())),
        }
    }
}
