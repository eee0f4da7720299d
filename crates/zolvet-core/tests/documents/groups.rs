//! Groups as code, in sheets, in checks and on the move.

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::arrange::{Arrangement, Resizing, arranged, resized};
use zolvet_core::asset::Assets;
use zolvet_core::audit::{Limits, audit};
use zolvet_core::compose::MaskCache;
use zolvet_core::css::CodeOptions;
use zolvet_core::handoff::{SheetOptions, sheet};
use zolvet_core::model::{Id, Piece, Project};
use zolvet_core::report::{ReportOptions, boxes, report};
use zolvet_samples::star::{coat, document};

fn shadow(id: &str, y: i32) -> Value {
    coat(id, "drop", json!({"offset": {"x": 0, "y": y}, "blur": 8, "spread": 0, "colour": "#203050"}))
}

fn piece(id: &str, name: &str, [x, y, w, h]: [i32; 4]) -> Value {
    json!({"id": id, "name": name, "shape": {"kind": "box", "w": w, "h": h, "radii": 6}, "x": x, "y": y,
        "fill": {"kind": "solid", "colour": "#e0a030"}, "wear": {"coats": []}})
}

fn label(id: &str, name: &str) -> Value {
    let shape = json!({"kind": "text", "string": "Open", "font": "Figtree", "weight": 600, "size": 16, "line_height": 1.2});
    json!({"id": id, "name": name, "shape": shape, "x": 20, "y": 8, "fill": {"kind": "solid", "colour": "#fff"},
        "wear": {"coats": []}})
}

/// A button: a box that is raised and lower when pressed, and a label whose coat changes with it.
fn button() -> Value {
    let mut face = piece("face", "Face", [0, 0, 120, 36]);
    face["wear"] = json!({"coats": [shadow("s", 6)]});
    face["states"] = json!({"pressed": [shadow("s", 1)]});
    let mut text = label("text", "Label");
    text["states"] = json!({"pressed": [shadow("t", 1)]});
    json!({"id": "button", "name": "Open valve", "shape": {"kind": "group", "parts": [face, text]}, "x": 30, "y": 40,
        "control": true, "wear": {"coats": []}})
}

fn project(pieces: Value) -> Project {
    Project::from_value(&document(pieces)).unwrap()
}

fn css(project: &Project, piece: &str) -> (String, String) {
    let options = ReportOptions { piece, line: None, code: CodeOptions::default() };
    let found =
        report(project, &project.scenes[0], options, &Assets::default(), &MaskCache::default()).unwrap();
    (found.code.css, found.code.html)
}

#[test]
fn a_group_is_an_element_around_its_parts() {
    let (css, html) = css(&project(json!([button()])), "button");
    assert_eq!(
        html,
        "<div class=\"open-valve\" role=\"button\" tabindex=\"0\" aria-label=\"Open valve\">\n  \
           <div class=\"face\"></div>\n  <p class=\"label\">Open</p>\n</div>\n"
    );
    for part in [
        ".open-valve {\n  width: 120px;\n  height: 36px;\n  position: relative;\n}",
        ".open-valve:active .face {\n  box-shadow: 0 1px 8px #203050;\n}",
        ".open-valve:active .label {\n  text-shadow: 0 1px 8px #203050;\n}",
        "position: absolute;\n  left: 20px;\n  top: 8px;",
    ] {
        assert!(css.contains(part), "{part}\n{css}");
    }
    assert!(!css.contains(".face:active"), "{css}");
}

#[test]
fn a_part_by_itself_follows_its_control() {
    let (css, _) = css(&project(json!([button()])), "face");
    assert!(css.contains(".open-valve:active .face {"), "{css}");
}

#[test]
fn shadows_of_a_group_are_the_box_shadow_of_the_part_that_is_its_silhouette() {
    let mut whole = button();
    whole["wear"] = json!({"coats": [shadow("s", 9)]});
    whole["states"] = json!({"pressed": [shadow("s", 2)]});
    whole["shape"]["parts"][0]["wear"] = json!({"coats": []});
    whole["shape"]["parts"][0]["states"] = json!({});
    let (css, _) = css(&project(json!([whole])), "button");
    assert!(css.contains(".face {\n  box-shadow: 0 9px 8px #203050;"), "{css}");
    assert!(css.contains(".open-valve:active .face {\n  box-shadow: 0 2px 8px #203050;\n}"), "{css}");
    assert!(!css.contains("filter:"), "{css}");
}

#[test]
fn a_sheet_presses_no_control_around_another() {
    let mut outer = button();
    outer["id"] = json!("card");
    outer["name"] = json!("Card");
    let mut inner = button();
    inner["shape"]["parts"].as_array_mut().unwrap().iter_mut().for_each(|part| {
        part["id"] = json!(format!("inner-{}", part["id"].as_str().unwrap()));
        part["name"] = json!(format!("Inner {}", part["name"].as_str().unwrap()));
    });
    outer["shape"]["parts"].as_array_mut().unwrap().push(inner);
    let text = sheet(
        &project(json!([outer])),
        &Assets::default(),
        &SheetOptions { scenes: true, ..SheetOptions::default() },
    );
    assert!(
        text.contains(".test-card:active:where(:not(:has(.test-open-valve:active))) .test-face {"),
        "{text}"
    );
    assert!(text.contains(".test-open-valve:active .test-inner-face {"), "{text}");
}

/// A worn finish says its states for its own element: a part says them for its control, and a control takes back those
/// that come from a control within it.
#[test]
fn a_finish_worn_in_a_control_follows_it() {
    let mut whole = document(json!([button()]));
    whole["finishes"] = json!([{"id": "raised", "name": "Raised", "note": "", "coats": [shadow("s", 6)],
        "states": {"pressed": [shadow("s", 1)]}}]);
    let face = &mut whole["scenes"][0]["pieces"][0]["shape"]["parts"][0];
    face["wear"] = json!({"finish": "raised"});
    face["states"] = json!({});
    let sheet_of = |whole: &Value| {
        let project = Project::from_value(whole).unwrap();
        sheet(&project, &Assets::default(), &SheetOptions { scenes: true, ..SheetOptions::default() })
    };
    let text = sheet_of(&whole);
    assert!(text.contains(".test-raised:active {"), "{text}");
    assert!(
        text.contains(".test-open-valve:active .test-face {\n  box-shadow: 0 1px 8px #203050;\n}"),
        "{text}"
    );
    let mut card = piece("card", "Card", [0, 0, 200, 90]);
    card["wear"] = json!({"finish": "raised"});
    let parts = json!([card, whole["scenes"][0]["pieces"][0]]);
    let control = json!({"id": "panel", "name": "Panel", "x": 0, "y": 0, "control": true, "wear": {"finish": "raised"},
        "shape": {"kind": "group", "parts": parts}});
    whole["scenes"][0]["pieces"] = json!([control]);
    let text = sheet_of(&whole);
    assert!(text.contains(":has(.test-open-valve:active)"), "{text}");
}

/// Checks look at parts as at pieces, and mend them in their place.
#[test]
fn findings_on_parts_are_those_on_pieces_and_are_mended_in_the_document() {
    let mut faint = label("faint", "Faint");
    faint["fill"] = json!({"kind": "solid", "colour": "#e8c070"});
    let back = piece("back", "Back", [0, 0, 160, 60]);
    let moved = |mut piece: Value| {
        piece["x"] = json!(piece["x"].as_f64().unwrap() + 20.0);
        piece["y"] = json!(piece["y"].as_f64().unwrap() + 30.0);
        piece
    };
    let flat = document(json!([
        piece("first", "First", [200, 0, 20, 20]),
        moved(back.clone()),
        moved(faint.clone())
    ]));
    let grouped = json!({"id": "g", "name": "G", "shape": {"kind": "group", "parts": [back, faint]}, "x": 20, "y": 30,
        "wear": {"coats": []}});
    let nested = document(json!([piece("first", "First", [200, 0, 20, 20]), grouped]));
    let found = |whole: &Value| {
        let project = Project::from_value(whole).unwrap();
        audit(&project, &Assets::default(), &Limits::default(), &MaskCache::default(), &mut |_, _| true)
            .unwrap()
            .findings
    };
    let (plain, inside) = (found(&flat), found(&nested));
    assert!(!plain.is_empty());
    assert_eq!(
        plain.iter().map(|finding| &finding.key).collect::<Vec<_>>(),
        inside.iter().map(|finding| &finding.key).collect::<Vec<_>>()
    );
    let mended = inside.iter().filter_map(|finding| finding.fix.as_ref());
    let mut count = 0;
    for fix in mended {
        let mut whole = nested.clone();
        json_patch::patch(&mut whole, &fix.patch).unwrap();
        Project::from_value(&whole).unwrap();
        let at = fix.patch.0[0].path().to_string();
        count += usize::from(at.starts_with("/scenes/0/pieces/1/shape/parts/1/"));
    }
    assert!(count > 0, "{inside:?}");
}

fn arrange(whole: &mut Value, pieces: &[&str], how: &Arrangement) -> bool {
    let project = Project::from_value(whole).unwrap();
    let ids: Vec<Id> = pieces.iter().map(|id| Id::new(*id).unwrap()).collect();
    let Some(found) = arranged(&project, &project.scenes[0], &ids, how, &Assets::default()) else {
        return false;
    };
    json_patch::patch(&mut whole["scenes"][0], &found.patch).unwrap();
    Project::from_value(whole).unwrap();
    true
}

fn places(whole: &Value) -> Vec<(String, [f64; 4])> {
    let project = Project::from_value(whole).unwrap();
    let mut all: Vec<_> = boxes(&project.scenes[0], &Assets::default())
        .into_iter()
        .map(|one| {
            (one.id.to_string(), [one.x, one.y, one.axes[0][0], one.axes[0][1]].map(|at| (at * 50.0).round()))
        })
        .collect();
    all.sort_by(|a, b| a.0.cmp(&b.0));
    all
}

/// Moved in and out of a turned group, everything lies where it lay; a group without parts goes.
#[test]
fn pieces_move_between_lists_and_lie_where_they_did() {
    let mut turned = button();
    turned["rotation"] = json!(30);
    turned["shape"]["parts"][1]["kept"] = json!("of another version");
    let mut whole = document(json!([piece("a", "A", [5, 5, 40, 20]), turned]));
    let leaves =
        |whole: &Value| -> Vec<_> { places(whole).into_iter().filter(|(id, _)| id != "button").collect() };
    let before = leaves(&whole);
    let id = |id: &str| Some(Id::new(id).unwrap());
    assert!(arrange(&mut whole, &["a"], &Arrangement::Move { into: id("button"), before: id("text") }));
    assert_eq!(whole["scenes"][0]["pieces"].as_array().unwrap().len(), 1);
    assert_eq!(whole["scenes"][0]["pieces"][0]["shape"]["parts"][1]["id"], "a");
    assert_eq!(leaves(&whole), before);
    assert!(arrange(&mut whole, &["face"], &Arrangement::Move { into: None, before: None }));
    assert_eq!(leaves(&whole), before);
    assert!(arrange(&mut whole, &["a", "text"], &Arrangement::Move { into: None, before: id("face") }));
    assert_eq!(leaves(&whole), before);
    let ids: Vec<&str> = whole["scenes"][0]["pieces"]
        .as_array()
        .unwrap()
        .iter()
        .map(|piece| piece["id"].as_str().unwrap())
        .collect();
    assert_eq!(ids, ["a", "text", "face"]);
    assert_eq!(whole["scenes"][0]["pieces"][1]["kept"], "of another version");
}

#[test]
fn a_group_does_not_move_into_itself_or_too_deep() {
    let mut whole = document(json!([button(), piece("a", "A", [5, 5, 40, 20])]));
    let into = |id: &str| Arrangement::Move { into: Some(Id::new(id).unwrap()), before: None };
    assert!(!arrange(&mut whole, &["button"], &into("button")));
    assert!(!arrange(&mut whole, &["button"], &into("face")), "a box is no group");
    let mut deep = piece("leaf", "Leaf", [0, 0, 9, 9]);
    for depth in 0..8 {
        deep = json!({"id": format!("g{depth}"), "name": "G", "x": 0, "y": 0, "wear": {"coats": []},
            "shape": {"kind": "group", "parts": [deep]}});
    }
    let mut whole = document(json!([deep, button(), piece("a", "A", [5, 5, 40, 20])]));
    assert!(arrange(&mut whole, &["a"], &into("g0")));
    assert!(!arrange(&mut whole, &["button"], &into("g0")));
}

/// Parts are aligned and grouped as the pieces of a scene are, in their own list.
#[test]
fn parts_are_arranged_in_their_list() {
    let mut whole = document(json!([button()]));
    let line = serde_json::from_value(json!({"kind": "align", "line": "right"})).unwrap();
    assert!(arrange(&mut whole, &["text"], &line));
    let at = |whole: &Value, field: &str| {
        whole["scenes"][0]["pieces"][0]["shape"]["parts"][1][field].as_f64().unwrap()
    };
    assert!(at(&whole, "x") > 70.0 && at(&whole, "x") < 120.0, "{}", at(&whole, "x"));
    assert!(arrange(&mut whole, &["text", "face"], &Arrangement::Group));
    let inner = &whole["scenes"][0]["pieces"][0]["shape"]["parts"];
    assert_eq!((inner.as_array().unwrap().len(), &inner[0]["shape"]["kind"]), (1, &json!("group")));
}

/// A face with a label in its middle, one at its left, one at its right, and an icon.
fn parts_to_resize() -> Piece {
    let mut end = label("end", "End");
    end["x"] = json!(150);
    let mut middle = piece("middle", "Middle", [80, 10, 40, 20]);
    middle["shape"]["radii"] = json!(8);
    let parts = json!([piece("face", "Face", [0, 0, 200, 40]), middle, label("start", "Start"), end]);
    let group = json!({"id": "g", "name": "G", "shape": {"kind": "group", "parts": parts}, "x": 0, "y": 0,
        "wear": {"coats": []}});
    serde_json::from_value(group).unwrap()
}

#[test]
fn parts_of_a_resized_group_keep_to_its_edges() {
    let grown = resized(&parts_to_resize(), (300.0, 60.0), Resizing::Edges, &Assets::default());
    let parts = json!(grown.shape.parts());
    let at = |part: usize| [&parts[part]["x"], &parts[part]["y"]].map(|at| at.as_f64().unwrap());
    assert_eq!((&parts[0]["shape"]["w"], &parts[0]["shape"]["h"]), (&json!(300.0), &json!(60.0)));
    assert_eq!(at(0), [0.0, 0.0]);
    assert_eq!(at(1), [130.0, 20.0], "in the middle both ways");
    assert_eq!(parts[1]["shape"]["w"], json!(40.0));
    assert_eq!(at(2)[0], 20.0, "at the left");
    assert_eq!(at(3)[0], 250.0, "at the right");
    assert_eq!(parts[3]["shape"]["size"], json!(16.0));
}

#[test]
fn parts_of_a_scaled_group_are_scaled() {
    let group = parts_to_resize();
    let grown = resized(&group, (400.0, 80.0), Resizing::Scale, &Assets::default());
    let parts = json!(grown.shape.parts());
    assert_eq!((&parts[0]["shape"]["w"], &parts[0]["shape"]["h"]), (&json!(400.0), &json!(80.0)));
    assert_eq!((&parts[1]["x"], &parts[1]["shape"]["radii"]), (&json!(160.0), &json!(16.0)));
    assert_eq!(parts[2]["shape"]["size"], json!(32.0));
    let back = resized(&grown, (200.0, 40.0), Resizing::Scale, &Assets::default());
    let places = |group: &Piece| {
        let parts = group.shape.parts().iter();
        parts.map(|part| [part.x.get(), part.y.get()].map(|at| (at * 10.0).round())).collect::<Vec<_>>()
    };
    assert_eq!(places(&back), places(&group), "there and back");
}
