//! Every rule of a document: what breaks it is told with its place and what was expected there, alone; what only just keeps
//! it is taken.

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::model::{Prefix, Problem, Project, current_form};
use zolvet_core::resolve;

fn coat(id: &str, kind: &str, values: Value) -> Value {
    let mut coat = json!({"id": id, "name": id, "on": true, "kind": kind});
    coat.as_object_mut().unwrap().extend(values.as_object().unwrap().clone());
    coat
}

/// Every kind of coat: those of the finish `lifted`, in the order of the tables below.
fn coats() -> Value {
    let end = |y: f64| json!({"offset": {"distance": y, "follows": "sun"}, "blur": 4, "spread": 0, "colour": "#203050"});
    json!([
        coat(
            "d",
            "drop",
            json!({"offset": {"distance": 8, "follows": "sun"}, "blur": 12, "spread": 2, "colour": {"swatch": "ink", "lightness": 0.1},
            "opacity": 0.5, "falloff": {"points": [{"from": 0, "to": 0}, {"from": 0.5, "to": 0.2}, {"from": 1, "to": 1}]}, "grain": {"amount": 0.2, "size": 1, "seed": 3}})
        ),
        coat(
            "i",
            "inner",
            json!({"offset": {"x": 0, "y": 6}, "blur": 9, "spread": 2, "colour": {"from": "light"}})
        ),
        coat(
            "h",
            "highlight",
            json!({"spot": {"shape": {"kind": "ellipse", "w": 60, "h": 30}, "x": 4, "y": 1}, "fill": {"kind": "solid", "colour": "#fff"}, "blur": 14, "follows": "sun"})
        ),
        coat(
            "t",
            "tint",
            json!({"fill": {"kind": "linear", "follows": "sun", "stops": [{"at": 0, "colour": "#fff8"}, {"at": 1, "colour": {"swatch": "ink"}}]}})
        ),
        coat(
            "s",
            "stroke",
            json!({"width": 5, "side": "centre", "join": "round", "fill": {"kind": "solid", "colour": {"swatch": "ink"}}})
        ),
        coat("b", "blur", json!({"sigma": 1.5})),
        coat("f", "backdrop", json!({"sigma": 4, "saturation": 1.4, "brightness": 1.1})),
        coat(
            "e",
            "extrude",
            json!({"offset": {"x": 10, "y": 14}, "near": {"swatch": "ink"}, "far": {"from": "ground", "lightness": -0.3}})
        ),
        coat(
            "c",
            "cast",
            json!({"shear": 0.4, "squash": -0.3, "anchor": 0.9, "follows": "sun", "blur_near": 1, "blur_far": 16, "colour": {"swatch": "ink"}, "fade": 0.7})
        ),
        coat(
            "r",
            "ramp",
            json!({"shadow": "drop", "near": end(2.0), "far": end(30.0), "count": 7, "growth": 1.6, "lean": -0.4, "total": 0.6})
        ),
    ])
}

/// Something of everything, all of it right.
fn document() -> Value {
    let piece = |id: &str, shape: Value, x: f64| {
        json!({"id": id, "name": id, "shape": shape, "x": x, "y": 10,
            "fill": {"kind": "solid", "colour": {"swatch": "paper"}}, "wear": {"finish": "lifted"}})
    };
    let box_shape = json!({"kind": "box", "w": 80, "h": 40, "radii": [8, 8, 8, 8]});
    let path = json!({"kind": "path", "d": "M0 0 L10 0 L5 9 Z", "viewbox": [0, 0, 10, 9], "w": 50, "h": 45});
    let text = json!({"kind": "text", "string": "Seeds", "font": "Figtree", "size": 24, "weight": 600, "spacing": 0, "line_height": 1.2, "align": "left"});
    let join = json!({"kind": "join", "op": "add", "parts": [
        {"id": "a", "name": "a", "shape": {"kind": "box", "w": 20, "h": 20}, "x": 0, "y": 0, "fill": {"kind": "solid", "colour": "#a04020"}, "wear": {"coats": []}},
        {"id": "b", "name": "b", "shape": {"kind": "ellipse", "w": 20, "h": 20}, "x": 10, "y": 0, "fill": {"kind": "solid", "colour": "#a04020"}, "wear": {"coats": []}}]});
    let mut clipped = piece("clipped", json!({"kind": "ellipse", "w": 30, "h": 30}), 200.0);
    clipped["clip_to"] = json!("card");
    clipped["alternative_of"] = json!("card");
    clipped["states"] = json!({"hover": [coat("hd", "drop", json!({"offset": {"x": 0, "y": 2}, "blur": 3, "spread": 0, "colour": "#000"}))]});
    json!({
        "schema": 3, "name": "rules", "prefix": "r",
        "themes": [{"id": "day", "name": "Day", "scheme": "light"}, {"id": "night", "name": "Night", "scheme": "dark"}],
        "swatches": [{"id": "ink", "name": "Ink", "values": {"day": "#102018", "night": "#d0e0d8"}}, {"id": "paper", "name": "Paper", "values": {"day": "#fff", "night": "#222"}}],
        "lights": [{"id": "sun", "name": "Sun", "bearing": 30, "colour": "#ffe0a0", "strength": 0.5, "themes": {"night": {"bearing": 300}}}],
        "finishes": [{"id": "lifted", "name": "Lifted", "coats": coats(), "states": {"pressed": [coat("pd", "drop", json!({"offset": {"x": 0, "y": 1}, "blur": 2, "spread": 0, "colour": "#000"}))]},
            "themes": {"night": [coat("nd", "drop", json!({"offset": {"distance": 3, "follows": "sun"}, "blur": 5, "spread": 0, "colour": {"swatch": "ink"}}))]},
            "transition": {"duration": 150, "curve": "ease-out"}}],
        "scale": ["lifted"],
        "scenes": [{"id": "bench", "name": "Bench", "width": 400, "height": 300, "theme": "day", "ground": {"kind": "radial", "centre": {"x": 0.5, "y": 0.5}, "radius": 1, "stops": [{"at": 0, "colour": "#eee"}, {"at": 1, "colour": "#ccc"}]},
            "pieces": [piece("card", box_shape, 10.0), piece("mark", path, 60.0), piece("word", text, 110.0), piece("joined", join, 160.0), clipped]}]
    })
}

const COATS: &str = "/finishes/0/coats";
const PIECES: &str = "/scenes/0/pieces";

/// The document with one value set, or added at the end of a list where the last part is `-` (RFC 6902, §4.1).
fn with(pointer: &str, to: Value) -> Value {
    let mut document = document();
    let (parent, field) = pointer.rsplit_once('/').unwrap();
    match document.pointer_mut(parent).unwrap() {
        Value::Array(list) if field == "-" => list.push(to),
        Value::Array(list) => list[field.parse::<usize>().unwrap()] = to,
        value => value[field] = to,
    }
    document
}

fn problems(document: &Value) -> Vec<(String, String)> {
    said(Project::from_value(document))
}

fn said(read: Result<Project, Vec<Problem>>) -> Vec<(String, String)> {
    read.err().unwrap_or_default().into_iter().map(|problem| (problem.pointer, problem.message)).collect()
}

/// What is wrong with a document that has another value in one place; a number is the same to a project that is read already.
fn problems_with(pointer: &str, to: &Value) -> Vec<(String, String)> {
    let found = problems(&with(pointer, to.clone()));
    if to.is_number() {
        let patch = json!([{"op": "replace", "path": pointer, "value": to}]);
        let patch: json_patch::Patch = serde_json::from_value(patch).unwrap();
        let edited = Project::from_value(&document()).unwrap().edited(&patch.0);
        assert_eq!(said(edited), found, "{pointer} changed to {to}");
    }
    found
}

/// Breaks one rule, and says where that is told and in which words.
fn broken(pointer: &str, to: Value, told_at: &str, words: &str) {
    let found = problems_with(pointer, &to);
    assert_eq!(found.len(), 1, "{pointer} = {to}: {found:?}");
    let (place, message) = &found[0];
    assert!(place == told_at && message.contains(words), "{pointer} = {to}: {place}: {message}");
}

fn kept(pointer: &str, to: Value) {
    let found = problems_with(pointer, &to);
    assert!(found.is_empty(), "{pointer} = {to}: {found:?}");
}

#[test]
fn something_of_everything_is_taken_and_written_as_it_was_read() {
    assert_eq!(problems(&document()), []);
    let project = Project::from_value(&document()).unwrap();
    let written = serde_json::to_value(&project).unwrap();
    assert_eq!(Project::from_value(&written).unwrap(), project);
}

#[test]
fn references_lead_somewhere() {
    let at = |list: &str, rest: &str| format!("{list}{rest}");
    let references = [
        ("/scale/0".to_owned(), "finish"),
        ("/scenes/0/theme".to_owned(), "theme"),
        (at(PIECES, "/0/wear/finish"), "finish"),
        (at(PIECES, "/0/fill/colour/swatch"), "swatch"),
        (at(PIECES, "/4/clip_to"), "piece"),
        (at(PIECES, "/4/alternative_of"), "piece"),
        (at(COATS, "/0/offset/follows"), "light"),
        (at(COATS, "/0/colour/swatch"), "swatch"),
        (at(COATS, "/2/follows"), "light"),
        (at(COATS, "/3/fill/follows"), "light"),
        (at(COATS, "/3/fill/stops/1/colour/swatch"), "swatch"),
        (at(COATS, "/4/fill/colour/swatch"), "swatch"),
        (at(COATS, "/7/near/swatch"), "swatch"),
        (at(COATS, "/8/follows"), "light"),
        (at(COATS, "/8/colour/swatch"), "swatch"),
        (at(COATS, "/9/near/offset/follows"), "light"),
        (at(COATS, "/9/far/offset/follows"), "light"),
    ];
    for (pointer, what) in references {
        broken(&pointer, json!("gone"), &pointer, &format!("expected the id of a {what}, found \"gone\""));
    }
    let nowhere = json!({"kind": "image", "asset": "gone", "fit": "cover"});
    broken("/scenes/0/ground", nowhere, "/scenes/0/ground/asset", "expected the id of an asset, found");
    let light = json!({"bearing": 10});
    broken("/lights/0/themes/dusk", light, "/lights/0/themes/dusk", "expected the id of a theme");
    broken("/swatches/0/values/dusk", json!("#123"), "/swatches/0/values/dusk", "expected the id of a theme");
    let only_day = json!({"day": "#102018"});
    broken("/swatches/0/values", only_day, "/swatches/0/values", "expected a value for theme \"night\"");
}

#[test]
fn ids_are_told_apart() {
    for (list, again) in [
        ("/themes", "/themes/2/id"),
        ("/swatches", "/swatches/2/id"),
        ("/lights", "/lights/1/id"),
        ("/finishes", "/finishes/1/id"),
        ("/scenes", "/scenes/1/id"),
        (PIECES, "/scenes/0/pieces/5/id"),
        (COATS, "/finishes/0/coats/10/id"),
        ("/scenes/0/pieces/3/shape/parts", "/scenes/0/pieces/3/shape/parts/2/id"),
    ] {
        let first = document().pointer(&format!("{list}/0")).unwrap().clone();
        broken(&format!("{list}/-"), first.clone(), again, "expected a unique id");
        if list == "/themes" {
            continue;
        }
        let mut other = first;
        other["id"] = json!("another");
        kept(&format!("{list}/-"), other);
    }
    broken(
        "/finishes/0/coats/0/id",
        json!(""),
        "/finishes/0/coats/0/id",
        "expected an id of 1 to 128 characters",
    );
    kept("/finishes/0/coats/0/id", json!("é".repeat(128)));
    broken("/finishes/0/coats/0/id", json!("é".repeat(129)), "/finishes/0/coats/0/id", "1 to 128 characters");
    // One id may be that of things of different kinds.
    kept("/finishes/0/coats/0/id", json!("lifted"));
}

/// Every number of a document: its place, its range, and how it is said to be.
#[test]
fn numbers_stay_in_their_range() {
    let coat = |at: usize, rest: &str| format!("{COATS}/{at}/{rest}");
    let piece = |at: usize, rest: &str| format!("{PIECES}/{at}/{rest}");
    let numbers: [(String, f64, f64, &str); 33] = [
        ("/scenes/0/width".to_owned(), 0.0, 8192.0, "a size"),
        (piece(0, "x"), -1e5, 1e5, "a length"),
        (piece(0, "shape/w"), 0.0, 8192.0, "a size"),
        (piece(0, "shape/radii/2"), 0.0, 20_000.0, "a length"),
        (piece(0, "rotation"), -36_000.0, 36_000.0, "an angle"),
        (piece(0, "opacity"), 0.0, 1.0, "an opacity"),
        (piece(2, "shape/size"), 1.0, 2000.0, "a font size"),
        (piece(2, "shape/weight"), 1.0, 1000.0, "a font weight"),
        (piece(2, "shape/spacing"), -1000.0, 1000.0, "a letter spacing"),
        (piece(2, "shape/line_height"), 0.1, 10.0, "a line height"),
        ("/lights/0/bearing".to_owned(), -36_000.0, 36_000.0, "an angle"),
        ("/lights/0/strength".to_owned(), 0.0, 100.0, "a factor"),
        ("/lights/0/themes/night/bearing".to_owned(), -36_000.0, 36_000.0, "an angle"),
        (coat(0, "offset/distance"), -1e4, 1e4, "an offset"),
        (coat(0, "blur"), 0.0, 4000.0, "a blur radius"),
        (coat(0, "spread"), -2000.0, 2000.0, "a spread"),
        (coat(0, "opacity"), 0.0, 1.0, "an opacity"),
        (coat(0, "colour/lightness"), -1.0, 1.0, "an amount"),
        (coat(0, "falloff/points/1/to"), 0.0, 1.0, "a fraction"),
        (coat(0, "grain/amount"), 0.0, 1.0, "a fraction"),
        (coat(1, "offset/x"), -1e4, 1e4, "an offset"),
        (coat(1, "blur"), 0.0, 4000.0, "a blur radius"),
        (coat(2, "spot/x"), -1e5, 1e5, "a length"),
        (coat(2, "spot/shape/w"), 0.0, 8192.0, "a size"),
        (coat(4, "width"), 0.0, 20_000.0, "a length"),
        (coat(5, "sigma"), 0.0, 2000.0, "a σ"),
        (coat(6, "sigma"), 0.0, 2000.0, "a σ"),
        (coat(6, "saturation"), 0.0, 100.0, "a factor"),
        (coat(8, "blur_far"), 0.0, 4000.0, "a blur radius"),
        (coat(8, "fade"), 0.0, 1.0, "a fraction"),
        (coat(9, "near/blur"), 0.0, 4000.0, "a blur radius"),
        (coat(9, "far/spread"), -2000.0, 2000.0, "a spread"),
        ("/scenes/0/ground/centre/x".to_owned(), -10.0, 10.0, "a relative position"),
    ];
    for (pointer, low, high, named) in numbers {
        for end in [low, high] {
            kept(&pointer, json!(end));
        }
        for past in [low - 0.01, high + 0.01] {
            broken(&pointer, json!(past), &pointer, &format!("expected {named} from"));
        }
        for no_number in [json!("12"), json!(true), json!([])] {
            let found = problems(&with(&pointer, no_number.clone()));
            assert_eq!(found.len(), 1, "{pointer} = {no_number}: {found:?}");
            assert!(found[0].0.starts_with(&pointer), "{pointer} = {no_number}: {found:?}");
        }
    }
}

#[test]
fn lists_have_their_length_and_order() {
    let (falloff, stops) = (format!("{COATS}/0/falloff/points"), format!("{COATS}/3/fill/stops"));
    let two = json!([{"from": 0.2, "to": 0}, {"from": 0.2, "to": 1}]);
    kept(&falloff, two);
    for points in
        [json!([]), json!([{"from": 0, "to": 0}]), json!([{"from": 0.5, "to": 0}, {"from": 0.4, "to": 1}])]
    {
        broken(&falloff, points, &falloff, "expected at least two points, rising in from");
    }
    kept(&stops, json!([{"at": 0.5, "colour": "#fff"}, {"at": 0.5, "colour": "#000"}]));
    for wrong in [json!([]), json!([{"at": 0.5, "colour": "#fff"}, {"at": 0.4, "colour": "#000"}])] {
        broken(&stops, wrong, &stops, "expected at least one stop, rising in at");
    }
    // Without a theme nothing that names one leads anywhere either.
    let found = problems(&with("/themes", json!([])));
    assert!(found.contains(&("/themes".to_owned(), "expected at least one theme".to_owned())), "{found:?}");
}

#[test]
fn a_ramp_is_one_that_can_be_drawn() {
    let ramp = |field: &str| format!("{COATS}/9/{field}");
    for (field, good, bad, words) in [
        ("count", json!([1, 64]), json!([0, 65]), "expected 1 to 64 shadows"),
        ("growth", json!([0.001, 100]), json!([0]), "expected a growth above 0"),
        ("lean", json!([-0.999, 0.999]), json!([-1, 1]), "expected a lean between -1 and 1, ends excluded"),
        ("total", json!([0, 0.999]), json!([0.9991, 1]), "expected a total opacity up to 0.999"),
    ] {
        good.as_array().unwrap().iter().for_each(|value| kept(&ramp(field), value.clone()));
        for value in bad.as_array().unwrap() {
            broken(&ramp(field), value.clone(), &ramp(field), words);
        }
    }
}

#[test]
fn a_path_is_one_that_can_be_drawn() {
    let (d, viewbox) = (format!("{PIECES}/1/shape/d"), format!("{PIECES}/1/shape/viewbox"));
    broken(&d, json!("M0 0 L10"), &d, "expected SVG path data");
    broken(&d, json!("M0 0 L2000000 0"), &d, "within a million of its origin");
    let line = |count: usize| json!(format!("M0 0{}", " L1 1".repeat(count - 1)));
    kept(&d, line(10_000));
    broken(&d, line(10_001), &d, "expected at most 10000 lines and curves, found 10001");
    kept(&viewbox, json!([-1e6, 0, 1e6, 0.001]));
    for wrong in [json!([0, 0, 0, 9]), json!([0, 0, 10, -1]), json!([0, 1_000_001, 10, 9])] {
        broken(&viewbox, wrong, &viewbox, "expected x, y, width and height");
    }
    let font = format!("{PIECES}/2/shape/font");
    broken(&font, json!("No Such Font"), &font, "found \"No Such Font\"");
}

#[test]
fn there_is_not_too_much_of_anything() {
    let many = |one: &Value, count: usize| -> Value {
        let named = |i: usize| {
            let mut one = one.clone();
            one["id"] = json!(format!("n{i}"));
            one
        };
        json!((0..count).map(named).collect::<Vec<_>>())
    };
    let document = document();
    let coat = &document["finishes"][0]["coats"][5];
    kept(COATS, many(coat, 64));
    broken(COATS, many(coat, 65), COATS, "expected at most 64 coats, found 65");
    kept("/finishes/0/states/pressed", many(coat, 64));
    let pressed = "/finishes/0/states/pressed";
    broken(pressed, many(coat, 65), pressed, "expected at most 64 coats, found 65");
    let night = "/finishes/0/themes/night";
    kept(night, many(coat, 64));
    broken(night, many(coat, 65), night, "expected at most 64 coats, found 65");
    let piece = &document["scenes"][0]["pieces"][0];
    kept(PIECES, many(piece, 1000));
    broken(PIECES, many(piece, 1001), PIECES, "expected at most 1000 pieces, found 1001");
    let parts = format!("{PIECES}/3/shape/parts");
    let part = &document["scenes"][0]["pieces"][3]["shape"]["parts"][0];
    broken(&parts, many(part, 201), &parts, "expected 1 to 200 parts, found 201");
    broken(&parts, json!([]), &parts, "expected 1 to 200 parts, found 0");
    let nested = |deep: usize| {
        let within = |shape: Value| {
            let mut part = part.clone();
            part["shape"] = json!({"kind": "join", "op": "add", "parts": [{"id": "x", "name": "x", "shape": shape, "x": 0, "y": 0,
                "fill": {"kind": "none"}, "wear": {"coats": []}}]});
            part["shape"].clone()
        };
        (1..deep).fold(json!({"kind": "box", "w": 9, "h": 9}), |shape, _| within(shape))
    };
    let shape = format!("{PIECES}/3/shape");
    kept(&shape, nested(9));
    let found = problems(&with(&shape, nested(10)));
    assert!(found.len() == 1 && found[0].1 == "expected groups and joins no more than 8 deep", "{found:?}");
}

#[test]
fn what_is_no_document_is_told_by_line_and_column() {
    let text = serde_json::to_string_pretty(&document()).unwrap();
    let found = Project::from_json(&text[..text.len() - 4]).unwrap_err();
    let last = text.lines().count() - 1;
    assert!(found[0].pointer.starts_with(&format!("{last}:")), "{found:?} of {last} lines");
    let large = format!("{text}{}", " ".repeat(8 * 1024 * 1024));
    let found = Project::from_json(&large).unwrap_err();
    assert!(found[0].message.starts_with("expected at most 8 MB of JSON"), "{found:?}");
    broken("/schema", json!(4), "/schema", "invalid value: integer `4`, expected schema 1, 2 or 3");
    let ease = "/finishes/0/transition/curve";
    broken(ease, json!("ease; } body { display: none"), ease, "expected a CSS easing function");
    kept(ease, json!("cubic-bezier(0.2, 0, 0, 1)"));
    let kind = format!("{COATS}/0/kind");
    broken(&kind, json!("glow"), &kind, "expected one of drop inner");
    // Everything that leads nowhere is told at once.
    let mut twice = with("/scale/0", json!("gone"));
    twice["scenes"][0]["theme"] = json!("dusk");
    let places: Vec<String> = problems(&twice).into_iter().map(|(place, _)| place).collect();
    assert_eq!(places, ["/scale/0", "/scenes/0/theme"]);
}

#[test]
fn earlier_schemas_are_read_and_unknown_fields_stay() {
    let mut earlier = document();
    earlier["schema"] = json!(1);
    earlier["later"] = json!({"schema": 1});
    earlier["finishes"][0]["later"] = json!([1.5, null]);
    // Schema 1 has no coats by theme: whatever a field of that name is, it is none of ours.
    earlier["finishes"][0]["themes"] = json!("those of somebody else");
    // Neither it nor schema 2 has a prefix, nor selectors of themes.
    earlier["prefix"] = json!(7);
    earlier["themes"][0]["selectors"] = json!({"of": "somebody else"});
    let text = earlier.to_string();
    let read = Project::from_json(&text).unwrap();
    assert!(read.finishes[0].themes.is_empty() && read.themes[0].selectors.is_empty());
    assert_eq!(read.prefix, Prefix::proposed(earlier["name"].as_str().unwrap()));
    assert_eq!(Project::from_value(&earlier).as_ref(), Ok(&read));
    let mut expected = earlier.clone();
    expected["schema"] = json!(3);
    expected["prefix"] = json!(read.prefix.as_str());
    expected["prefix_in_schema_1"] = json!(7);
    let theme = expected["themes"][0].as_object_mut().unwrap();
    let moved = theme.shift_remove("selectors").unwrap();
    theme.insert("selectors_in_schema_1".to_owned(), moved);
    let finish = expected["finishes"][0].as_object_mut().unwrap();
    let moved = finish.shift_remove("themes").unwrap();
    finish.insert("themes_in_schema_1".to_owned(), moved);
    let now = current_form(&text);
    assert_eq!(serde_json::from_str::<Value>(&now).unwrap(), expected);
    assert_eq!(Project::from_json(&now).as_ref(), Ok(&read));
    assert_eq!(current_form(&now), now, "what has the form of today stays as it is, to the byte");
    // Of schema 2, coats by theme are ours, and stay; an empty prefix of schema 3 is meant so.
    let mut second = document();
    second.as_object_mut().unwrap().shift_remove("prefix");
    second["schema"] = json!(2);
    let read = Project::from_value(&second).unwrap();
    assert!(!read.finishes[0].themes.is_empty() && !read.prefix.is_empty());
    second["schema"] = json!(3);
    assert!(Project::from_value(&second).unwrap().prefix.is_empty());
}

#[test]
fn a_prefix_and_selectors_can_be_written_into_a_sheet() {
    let letters = "expected a small letter and up to 23 small letters, digits and hyphens, or nothing";
    for wrong in ["Q", "9", "a b", "a{}", "é", "a-"] {
        broken("/prefix", json!(wrong), "/prefix", letters);
    }
    kept("/prefix", json!("quill-2"));
    for wrong in ["", ".a {", "a; b", "/* a", "[a", "@media"] {
        broken(
            "/themes/0/selectors",
            json!([".dark", wrong]),
            "/themes/0/selectors/1",
            "expected a CSS selector",
        );
    }
    broken(
        "/themes/0/selectors",
        json!(vec![".a"; 17]),
        "/themes/0/selectors",
        "expected at most 16 selectors, found 17",
    );
    kept("/themes/0/selectors", json!([".dark", "html[data-mode='night']:not(.plain)"]));
}

#[test]
fn a_finish_has_other_coats_under_a_theme() {
    let mut project = Project::from_value(&document()).unwrap();
    let names = |project: &Project| {
        let scene = &project.scenes[0];
        let (piece, _) = resolve::piece(project, scene, &scene.pieces[0], &Assets::default());
        piece.coats.iter().map(|coat| coat.id.as_str().to_owned()).collect::<Vec<_>>()
    };
    assert!(names(&project).len() > 1);
    project.scenes[0].theme = project.themes[1].id.clone();
    assert_eq!(names(&project), ["nd"]);
    let dusk = "/finishes/0/themes/dusk";
    broken(dusk, json!([]), dusk, "expected the id of a theme, found \"dusk\"");
    let swatch = "/finishes/0/themes/night/0/colour/swatch";
    broken(swatch, json!("gone"), swatch, "expected the id of a swatch, found \"gone\"");
}
