//! A token file into finishes and swatches.

use std::cell::RefCell;
use std::collections::HashMap;

use serde_json::{Map, Value, json};

use super::EXTENSION;
use super::error::{TokenError, at};
use super::modes::with_modes;
use super::set::{TokenFile, TokenSet};
use super::text::shadow_of_text;
use super::token::{Path, Token, name_of};
use crate::geometry::StrokeSide;
use crate::import::{DiagnosticKind, FileRoom, Incoming};
use crate::limits;
use crate::model::{
    BlurRadius, CartesianOffset, Coat, CoatKind, Finish, Id, Light, Offset, OffsetPx, Opacity, OutOfRange,
    Problem, Project, Spread, State, Swatch,
};

/// How deep aliases and groups may go.
pub(super) const DEEPEST: usize = 32;

/// The content of a token file: `shadow` tokens as finishes, `color` tokens as swatches with that value in every theme. A
/// file that we wrote brings back what it was written from, unless its values were changed since. Of a document with modes,
/// those that hold by default are read.
///
/// The second is a project of it all, where the file names its themes.
///
/// # Errors
/// [`TokenError`] at the first part that is not understood; nothing is read in halves.
pub fn read(text: &str) -> Result<(Incoming, Option<Project>), TokenError> {
    read_files(&[TokenFile { name: "", text }])
}

/// The content of token files that are one set: an alias in one may lead to a token in another, and later ones win.
///
/// # Errors
/// [`TokenError`] where a file is none of tokens. A token that is not understood is left out, and remarked.
pub fn read_files(files: &[TokenFile<'_>]) -> Result<(Incoming, Option<Project>), TokenError> {
    let set = TokenSet::read(files)?;
    let (incoming, project) = read_one(&set.base, &set.left_out)?;
    let modes = set.modes.iter().map(|(mode, value)| Ok((mode.clone(), read_one(value, &[])?.0)));
    let modes = modes.collect::<Result<Vec<_>, TokenError>>()?;
    Ok((with_modes(incoming, modes), project))
}

/// The content of a set in one mode.
fn read_one(file: &Value, left_out: &[String]) -> Result<(Incoming, Option<Project>), TokenError> {
    let Value::Object(root) = file else { return Err(at("", "expected an object of tokens and groups")) };
    let ours = file.pointer("/$extensions").and_then(|extensions| extensions.get(EXTENSION));
    let theme = ours.and_then(|ours| ours["theme"].as_str()).and_then(|id| Id::new(id).ok());
    let mut reader = Reader {
        file,
        incoming: Incoming::default(),
        swatches: HashMap::new(),
        theme,
        lights: Vec::new(),
        left: FileRoom::default(),
        wide: RefCell::default(),
    };
    let themes = ours.and_then(|ours| ours.get("themes")).and_then(Value::as_array);
    let themes: Vec<Id> = themes
        .map(|themes| themes.iter().filter_map(|theme| Id::new(theme["id"].as_str()?).ok()).collect())
        .unwrap_or_default();
    // Colours first, so that shadows can refer to them.
    reader.group(root, &mut Path::default(), None, &mut |reader, token| {
        // Colours that are not understood are said where shadows refer to them.
        let _ = reader.swatch(token, &themes);
    })?;
    reader.group(root, &mut Path::default(), None, &mut |reader, token| {
        if let Err(error) = reader.finish(token) {
            reader.incoming.diagnostic(error.place, DiagnosticKind::Dropped, error.message);
        }
    })?;
    // What we wrote ourselves is kept with the tokens for every theme.
    for place in left_out.iter().filter(|_| ours.is_none()) {
        let message = "only the context that holds by default is read";
        reader.incoming.diagnostic(place.as_str(), DiagnosticKind::Dropped, message);
    }
    for place in reader.wide.take() {
        let message = "colours of a wider space are taken as the nearest in sRGB";
        reader.incoming.diagnostic(place, DiagnosticKind::Approximated, message);
    }
    let Incoming { finishes, swatches, diagnostics, .. } = &reader.incoming;
    if finishes.is_empty() && swatches.is_empty() && diagnostics.is_empty() && reader.lights.is_empty() {
        reader.incoming.diagnostic("", DiagnosticKind::Dropped, "no token is in this file");
    }
    reader.incoming.keep_lights_in_use();
    let project = match ours.filter(|ours| ours.get("themes").is_some()) {
        Some(ours) => Some(embedded_project(ours, &reader)?),
        None => None,
    };
    Ok((reader.incoming, project))
}

fn embedded_project(ours: &Value, reader: &Reader<'_>) -> Result<Project, TokenError> {
    let prefix = ours.get("prefix");
    // Files of before there were prefixes get one.
    let mut document = json!({
        "schema": if prefix.is_some() { 3 } else { 2 },
        "name": ours.get("name").and_then(Value::as_str).unwrap_or("Tokens"),
        "themes": ours["themes"], "scale": [], "scenes": [],
    });
    if let Some(prefix) = prefix {
        document["prefix"] = prefix.clone();
    }
    let incoming = Incoming { lights: reader.lights.clone(), ..reader.incoming.clone() };
    incoming.put_into(&mut document);
    Project::from_value(&document).map_err(|problems| match problems.into_iter().next() {
        Some(Problem { pointer, message }) => at(&pointer, &message),
        None => at("", "expected a project"),
    })
}

pub(super) struct Reader<'a> {
    pub file: &'a Value,
    pub incoming: Incoming,
    /// Where each swatch was found, and its id.
    pub swatches: HashMap<String, Id>,
    /// The theme whose values the file has.
    theme: Option<Id>,
    /// All lights of the file.
    lights: Vec<Light>,
    left: FileRoom,
    /// Where colours of wider spaces than sRGB are.
    pub wide: RefCell<Vec<String>>,
}

/// A state of a finish, as its token keeps it.
#[derive(serde::Deserialize)]
struct KeptState {
    of: Id,
    name: State,
    coats: Vec<Coat>,
}

/// Coats with other shadows; coats that are no shadow, and were not written as one, stay.
fn shadows_replaced(mut coats: Vec<Coat>, shadows: Vec<Coat>) -> Vec<Coat> {
    let is_shadow = |coat: &Coat| match &coat.kind {
        CoatKind::Stroke(stroke) => stroke.side != StrokeSide::Inside,
        CoatKind::Drop(_) | CoatKind::Inner(_) | CoatKind::Ramp(_) | CoatKind::Raised(_) => true,
        CoatKind::Highlight(_)
        | CoatKind::Tint(_)
        | CoatKind::Blur(_)
        | CoatKind::Extrude(_)
        | CoatKind::Cast(_)
        | CoatKind::Backdrop(_) => false,
    };
    coats.retain(|coat| !is_shadow(coat));
    coats.splice(0..0, shadows);
    coats
}

type TokenVisitor<'a, 'b> = &'b mut dyn FnMut(&mut Reader<'a>, &Token<'a>);

impl<'a> Reader<'a> {
    /// Every token of a group and of the groups in it (§6, "Groups"); `kind` is the type that its groups declare.
    fn group(
        &mut self,
        fields: &'a Map<String, Value>,
        path: &mut Path,
        kind: Option<&'a str>,
        take: TokenVisitor<'a, '_>,
    ) -> Result<(), TokenError> {
        if path.0.len() > DEEPEST {
            return Err(at(&path.pointer(), &format!("expected groups at most {DEEPEST} deep")));
        }
        let kind = fields.get("$type").and_then(Value::as_str).or(kind);
        for (name, value) in fields {
            // `$root` is a token of the group's own name (§6.2).
            if name.starts_with('$') && name != "$root" {
                continue;
            }
            path.0.push(name.clone());
            let Value::Object(inner) = value else {
                let message = "expected a token or a group";
                self.incoming.diagnostic(path.pointer(), DiagnosticKind::Dropped, message);
                path.0.pop();
                continue;
            };
            if inner.contains_key("$value") {
                let own = inner.get("$type").and_then(Value::as_str).or(kind);
                let kind = own.or_else(|| self.kind_of(inner.get("$value"), 0)).unwrap_or("");
                let names: Vec<&str> =
                    path.0.iter().map(String::as_str).filter(|name| *name != "$root").collect();
                let ours = matches!(names.as_slice(), ["finish" | "colour" | "light", _, ..]);
                let token = Token {
                    pointer: path.pointer(),
                    name: name_of(names.get(usize::from(ours)..).unwrap_or_default()),
                    kind,
                    fields: inner,
                };
                take(self, &token);
            } else {
                self.group(inner, path, kind, take)?;
            }
            path.0.pop();
        }
        Ok(())
    }

    /// The type of the token that an alias leads to.
    fn kind_of(&self, value: Option<&'a Value>, depth: usize) -> Option<&'a str> {
        let target = self.target(value?)?;
        let parent = target.trim_end_matches("/$value");
        let mut places: Vec<&str> = parent.match_indices('/').map(|(at, _)| &parent[..at]).collect();
        places.push(parent);
        let said = places.iter().rev().find_map(|place| self.file.pointer(place)?.get("$type")?.as_str());
        let next = || self.kind_of(self.file.pointer(&target), depth + 1);
        said.or_else(|| if depth < DEEPEST { next() } else { None })
    }

    fn swatch(&mut self, token: &Token<'a>, themes: &[Id]) -> Result<(), TokenError> {
        if token.kind != "color" {
            return Ok(());
        }
        let kept = token.ours::<Swatch>("swatch");
        let colour = self.colour(token.value_in_file(self.file), &token.value_pointer())?;
        let mut swatch = match kept {
            Some((swatch, true)) => swatch,
            // Changed by another program: its id and name stay, its values are read anew.
            Some((swatch, false)) => Swatch { values: Default::default(), ..swatch },
            None => Swatch {
                id: token.id(),
                name: token.name.clone(),
                values: Default::default(),
                extensions: Map::new(),
            },
        };
        if swatch.values.is_empty() {
            let themes = if themes.is_empty() { vec![Id::numbered("theme", 1)] } else { themes.to_vec() };
            swatch.values = themes.into_iter().map(|theme| (theme, colour.clone())).collect();
        }
        swatch.extensions = token.foreign();
        self.swatches.insert(token.value_pointer(), swatch.id.clone());
        self.incoming.swatches.push(swatch);
        Ok(())
    }

    fn finish(&mut self, token: &Token<'a>) -> Result<(), TokenError> {
        if let Some((light, _)) = token.ours::<Light>("light") {
            self.lights.push(light.clone());
            self.incoming.lights.push(light);
            return Ok(());
        }
        match token.kind {
            "shadow" => {}
            "color" => return Ok(()),
            other => {
                let what = if other.is_empty() {
                    "tokens without a type".to_owned()
                } else {
                    format!("tokens of type {other}")
                };
                let message = format!("{what} say nothing about depth");
                self.incoming.diagnostic(token.pointer.clone(), DiagnosticKind::Dropped, message);
                return Ok(());
            }
        }
        let kept = token.ours::<Finish>("finish");
        let (value, place) = self.followed(token.value_in_file(self.file), &token.value_pointer())?;
        let found = value.as_array().map_or(1, Vec::len);
        if found > limits::COATS {
            return Err(at(&place, &format!("expected at most {} shadows, found {found}", limits::COATS)));
        }
        if !self.left.take(1, found) {
            self.incoming.diagnostic(token.pointer.clone(), DiagnosticKind::Dropped, FileRoom::LIMIT);
            return Ok(());
        }
        let coats = self.coats(value, &place)?;
        if let Some((state, same)) = token.ours::<KeptState>("state") {
            if !same {
                self.changed_elsewhere(token);
            }
            let coats = if same { state.coats } else { shadows_replaced(state.coats, coats) };
            if let Some(finish) = self.incoming.finishes.iter_mut().find(|finish| finish.id == state.of) {
                finish.states.insert(state.name, coats);
                return Ok(());
            }
            return self.take_finish(token, coats);
        }
        let mut finish = match kept {
            Some((finish, true)) => finish,
            Some((finish, false)) => {
                self.changed_elsewhere(token);
                self.with_shadows(finish, coats)
            }
            None => return self.take_finish(token, coats),
        };
        finish.extensions = token.foreign();
        self.incoming.finishes.push(finish);
        Ok(())
    }

    /// The shadows of a value, the first on top.
    fn coats(&mut self, value: &'a Value, place: &str) -> Result<Vec<Coat>, TokenError> {
        match value {
            Value::String(text) => {
                shadow_of_text(&self.expanded(text, place)?).map_err(|message| at(place, &message))
            }
            Value::Array(shadows) => {
                let each = shadows.iter().enumerate();
                each.map(|(i, shadow)| self.shadow(shadow, &format!("{place}/{i}"), i + 1)).collect()
            }
            shadow => Ok(vec![self.shadow(shadow, place, 1)?]),
        }
    }

    fn changed_elsewhere(&mut self, token: &Token<'a>) {
        let message = "shadows that were changed elsewhere are taken as they are now";
        self.incoming.diagnostic(token.value_pointer(), DiagnosticKind::Approximated, message);
    }

    /// A token as a finish of its own.
    fn take_finish(&mut self, token: &Token<'a>, coats: Vec<Coat>) -> Result<(), TokenError> {
        self.incoming.finishes.push(Finish {
            id: token.id(),
            name: token.name.clone(),
            note: token.description(),
            coats,
            themes: Default::default(),
            states: Default::default(),
            transition: None,
            made_with: None,
            extensions: token.foreign(),
        });
        Ok(())
    }

    /// A finish with other shadows under the theme of the file; coats that are no shadow stay.
    fn with_shadows(&self, mut finish: Finish, shadows: Vec<Coat>) -> Finish {
        let own = self.theme.as_ref().and_then(|theme| finish.themes.get_mut(theme));
        let coats = own.unwrap_or(&mut finish.coats);
        *coats = shadows_replaced(std::mem::take(coats), shadows);
        finish
    }

    /// §9.6, "Shadow".
    fn shadow(&mut self, value: &'a Value, place: &str, number: usize) -> Result<Coat, TokenError> {
        let (value, place) = self.followed(value, place)?;
        let Value::Object(fields) = value else { return Err(at(&place, "expected a shadow")) };
        let colour = fields.get("color").ok_or_else(|| at(&place, "expected a color"))?;
        let colour = self.source(colour, &format!("{place}/color"))?;
        let mut length = |name: &str| match fields.get(name) {
            Some(value) => self.dimension(value, &format!("{place}/{name}")),
            None if name == "spread" || name == "blur" => Ok(0.0),
            None => Err(at(&place, &format!("expected {name}"))),
        };
        let (x, y, blur, spread) =
            (length("offsetX")?, length("offsetY")?, length("blur")?, length("spread")?);
        let out = |name: &str, error: OutOfRange| at(&format!("{place}/{name}"), &error.to_string());
        let offset = Offset::Cartesian(CartesianOffset {
            x: OffsetPx::new(x).map_err(|error| out("offsetX", error))?,
            y: OffsetPx::new(y).map_err(|error| out("offsetY", error))?,
        });
        let blur = BlurRadius::new(blur).map_err(|error| out("blur", error))?;
        let spread = Spread::new(spread).map_err(|error| out("spread", error))?;
        let inset = fields.get("inset").and_then(Value::as_bool).unwrap_or(false);
        let (what, kind) = if inset {
            ("Inner", CoatKind::inner(offset, blur, spread, colour))
        } else {
            ("Drop", CoatKind::drop(offset, blur, spread, colour))
        };
        Ok(Coat {
            id: Id::numbered("token", number),
            name: format!("{what} shadow {number}"),
            on: true,
            opacity: Opacity::solid(),
            blend: Default::default(),
            kind,
        })
    }
}
