//! A project as a token file, one for each theme, or one with all themes as modes.

use std::collections::HashSet;

use const_fnv1a_hash::fnv1a_hash_32;
use serde::{Deserialize, Serialize};
use serde_json::{Map, Value, json};

use super::EXTENSION;
use crate::asset::Assets;
use crate::colour::{Rgba, css_text};
use crate::limits;
use crate::lower::{Numbers, Target, TrialPiece, fewest, lower_written, specimen};
use crate::model::{
    self, Coat, CoatKind, ColourSource, Finish, Id, Light, OwnCoats, Project, Scene, SharedReference, Swatch,
    Wear,
};
use crate::resolve::{self, Context, PaintOp, Piece, Shadow, ShadowKind};
use crate::syntax::{UniqueNames, number_text};

/// How tokens are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct TokenOptions<'a> {
    /// Only this finish, with nothing of the rest.
    pub finish: Option<&'a Id>,
    /// How numbers are written.
    pub numbers: Numbers,
    /// In which form values are written.
    pub form: TokenForm,
}

/// In which form colours and dimensions are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum TokenForm {
    /// As the report of 2025.10 has them: objects.
    #[default]
    Objects,
    /// As earlier drafts had them: text, with the colours of CSS.
    Strings,
}

/// The project's swatches, finishes with their states, and lights as tokens of a theme. Anything the format cannot hold
/// goes under `$extensions` of the token that it belongs to, and comes back when the file is read.
#[must_use]
pub fn write(project: &Project, theme: &Id, assets: &Assets, wanted: TokenOptions<'_>) -> Value {
    let mut file = tokens(project, theme, assets, wanted);
    let ours =
        json!({ "name": project.name, "prefix": project.prefix, "theme": theme, "themes": project.themes });
    file.insert("$extensions".to_owned(), json!({ EXTENSION: ours }));
    let name = project.theme(theme).map_or("", |theme| theme.name.as_str());
    file.insert("$description".to_owned(), json!(format!("{}, {name}", project.name)));
    Value::Object(file)
}

/// The project as a document of the Resolver Module (2025.10, §4): a set with the tokens of the first theme, and a
/// modifier with the differences of each of the others.
#[must_use]
pub fn write_modes(project: &Project, assets: &Assets, wanted: TokenOptions<'_>) -> Value {
    let Some((first, others)) = project.themes.split_first() else { return Value::Object(Map::new()) };
    let base = tokens(project, &first.id, assets, wanted);
    let mut contexts = Map::new();
    contexts.insert(first.name.clone(), json!([]));
    for theme in others {
        let there = Value::Object(tokens(project, &theme.id, assets, wanted));
        let differing = beyond(&there, &Value::Object(base.clone())).unwrap_or_else(|| json!({}));
        contexts.insert(theme.name.clone(), json!([differing]));
    }
    json!({
        "version": "2025.10",
        "name": project.name,
        "sets": { "tokens": { "sources": [base] } },
        "modifiers": { "theme": { "contexts": contexts, "default": first.name } },
        "resolutionOrder": [{ "$ref": "#/sets/tokens" }, { "$ref": "#/modifiers/theme" }],
        "$extensions": { EXTENSION: { "name": project.name, "prefix": project.prefix, "theme": first.id, "themes": project.themes } },
    })
}

/// The tokens of a group that have another value in another group.
fn beyond(group: &Value, other: &Value) -> Option<Value> {
    if group == other {
        return None;
    }
    let Value::Object(fields) = group else { return Some(group.clone()) };
    if let Some(value) = fields.get("$value") {
        // What is kept with a token is kept with that of the first theme.
        return (other.get("$value") != Some(value)).then(|| json!({ "$value": value }));
    }
    let differing = fields.iter().filter_map(|(name, value)| {
        if name == "$type" {
            return Some((name.clone(), value.clone()));
        }
        Some((name.clone(), beyond(value, other.get(name).unwrap_or(&Value::Null))?))
    });
    let differing: Map<String, Value> = differing.collect();
    differing.keys().any(|name| name != "$type").then_some(Value::Object(differing))
}

/// The groups of tokens under a theme.
fn tokens(project: &Project, theme: &Id, assets: &Assets, wanted: TokenOptions<'_>) -> Map<String, Value> {
    let writer = Writer { project, theme, assets, wanted, names: swatch_names(project) };
    let mut file = Map::new();
    let mut group = |name: &str, kind: &str, tokens: Vec<(String, Value)>| {
        if !tokens.is_empty() {
            let mut group = Map::new();
            group.insert("$type".to_owned(), json!(kind));
            group.extend(tokens);
            file.insert(name.to_owned(), Value::Object(group));
        }
    };
    let finishes: Vec<&Finish> =
        project.finishes.iter().filter(|one| wanted.finish.is_none_or(|id| one.id == *id)).collect();
    let used = used(&finishes);
    let is_used = |id: &Id| wanted.finish.is_none() || used.contains(id);
    let swatches = project.swatches.iter().zip(&writer.names).filter(|(swatch, _)| is_used(&swatch.id));
    let swatches = swatches.map(|(swatch, name)| (name.clone(), writer.swatch(swatch, name)));
    group("colour", "color", swatches.collect());
    group("finish", "shadow", writer.finishes(&finishes));
    let mut taken = UniqueNames::default();
    let lights = project.lights.iter().filter(|light| is_used(&light.id));
    let lights = lights.map(|light| (taken.unique(&legal(&light.name), ' '), writer.light(light)));
    group("light", "number", lights.collect());
    file
}

/// The lights and swatches that finishes refer to.
fn used(finishes: &[&Finish]) -> HashSet<Id> {
    let mut used = HashSet::new();
    for finish in finishes {
        Finish::clone(finish).visit_references(&mut |_, reference| match reference {
            SharedReference::Light(id) => drop(used.insert(id.clone())),
            SharedReference::Colour(ColourSource::Swatch(colour)) => drop(used.insert(colour.swatch.clone())),
            SharedReference::Colour(_) | SharedReference::Finish(_) => {}
        });
    }
    used
}

struct Writer<'a> {
    project: &'a Project,
    theme: &'a Id,
    assets: &'a Assets,
    wanted: TokenOptions<'a>,
    /// Of the swatches' tokens.
    names: Vec<String>,
}

impl Writer<'_> {
    fn swatch(&self, swatch: &Swatch, name: &str) -> Value {
        let context = Context { project: self.project, theme: self.theme, assets: self.assets };
        let value = self.colour(context.swatch(&swatch.id));
        let mut ours = json!({ "id": swatch.id, "values": swatch.values });
        if name != swatch.name {
            ours["name"] = json!(swatch.name);
        }
        let ours = json!({ "swatch": ours, "written": fingerprint(&value) });
        token(value, "", &swatch.extensions, ours)
    }

    /// A light as the number of its bearing, in degrees.
    fn light(&self, light: &Light) -> Value {
        let context = Context { project: self.project, theme: self.theme, assets: self.assets };
        let note = "Bearing in degrees: 0 is from the top, clockwise.";
        token(json!(context.bearing(&light.id)), note, &Map::new(), json!({ "light": light }))
    }

    /// Each finish, then each of its states.
    fn finishes(&self, finishes: &[&Finish]) -> Vec<(String, Value)> {
        let (mut taken, mut tokens) = (UniqueNames::default(), Vec::new());
        for finish in finishes {
            let endings: Vec<String> =
                finish.states.keys().map(|state| format!(" {}", state.name())).collect();
            let endings: Vec<&str> = endings.iter().map(String::as_str).collect();
            let name = taken.unique_with(&legal(&finish.name), ' ', &endings);
            tokens.push((name.clone(), self.finish(finish, &name)));
            for (state, coats) in &finish.states {
                let value = Value::Array(self.shadows(finish, coats));
                let ours = json!({
                    "state": { "of": finish.id, "name": state, "coats": small(coats) },
                    "written": fingerprint(&value),
                });
                tokens.push((format!("{name} {}", state.name()), token(value, "", &Map::new(), ours)));
            }
        }
        tokens
    }

    fn finish(&self, finish: &Finish, name: &str) -> Value {
        let value = Value::Array(self.shadows(finish, finish.coats_in(self.theme)));
        let mut ours = json!({ "id": finish.id, "coats": small(&finish.coats) });
        if name != finish.name {
            ours["name"] = json!(finish.name);
        }
        if !finish.themes.is_empty() {
            ours["themes"] = finish.themes.iter().map(|(id, coats)| (id.to_string(), small(coats))).collect();
        }
        if let Some(property) = &finish.made_with {
            ours["made_with"] = json!(property);
        }
        if let Some(transition) = &finish.transition {
            ours["transition"] = json!(transition);
        }
        let ours = json!({ "finish": ours, "written": fingerprint(&value) });
        token(value, &finish.note, &finish.extensions, ours)
    }

    /// The drop and inner shadows as the format has them (§9.6, "Shadow"), on the piece that style sheets are written for too.
    fn shadows(&self, finish: &Finish, coats: &[Coat]) -> Vec<Value> {
        let (scene, piece) = specimen(self.project, self.assets, finish, TrialPiece::Box);
        let scene = Scene { theme: self.theme.clone(), ..scene };
        let worn = model::Piece { wear: Wear::Coats(OwnCoats { coats: coats.to_vec() }), ..piece };
        let (mut piece, _): (Piece, _) = resolve::piece(self.project, &scene, &worn, self.assets);
        // Its copies are more than a token is worth.
        piece.coats.retain(|coat| !matches!(coat.op, PaintOp::Extrude(_)));
        let lowered = lower_written(&piece, Target::BoxShadow, self.wanted.numbers);
        let drawn = lowered.element.coats.iter().filter_map(|coat| {
            let model = coats.iter().find(|model| model.id == coat.id);
            Some(self.shadow(coat.op.shadow()?, model))
        });
        drawn.take(limits::COATS).collect()
    }

    fn shadow(&self, shadow: &Shadow, coat: Option<&Coat>) -> Value {
        json!({
            "color": self.alias(shadow.colour(), coat).unwrap_or_else(|| self.colour(shadow.colour())),
            "offsetX": self.dimension(shadow.dx),
            "offsetY": self.dimension(shadow.dy),
            "blur": self.dimension(shadow.blur),
            "spread": self.dimension(shadow.spread),
            "inset": shadow.kind == ShadowKind::Inner,
        })
    }

    /// The swatch that a colour is, where it is that and no more: an alias has no opacity of its own.
    fn alias(&self, colour: Rgba, coat: Option<&Coat>) -> Option<Value> {
        let source = match &coat?.kind {
            CoatKind::Ramp(ramp) => Some(&ramp.near.colour),
            kind @ (CoatKind::Drop(_)
            | CoatKind::Inner(_)
            | CoatKind::Highlight(_)
            | CoatKind::Tint(_)
            | CoatKind::Stroke(_)
            | CoatKind::Blur(_)
            | CoatKind::Extrude(_)
            | CoatKind::Cast(_)
            | CoatKind::Backdrop(_)
            | CoatKind::Raised(_)) => kind.colour(),
        };
        let Some(ColourSource::Swatch(swatch)) = source else { return None };
        let context = Context { project: self.project, theme: self.theme, assets: self.assets };
        if self.wanted.numbers.colour(context.swatch(&swatch.swatch)) != colour {
            return None;
        }
        let at = self.project.swatches.iter().position(|other| other.id == swatch.swatch)?;
        Some(json!(format!("{{colour.{}}}", self.names[at])))
    }

    /// §8.2, "Dimension".
    fn dimension(&self, length: f64) -> Value {
        match self.wanted.form {
            TokenForm::Objects => json!({ "value": length + 0.0, "unit": "px" }),
            TokenForm::Strings => json!(format!("{}px", number_text(length))),
        }
    }

    /// Color Module, §4.1: colour space, components, alpha, and hex as a fallback.
    fn colour(&self, colour: Rgba) -> Value {
        if self.wanted.form == TokenForm::Strings {
            return json!(css_text(colour));
        }
        let part = |part: f32| {
            let exact = part.to_string().parse::<f64>().unwrap_or_default();
            if self.wanted.numbers == Numbers::Fewest { fewest(exact, OFF_PART) } else { exact }
        };
        let [r, g, b] = [colour.r, colour.g, colour.b].map(|part| (part * 255.0).round() as u8);
        json!({
            "colorSpace": "srgb",
            "components": [part(colour.r), part(colour.g), part(colour.b)],
            "alpha": part(colour.a),
            "hex": format!("#{r:02x}{g:02x}{b:02x}"),
        })
    }
}

/// How far a component may be off: 0.13 of 255.
const OFF_PART: f64 = 0.000_5;

fn token(value: Value, note: &str, extensions: &Map<String, Value>, ours: Value) -> Value {
    let mut token = Map::new();
    token.insert("$value".to_owned(), value);
    if !note.is_empty() {
        token.insert("$description".to_owned(), json!(note));
    }
    let mut extensions = extensions.clone();
    extensions.insert(EXTENSION.to_owned(), ours);
    token.insert("$extensions".to_owned(), Value::Object(extensions));
    Value::Object(token)
}

/// Coats without their default values.
fn small(coats: &[Coat]) -> Value {
    let mut coats = serde_json::to_value(coats).unwrap_or_default();
    for coat in coats.as_array_mut().into_iter().flatten().filter_map(Value::as_object_mut) {
        for (name, usual) in [("opacity", json!(1.0)), ("blend", json!("normal"))] {
            if coat.get(name) == Some(&usual) {
                coat.shift_remove(name);
            }
        }
    }
    coats
}

/// Tells whether a value was changed since it was written, in any order of its fields: 32 bits of FNV-1a.
pub(super) fn fingerprint(value: &Value) -> String {
    let mut text = String::new();
    spell(value, &mut text);
    format!("{:08x}", fnv1a_hash_32(text.as_bytes(), None))
}

fn spell(value: &Value, text: &mut String) {
    match value {
        Value::Object(fields) => {
            let mut names: Vec<_> = fields.keys().collect();
            names.sort();
            for name in names {
                text.push_str(name);
                text.push(':');
                spell(&fields[name.as_str()], text);
            }
            text.push('}');
        }
        Value::Array(items) => {
            items.iter().for_each(|item| spell(item, text));
            text.push(']');
        }
        Value::Number(number) => {
            text.push_str(&number.as_f64().unwrap_or_default().to_string());
            text.push(',');
        }
        other => {
            text.push_str(&other.to_string());
            text.push(',');
        }
    }
}

fn swatch_names(project: &Project) -> Vec<String> {
    let mut taken = UniqueNames::default();
    project.swatches.iter().map(|swatch| taken.unique(&legal(&swatch.name), ' ')).collect()
}

/// A name the format allows (§5.1.1): no `.`, `{`, `}`, no leading `$`.
fn legal(name: &str) -> String {
    let legal: String =
        name.chars().map(|letter| if ".{}".contains(letter) { '-' } else { letter }).collect();
    let legal = legal.trim().trim_start_matches('$').to_owned();
    if legal.is_empty() { "unnamed".to_owned() } else { legal }
}
