//! Questions to the core.

#![allow(clippy::unwrap_used)]

use std::collections::BTreeMap;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};

/// A white card of 40 × 30 px at 28,18 with one soft shadow, 4 px down and 8 px of blur, on a grey ground.
const CARD: &[u8] = include_bytes!("card.png");
const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

/// A question for each path, about the demo, that can be answered.
///
/// # Panics
/// When the demo is no longer what these questions are about.
#[must_use]
pub fn right() -> BTreeMap<&'static str, Value> {
    let whole: Value = serde_json::from_str(DEMO).unwrap();
    let mut project = whole.clone();
    project["scenes"].as_array_mut().unwrap().truncate(2);
    let pieces = &project["scenes"][0]["pieces"];
    let id = |at: usize| pieces[at]["id"].clone();
    let finish = |at: usize| project["finishes"][at]["id"].clone();
    let wearer = wearer_in(pieces, &finish(0)).unwrap()["id"].clone();
    let coat = project["finishes"][0]["coats"][0]["id"].clone();
    let of = |more: Value| {
        let mut question = json!({"project": project, "scene": "kiosk"});
        question.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        question
    };
    let of_scenes = [
        ("/api/stage", of(json!({"number": 1, "scale": 1.0, "region": [0, 0, 200, 150]}))),
        ("/api/thumbnails", of(json!({"piece": wearer, "additions": true}))),
        ("/api/starters", of(json!({"piece": wearer}))),
        ("/api/blends", of(json!({"piece": wearer, "coat": coat}))),
        ("/api/finishes", of(json!({"theme": "day", "finish": finish(0)}))),
        ("/api/finishes/steps", of(json!({"low": finish(0), "high": finish(1), "count": 3}))),
        ("/api/finishes/differences", of(json!({"low": finish(0), "high": finish(1)}))),
        ("/api/export", of(json!({"format": "css"}))),
        ("/api/faithful", of(json!({"piece": wearer}))),
        ("/api/faithful/project", of(json!({}))),
        ("/api/drawing", of(json!({"piece": wearer}))),
        ("/api/audit/fewer", of(json!({"finding": "heavy_stack/none"}))),
        ("/api/sights", of(json!({"piece": wearer}))),
        ("/api/solve/reduce", of(json!({"piece": wearer}))),
        (
            "/api/solve/draw",
            of(
                json!({"piece": wearer, "line": {"x": 0, "y": 0, "bearing": 90}, "pull": {"at": 4, "to": 20}}),
            ),
        ),
        ("/api/solve/match", json!({"file": STANDARD.encode(CARD), "most": 1})),
        (
            "/api/solve/raise",
            of(json!({"piece": wearer, "heights": [6], "coats": 1, "says": true,
                "light": {"bearing": 20, "rig": {"elevation": 60, "size": 8, "ambient": 0.4}}})),
        ),
        (
            "/api/solve/relight",
            json!({"project": whole, "light": whole["lights"][0]["id"], "rig": {"elevation": 60, "size": 8, "ambient": 0.4}}),
        ),
        ("/api/resolve", of(json!({"piece": wearer}))),
        ("/api/boxes", of(json!({}))),
        ("/api/arrange", of(json!({"pieces": [id(0), id(1)], "how": {"kind": "join", "op": "add"}}))),
        ("/api/split", json!({"project": whole, "scene": "marker", "piece": "sign", "coat": "air"})),
        ("/api/outline", of(json!({"piece": wearer, "coat": coat}))),
        ("/api/css", json!({"css": "box-shadow: 0 1px 2px red, inset 0 0 9px 4px blue"})),
        ("/api/colours", json!({"colours": ["red", "oklch(0.7 0.1 120)"]})),
        ("/api/scene-code", of(json!({"format": "css"}))),
    ];
    of_scenes.into_iter().chain(drags()).chain(artwork()).chain([page()]).collect()
}

/// A request about a page whose cards wear coats of their own.
fn page() -> (&'static str, Value) {
    let coats = json!([{"id": "c", "name": "Drop", "on": true, "kind": "drop", "offset": {"x": 0, "y": 2}, "blur": 3,
        "spread": 0, "colour": "#20305080"}]);
    let project = json!({"schema": 3, "name": "Page", "themes": [{"id": "t", "name": "Light", "scheme": "light"}],
        "assets": [{"id": "a", "name": "Plots", "media_type": "text/html", "data": "PHA+"}],
        "scenes": [{"id": "s", "name": "Plots", "width": 800, "height": 600, "theme": "t", "ground": {"kind": "none"},
            "page": {"asset": "a"}, "pieces": [{"id": "p", "name": "Cards", "x": 10, "y": 10, "wear": {"coats": coats},
                "fitting": {"selector": ".card", "keeps_own": true, "own": "rgb(0 0 0 / 10%) 0px 1px 2px 0px"},
                "shape": {"kind": "box", "w": 40, "h": 30}}]}]});
    ("/api/page/sheet", json!({"project": project, "scene": "s", "state": "hover"}))
}

/// A rectangle and a circle as an SVG file in Base64.
const FILE: &str = "PHN2ZyB4bWxucz0iaHR0cDovL3d3dy53My5vcmcvMjAwMC9zdmciIHdpZHRoPSI0MCIgaGVpZ2h0PSIzMCI+PHJlY3Qgd2lkdGg9IjQwIiBoZWlnaHQ9IjMwIiBmaWxsPSIjZmZmIi8+PGNpcmNsZSBjeD0iMjAiIGN5PSIxNSIgcj0iOSIvPjwvc3ZnPg==";

/// Requests about a drawing.
fn artwork() -> [(&'static str, Value); 5] {
    let project = json!({"schema": 3, "name": "Artwork", "themes": [{"id": "t", "name": "Light", "scheme": "light"}],
        "assets": [{"id": "a", "name": "File", "media_type": "image/svg+xml", "data": FILE}],
        "scenes": [{"id": "s", "name": "Scene", "width": 80, "height": 60, "theme": "t", "ground": {"kind": "none"},
            "pieces": [{"id": "p", "name": "Drawing", "x": 10, "y": 10, "wear": {"coats": []},
                "shape": {"kind": "drawing", "asset": "a", "w": 40, "h": 30}}]}]});
    [
        ("/api/artwork", json!({"project": project, "scene": "s", "piece": "p"})),
        (
            "/api/artwork/depth",
            json!({"project": project, "scene": "s", "asset": "a", "edge": "grow", "scale": 2}),
        ),
        ("/api/artwork/take-out", json!({"project": project, "scene": "s", "piece": "p", "element": 1})),
        ("/api/icons/rooms", of_set(json!({"size": 64}))),
        (
            "/api/icons/apply",
            of_set(json!({"edge": "shrink", "room": [3, 2, 3, 6], "output": {"kind": "svg"}})),
        ),
    ]
}

/// A request about files that wear a finish.
fn of_set(more: Value) -> Value {
    let coats = json!([{"id": "c", "name": "Drop", "on": true, "kind": "drop", "offset": {"x": 0, "y": 2}, "blur": 3,
        "spread": 0, "colour": "#20305080"}]);
    let project = json!({"schema": 3, "name": "Set", "themes": [{"id": "t", "name": "Light", "scheme": "light"}],
        "finishes": [{"id": "f", "name": "Raised", "coats": coats}], "scenes": []});
    let mut question =
        json!({"project": project, "finish": "f", "theme": "t", "files": [FILE, "bm90aGluZw=="]});
    question.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
    question
}

/// Requests about what is dragged, which need no project.
fn drags() -> Vec<(&'static str, Value)> {
    vec![
        (
            "/api/drag/offset",
            json!({"offset": {"distance": 6, "bearing": 30}, "bearing": 30, "x": -4, "y": 9, "lights": [320],
                "scale": 1.5, "fine": false}),
        ),
        ("/api/drag/bearing", json!({"x": 40, "y": -12, "lights": [320], "precision": "near"})),
        (
            "/api/drag/box",
            json!({"dragged": {"x": 12, "y": 40, "w": 90, "h": 30}, "scene": {"width": 960, "height": 640},
                "others": [{"x": 10, "y": 200, "w": 60, "h": 60}], "scale": 1.5, "fine": false}),
        ),
        (
            "/api/drag/group",
            json!({"group": {"id": "g", "name": "G", "x": 0, "y": 0, "wear": {"coats": []}, "shape": {"kind": "group",
                "parts": [{"id": "a", "name": "A", "x": 4, "y": 4, "wear": {"coats": []},
                    "shape": {"kind": "box", "w": 90, "h": 20}}]}}, "width": 120, "height": 60, "how": "edges"}),
        ),
    ]
}

/// The first piece that wears a finish, in a group or not.
fn wearer_in<'p>(pieces: &'p Value, finish: &Value) -> Option<&'p Value> {
    pieces.as_array()?.iter().find_map(|piece| {
        let wears = piece["wear"]["finish"] == *finish;
        if wears { Some(piece) } else { wearer_in(&piece["shape"]["parts"], finish) }
    })
}
