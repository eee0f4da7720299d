//! For every kind of finding a document that has it; its fix removes it and brings no other.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::audit::{Finding, FindingKind, Fix, Limits, NoFewer, audit, fewer_shadows};
use zolvet_core::compose::{Canvas, MaskCache};
use zolvet_core::measure::{Observer, Screen, ViewingConditions, squinted};
use zolvet_core::model::Project;
use zolvet_core::resolve;

fn document(ground: &str, pieces: Value) -> Value {
    json!({
        "schema": 1, "name": "test", "fallbacks": true, "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "swatches": [], "lights": [], "finishes": [], "scale": [],
        "scenes": [{"id": "a", "name": "A", "width": 400, "height": 260, "theme": "t",
            "ground": {"kind": "solid", "colour": ground}, "pieces": pieces}]
    })
}

fn card(id: &str, x: i32, wear: Value) -> Value {
    json!({"id": id, "name": id, "shape": {"kind": "box", "w": 80, "h": 60, "radii": 12}, "x": x, "y": 80,
        "fill": {"kind": "solid", "colour": "#f6f3ea"}, "wear": wear})
}

fn drop(id: &str, (x, y): (f64, f64), blur: f64, colour: &str, opacity: f64) -> Value {
    json!({"id": id, "name": id, "on": true, "kind": "drop", "offset": {"x": x, "y": y}, "blur": blur, "spread": 0,
        "colour": colour, "opacity": opacity})
}

fn own(coats: Value) -> Value {
    json!({ "coats": coats })
}

fn findings(document: &Value, limits: &Limits) -> Vec<Finding> {
    let project = Project::from_value(document).unwrap();
    let cache = MaskCache::default();
    audit(&project, &Assets::default(), limits, &cache, &mut |_, _| true).unwrap().findings
}

fn kinds(document: &Value) -> Vec<FindingKind> {
    findings(document, &Limits::default()).iter().map(|finding| finding.kind).collect()
}

/// The document with a fix made.
fn fixed(document: &Value, fix: &Fix) -> Value {
    let mut document = document.clone();
    json_patch::patch(&mut document, &fix.patch).unwrap();
    document
}

/// The document has the finding, alone; with its fix it has none, and is still a project.
#[track_caller]
fn fixes(kind: FindingKind, document: &Value) -> Finding {
    let found = findings(document, &Limits::default());
    let one = found.iter().find(|finding| finding.kind == kind).cloned();
    let one = one.unwrap_or_else(|| panic!("{kind:?} among {found:?}"));
    let others: Vec<FindingKind> =
        found.iter().map(|finding| finding.kind).filter(|other| *other != kind).collect();
    let after = fixed(document, one.fix.as_ref().unwrap());
    let left = findings(&after, &Limits::default());
    assert!(left.iter().all(|finding| finding.kind != kind), "{left:?}");
    assert!(left.iter().all(|finding| others.contains(&finding.kind)), "{left:?}");
    one
}

#[test]
fn faint_text_is_told_and_made_legible() {
    let text = |size: u32, colour: &str| {
        json!([{"id": "p", "name": "Label", "shape": {"kind": "text", "string": "Water", "font": "Figtree", "size": size, "weight": 400, "line_height": 1.2},
            "x": 40, "y": 60, "fill": {"kind": "solid", "colour": colour}, "wear": {"coats": []}}])
    };
    let found = fixes(FindingKind::FaintText, &document("#ffffff", text(20, "#8a8a8a")));
    // WCAG 2.2, "contrast ratio": (1 + 0.05) / (0.2541 + 0.05).
    assert!(found.message.starts_with("Text contrast 3.4"), "{}", found.message);
    // Large text needs less (SC 1.4.3), and #767676 is enough for all.
    assert_eq!(kinds(&document("#ffffff", text(24, "#8a8a8a"))), []);
    assert_eq!(kinds(&document("#ffffff", text(20, "#757575"))), []);
    let sun = Limits { screen: Screen::Sunlight, ..Limits::default() };
    assert_eq!(findings(&document("#ffffff", text(20, "#757575")), &sun)[0].kind, FindingKind::FaintText);
}

#[test]
fn text_is_measured_where_it_is_worst() {
    let stops = json!([{"at": 0, "colour": "#ffffff"}, {"at": 0.5, "colour": "#ffffff"}, {"at": 0.52, "colour": "#505050"}, {"at": 1, "colour": "#505050"}]);
    let mut document = document(
        "#ffffff",
        json!([{"id": "p", "name": "Label", "shape": {"kind": "text", "string": "Watering", "font": "Figtree", "size": 40, "weight": 600, "line_height": 1.2},
        "x": 110, "y": 60, "fill": {"kind": "solid", "colour": "#303030"}, "wear": {"coats": []}}]),
    );
    document["scenes"][0]["ground"] = json!({"kind": "linear", "angle": 90, "stops": stops});
    let found = findings(&document, &Limits::default());
    let area = found[0].place.area.unwrap();
    assert_eq!(found[0].kind, FindingKind::FaintText);
    assert!(area[0] >= 190.0, "its worst place is on the dark half: {area:?}");
}

#[test]
fn a_faint_edge_is_told_only_of_what_can_be_used() {
    let mut button = card("b", 100, own(json!([drop("d", (0.0, 2.0), 4.0, "#203028", 0.2)])));
    assert_eq!(kinds(&document("#efece3", json!([button]))), []);
    button["states"] = json!({"hover": [drop("h", (0.0, 3.0), 8.0, "#203028", 0.3)]});
    let found = fixes(FindingKind::FaintEdge, &document("#efece3", json!([button])));
    assert!(found.message.contains("d carries most of it"), "{}", found.message);
    assert!(found.place.area.is_some() && found.place.marks.len() > 20);
    button["fill"] = json!({"kind": "solid", "colour": "#2f6d5f"});
    assert_eq!(kinds(&document("#efece3", json!([button]))), []);
}

#[test]
fn a_coat_that_changes_nothing_is_told() {
    let inner = |colour: &str| json!({"id": "i", "name": "Rim", "on": true, "kind": "inner", "offset": {"x": 0, "y": 2}, "blur": 2, "spread": 0, "colour": colour});
    let white = json!([{"id": "p", "name": "P", "shape": {"kind": "box", "w": 80, "h": 60, "radii": 8}, "x": 40, "y": 60,
        "fill": {"kind": "solid", "colour": "#ffffff"}, "wear": {"coats": [inner("#ffffff")]}}]);
    fixes(FindingKind::NothingToSee, &document("#c0c0c0", white.clone()));
    let mut seen = white;
    seen[0]["wear"]["coats"][0] = inner("#e0e0e0");
    assert_eq!(kinds(&document("#c0c0c0", seen)), []);
}

#[test]
fn a_wide_faint_shadow_shows_bands_until_it_has_grain() {
    let wide = drop("d", (0.0, 30.0), 400.0, "#000000", 0.12);
    let mut document = document("#efece3", json!([card("p", 160, own(json!([wide])))]));
    document["scenes"][0]["width"] = json!(900);
    document["scenes"][0]["height"] = json!(700);
    document["scenes"][0]["pieces"][0]["x"] = json!(350);
    document["scenes"][0]["pieces"][0]["y"] = json!(250);
    document["scenes"][0]["pieces"][0]["shape"] = json!({"kind": "box", "w": 300, "h": 200, "radii": 20});
    let [left, top, width, height] = fixes(FindingKind::Banding, &document).place.area.unwrap();
    assert!(left < 350.0 && top < 250.0 && left + width > 650.0 && top + height > 450.0, "around the card");
    let marks = findings(&document, &Limits::default())[0].place.marks.clone();
    assert!((200..=1200).contains(&marks.len()), "where one grey turns into the next: {}", marks.len());
    assert!(marks.iter().all(|[x, y]| *x >= left && *x <= left + width && *y >= top && *y <= top + height));
    document["scenes"][0]["pieces"][0]["wear"] = own(json!([drop("d", (0.0, 10.0), 40.0, "#000000", 0.3)]));
    assert_eq!(kinds(&document), []);
}

#[test]
fn a_shadow_lit_from_elsewhere_is_told() {
    let lit = |x: f64, y: f64| own(json!([drop("d", (x, y), 8.0, "#203028", 0.5)]));
    let pieces = |last: Value| {
        json!([
            card("one", 10, lit(0.0, 6.0)),
            card("two", 110, lit(1.0, 6.0)),
            card("three", 210, lit(-1.0, 8.0)),
            card("four", 310, last)
        ])
    };
    let found = fixes(FindingKind::LightsDisagree, &document("#efece3", pieces(lit(-6.0, 0.0))));
    assert_eq!(found.place.piece.unwrap().as_str(), "four");
    assert_eq!(kinds(&document("#efece3", pieces(lit(1.5, 6.0)))), []);
}

#[test]
fn what_follows_no_light_or_swatch_is_told() {
    let mut document = document(
        "#efece3",
        json!([card("p", 100, own(json!([drop("d", (0.0, 6.0), 8.0, "#203028", 0.5)])))]),
    );
    document["lights"] =
        json!([{"id": "l", "name": "Sun", "bearing": 0, "colour": "#ffffff", "strength": 1}]);
    let found = fixes(FindingKind::LooseValue, &document);
    assert_eq!(
        serde_json::to_value(found.fix.unwrap()).unwrap()["patch"][0]["value"],
        json!({"distance": 6.0, "follows": "l"})
    );
    document["lights"][0]["bearing"] = json!(20);
    assert_eq!(kinds(&document), []);
    document["swatches"] = json!([{"id": "s", "name": "Soil", "values": {"t": "#203028"}}]);
    fixes(FindingKind::LooseValue, &document);
    document["swatches"][0]["values"]["t"] = json!("#802028");
    assert_eq!(kinds(&document), []);
    document["finishes"] = json!([{"id": "f", "name": "F", "coats": [], "states": {"hover": [drop("h", (0.0, 1.0), 2.0, "#802028", 0.5)]}}]);
    fixes(FindingKind::LooseValue, &document);
}

#[test]
fn colours_and_finishes_that_are_one_are_told() {
    let mut document = document(
        "#efece3",
        json!([card("p", 40, json!({"finish": "g"})), card("q", 240, json!({"finish": "f"}))]),
    );
    let coats = |blur: f64| json!([{"id": "d", "name": "d", "on": true, "kind": "drop", "offset": {"x": 0, "y": 6}, "blur": blur, "spread": 0, "colour": {"swatch": "s2"}, "opacity": 0.5}]);
    document["swatches"] = json!([{"id": "s", "name": "Soil", "values": {"t": "#203028"}}, {"id": "s2", "name": "Earth", "values": {"t": "#213129"}}]);
    document["finishes"] = json!([{"id": "f", "name": "Low", "coats": coats(8.0)}, {"id": "g", "name": "Lower", "coats": coats(8.25)}]);
    document["scale"] = json!(["f"]);
    fixes(FindingKind::NearColours, &document);
    fixes(FindingKind::NearFinishes, &document);
    document["swatches"][1]["values"]["t"] = json!("#504028");
    document["finishes"][1]["coats"] = coats(20.0);
    assert_eq!(kinds(&document), []);
}

#[test]
fn a_step_that_is_no_higher_is_told() {
    let mut document = document("#efece3", json!([]));
    let finish = |id: &str, y: f64| json!({"id": id, "name": id, "coats": [drop("d", (0.0, y), y * 2.0, "#203028", 0.5)]});
    document["finishes"] = json!([finish("one", 4.0), finish("two", 3.0), finish("three", 12.0)]);
    document["scale"] = json!(["one", "two", "three"]);
    fixes(FindingKind::FlatStep, &document);
    document["finishes"][1] = finish("two", 7.0);
    assert_eq!(kinds(&document), []);
}

/// docs/measuring.md, "Facts" (common practice, no published source): a dark bottom edge needs an equally dark drop shadow.
#[test]
fn a_dark_lower_edge_above_a_pale_shadow_is_told() {
    let edge = json!({"id": "i", "name": "Turned under", "on": true, "kind": "inner", "offset": {"x": 0, "y": -6}, "blur": 6, "spread": 0, "colour": "#102018", "opacity": 0.7});
    let with = |opacity: f64| {
        document(
            "#efece3",
            json!([card("p", 100, own(json!([edge, drop("d", (0.0, 6.0), 12.0, "#203028", opacity)])))]),
        )
    };
    fixes(FindingKind::EdgeAndShadow, &with(0.06));
    assert_eq!(kinds(&with(0.7)), []);
}

#[test]
fn a_fainter_edge_agrees_with_the_opacities_that_are_written() {
    let coats = json!([{"id": "dark", "name": "Dark", "on": true, "kind": "inner", "offset": {"x": 0, "y": -11}, "blur": 23, "spread": 5, "colour": "#000000", "opacity": 0.4}, {"id": "lit", "name": "Lit", "on": true, "kind": "inner", "offset": {"x": 0, "y": -7}, "blur": 25, "spread": -1, "colour": "#f6f3ea", "opacity": 0.15, "blend": "screen"}, {"id": "red", "name": "Red", "on": true, "kind": "inner", "offset": {"x": 0, "y": 0}, "blur": 13, "spread": 0, "colour": "#c04020", "opacity": 0.1}]);
    let card = json!({"id": "p", "name": "p", "shape": {"kind": "box", "w": 80, "h": 60, "radii": 12}, "x": 20, "y": 80, "fill": {"kind": "solid", "colour": "#2f6d5f"}, "wear": own(coats)});
    fixes(FindingKind::EdgeAndShadow, &document("#ffffff", json!([card])));
}

/// The reverse: an edge lit from below over a shadow cast by light from above.
#[test]
fn a_lit_lower_edge_above_a_dark_shadow_is_told() {
    let edge = json!({"id": "i", "name": "Lit from below", "on": true, "kind": "inner", "offset": {"x": 0, "y": -6}, "blur": 6, "spread": 0, "colour": "#ffffff", "opacity": 0.8});
    let with = |opacity: f64| {
        let mut card = card("p", 100, own(json!([edge, drop("d", (0.0, 6.0), 12.0, "#203028", opacity)])));
        card["fill"] = json!({"kind": "solid", "colour": "#5d8f7f"});
        document("#efece3", json!([card]))
    };
    let found = fixes(FindingKind::EdgeAndShadow, &with(0.7));
    assert!(found.message.contains("lighter"), "{}", found.message);
    assert_eq!(kinds(&with(0.04)), []);
}

/// docs/measuring.md, "Facts" (common practice, no published source): a negative spread keeps the sides free of shadow.
#[test]
fn a_shadow_out_at_the_sides_is_told() {
    let with = |spread: f64| {
        let mut coat = drop("d", (0.0, 12.0), 16.0, "#203028", 0.5);
        coat["spread"] = json!(spread);
        own(json!([coat]))
    };
    let pieces = |last: f64| {
        json!([
            card("one", 10, with(-16.0)),
            card("two", 110, with(-17.0)),
            card("three", 210, with(-18.0)),
            card("four", 310, with(last))
        ])
    };
    fixes(FindingKind::SideBleed, &document("#efece3", pieces(-2.0)));
    assert_eq!(kinds(&document("#efece3", pieces(-16.0))), []);
}

/// docs/measuring.md, "Facts" (common practice, no published source): a coloured shadow in multiply reads darker and duller.
#[test]
fn a_colour_in_multiply_is_told() {
    let with = |colour: &str| {
        let mut coat = drop("d", (0.0, 6.0), 12.0, colour, 0.5);
        coat["blend"] = json!("multiply");
        document("#efece3", json!([card("p", 100, own(json!([coat])))]))
    };
    fixes(FindingKind::Muddy, &with("#2f7d6b"));
    assert_eq!(kinds(&with("#303030")), []);
}

#[test]
fn coats_of_a_theme_are_looked_at_by_themselves_and_mended_in_their_place() {
    let muddy = |id: &str| {
        let mut coat = drop(id, (0.0, 6.0), 12.0, "#2f7d6b", 0.4);
        coat["blend"] = json!("multiply");
        coat
    };
    let mut document = document("#ffffff", json!([card("p", 100, json!({"finish": "f"}))]));
    document["schema"] = json!(2);
    document["themes"] =
        json!([{"id": "t", "name": "T", "scheme": "light"}, {"id": "n", "name": "Night", "scheme": "dark"}]);
    document["finishes"] =
        json!([{"id": "f", "name": "Lifted", "coats": [muddy("k")], "themes": {"n": [muddy("k")]}}]);
    let found = findings(&document, &Limits::default());
    let mut told: Vec<(&str, &str)> =
        found.iter().map(|one| (one.key.as_str(), one.place.name.as_str())).collect();
    told.sort_unstable();
    assert_eq!(told, [("muddy/f/k", "k, Lifted"), ("muddy/f/themes/n/k", "k, Lifted in Night")]);
    let after = found.iter().fold(document, |document, one| fixed(&document, one.fix.as_ref().unwrap()));
    assert_eq!(findings(&after, &Limits::default()), []);
    assert_eq!(after["finishes"][0]["themes"]["n"][0]["blend"], "normal");
}

/// docs/measuring.md, "Facts" (common practice, no published source): soft relief is impossible on pure white or black.
#[test]
fn soft_relief_on_white_is_told() {
    let relief = own(json!([
        drop("dark", (6.0, 6.0), 12.0, "#9098a0", 0.5),
        drop("light", (-6.0, -6.0), 12.0, "#ffffff", 0.9)
    ]));
    let with = |ground: &str| document(ground, json!([card("p", 100, relief.clone())]));
    fixes(FindingKind::PureGround, &with("#ffffff"));
    assert_eq!(kinds(&with("#e4e6ea")), []);
}

/// docs/measuring.md, "Facts" (common practice, no published source): steps of 2 px show teeth, half a pixel does not.
#[test]
fn stepped_thickness_shows_teeth() {
    let with = |count: u32| {
        let end =
            |at: f64| json!({"offset": {"x": at, "y": at}, "blur": 0, "spread": 0, "colour": "#203028"});
        let ramp = json!({"id": "r", "name": "Thick", "on": true, "kind": "ramp", "shadow": "drop", "near": end(1.0), "far": end(12.0), "count": count, "growth": 1, "lean": 0, "total": 0.9});
        document("#efece3", json!([card("p", 100, own(json!([ramp])))]))
    };
    fixes(FindingKind::Teeth, &with(6));
    assert!(!kinds(&with(24)).contains(&FindingKind::Teeth));
}

#[test]
fn too_many_layers_are_told() {
    let with = |count: u32| {
        let end =
            |at: f64| json!({"offset": {"x": 0, "y": at}, "blur": at, "spread": 0, "colour": "#203028"});
        let ramp = json!({"id": "r", "name": "Soft", "on": true, "kind": "ramp", "shadow": "drop", "near": end(2.0), "far": end(24.0), "count": count, "growth": 1, "lean": 0, "total": 0.5});
        document("#efece3", json!([card("p", 100, own(json!([ramp])))]))
    };
    let document = with(13);
    let told = fixes(FindingKind::PaintBudget, &document);
    assert_eq!(kinds(&with(12)), []);
    // A nearer fix is found when it is asked for.
    let project = Project::from_value(&document).unwrap();
    let (assets, limits) = (Assets::default(), Limits::default());
    let fix = fewer_shadows(&project, &assets, &limits, &told.key).unwrap();
    assert_eq!(kinds(&fixed(&document, &fix)), []);
    assert!(fix.title.starts_with("Use ") && fix.title.ends_with("instead of 13"), "{}", fix.title);
    assert_eq!(fewer_shadows(&project, &assets, &limits, "paint_budget/none"), Err(NoFewer::NoStack));
}

/// Filter Effects 1, "drop-shadow()": each shadow of a chain is cast by the picture before it.
#[test]
fn a_chain_that_doubles_is_told() {
    let with = |opacity: f64| {
        document(
            "#efece3",
            json!([{"id": "p", "name": "Leaf", "shape": {"kind": "path", "d": "M0 0 L80 0 L40 70 Z", "viewbox": [0, 0, 80, 70], "w": 80, "h": 70},
            "x": 100, "y": 60, "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": [drop("a", (0.0, 4.0), 4.0, "#203028", opacity), drop("b", (0.0, 12.0), 16.0, "#203028", opacity)]}}]),
        )
    };
    fixes(FindingKind::Doubled, &with(0.6));
    assert_eq!(kinds(&with(0.2)), []);
}

#[test]
fn an_accepted_finding_says_why_and_limits_can_leave_kinds_out() {
    let mut coat = drop("d", (0.0, 6.0), 12.0, "#2f7d6b", 0.5);
    coat["blend"] = json!("multiply");
    let mut document = document("#efece3", json!([card("p", 100, own(json!([coat])))]));
    let key = findings(&document, &Limits::default())[0].key.clone();
    document["accepted"] = json!([{"finding": key, "note": "meant so"}]);
    assert_eq!(findings(&document, &Limits::default())[0].accepted.as_deref(), Some("meant so"));
    let limits = Limits { without: vec![FindingKind::Muddy], ..Limits::default() };
    assert_eq!(findings(&document, &limits), []);
}

/// A step edge in light becomes the integral of the Gaussian: Φ(x/σ), in closed form.
#[test]
fn squinting_mixes_light_as_a_gaussian() {
    let sigma = ViewingConditions::default().sigma();
    // 0.1° at 50 cm is 0.8727 mm; a px of 96 in an inch is 0.26458 mm.
    assert!((sigma - 0.872_67 / 0.264_583).abs() < 1e-3, "{sigma}");
    let mut canvas = Canvas::new(60, 20);
    for y in 0..20_usize {
        canvas.pixels[y * 60..y * 60 + 30].fill([0.0, 0.0, 0.0, 1.0]);
        canvas.pixels[y * 60 + 30..y * 60 + 60].fill([1.0; 4]);
    }
    let soft = squinted(&canvas, sigma);
    for (x, offset) in [(30_i64, 0.5), (33, 3.5), (26, -3.5), (36, 6.5)] {
        let light = f64::from(zolvet_core::colour::srgb_to_linear([soft.at(x, 10).g; 3])[0]);
        let expected = 0.5 * (1.0 + erf(offset / sigma / std::f64::consts::SQRT_2));
        assert!((light - expected).abs() < 0.006, "at {offset}: {light} beside {expected}");
    }
}

/// A sharp edge between black and white has 21 to 1 (WCAG 2.2, "contrast ratio"); squinting at it leaves, d px to either
/// side, 2Φ(d/σ) − 1 of its difference, on screens with any number of pixels for one px.
#[test]
fn an_edge_is_measured_as_in_closed_form() {
    let mut document = document("#ffffff", json!([card("p", 100, own(json!([])))]));
    document["scenes"][0]["pieces"][0]["fill"]["colour"] = json!("#000000");
    // Its corners lie off the scene: what is measured is straight.
    document["scenes"][0]["pieces"][0]["shape"] = json!({"kind": "box", "w": 600, "h": 120});
    document["scenes"][0]["pieces"][0]["x"] = json!(-100);
    let project = Project::from_value(&document).unwrap();
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let (cache, sight) = (MaskCache::default(), ViewingConditions::default());
    let left: f64 =
        [1.0, 2.0, 3.0].map(|d| erf(d / sight.sigma() / std::f64::consts::SQRT_2)).iter().sum::<f64>() / 3.0;
    for density in [1.0, 1.5, 2.0, 3.0] {
        let eye = Observer { screen: Screen::Plain, conditions: sight, density, cache: &cache };
        let found = eye.measures(&scene, &scene.pieces[0].id, &project.scenes[0].pieces[0].shape).unwrap();
        assert!((found.contrast - 21.0).abs() < 1e-3, "{found:?}");
        let squinted = found.squinted.unwrap();
        assert!((squinted - left).abs() < 0.005, "{squinted} beside {left} at {density}x");
    }
}

/// Abramowitz and Stegun, "Handbook of Mathematical Functions", 7.1.26.
fn erf(x: f64) -> f64 {
    let t = 1.0 / (1.0 + 0.327_591_1 * x.abs());
    let poly = t
        * (0.254_829_592
            + t * (-0.284_496_736 + t * (1.421_413_741 + t * (-1.453_152_027 + t * 1.061_405_429))));
    (1.0 - poly * (-x * x).exp()).copysign(x)
}

/// Two findings are left in the demo to be found in the tour; the others that it has are accepted, with a reason.
#[test]
fn the_demo_passes_but_for_two_findings() {
    let demo = include_str!("../../../../demo/quillmere.zolvet.json");
    let project = Project::from_json(demo).unwrap();
    let (assets, cache) = (Assets::carried_by(&project), MaskCache::default());
    let found = audit(&project, &assets, &Limits::default(), &cache, &mut |_, _| true).unwrap();
    let open = found.findings.iter().filter(|finding| finding.accepted.is_none());
    let keys: Vec<&str> = open.map(|finding| finding.key.as_str()).collect();
    assert_eq!(keys, ["faint_text/bar/bar-line", "faint_edge/kiosk/valve"]);
    // Every acceptance is of something that is still found.
    let accepted = found.findings.iter().filter(|finding| finding.accepted.is_some()).count();
    assert_eq!(accepted, project.accepted.len());
    // Hanging up ends it.
    assert!(audit(&project, &assets, &Limits::default(), &cache, &mut |done, _| done < 0.3).is_none());
}

fn any_coat() -> impl Strategy<Value = Value> {
    let colours =
        prop::sample::select(vec!["#000000", "#ffffff", "#203028", "#1c2c24", "#c04020", "#f6f3ea"]);
    let kinds = prop::sample::select(vec!["drop", "inner"]);
    let blend = prop::sample::select(vec!["normal", "multiply", "screen"]);
    (kinds, -12..12_i32, -12..14_i32, 0..60_i32, -4..6_i32, colours, 1..20_i32, blend).prop_map(
        |(kind, x, y, blur, spread, colour, opacity, blend)| {
            json!({"name": kind, "on": true, "kind": kind, "offset": {"x": x, "y": y}, "blur": blur, "spread": spread,
                "colour": colour, "opacity": f64::from(opacity) / 20.0, "blend": blend})
        },
    )
}

fn any_stack() -> impl Strategy<Value = Value> {
    prop::collection::vec(any_coat(), 0..5).prop_map(|mut coats| {
        coats.iter_mut().enumerate().for_each(|(at, coat)| coat["id"] = json!(format!("c{at}")));
        json!(coats)
    })
}

fn any_project() -> impl Strategy<Value = Value> {
    let grounds = prop::sample::select(vec!["#ffffff", "#000000", "#efece3", "#2f6d5f", "#808080"]);
    let fills = prop::sample::select(vec!["#f6f3ea", "#efece3", "#2f6d5f", "#ffffff"]);
    let piece = (any_stack(), fills, any::<bool>(), any::<bool>());
    let finishes = prop::collection::vec(any_stack(), 1..4);
    (grounds, prop::collection::vec(piece, 1..4), finishes, -180..180_i32).prop_map(|(ground, pieces, finishes, bearing)| {
        let count = finishes.len();
        let placed = pieces.into_iter().enumerate().map(|(at, (coats, fill, used, wears))| {
            let finish = json!({"finish": format!("f{}", at % count)});
            let mut piece = card(&format!("p{at}"), 20 + 120 * at as i32, if wears { finish } else { own(coats) });
            piece["fill"] = json!({"kind": "solid", "colour": fill});
            if used {
                piece["states"] = json!({"hover": [drop("h", (0.0, 3.0), 8.0, "#203028", 0.3)]});
            }
            piece
        });
        let mut document = document(ground, placed.collect());
        document["lights"] = json!([{"id": "l", "name": "L", "bearing": bearing, "colour": "#fff0d0", "strength": 1}]);
        document["finishes"] = finishes.into_iter().enumerate()
            .map(|(at, coats)| json!({"id": format!("f{at}"), "name": format!("F{at}"), "note": "", "coats": coats}))
            .collect();
        document["scale"] = (0..count).map(|at| json!(format!("f{at}"))).collect();
        document
    })
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 40, ..ProptestConfig::default() })]

    /// Whoever takes fix after fix comes to an end: each removes what it is for, and none is of no use.
    #[test]
    fn fixes_come_to_an_end(document in any_project()) {
        let mut document = document;
        for _ in 0..60 {
            let found = findings(&document, &Limits::default());
            let Some(first) = found.iter().find(|finding| finding.fix.is_some()) else { return Ok(()) };
            document = fixed(&document, first.fix.as_ref().unwrap());
            prop_assert!(Project::from_value(&document).is_ok(), "{first:?}");
            let left = findings(&document, &Limits::default());
            prop_assert!(left.iter().all(|finding| finding.key != first.key), "still there: {first:?} in {document}");
        }
        prop_assert!(false, "no end: {:?}", findings(&document, &Limits::default()));
    }
}
