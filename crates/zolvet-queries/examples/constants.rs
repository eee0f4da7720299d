//! Prints what the front end needs of the core's constants: ranges of quantities, limits, fonts, how colours are
//! written, values to begin with, falloffs by name, and the questions there are.

use std::collections::BTreeMap;

use serde_json::{Value, json};
use zolvet_core::colour::COLOUR_NAMES;
use zolvet_core::geometry::text::FAMILIES;
use zolvet_core::limits;
use zolvet_core::model::{Coat, CoatLayer, Prefix, SchemaVersion, ranges};
use zolvet_core::report::{COLOUR_NOTATIONS, defaults, falloffs, interaction};

fn main() -> Result<(), serde_json::Error> {
    let limits: BTreeMap<&str, Value> = BTreeMap::from([
        ("coats", json!(limits::COATS)),
        ("rampSteps", json!(limits::RAMP_STEPS)),
        ("pieces", json!(limits::PIECES)),
        ("textCharacters", json!(limits::TEXT_CHARACTERS)),
        ("themeSelectors", json!(limits::THEME_SELECTORS)),
        ("nameCharacters", json!(limits::NAME_CHARACTERS)),
        ("noteCharacters", json!(limits::NOTE_CHARACTERS)),
    ]);
    let weights = |faces: &[zolvet_core::geometry::text::Face]| {
        faces.iter().map(|face| json!(face.weight)).collect::<Value>()
    };
    let fonts: Value =
        FAMILIES.iter().map(|family| (family.name.to_owned(), weights(family.faces))).collect();
    let faces = |family: &zolvet_core::geometry::text::Family| {
        let face = |face: &zolvet_core::geometry::text::Face| json!({"family": family.name, "weight": face.weight.to_string(), "file": face.file});
        family.faces.iter().map(face).collect::<Vec<_>>()
    };
    let constants = json!({
        "schema": SchemaVersion,
        "ranges": ranges(),
        "limits": limits,
        "prefix": Prefix::PATTERN,
        "defaults": defaults(),
        "interaction": interaction(),
        "fonts": fonts,
        "fontFaces": FAMILIES.iter().flat_map(faces).collect::<Vec<_>>(),
        "notations": COLOUR_NOTATIONS,
        "colourNames": COLOUR_NAMES.as_slice(),
        "coatLayers": coat_layers()?,
        "falloffs": falloffs(),
        "queries": zolvet_queries::QUERIES.iter().map(|query| query.path).collect::<Vec<_>>(),
    });
    println!("{}", serde_json::to_string_pretty(&constants)?);
    Ok(())
}

/// Where coats of each kind lie, by the kind's name; a ramp lies where its shadows do.
fn coat_layers() -> Result<BTreeMap<String, Value>, serde_json::Error> {
    let mut layers = BTreeMap::new();
    for mut coat in zolvet_samples::star::all_kinds() {
        let shadows: &[Option<&str>] =
            if coat["kind"] == "ramp" { &[Some("drop"), Some("inner")] } else { &[None] };
        for shadow in shadows {
            let mut name = coat["kind"].as_str().unwrap_or_default().to_owned();
            if let Some(shadow) = shadow {
                coat["shadow"] = json!(shadow);
                name = format!("{name}:{shadow}");
            }
            let layer = match serde_json::from_value::<Coat>(coat.clone())?.kind.layer() {
                CoatLayer::On => "on",
                CoatLayer::Under => "under",
                CoatLayer::Behind => "behind",
            };
            layers.insert(name, json!(layer));
        }
    }
    Ok(layers)
}
