//! One project with every kind of finding: listed by the command line, and fixed one after the other by hand.

#![allow(clippy::unwrap_used, clippy::expect_used, missing_docs)]

use std::collections::BTreeSet;
use std::process::Command;

use serde_json::{Value, json};
use zolvet_e2e::{App, Browser, Outcome, Workbench, program};

fn scene(id: &str, ground: &str, pieces: Value) -> Value {
    json!({"id": id, "name": id, "width": 400, "height": 260, "theme": "t",
        "ground": {"kind": "solid", "colour": ground}, "pieces": pieces})
}

fn card(id: &str, x: i32, coats: Value) -> Value {
    json!({"id": id, "name": id, "shape": {"kind": "box", "w": 80, "h": 60, "radii": 12}, "x": x, "y": 80,
        "fill": {"kind": "solid", "colour": "#f6f3ea"}, "wear": {"coats": coats}})
}

fn drop(id: &str, (x, y): (f64, f64), (blur, spread): (f64, f64), opacity: f64) -> Value {
    json!({"id": id, "name": id, "on": true, "kind": "drop", "offset": {"x": x, "y": y}, "blur": blur, "spread": spread,
        "colour": "#203028", "opacity": opacity})
}

fn ramp(count: u32, near: Value, far: Value) -> Value {
    json!([{"id": "r", "name": "Ramp", "on": true, "kind": "ramp", "shadow": "drop", "near": near, "far": far,
        "count": count, "growth": 1, "lean": 0, "total": 0.6}])
}

/// The ground of most scenes.
const GROUND: &str = "#efece3";

/// A scene for each kind of finding that pieces can have.
fn scenes() -> Vec<Value> {
    [seen_in_pictures(), seen_in_stacks(), several_pieces()].concat()
}

/// Findings from finished pictures.
fn seen_in_pictures() -> Vec<Value> {
    let mut button = card("button", 160, json!([drop("d", (0.0, 2.0), (4.0, 0.0), 0.2)]));
    button["states"] = json!({"hover": [drop("h", (0.0, 3.0), (8.0, 0.0), 0.3)]});
    let rim = json!({"id": "i", "name": "Rim", "on": true, "kind": "inner", "offset": {"x": 0, "y": 2}, "blur": 2, "spread": 0, "colour": "#f6f3ea"});
    let mut wide = scene(
        "banding",
        GROUND,
        json!([card("card", 350, json!([drop("d", (0.0, 30.0), (400.0, 0.0), 0.12)]))]),
    );
    (wide["width"], wide["height"]) = (json!(900), json!(700));
    wide["pieces"][0]["shape"] = json!({"kind": "box", "w": 300, "h": 200, "radii": 20});
    vec![
        scene(
            "faint_text",
            "#ffffff",
            json!([{"id": "label", "name": "label", "shape": {"kind": "text", "string": "Water", "font": "Figtree", "size": 20, "weight": 400, "line_height": 1.2},
                "x": 40, "y": 60, "fill": {"kind": "solid", "colour": "#8a8a8a"}, "wear": {"coats": []}}]),
        ),
        scene("faint_edge", GROUND, json!([button])),
        scene("nothing_to_see", GROUND, json!([card("card", 100, json!([rim]))])),
        wide,
    ]
}

/// Findings about single stacks.
fn seen_in_stacks() -> Vec<Value> {
    let end = |x: f64, y: f64, blur: f64| json!({"offset": {"x": x, "y": y}, "blur": blur, "spread": 0, "colour": "#203028"});
    let mut muddy = drop("d", (0.0, 6.0), (12.0, 0.0), 0.5);
    (muddy["colour"], muddy["blend"]) = (json!("#2f7d6b"), json!("multiply"));
    let mut turned = json!({"id": "i", "name": "Rim", "on": true, "kind": "inner", "spread": 0});
    (turned["offset"], turned["blur"], turned["colour"], turned["opacity"]) =
        (json!({"x": 0, "y": -6}), json!(6), json!("#102018"), json!(0.7));
    vec![
        scene(
            "edge_and_shadow",
            GROUND,
            json!([card("card", 100, json!([turned, drop("d", (0.0, 6.0), (12.0, 0.0), 0.06)]))]),
        ),
        scene("muddy", GROUND, json!([card("card", 100, json!([muddy]))])),
        scene(
            "pure_ground",
            "#ffffff",
            json!([card(
                "card",
                100,
                json!([drop("dark", (6.0, 6.0), (12.0, 0.0), 0.3),
                {"id": "light", "name": "light", "on": true, "kind": "drop", "offset": {"x": -6, "y": -6}, "blur": 12, "spread": 0, "colour": "#ffffff", "opacity": 0.9}])
            )]),
        ),
        scene("teeth", GROUND, json!([card("card", 100, ramp(6, end(1.0, 1.0, 0.0), end(12.0, 12.0, 0.0)))])),
        scene(
            "paint_budget",
            GROUND,
            json!([card("card", 100, ramp(13, end(0.0, 2.0, 2.0), end(0.0, 24.0, 24.0)))]),
        ),
        scene(
            "doubled",
            GROUND,
            json!([{"id": "leaf", "name": "leaf", "shape": {"kind": "path", "d": "M0 0 L80 0 L40 70 Z", "viewbox": [0, 0, 80, 70], "w": 80, "h": 70},
                "x": 100, "y": 60, "fill": {"kind": "solid", "colour": "#2f7d6b"},
                "wear": {"coats": [drop("a", (0.0, 4.0), (4.0, 0.0), 0.6), drop("b", (0.0, 12.0), (16.0, 0.0), 0.6)]}}]),
        ),
    ]
}

/// Findings about pieces that differ from their neighbours.
fn several_pieces() -> Vec<Value> {
    let down = |y: f64, spread: f64| json!([drop("d", (0.0, y), (16.0, spread), 0.5)]);
    vec![
        scene(
            "lights_disagree",
            GROUND,
            json!([
                card("one", 10, down(6.0, -16.0)),
                card("two", 110, down(7.0, -16.0)),
                card("three", 210, down(8.0, -16.0)),
                card("four", 310, json!([drop("d", (-6.0, 0.0), (16.0, -16.0), 0.5)]))
            ]),
        ),
        scene(
            "side_bleed",
            GROUND,
            json!([
                card("one", 10, down(12.0, -16.0)),
                card("two", 110, down(12.0, -17.0)),
                card("three", 210, down(12.0, -18.0)),
                card("four", 310, down(12.0, -2.0))
            ]),
        ),
    ]
}

/// A project with all of them, and with what swatches, finishes and a scale can have.
fn project() -> Value {
    let finish = |id: &str, y: f64, blur: f64| json!({"id": id, "name": id, "coats": [drop("d", (0.0, y), (blur, 0.0), 0.5)]});
    let inner = json!({"id": "i", "name": "Rim", "on": true, "kind": "inner", "offset": {"x": 0, "y": 2}, "blur": 4, "spread": 0,
        "colour": "#102018", "opacity": 0.7});
    let jumping = json!({"id": "jumping", "name": "jumping", "coats": [inner, drop("d", (0.0, 20.0), (30.0, 0.0), 0.5)],
        "states": {"pressed": [drop("d", (0.0, 2.0), (4.0, 0.0), 0.5)]}, "transition": {"duration": 160, "curve": "ease-out"}});
    json!({
        "schema": 1, "name": "To be fixed", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "swatches": [{"id": "s", "name": "Soil", "values": {"t": "#907050"}}, {"id": "s2", "name": "Earth", "values": {"t": "#917151"}},
            {"id": "s3", "name": "Leaf", "values": {"t": "#2f7d6b"}}],
        "lights": [],
        "finishes": [finish("low", 4.0, 8.0), finish("lower", 3.0, 6.0), finish("high", 12.0, 24.0), finish("higher", 12.0, 24.25), jumping],
        "scale": ["low", "lower", "high"], "scenes": scenes()
    })
}

/// The kinds as the finding's keys begin with them.
const KINDS: [&str; 18] = [
    "faint_text",
    "faint_edge",
    "nothing_to_see",
    "banding",
    "lights_disagree",
    "loose_value",
    "near_colours",
    "near_finishes",
    "flat_step",
    "edge_and_shadow",
    "side_bleed",
    "muddy",
    "pure_ground",
    "teeth",
    "paint_budget",
    "doubled",
    "jumping_transition",
    "no_fallback",
];

fn kinds(audit: &Value) -> BTreeSet<String> {
    let findings = audit["findings"].as_array().unwrap().iter();
    findings.map(|finding| finding["kind"].as_str().unwrap().to_owned()).collect()
}

/// What the command line finds in a document.
fn audited(document: &Value) -> Outcome<Value> {
    let folder = tempfile::tempdir()?;
    let file = folder.path().join("project.zolvet.json");
    std::fs::write(&file, document.to_string())?;
    let found = Command::new(program()?).arg("audit").arg(&file).args(["--format", "json"]).output()?;
    Ok(serde_json::from_slice(&found.stdout)?)
}

#[tokio::test]
async fn every_finding_is_listed_and_fixed_by_hand() -> Outcome {
    let document = project();
    let found = audited(&document)?;
    assert_eq!(kinds(&found), KINDS.iter().map(|kind| (*kind).to_owned()).collect::<BTreeSet<_>>());

    let app = App::start()?;
    let http = reqwest::Client::new();
    let made: Value =
        http.post(format!("{}/api/projects", app.address)).json(&document).send().await?.json().await?;
    let id = made["id"].as_str().ok_or("no id")?;
    let browser = Browser::start(1280, 900).await?;
    browser.go(&format!("{}/projects/{id}/check", app.address)).await?;
    let bench = Workbench::at(&browser);
    let rows = "[...document.querySelectorAll('section[aria-label=Findings] li > button')]";
    let looked = "!document.querySelector('section[aria-label=Findings] [role=progressbar]') && !!document.querySelector('section[aria-label=Findings] [role=status]')";
    browser.wait_for(looked).await?;
    let before = bench.script(&format!("return {rows}.length")).await?.as_u64().unwrap();
    assert_eq!(
        before as usize,
        found["findings"].as_array().unwrap().len(),
        "the same as the command line tells"
    );
    // Each is opened and its fix taken; every fix takes one away at least.
    for _ in 0..before {
        let left = bench.script(&format!("return {rows}.length")).await?.as_u64().unwrap();
        if left == 0 {
            break;
        }
        bench.script(&format!("{rows}[0].click()")).await?;
        let take = "[...document.querySelectorAll('section[aria-label=Findings] li button')].find((b) => b.textContent === 'Apply')";
        browser.wait_for(&format!("!!{take}")).await?;
        bench.script(&format!("{take}.click()")).await?;
        browser.wait_for(&format!("{looked} && {rows}.length < {left}")).await?;
    }
    browser.wait_for("document.querySelector('section[aria-label=Findings] [role=status]').textContent === 'No findings.'").await?;
    browser
        .wait_for("[...document.querySelectorAll('header *')].some((e) => e.textContent === 'Saved')")
        .await?;
    let stored: Value = http.get(format!("{}/api/projects/{id}", app.address)).send().await?.json().await?;
    assert_eq!(
        kinds(&audited(&stored["document"])?),
        BTreeSet::new(),
        "what is stored passes the command line"
    );
    browser.quit().await
}
