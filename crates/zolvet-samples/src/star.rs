//! A star on a small scene, and coats of every kind.

#![allow(clippy::unwrap_used)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::model::Project;
use zolvet_core::picture::Picture;
use zolvet_core::resolve::{self, Scene};

/// Path data of a star.
pub const STAR: &str = "M100 4 L122 70 L192 70 L136 112 L157 180 L100 139.5 L43 180 L64 112 L8 70 L78 70 Z";
/// The size of its scene, in px.
pub const SIZE: (u32, u32) = (240, 220);

/// A document with a scene of these pieces.
pub fn document(pieces: Value) -> Value {
    json!({
        "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "lights": [{"id": "l", "name": "L", "bearing": 30, "colour": "#ffe0a0", "strength": 0.5}],
        "scenes": [{"id": "a", "name": "A", "width": SIZE.0, "height": SIZE.1, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": pieces}]
    })
}

/// That scene, resolved.
///
/// # Panics
/// When the pieces are not valid.
pub fn resolved(pieces: Value) -> Scene {
    let project = Project::from_value(&document(pieces)).unwrap();
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    assert_eq!(scene.notes, []);
    scene
}

/// A star that wears coats.
pub fn star(coats: Value) -> Value {
    let shape = json!({"kind": "path", "d": STAR, "viewbox": [0, 0, 200, 190], "w": 200, "h": 190});
    json!({"id": "p", "name": "P", "shape": shape, "x": 20, "y": 15, "fill": {"kind": "solid", "colour": "#e0a030"}, "wear": {"coats": coats}})
}

/// A coat of a kind, with its values.
pub fn coat(id: &str, kind: &str, values: Value) -> Value {
    let mut coat = json!({"id": id, "name": id, "on": true, "kind": kind});
    for (name, value) in values.as_object().unwrap() {
        coat[name] = value.clone();
    }
    coat
}

/// A drop shadow of a blur.
pub fn drop(blur: f64) -> Value {
    coat(
        "d",
        "drop",
        json!({"offset": {"x": 5, "y": 9}, "blur": blur, "spread": 0, "colour": "#203050", "opacity": 0.8}),
    )
}

/// Every kind of coat.
pub fn all_kinds() -> Vec<Value> {
    let end = |y: f64, blur: f64, colour: &str| json!({"offset": {"distance": y, "follows": "l"}, "blur": blur, "spread": 0, "colour": colour});
    vec![
        drop(12.0),
        coat(
            "i",
            "inner",
            json!({"offset": {"x": 0, "y": 6}, "blur": 9, "spread": 2, "colour": {"from": "light"}, "opacity": 0.7}),
        ),
        coat(
            "h",
            "highlight",
            json!({"spot": {"shape": {"kind": "ellipse", "w": 120, "h": 60}, "x": 40, "y": 10}, "fill": {"kind": "solid", "colour": "#fff"}, "blur": 14, "follows": "l"}),
        ),
        coat(
            "t",
            "tint",
            json!({"fill": {"kind": "linear", "follows": "l", "stops": [{"at": 0, "colour": "#fff8"}, {"at": 1, "colour": {"from": "fill", "lightness": -0.2}}]}}),
        ),
        coat(
            "s",
            "stroke",
            json!({"width": 5, "side": "centre", "join": "round", "fill": {"kind": "solid", "colour": "#204030"}}),
        ),
        coat("b", "blur", json!({"sigma": 1.5})),
        coat("f", "backdrop", json!({"sigma": 4, "saturation": 1.4})),
        coat(
            "e",
            "extrude",
            json!({"offset": {"x": 10, "y": 14}, "near": "#803010", "far": {"from": "ground", "lightness": -0.3}}),
        ),
        coat(
            "c",
            "cast",
            json!({"shear": 0.4, "squash": -0.3, "anchor": 0.9, "follows": "l", "blur_near": 1, "blur_far": 16, "colour": "#000", "fade": 0.7}),
        ),
        coat(
            "r",
            "ramp",
            json!({"shadow": "drop", "near": end(2.0, 3.0, "#203050"), "far": end(30.0, 40.0, "#a04020"), "count": 7, "growth": 1.6, "lean": -0.4, "total": 0.6}),
        ),
        coat(
            "z",
            "raised",
            json!({"height": 9, "bearing": 30, "follows": "l", "rig": {"elevation": 55, "size": 6, "ambient": 0.5}, "colour": "#102030", "shadows": [
                {"distance": 0.7, "blur": 0.25, "spread": 0, "opacity": 0.3}, {"distance": 0.2, "blur": 1.6, "spread": -0.4, "opacity": 0.4}]}),
        ),
    ]
}

/// Its picture.
pub fn render_scene(scene: &Scene) -> Picture {
    picture(
        scene,
        &Viewport::whole(scene, 1.0),
        &RenderOptions::default(),
        Rounding::Nearest,
        &MaskCache::default(),
    )
}
