//! A project as a token file, one for each theme.

use serde_json::{Map, Value, json};

use super::EXTENSION;
use crate::asset::Assets;
use crate::colour::Rgba;
use crate::lower::{Numbers, TrialPiece, trial};
use crate::model::{Coat, ColourSource, Finish, Id, OwnCoats, Project, Swatch, Wear};
use crate::resolve::{self, Context, PaintOp, Piece, Shadow, ShadowKind};
use crate::syntax::UniqueNames;

/// The project's swatches and finishes as tokens of a theme. What tokens cannot express goes under `$extensions` and comes
/// back when the file is read. With `finish`, only that one is written, with nothing of the rest.
#[must_use]
pub fn write(project: &Project, theme: &Id, assets: &Assets, finish: Option<&Id>, numbers: Numbers) -> Value {
    let writer = Writer { project, theme, assets, numbers, names: swatch_names(project) };
    let mut file = Map::new();
    file.insert("$description".to_owned(), json!(format!("{}, {}", project.name, writer.theme_name())));
    let ours =
        if finish.is_none() { writer.rest() } else { json!({ "lights": project.lights, "theme": theme }) };
    file.insert("$extensions".to_owned(), json!({ EXTENSION: ours }));
    if !project.swatches.is_empty() {
        let mut colours = Map::new();
        colours.insert("$type".to_owned(), json!("color"));
        for (swatch, name) in project.swatches.iter().zip(&writer.names) {
            colours.insert(name.clone(), writer.swatch(swatch));
        }
        file.insert("colour".to_owned(), Value::Object(colours));
    }
    let mut finishes = Map::new();
    finishes.insert("$type".to_owned(), json!("shadow"));
    let mut taken = UniqueNames::default();
    for one in project.finishes.iter().filter(|one| finish.is_none_or(|id| one.id == *id)) {
        finishes.insert(taken.unique(&legal(&one.name), ' '), writer.finish(one));
    }
    if finishes.len() > 1 {
        file.insert("finish".to_owned(), Value::Object(finishes));
    }
    Value::Object(file)
}

struct Writer<'a> {
    project: &'a Project,
    theme: &'a Id,
    assets: &'a Assets,
    numbers: Numbers,
    /// Of the swatches' tokens.
    names: Vec<String>,
}

impl Writer<'_> {
    fn theme_name(&self) -> &str {
        self.project.theme(self.theme).map_or("", |theme| theme.name.as_str())
    }

    /// Everything but swatches and finishes, which are tokens themselves.
    fn rest(&self) -> Value {
        let mut rest = serde_json::to_value(self.project).unwrap_or_default();
        if let Value::Object(fields) = &mut rest {
            fields.retain(|name, _| name != "swatches" && name != "finishes" && name != "extensions");
        }
        json!({ "project": rest, "theme": self.theme })
    }

    fn swatch(&self, swatch: &Swatch) -> Value {
        let context = Context { project: self.project, theme: self.theme, assets: self.assets };
        let value = colour_value(context.swatch(&swatch.id));
        let ours = json!({ "swatch": without_extensions(swatch), "written": fingerprint(&value) });
        let mut extensions = swatch.extensions.clone();
        extensions.insert(EXTENSION.to_owned(), ours);
        json!({ "$value": value, "$extensions": extensions })
    }

    fn finish(&self, finish: &Finish) -> Value {
        let value = Value::Array(self.shadows(finish.coats_in(self.theme)));
        let ours = json!({ "finish": without_extensions(finish), "written": fingerprint(&value) });
        let mut token = Map::new();
        token.insert("$value".to_owned(), value);
        if !finish.note.is_empty() {
            token.insert("$description".to_owned(), json!(finish.note));
        }
        let mut extensions = finish.extensions.clone();
        extensions.insert(EXTENSION.to_owned(), ours);
        token.insert("$extensions".to_owned(), Value::Object(extensions));
        Value::Object(token)
    }

    /// The drop and inner shadows as the format has them (§9.6, "Shadow"), on a box.
    fn shadows(&self, coats: &[Coat]) -> Vec<Value> {
        let wear = Wear::Coats(OwnCoats { coats: coats.to_vec() });
        let scene = trial(self.theme, &wear, TrialPiece::Box, false);
        let (piece, _): (Piece, _) = resolve::piece(self.project, &scene, &scene.pieces[0], self.assets);
        let piece = self.numbers.of_piece(&piece);
        let drawn = piece.coats.iter().filter_map(|coat| match &coat.op {
            PaintOp::Shadow(shadow) => {
                let model = coats.iter().find(|model| model.id == coat.id);
                Some(self.shadow(shadow, model))
            }
            _ => None,
        });
        drawn.collect()
    }

    fn shadow(&self, shadow: &Shadow, coat: Option<&Coat>) -> Value {
        let alias = coat.filter(|coat| coat.opacity.get() >= 1.0).and_then(|coat| coat.kind.colour());
        let alias = match alias {
            Some(ColourSource::Swatch(swatch)) if swatch.lightness.is_none() => {
                let at = self.project.swatches.iter().position(|other| other.id == swatch.swatch);
                at.map(|at| json!(format!("{{colour.{}}}", self.names[at])))
            }
            _ => None,
        };
        json!({
            "color": alias.unwrap_or_else(|| colour_value(shadow.colour())),
            "offsetX": dimension(shadow.dx),
            "offsetY": dimension(shadow.dy),
            "blur": dimension(shadow.blur),
            "spread": dimension(shadow.spread),
            "inset": shadow.kind == ShadowKind::Inner,
        })
    }
}

fn without_extensions(thing: &impl serde::Serialize) -> Value {
    let mut value = serde_json::to_value(thing).unwrap_or_default();
    if let Value::Object(fields) = &mut value {
        fields.shift_remove("extensions");
    }
    value
}

/// Tells whether a value was changed since it was written, whatever order its fields are in: 64 bits of FNV-1a (the
/// Internet-Draft "The FNV Non-Cryptographic Hash Algorithm"; constants from memory).
pub(super) fn fingerprint(value: &Value) -> String {
    let mut text = String::new();
    spell(value, &mut text);
    let hash = text.bytes().fold(0xcbf2_9ce4_8422_2325_u64, |hash, byte| {
        (hash ^ u64::from(byte)).wrapping_mul(0x0000_0100_0000_01b3)
    });
    format!("{hash:016x}")
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

/// §8.2, "Dimension".
fn dimension(px: f64) -> Value {
    json!({ "value": px + 0.0, "unit": "px" })
}

/// Color Module, §4.1: colour space, components, alpha, and hex as a fallback.
fn colour_value(colour: Rgba) -> Value {
    let exact = |part: f32| part.to_string().parse::<f64>().unwrap_or_default();
    let [r, g, b] = [colour.r, colour.g, colour.b].map(|part| (part * 255.0).round() as u8);
    json!({
        "colorSpace": "srgb",
        "components": [exact(colour.r), exact(colour.g), exact(colour.b)],
        "alpha": exact(colour.a),
        "hex": format!("#{r:02x}{g:02x}{b:02x}"),
    })
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
