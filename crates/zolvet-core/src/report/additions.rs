//! Coats to add: each a real coat, made for this piece, so that it can be shown on it before it is chosen.

use serde::Serialize;
use serde_json::{Value, json};

use crate::asset::Assets;
use crate::model::{Coat, Piece, Project};
use crate::resolve;

/// A coat that could be added.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Addition {
    /// What it does, in a few words.
    pub says: &'static str,
    /// The coat, to be given an id of its own.
    pub coat: Coat,
}

/// The coats that could be added to a piece; those with an offset follow the project's first light. Their numbers are
/// the trade's (DESIGN §12; common practice, no published source), lengths of patches and thickness by the piece's size.
#[must_use]
pub fn additions(project: &Project, piece: &Piece, assets: &Assets) -> Vec<Addition> {
    let light = project.lights.first().map(|light| light.id.as_str());
    let (w, h) = resolve::silhouette(&piece.shape, assets).size();
    let recipes = [shadows(light), on_the_surface(light, w, h), around_it(light, w.min(h))].concat();
    let made = recipes.into_iter().enumerate().filter_map(|(number, (says, mut coat))| {
        (coat["id"], coat["on"]) = (json!(format!("addition-{number}")), json!(true));
        // Every recipe is within the limits; `tests::every_recipe_is_a_coat` holds them to it.
        Some(Addition { says, coat: serde_json::from_value(coat).ok()? })
    });
    made.collect()
}

pub(super) type Recipe = (&'static str, Value);

pub(super) fn offset(light: Option<&str>, distance: f64) -> Value {
    match light {
        Some(light) if distance != 0.0 => json!({"distance": distance, "follows": light}),
        _ => json!({"x": 0, "y": distance}),
    }
}

pub(super) fn shadow(
    kind: &str,
    name: &str,
    offset: Value,
    [blur, spread, opacity]: [f64; 3],
    colour: Value,
) -> Value {
    json!({"kind": kind, "name": name, "offset": offset, "blur": blur, "spread": spread, "colour": colour, "opacity": opacity})
}

fn shadows(light: Option<&str>) -> Vec<Recipe> {
    let own = json!({"from": "fill"});
    let mut glow = shadow("drop", "Glow", offset(None, 0.0), [24.0, 2.0, 0.8], own.clone());
    glow["blend"] = json!("screen");
    let end = |distance: f64, blur: f64, spread: f64| json!({"offset": offset(light, distance), "blur": blur, "spread": spread, "colour": "#000000"});
    let ramp = json!({"kind": "ramp", "name": "Ramp", "shadow": "drop", "near": end(1.0, 2.0, 0.0), "far": end(30.0, 48.0, -6.0), "count": 6, "growth": 1.6, "lean": -0.3, "total": 0.45});
    vec![
        (
            "soft, from the main light",
            shadow("drop", "Drop shadow", offset(light, 8.0), [16.0, 0.0, 0.25], json!("#000000")),
        ),
        (
            "tight and dark, where it touches",
            shadow("drop", "Contact shadow", offset(light, 1.0), [2.0, 0.0, 0.35], json!("#000000")),
        ),
        (
            "the piece's colour on the ground",
            shadow("drop", "Own-colour shadow", offset(light, 6.0), [10.0, 0.0, 0.4], own),
        ),
        ("many shadows from one description", ramp),
        ("light all round, on dark grounds", glow),
        (
            "dark along the edge near the light",
            shadow("inner", "Pressed in", offset(light, 6.0), [10.0, 0.0, 0.4], json!("#000000")),
        ),
        (
            "bright along the edge near the light",
            shadow("inner", "Lit edge", offset(light, 1.0), [1.0, 0.0, 0.7], json!("#ffffff")),
        ),
    ]
}

fn on_the_surface(light: Option<&str>, w: f64, h: f64) -> Vec<Recipe> {
    let round = |length: f64| length.round().clamp(1.0, 8192.0);
    let mut spot = json!({"kind": "highlight", "name": "Highlight", "opacity": 0.6, "blur": round(h * 0.25).min(60.0),
        "spot": {"shape": {"kind": "ellipse", "w": round(w * 0.7), "h": round(h * 0.4)}, "x": round(w * 0.15), "y": (h * 0.05).round()},
        "fill": {"kind": "solid", "colour": "#ffffff"}});
    let mut stops = json!([{"at": 0, "colour": "#ffffff"}, {"at": 1, "colour": "#000000"}]);
    let mut tint = json!({"kind": "tint", "name": "Tint", "opacity": 0.15});
    match light {
        Some(light) => {
            spot["follows"] = json!(light);
            tint["fill"] = json!({"kind": "linear", "follows": light, "stops": stops.take()});
        }
        None => tint["fill"] = json!({"kind": "linear", "angle": 180, "stops": stops.take()}),
    }
    vec![
        ("a soft patch of light, kept inside", spot),
        ("light to dark over the surface", tint),
        (
            "a line along the edge",
            json!({"kind": "stroke", "name": "Stroke", "width": 2, "side": "inside", "join": "round", "opacity": 0.6, "fill": {"kind": "solid", "colour": "#ffffff"}}),
        ),
        ("softens the piece itself", json!({"kind": "blur", "name": "Blur", "sigma": 2})),
    ]
}

fn around_it(light: Option<&str>, size: f64) -> Vec<Recipe> {
    let thick = (size * 0.12).clamp(4.0, 40.0).round();
    let near = json!({"from": "fill", "lightness": -0.12});
    let far = json!({"from": "fill", "lightness": -0.3});
    vec![
        (
            "solid, away from the light",
            json!({"kind": "extrude", "name": "Thickness", "offset": offset(light, thick), "near": near, "far": far}),
        ),
        (
            "thrown on a floor, softer far out",
            json!({"kind": "cast", "name": "Floor shadow", "shear": 0.5, "squash": -0.4, "anchor": 1, "blur_near": 2, "blur_far": 18, "colour": "#000000", "fade": 0.7, "opacity": 0.35}),
        ),
        (
            "frosts what lies behind a see-through fill",
            json!({"kind": "backdrop", "name": "Frost", "sigma": 10, "saturation": 1.2}),
        ),
    ]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_recipe_is_a_coat() {
        for lights in
            [json!([]), json!([{"id": "l", "name": "L", "bearing": 0, "colour": "#fff", "strength": 1}])]
        {
            for side in [0.0, 3.0, 8192.0_f64] {
                let document = json!({
                    "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}], "lights": lights,
                    "scenes": [{"id": "a", "name": "A", "width": 100, "height": 100, "theme": "t", "ground": {"kind": "none"},
                        "pieces": [{"id": "p", "name": "P", "shape": {"kind": "box", "w": side, "h": side}, "x": 0, "y": 0, "wear": {"coats": []}}]}]
                });
                let project = Project::from_value(&document).expect("a project");
                let found = additions(&project, &project.scenes[0].pieces[0], &Assets::default());
                assert_eq!(found.len(), 14, "{side}");
                let mut with = project.clone();
                let coats = found.into_iter().map(|addition| addition.coat).collect();
                with.scenes[0].pieces[0].wear = crate::model::Wear::Coats(crate::model::OwnCoats { coats });
                let back = serde_json::to_value(&with).expect("JSON");
                assert!(Project::from_value(&back).is_ok_and(|back| back == with));
            }
        }
    }
}
