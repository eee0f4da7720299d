//! Spellings of token files other than the format's own, made the format's: `value` and `type` without their sign, shadows
//! as CSS text or as tokens for each of their parts, values by mode, and files that are nothing but names and values.

use std::collections::BTreeMap;

use serde_json::{Map, Value, json};

use super::modes::{Mode, by_mode, chosen, extension_value};
use super::text::is_shadow;
use super::words::words_of;

/// A file as the format has it, with the values of one mode; `scheme` is the one that the file is for, if it is for one.
pub(super) fn spelled(file: Value, mode: Mode<'_>, scheme: Option<&str>) -> Value {
    let is_format = file.get("resolutionOrder").is_some() || has_key(&file, "$value", 0);
    let speller = Speller { mode, scheme, is_format };
    speller.node(file, &InheritedFields::default(), 0).unwrap_or_else(|| json!({}))
}

const DEEPEST: usize = 40;

fn has_key(value: &Value, key: &str, depth: usize) -> bool {
    if depth > DEEPEST {
        return false;
    }
    match value {
        Value::Object(fields) => {
            fields.contains_key(key) || fields.values().any(|inner| has_key(inner, key, depth + 1))
        }
        Value::Array(items) => items.iter().any(|inner| has_key(inner, key, depth + 1)),
        _ => false,
    }
}

struct Speller<'m> {
    mode: Mode<'m>,
    /// Names begin with it in files that are for one.
    scheme: Option<&'m str>,
    /// The file has tokens as the format spells them.
    is_format: bool,
}

/// Properties that the groups around a token set for it.
#[derive(Clone, Default)]
struct InheritedFields {
    /// A name among them says that it is a shadow.
    is_shadow: bool,
    /// A group declares the type of its tokens.
    has_type: bool,
    /// They are the contexts of a modifier, which the resolver chooses from.
    are_contexts: bool,
}

impl Speller<'_> {
    /// A group or token; `None` where there is neither.
    fn node(&self, value: Value, around: &InheritedFields, depth: usize) -> Option<Value> {
        if depth > DEEPEST {
            return None;
        }
        match value {
            Value::Object(fields) => Some(self.object(fields, around, depth)),
            Value::Array(items) => self.list(items, around, depth),
            Value::String(text)
                if is_shadow(&text) || around.is_shadow && !self.is_format && is_about(&text) =>
            {
                Some(json!({"$type": "shadow", "$value": text}))
            }
            // In a file of tokens, something else is said to be neither.
            other => self.is_format.then_some(other),
        }
    }

    fn object(&self, fields: Map<String, Value>, around: &InheritedFields, depth: usize) -> Value {
        if fields.contains_key("$value") {
            return self.token(fields, around);
        }
        let has_value = fields.get("value").is_some_and(|value| !is_token(value));
        // In a file of tokens `value` may be a name, unless what a tool leaves beside a value is there.
        let is_told = || ["original", "filePath", "attributes"].iter().any(|name| fields.contains_key(*name));
        if (has_value || fields.contains_key("sets")) && (!self.is_format || is_told()) {
            return self.token(with_signs(fields), around);
        }
        if let Some(value) = by_mode(&fields, self.mode)
            .filter(|_| !around.are_contexts && holds_shadow(&fields, around, depth))
        {
            return self.node(value.clone(), around, depth + 1).unwrap_or_else(|| json!({}));
        }
        if is_shadow_of_parts(&fields) {
            return json!({"$type": "shadow", "$value": shadow(chosen(Value::Object(fields), self.mode))});
        }
        let has_type = around.has_type || fields.contains_key("$type");
        let mut out = Map::new();
        for (name, inner) in fields {
            if name.starts_with('$') && name != "$root" {
                out.insert(name, inner);
                continue;
            }
            let name = self.without_scheme(name);
            let is_shadow = around.is_shadow || is_name_of_shadow(&name);
            let inside = InheritedFields { is_shadow, has_type, are_contexts: name == "contexts" };
            if let Some(inner) = self.node(inner, &inside, depth + 1) {
                out.insert(name, inner);
            }
        }
        Value::Object(out)
    }

    /// A name without the scheme that it begins with: `Dark/elevation.raised` in a file for the dark one.
    fn without_scheme(&self, name: String) -> String {
        let rest = self.scheme.and_then(|scheme| {
            let (first, rest) = name.split_once('/')?;
            first.eq_ignore_ascii_case(scheme).then(|| rest.to_owned())
        });
        rest.unwrap_or(name)
    }

    /// A list outside of tokens: the layers of one shadow, or tokens one after another.
    fn list(&self, items: Vec<Value>, around: &InheritedFields, depth: usize) -> Option<Value> {
        let is_layer = |item: &Value| item.as_object().is_some_and(is_shadow_of_parts);
        if !items.is_empty() && items.iter().all(is_layer) {
            return Some(
                json!({"$type": "shadow", "$value": shadow(chosen(Value::Array(items), self.mode))}),
            );
        }
        let is_told = |item: &Value| item.get("$value").is_some() && item.get("name").is_some();
        if self.is_format && (items.is_empty() || !items.iter().all(is_told)) {
            let item = |item| self.node(item, around, depth + 1);
            return Some(Value::Array(items.into_iter().filter_map(item).collect()));
        }
        let mut out = Map::new();
        for (number, item) in items.into_iter().enumerate() {
            let name =
                item.get("name").and_then(Value::as_str).map_or_else(|| number.to_string(), str::to_owned);
            let inside =
                InheritedFields { is_shadow: around.is_shadow || is_name_of_shadow(&name), ..*around };
            if let Some(inner) = self.node(item, &inside, depth + 1) {
                out.insert(name, inner);
            }
        }
        (!out.is_empty()).then_some(Value::Object(out))
    }

    fn token(&self, mut fields: Map<String, Value>, around: &InheritedFields) -> Value {
        if let Some(value) = extension_value(&fields, self.mode) {
            fields.insert("$value".to_owned(), value);
        }
        let value = fields.get("$value").cloned().unwrap_or_default();
        let value = shadow(chosen(value, self.mode));
        let category = fields.get("category").and_then(Value::as_str).unwrap_or_default();
        let is_shadow = is_plainly_shadow(&value);
        let said = fields.get("$type").cloned().map(kind);
        let is_known = said.as_ref().and_then(Value::as_str).is_some_and(|kind| KINDS.contains(&kind));
        match said {
            // Other types say nothing about depth: what can only be a shadow is one.
            Some(said) if is_known || !is_shadow && !is_name_of_shadow(category) => {
                fields.insert("$type".to_owned(), said);
            }
            None if around.has_type || !is_shadow && !is_name_of_shadow(category) => {}
            _ => drop(fields.insert("$type".to_owned(), json!("shadow"))),
        }
        fields.insert("$value".to_owned(), value);
        Value::Object(fields)
    }
}

/// Whether a value can be nothing but shadows, in the format's words or as CSS has them.
fn is_plainly_shadow(value: &Value) -> bool {
    match value {
        Value::String(text) => is_shadow(text),
        Value::Array(items) => !items.is_empty() && items.iter().all(is_plainly_shadow),
        Value::Object(fields) => fields.contains_key("offsetX") && fields.contains_key("color"),
        _ => false,
    }
}

/// Types of the format (§8 and §9).
const KINDS: [&str; 13] = [
    "border",
    "color",
    "cubicBezier",
    "dimension",
    "duration",
    "fontFamily",
    "fontWeight",
    "gradient",
    "number",
    "shadow",
    "strokeStyle",
    "transition",
    "typography",
];

/// A token with `$value` for `value`, and so on.
fn with_signs(fields: Map<String, Value>) -> Map<String, Value> {
    let mut out = Map::new();
    for (name, inner) in fields {
        match name.as_str() {
            "value" | "type" => drop(out.insert(format!("${name}"), inner)),
            "description" | "comment" => drop(out.insert("$description".to_owned(), inner)),
            "sets" => drop(out.entry("$value").or_insert(inner)),
            _ => drop(out.insert(name, inner)),
        }
    }
    out
}

/// Whether something is a token of its own, so that `value` is a name.
fn is_token(value: &Value) -> bool {
    value.get("value").is_some() && value.get("type").is_some()
}

fn kind(value: Value) -> Value {
    let words = value.as_str().map(words_of).unwrap_or_default();
    let is_shadow = words.iter().any(|word| word == "shadow") && !words.iter().any(|word| word == "color");
    if is_shadow { json!("shadow") } else { value }
}

/// Whether a name says that its value is a shadow.
fn is_name_of_shadow(name: &str) -> bool {
    words_of(name)
        .iter()
        .any(|word| ["shadow", "shadows", "elevation", "elevations", "boxshadow"].contains(&word.as_str()))
}

/// Whether a text among shadows is about them: `none` and names of anything else are not.
fn is_about(text: &str) -> bool {
    text.contains("var(") || text.contains("px ")
}

/// Whether there is a shadow in a group.
fn holds_shadow(fields: &Map<String, Value>, around: &InheritedFields, depth: usize) -> bool {
    let mut open: Vec<(&Value, usize)> = fields.values().map(|value| (value, depth)).collect();
    while let Some((value, depth)) = open.pop() {
        match value {
            Value::Object(inner) if is_shadow_of_parts(inner) => return true,
            Value::Object(inner) if depth < DEEPEST => {
                if inner.keys().any(|name| is_name_of_shadow(name)) {
                    return true;
                }
                open.extend(inner.values().map(|value| (value, depth + 1)));
            }
            Value::Array(items) => open
                .extend(items.iter().map(|value| (value, depth + 1)).filter(|(_, depth)| *depth < DEEPEST)),
            Value::String(text) if around.is_shadow || is_shadow(text) => return true,
            _ => {}
        }
    }
    false
}

/// A part of a shadow.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Part {
    /// Both offsets, in an object.
    Offset,
    X,
    Y,
    Blur,
    Spread,
    Colour,
    /// Says how much of the colour there is.
    Alpha,
    Opacity,
    /// Says whether it lies inside.
    Side,
}

impl Part {
    fn from_name(name: &str) -> Option<Self> {
        let words = words_of(name);
        let joined = words.iter().filter(|word| *word != "radius").cloned().collect::<String>();
        Some(match joined.as_str() {
            "offset" => Self::Offset,
            "x" | "offsetx" | "xoffset" => Self::X,
            "y" | "offsety" | "yoffset" => Self::Y,
            "blur" => Self::Blur,
            "" if words == ["radius"] => Self::Blur,
            "spread" => Self::Spread,
            "color" | "colour" => Self::Colour,
            "alpha" => Self::Alpha,
            "opacity" => Self::Opacity,
            "type" | "inset" | "position" => Self::Side,
            _ => return None,
        })
    }
}

/// Whether an object is a shadow: offsets, and nothing that is not part of one.
fn is_shadow_of_parts(fields: &Map<String, Value>) -> bool {
    let parts: Option<Vec<Part>> =
        fields.keys().filter(|name| !name.starts_with('$')).map(|name| Part::from_name(name)).collect();
    let has = |wanted: Part| parts.as_ref().is_some_and(|parts| parts.contains(&wanted));
    (has(Part::X) || has(Part::Y) || has(Part::Offset)) && (has(Part::Blur) || has(Part::Colour))
}

/// Shadows in the format's words (§9.6).
fn shadow(value: Value) -> Value {
    match value {
        Value::Array(list) => Value::Array(list.into_iter().map(shadow).collect()),
        Value::Object(fields) if is_shadow_of_parts(&fields) => Value::Object(join_parts(fields)),
        other => other,
    }
}

fn join_parts(fields: Map<String, Value>) -> Map<String, Value> {
    let mut out = Map::new();
    let (mut alpha, mut opacity) = (None, None);
    for (name, inner) in fields {
        let inner = part_value(inner);
        let name = match Part::from_name(&name) {
            Some(Part::Offset) => {
                for (axis, name) in [("x", "offsetX"), ("y", "offsetY")] {
                    out.extend(inner.get(axis).map(|length| (name.to_owned(), length.clone())));
                }
                continue;
            }
            Some(Part::X) => "offsetX",
            Some(Part::Y) => "offsetY",
            Some(Part::Blur) => "blur",
            Some(Part::Spread) => "spread",
            Some(Part::Colour) => "color",
            Some(Part::Alpha) => {
                alpha = Some(inner);
                continue;
            }
            Some(Part::Opacity) => {
                opacity = Some(inner);
                continue;
            }
            Some(Part::Side) => {
                let text = inner.as_str().unwrap_or_default().to_ascii_lowercase();
                let inset = inner
                    .as_bool()
                    .unwrap_or_else(|| ["inner", "inset", "true"].iter().any(|word| text.contains(word)));
                out.insert("inset".to_owned(), json!(inset));
                continue;
            }
            None => continue,
        };
        out.insert(name.to_owned(), inner);
    }
    for (name, share) in [("alpha", alpha), ("opacity", opacity)] {
        let Some(share) = share else { continue };
        if let Some(colour) = out.shift_remove("color") {
            out.insert("color".to_owned(), json!({"color": colour, name: share}));
        }
    }
    for name in ["offsetX", "offsetY"] {
        out.entry(name).or_insert_with(|| json!("0px"));
    }
    out
}

/// The value of a part, which may be a token of its own.
fn part_value(value: Value) -> Value {
    let inner =
        value.get("$value").or_else(|| value.get("value").filter(|_| value.get("unit").is_none())).cloned();
    inner.unwrap_or(value)
}

/// Puts shadows together whose parts are tokens side by side: `shadow-100-x`, `shadow-100-blur` and so on.
pub(super) fn compose(value: &mut Value, depth: usize) {
    let Value::Object(group) = value else { return };
    if depth > DEEPEST || group.contains_key("$value") {
        return;
    }
    let mut found: BTreeMap<String, Map<String, Value>> = BTreeMap::new();
    for (name, value) in group.iter_mut() {
        compose(value, depth + 1);
        let words = words_of(name);
        let is_shadow = words.iter().any(|word| ["shadow", "elevation"].contains(&word.as_str()));
        if !is_shadow || value.get("$value").is_none() {
            continue;
        }
        let Some(part) = words.iter().find(|word| Part::from_name(word).is_some()) else { continue };
        let is_part = |word: &&String| *word == part || ["offset", "radius"].contains(&word.as_str());
        let rest: Vec<String> = words.iter().filter(|word| !is_part(word)).cloned().collect();
        let (rest, alias) = (rest.join("-"), json!(format!("{{{name}}}")));
        found.entry(rest).or_default().insert(part.clone(), alias);
    }
    for (name, parts) in found {
        let has_colour = parts.keys().any(|name| Part::from_name(name) == Some(Part::Colour));
        if is_shadow_of_parts(&parts) && has_colour && !group.contains_key(&name) {
            group.insert(name, json!({"$type": "shadow", "$value": Value::Object(join_parts(parts))}));
        }
    }
}
