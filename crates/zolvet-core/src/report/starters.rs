//! Whole stacks to start from, named by us. Their numbers are the trade's (DESIGN §12; common practice, no published
//! source); lengths of patches and thickness go by the piece's size.

use serde::Serialize;
use serde_json::{Value, json};

use super::additions::{offset, shadow};
use crate::asset::Assets;
use crate::model::{Coat, Piece, Project};
use crate::resolve;

/// A stack to start from.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Starter {
    /// What it is called.
    pub name: &'static str,
    /// What it does, in a few words.
    pub says: &'static str,
    /// Its coats, to be given ids of their own; first is nearest the eye.
    pub coats: Vec<Coat>,
}

/// The stacks that a piece could start from; what has an offset follows the project's first light.
#[must_use]
pub fn starters(project: &Project, piece: &Piece, assets: &Assets) -> Vec<Starter> {
    let light = project.lights.first().map(|light| light.id.as_str());
    let (w, h) = resolve::silhouette(&piece.shape, assets).size();
    let recipes = [raised(light, w, h), sunk(light), shining(), thick(light, w.min(h))].concat();
    let made = recipes.into_iter().enumerate().filter_map(|(number, (name, says, mut coats))| {
        for (i, coat) in coats.iter_mut().enumerate() {
            (coat["id"], coat["on"]) = (json!(format!("starter-{number}-{i}")), json!(true));
        }
        // Every recipe is within the limits; `tests::every_starter_is_a_stack` holds them to it.
        Some(Starter { name, says, coats: serde_json::from_value(Value::Array(coats)).ok()? })
    });
    made.collect()
}

type Recipe = (&'static str, &'static str, Vec<Value>);

/// The piece's own colour, darker or lighter.
fn own(lightness: f64) -> Value {
    json!({"from": "fill", "lightness": lightness})
}

fn ground(lightness: f64) -> Value {
    json!({"from": "ground", "lightness": lightness})
}

fn blended(mut coat: Value, mode: &str) -> Value {
    coat["blend"] = json!(mode);
    coat
}

fn solid(colour: &str) -> Value {
    json!({"kind": "solid", "colour": colour})
}

fn raised(light: Option<&str>, w: f64, h: f64) -> Vec<Recipe> {
    let drop =
        |name, distance, numbers, colour| shadow("drop", name, offset(light, distance), numbers, colour);
    let inner =
        |name, distance, numbers, colour| shadow("inner", name, offset(light, distance), numbers, colour);
    let (black, white) = (json!("#000000"), json!("#ffffff"));
    let round = |length: f64| length.round().clamp(1.0, 8192.0);
    let mut dome = json!({"kind": "highlight", "name": "Shine", "opacity": 0.35, "blur": round(h * 0.12),
        "spot": {"shape": {"kind": "ellipse", "w": round(w * 0.8), "h": round(h * 0.36)}, "x": round(w * 0.1), "y": round(h * 0.06)},
        "fill": solid("#ffffff")});
    if let Some(light) = light {
        dome["follows"] = json!(light);
    }
    vec![
        (
            "Contact and key",
            "a soft shadow from the main light, a tight dark one where it touches",
            vec![
                drop("Contact", 1.5, [2.0, 0.0, 0.35], black.clone()),
                drop("Key", 10.0, [24.0, -2.0, 0.22], black.clone()),
            ],
        ),
        (
            "Soft relief",
            "raised from the ground itself: two dark shadows, two light ones",
            vec![
                drop("Light, tight", -2.8, [2.0, 0.0, 0.4], ground(0.12)),
                drop("Light, wide", -11.0, [24.0, 0.0, 0.4], ground(0.12)),
                drop("Dark, tight", 2.8, [2.0, 0.0, 0.2], ground(-0.4)),
                drop("Dark, wide", 11.0, [24.0, 0.0, 0.3], ground(-0.4)),
            ],
        ),
        (
            "Glossy dome",
            "bright at the top, dark below, its own dark shadow underneath",
            vec![
                dome,
                inner("Top light, tight", 4.0, [4.0, -2.0, 0.4], white.clone()),
                inner("Top light", 12.0, [12.0, -8.0, 0.8], white.clone()),
                inner("Lower edge, tight", -4.0, [8.0, 1.0, 0.08], black.clone()),
                inner("Lower edge", -8.0, [8.0, -4.0, 0.12], black.clone()),
                drop("Own dark", 16.0, [16.0, -8.0, 0.6], own(-0.25)),
                drop("Air around it", 4.0, [40.0, 0.0, 0.14], black.clone()),
            ],
        ),
        (
            "Ridge",
            "a raised rim, lit on one side",
            vec![
                inner("Lit edge", 1.0, [1.0, 0.0, 0.8], white.clone()),
                inner("Shaded edge", -1.0, [1.0, 0.0, 0.35], black.clone()),
                json!({"kind": "stroke", "name": "Rim", "width": round(w.min(h) * 0.05).min(12.0), "side": "inside", "join": "round", "opacity": 0.4, "blend": "soft-light",
                    "fill": rim(light)}),
                drop("Contact", 1.5, [3.0, 0.0, 0.35], black),
            ],
        ),
    ]
}

fn rim(light: Option<&str>) -> Value {
    let stops = json!([{"at": 0, "colour": "#ffffff"}, {"at": 1, "colour": "#000000"}]);
    match light {
        Some(light) => json!({"kind": "linear", "follows": light, "stops": stops}),
        None => json!({"kind": "linear", "angle": 180, "stops": stops}),
    }
}

fn sunk(light: Option<&str>) -> Vec<Recipe> {
    let inner =
        |name, distance, numbers, colour| shadow("inner", name, offset(light, distance), numbers, colour);
    let (black, white) = (json!("#000000"), json!("#ffffff"));
    let stops = json!([{"at": 0, "colour": "#000000"}, {"at": 1, "colour": "#ffffff"}]);
    vec![
        (
            "Pressed in",
            "pushed below the surface, away from the light",
            vec![
                inner("Shade", 6.0, [10.0, 0.0, 0.4], own(-0.3)),
                inner("Lower light", -1.0, [1.0, 0.0, 0.5], white.clone()),
            ],
        ),
        (
            "Carved",
            "cut into the ground, with a bright edge on the far side",
            vec![
                inner("Depth", 8.0, [18.0, 0.0, 0.6], black),
                json!({"kind": "tint", "name": "Shading", "opacity": 0.25,
                    "fill": {"kind": "radial", "centre": {"x": 0.5, "y": 0.5}, "radius": 150, "stops": stops}}),
                shadow("drop", "Far edge", offset(light, 1.0), [1.0, 1.0, 1.0], white),
            ],
        ),
    ]
}

fn shining() -> Vec<Recipe> {
    let still = || offset(None, 0.0);
    let tube = [10.0, 50.0, 100.0, 200.0, 400.0, 1000.0, 2000.0];
    let glow = |blur: f64| {
        let opacity = if blur < 2000.0 { 1.0 } else { 0.5 };
        blended(shadow("drop", &format!("Glow {blur}"), still(), [blur, 0.0, opacity], own(0.0)), "screen")
    };
    let frost = vec![
        shadow("inner", "Light edge", still(), [46.0, 0.0, 0.3], json!("#ffffff")),
        json!({"kind": "stroke", "name": "Rim", "width": 6, "side": "outside", "join": "round", "opacity": 0.3, "fill": solid("#ffffff")}),
        json!({"kind": "tint", "name": "Grey", "opacity": 0.1, "fill": solid("#949494")}),
        shadow("drop", "Below", json!({"x": 0, "y": 12}), [24.0, 0.0, 0.1], json!("#000000")),
        json!({"kind": "backdrop", "name": "Frost", "sigma": 10, "saturation": 1.2}),
    ];
    vec![
        (
            "Glowing tube",
            "seven glows, each wider; best on thin type and dark grounds",
            tube.into_iter().map(glow).collect(),
        ),
        (
            "Inner and outer glow",
            "light all round and within, on dark grounds",
            vec![
                blended(shadow("inner", "Within", still(), [20.0, 2.0, 0.7], own(0.2)), "screen"),
                blended(shadow("drop", "Close", still(), [8.0, 1.0, 0.8], own(0.1)), "screen"),
                blended(shadow("drop", "Around", still(), [36.0, 4.0, 0.7], own(0.0)), "screen"),
            ],
        ),
        ("Frosted pane", "frosts what lies behind a see-through fill", frost),
    ]
}

fn thick(light: Option<&str>, size: f64) -> Vec<Recipe> {
    let depth = (size * 0.2).clamp(6.0, 35.0).round();
    let cast = json!({"kind": "cast", "name": "On the floor", "shear": 0.5, "squash": -0.4, "anchor": 1, "blur_near": 2, "blur_far": 18, "colour": "#000000", "fade": 0.7, "opacity": 0.35});
    vec![
        (
            "Thick letters",
            "solid to the side away from the light, with a shadow at its end",
            vec![
                json!({"kind": "extrude", "name": "Thickness", "offset": offset(light, depth), "near": own(-0.12), "far": own(-0.3)}),
                shadow("drop", "Behind it", offset(light, depth + 6.0), [18.0, 0.0, 0.35], json!("#000000")),
            ],
        ),
        (
            "Hard edge",
            "a flat shadow with no blur, and a rounded line",
            vec![
                json!({"kind": "stroke", "name": "Line", "width": 3, "side": "outside", "join": "round", "fill": {"kind": "solid", "colour": own(-0.45)}}),
                shadow("drop", "Hard shadow", json!({"x": 6, "y": 6}), [0.0, 0.0, 1.0], own(-0.45)),
            ],
        ),
        (
            "Floor shadow",
            "standing: its shadow runs over the floor and fades",
            vec![cast, shadow("drop", "Foot", json!({"x": 0, "y": 2}), [4.0, -2.0, 0.4], json!("#000000"))],
        ),
    ]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_starter_is_a_stack() {
        for side in [1.0, 40.0, 8192.0_f64] {
            let document = json!({
                "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
                "lights": [{"id": "l", "name": "L", "bearing": 0, "colour": "#fff", "strength": 1}],
                "scenes": [{"id": "a", "name": "A", "width": 100, "height": 100, "theme": "t", "ground": {"kind": "none"},
                    "pieces": [{"id": "p", "name": "P", "shape": {"kind": "box", "w": side, "h": side}, "x": 0, "y": 0, "wear": {"coats": []}}]}]
            });
            let project = Project::from_value(&document).expect("a project");
            let found = starters(&project, &project.scenes[0].pieces[0], &Assets::default());
            assert_eq!(found.len(), 12, "{side}");
            for starter in found {
                let mut with = project.clone();
                with.scenes[0].pieces[0].wear =
                    crate::model::Wear::Coats(crate::model::OwnCoats { coats: starter.coats });
                let back = serde_json::to_value(&with).expect("JSON");
                assert!(Project::from_value(&back).is_ok_and(|back| back == with), "{}", starter.name);
            }
        }
    }
}
