//! What is said about a piece: how far code is off and where, what lies on it, and its depth as code.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::audit::{Limits, audit};
use zolvet_core::chromium::Predicted;
use zolvet_core::compose::{MaskCache, Viewport};
use zolvet_core::css::{CodeOptions, piece_code};
use zolvet_core::lower::{Target, lower};
use zolvet_core::measure::{Observer, PieceRegion, Screen, ViewingConditions, faithfulness, lying_on};
use zolvet_core::model::Project;
use zolvet_core::picture::Picture;
use zolvet_core::resolve::{self, PieceStates};

fn project(pieces: Value) -> Project {
    let document = json!({
        "schema": 2, "name": "Measured", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "s", "name": "S", "width": 200, "height": 120, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": pieces}],
    });
    Project::from_value(&document).expect("a project")
}

fn boxed(id: &str, [x, y, w, h]: [f64; 4], coats: Value) -> Value {
    json!({"id": id, "name": id, "shape": {"kind": "box", "w": w, "h": h}, "x": x, "y": y,
        "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": coats}})
}

fn text(id: &str, string: &str, [x, y]: [f64; 2], colour: &str) -> Value {
    json!({"id": id, "name": id, "x": x, "y": y, "fill": {"kind": "solid", "colour": colour}, "wear": {"coats": []},
        "shape": {"kind": "text", "string": string, "font": "Figtree", "size": 20, "weight": 600, "line_height": 1.2}})
}

fn drop() -> Value {
    json!([{"id": "c", "name": "Soft", "on": true, "kind": "drop", "offset": {"x": 0, "y": 6}, "blur": 10, "spread": 0,
        "colour": "#000000"}])
}

/// The pixel that is farthest off is named by the part of the piece that it belongs to.
#[test]
fn the_worst_difference_has_a_place() {
    let project = project(json!([boxed("card", [40.0, 20.0, 100.0, 60.0], drop())]));
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let (piece, view) = (&scene.pieces[0], Viewport::whole(&scene, 1.0));
    let lowered = lower(piece, Target::BoxShadow);
    let flat =
        |grey: u8| Picture { width: 200, height: 120, rgba: [grey, grey, grey, 255].repeat(200 * 120) };
    let found = |at: Option<(usize, usize)>| {
        let mut shown = flat(90);
        // A little is off everywhere, and much in one place.
        shown.rgba[3] = 0;
        if let Some((x, y)) = at {
            shown.rgba[(y * 200 + x) * 4 + 1] = 200;
        }
        let predicted = Predicted { before: flat(10), designed: flat(90), shown };
        faithfulness(piece, &lowered, &predicted, &view)
    };
    for (at, region) in [
        ((40, 50), PieceRegion::Edge),
        ((139, 79), PieceRegion::Edge),
        ((90, 50), PieceRegion::Inside),
        ((43, 50), PieceRegion::Inside),
        ((36, 50), PieceRegion::Outside),
        ((90, 95), PieceRegion::Outside),
    ] {
        let found = found(Some(at));
        assert_eq!((found.worst, found.worst_at), (110, Some(region)), "{at:?}");
    }
    assert_eq!((found(None).worst, found(None).worst_at), (0, None));
}

/// A label lies on its button; what sticks out of it, is larger, or is painted before it does not.
#[test]
fn a_label_lies_on_its_button() {
    let project = project(json!([
        text("under", "Under", [60.0, 40.0], "#ffffff"),
        boxed("button", [40.0, 20.0, 100.0, 60.0], drop()),
        text("faint", "Faint", [50.0, 24.0], "#3a8a78"),
        text("clear", "Clear", [50.0, 50.0], "#ffffff"),
        text("beside", "Beside it", [120.0, 40.0], "#2f7d6b"),
        boxed("dot", [60.0, 30.0, 8.0, 8.0], json!([])),
        boxed("veil", [0.0, 0.0, 200.0, 120.0], json!([])),
    ]));
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let at = |id: &str| scene.pieces.iter().position(|piece| piece.id.as_str() == id).unwrap();
    let on = |id: &str| -> Vec<&str> {
        lying_on(&scene, at(id)).into_iter().map(|at| scene.pieces[at].id.as_str()).collect()
    };
    assert_eq!(on("button"), ["faint", "clear", "dot"]);
    assert!(on("veil").is_empty() && on("clear").is_empty());
    let cache = MaskCache::default();
    let conditions = ViewingConditions::default();
    let eye = Observer { screen: Screen::Plain, conditions, density: 1.0, cache: &cache };
    let models = &project.scenes[0].all_pieces();
    let (text, seen) = eye.text_on(&scene, &scene.pieces[at("button")].id, models).expect("a text on it");
    assert_eq!(text.id.as_str(), "faint");
    assert!(seen.contrast < 1.5 && (seen.needed - 4.5).abs() < 1e-9, "{seen:?}");
    // The very number that the text has by itself.
    let alone = eye.measures(&scene, &text.id, &text.shape);
    assert_eq!(alone, Some(seen));
    assert!(eye.text_on(&scene, &scene.pieces[at("dot")].id, models).is_none());
}

/// The rule begins with what is depth; without the rest it has that alone, and a tint makes the background part of it.
#[test]
fn depth_comes_first_in_code() {
    let tint = json!({"id": "t", "name": "Tint", "on": true, "kind": "tint", "fill": {"kind": "solid", "colour": "#00000020"}});
    let mut tinted = drop();
    tinted.as_array_mut().unwrap().push(tint);
    let code = |coats: Value| {
        let project = project(json!([boxed("card", [40.0, 20.0, 100.0, 60.0], coats)]));
        let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
        let shape = &project.scenes[0].pieces[0].shape;
        piece_code(&scene.pieces[0], shape, &PieceStates::default(), CodeOptions::default())
    };
    let plain = code(drop());
    assert_eq!(plain.depth.css, ".card {\n  box-shadow: 0 6px 10px #000;\n}\n");
    assert_eq!(plain.depth.declarations, "box-shadow: 0 6px 10px #000;\n");
    assert_eq!(plain.depth.react, "{\n  boxShadow: '0 6px 10px #000',\n}\n");
    assert_eq!(
        plain.css,
        ".card {\n  box-shadow: 0 6px 10px #000;\n  width: 100px;\n  height: 60px;\n  background: #2f7d6b;\n}\n"
    );
    let tinted = code(tinted);
    assert!(
        tinted.depth.css.contains("background:") && !tinted.depth.css.contains("width"),
        "{}",
        tinted.depth.css
    );
    assert_eq!(code(json!([])).depth.css, "");
}

/// What is found on the way is part of what is found at the end, and most of it.
#[test]
fn findings_are_told_as_they_come() {
    let document: Value =
        serde_json::from_str(include_str!("../../../../demo/quillmere.zolvet.json")).unwrap();
    let project = Project::from_value(&document).unwrap();
    let (assets, mut coming) = (Assets::carried_by(&project), Vec::new());
    let all = audit(&project, &assets, &Limits::default(), &MaskCache::default(), &mut |_, found| {
        coming.extend(found.iter().map(|finding| finding.key.clone()));
        true
    });
    let all = all.unwrap().findings;
    assert!(coming.iter().all(|key| all.iter().any(|finding| finding.key == *key)));
    assert!(coming.len() * 2 > all.len(), "{} of {}", coming.len(), all.len());
}
