//! The trade's numbers (docs/measuring.md, "Facts"): common practice, no published source. Facts that are not here are compared
//! with Chromium (button, hard and stepped shadows, soft relief, a ball's flat shadow), measured (glowing tube) or worn in
//! the demo (carved, frosted).

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{Canvas, MaskCache, RenderOptions, Viewport, render};
use zolvet_core::css::{CodeOptions, piece_code};
use zolvet_core::model::Project;
use zolvet_core::resolve::{self, PieceStates};

fn project(ground: &str, piece: Value) -> Project {
    let document = json!({
        "schema": 1, "name": "facts", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 400, "height": 300, "theme": "t",
            "ground": {"kind": "solid", "colour": ground}, "pieces": [piece]}]
    });
    Project::from_value(&document).unwrap()
}

fn drawn(ground: &str, piece: Value, part: &RenderOptions) -> Canvas {
    let project = project(ground, piece);
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    assert_eq!(scene.notes, []);
    render(&scene, &Viewport::whole(&scene, 1.0), part, &MaskCache::default())
}

fn shadows() -> RenderOptions {
    RenderOptions { shadow_only: true, ..RenderOptions::default() }
}

fn piece(shape: Value, fill: &str, coats: Value) -> Value {
    json!({"id": "p", "name": "p", "shape": shape, "x": 100, "y": 80, "fill": {"kind": "solid", "colour": fill}, "wear": {"coats": coats}})
}

fn card(fill: &str, coats: Value) -> Value {
    piece(json!({"kind": "box", "w": 200, "h": 120}), fill, coats)
}

fn shadow(kind: &str, [x, y, blur, spread]: [f64; 4], colour: &str, opacity: f64) -> Value {
    json!({"id": format!("{kind}{x}{y}{blur}{spread}"), "name": kind, "on": true, "kind": kind, "offset": {"x": x, "y": y}, "blur": blur, "spread": spread, "colour": colour, "opacity": opacity})
}

#[test]
fn a_glow_only_ever_lightens() {
    let mut glow = shadow("drop", [0.0, 0.0, 40.0, 0.0], "#40ffb0", 0.9);
    glow["blend"] = json!("screen");
    let (with, bare) = (
        drawn("#203028", card("#2f7d6b", json!([glow])), &RenderOptions::default()),
        drawn("#203028", card("#2f7d6b", json!([])), &RenderOptions::default()),
    );
    assert!(with.pixels.iter().zip(&bare.pixels).all(|(a, b)| (0..3).all(|i| a[i] >= b[i] - 1e-6)));
    assert!(with.at(95, 140).g > bare.at(95, 140).g + 0.2);
}

#[test]
fn a_hard_shadow_has_no_grey_and_the_soft_one_half_of_its_70_percent_at_its_edge() {
    let hard =
        drawn("#fff", card("#fff", json!([shadow("drop", [6.0, 6.0, 0.0, 0.0], "#000", 1.0)])), &shadows());
    assert!(hard.pixels.iter().all(|pixel| pixel[3] == 0.0 || pixel[3] == 1.0));
    // σ 2 is a blur of 4.
    let soft =
        drawn("#fff", card("#fff", json!([shadow("drop", [6.0, 6.0, 4.0, 0.0], "#000", 0.7)])), &shadows());
    let edge = f32::midpoint(soft.at(305, 150).a, soft.at(306, 150).a);
    assert!((edge - 0.35).abs() < 0.01, "{edge}");
}

#[test]
fn blur_80_with_spread_minus_40_shows_only_along_the_far_edge() {
    let canvas = drawn(
        "#fff",
        card("#fff", json!([shadow("drop", [0.0, 60.0, 80.0, -40.0], "#000", 1.0)])),
        &shadows(),
    );
    assert!(canvas.at(200, 210).a > 0.2, "below: {}", canvas.at(200, 210).a);
    assert!(canvas.at(200, 75).a < 0.01, "above: {}", canvas.at(200, 75).a);
    assert!(
        canvas.at(92, 110).a < 0.06 && canvas.at(307, 110).a < 0.06,
        "at the sides: {}",
        canvas.at(92, 110).a
    );
}

#[test]
fn soft_relief_is_impossible_on_pure_white() {
    let relief = |ground: &str| {
        let coats = json!([
            shadow("drop", [2.0, 2.0, 2.0, 0.0], "#000", 0.08),
            shadow("drop", [12.0, 12.0, 24.0, 0.0], "#000", 0.08),
            shadow("drop", [-2.0, -2.0, 2.0, 0.0], "#fff", 0.4),
            shadow("drop", [-12.0, -12.0, 24.0, 0.0], "#fff", 0.4)
        ]);
        let (with, bare) = (
            drawn(ground, card(ground, coats), &RenderOptions::default()),
            drawn(ground, card(ground, json!([])), &RenderOptions::default()),
        );
        let (lit, shaded) = ((98, 140), (302, 140));
        (
            with.at(lit.0, lit.1).g - bare.at(lit.0, lit.1).g,
            bare.at(shaded.0, shaded.1).g - with.at(shaded.0, shaded.1).g,
        )
    };
    let (lit, shaded) = relief("#dcd8cc");
    assert!(lit > 0.02 && shaded > 0.02, "{lit} {shaded}");
    assert!(relief("#ffffff").0 <= 0.0, "nothing is lighter than white");
}

/// Carved in: a 1 px white edge on the far side from the light at bearing 37 needs a ground that is not white.
#[test]
fn a_carved_edge_shows_on_paper_and_not_on_white() {
    let edge = |ground: &str| {
        let lip = json!({"id": "lip", "name": "lip", "on": true, "kind": "drop", "offset": {"distance": 1, "bearing": 37}, "blur": 1, "spread": 1, "colour": "#fff"});
        let cut = json!({"id": "cut", "name": "cut", "on": true, "kind": "inner", "offset": {"distance": 8, "bearing": 37}, "blur": 18, "spread": 0, "colour": "#000", "opacity": 0.6});
        let (with, bare) = (
            drawn(ground, card(ground, json!([cut, lip])), &RenderOptions::default()),
            drawn(ground, card(ground, json!([])), &RenderOptions::default()),
        );
        assert!(with.at(290, 83).g < bare.at(290, 83).g - 0.15, "dark along the edge nearest the light");
        with.at(150, 200).g - bare.at(150, 200).g
    };
    assert!(edge("#d9d2c0") > 0.1);
    assert!(edge("#ffffff") <= 0.0);
}

#[test]
fn fifty_copies_at_half_a_pixel_are_as_thick_as_a_hundred_at_a_quarter() {
    let star = json!({"kind": "path", "d": "M50 0 L62 38 L100 38 L69 60 L81 98 L50 75 L19 98 L31 60 L0 38 L38 38 Z", "viewbox": [0, 0, 100, 100], "w": 100, "h": 100});
    let copies = |count: u32, step: f64| {
        let coats: Vec<Value> = (1..=count)
            .map(|i| shadow("drop", [f64::from(i) * step, f64::from(i) * step, 0.0, 0.0], "#803010", 1.0))
            .collect();
        // A stack holds 64 coats: several pieces, one over the other, hold the rest.
        let pieces: Vec<Value> = coats
            .chunks(64)
            .rev()
            .enumerate()
            .map(|(i, coats)| {
                let mut part = piece(star.clone(), "#803010", json!(coats));
                part["id"] = json!(i.to_string());
                part
            })
            .collect();
        let mut project = project("#fff", card("#fff", json!([])));
        project.scenes[0].pieces =
            pieces.iter().map(|piece| serde_json::from_value(piece.clone()).unwrap()).collect();
        let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
        render(&scene, &Viewport::whole(&scene, 1.0), &shadows(), &MaskCache::default())
    };
    let exact = {
        let thick = json!({"id": "e", "name": "e", "on": true, "kind": "extrude", "offset": {"x": 25, "y": 25}, "near": "#803010", "far": "#803010"});
        drawn("#fff", piece(star.clone(), "#803010", json!([thick])), &shadows())
    };
    let covered = |canvas: &Canvas| canvas.pixels.iter().map(|pixel| f64::from(pixel[3])).sum::<f64>();
    let teeth = |canvas: &Canvas| {
        canvas.pixels.iter().zip(&exact.pixels).map(|(a, b)| f64::from((a[3] - b[3]).abs())).sum::<f64>()
    };
    let (half, quarter, coarse) = (copies(50, 0.5), copies(100, 0.25), copies(12, 2.0));
    assert!((covered(&half) / covered(&quarter) - 1.0).abs() < 0.02);
    assert!((covered(&half) / covered(&exact) - 1.0).abs() < 0.04, "{} {}", covered(&half), covered(&exact));
    assert!(
        teeth(&coarse) > 1.3 * teeth(&quarter),
        "steps of 2 px show teeth: {} {}",
        teeth(&coarse),
        teeth(&quarter)
    );
}

#[test]
fn a_shadow_takes_the_rounding_of_the_stroke() {
    let stroke = |join: &str| json!({"id": "s", "name": "s", "on": true, "kind": "stroke", "width": 20, "side": "outside", "join": join, "fill": {"kind": "solid", "colour": "#203050"}});
    let retro = |join: &str| {
        drawn(
            "#fff",
            card("#fff", json!([stroke(join), shadow("drop", [60.0, 60.0, 0.0, 0.0], "#000", 1.0)])),
            &shadows(),
        )
    };
    // Just inside the far corner of the stroked box: covered when it is sharp, free when it is rounded.
    assert_eq!((retro("miter").at(378, 278).a, retro("round").at(378, 278).a), (1.0, 0.0));
}

#[test]
fn a_floor_shadow_keeps_the_sides_parallel() {
    let cast = json!({"id": "c", "name": "c", "on": true, "kind": "cast", "shear": 0.5, "squash": -0.5, "anchor": 1, "blur_near": 0, "blur_far": 0, "colour": "#000", "fade": 0});
    let canvas = drawn("#fff", card("#fff", json!([cast])), &shadows());
    let row = |y: i64| {
        let covered: Vec<i64> = (0..400).filter(|x| canvas.at(*x, y).a > 0.5).collect();
        (covered[0], covered.len())
    };
    let ((near, wide), (far, still)) = (row(205), row(255));
    assert_eq!(wide, still);
    // 1 px further down is 2 px of height, and 1 px to the right.
    assert_eq!(far - near, 50);
}

#[test]
fn a_blurred_spot_stays_inside_the_silhouette() {
    let spot = json!({"id": "h", "name": "h", "on": true, "kind": "highlight", "spot": {"shape": {"kind": "ellipse", "w": 120, "h": 80}, "x": 130, "y": -40}, "fill": {"kind": "solid", "colour": "#fff"}, "blur": 40});
    let canvas = drawn("#fff", card("#203028", json!([spot])), &shadows());
    let outside = (0..300)
        .flat_map(|y| (0..400).map(move |x| (x, y)))
        .filter(|(x, y)| !(100..300).contains(x) || !(80..200).contains(y));
    assert!(outside.clone().all(|(x, y)| canvas.at(x, y).a == 0.0));
    assert!(canvas.at(290, 85).a > 0.3);
}

#[test]
fn a_coloured_shadow_in_multiply_is_darker_than_its_colour() {
    let with = |blend: &str| {
        let mut coat = shadow("drop", [0.0, 40.0, 0.0, 0.0], "#e08040", 1.0);
        coat["blend"] = json!(blend);
        drawn("#c8c0b0", card("#fff", json!([coat])), &RenderOptions::default()).at(200, 220)
    };
    let (normal, multiply) = (with("normal"), with("multiply"));
    assert!(multiply.lightness() < normal.lightness() - 0.05);
    assert_eq!([normal.r, normal.g, normal.b].map(|part| (part * 255.0).round()), [224.0, 128.0, 64.0]);
}

/// Hardness h of reach R is spread h·R with blur (1 − h)·R: half covered at h·R plus nothing at h = 1.
#[test]
fn hardness_and_reach_are_spread_and_blur() {
    let reach = 40.0;
    for hardness in [1.0, 0.6] {
        let coat = shadow("drop", [0.0, 0.0, (1.0 - hardness) * reach, hardness * reach], "#000", 1.0);
        let canvas = drawn("#fff", card("#fff", json!([coat])), &shadows());
        let at = |distance: f64| canvas.at((300.0 + distance) as i64, 140).a;
        let half = f32::midpoint(at(hardness * reach - 1.0), at(hardness * reach));
        assert!((half - 0.5).abs() < 0.02, "{half}");
        assert!(at(reach + 0.5) < 0.05, "past its reach nothing is left: {}", at(reach + 0.5));
    }
}

#[test]
fn an_opacity_of_1_8_percent_is_written_as_it_is() {
    let project = project("#fff", card("#fff", json!([shadow("drop", [0.0, 2.0, 4.0, 0.0], "#000", 0.018)])));
    let model = &project.scenes[0].pieces[0];
    let (resolved, _) = resolve::piece(&project, &project.scenes[0], model, &Assets::default());
    assert!(
        piece_code(&resolved, &model.shape, &PieceStates::default(), CodeOptions::default())
            .css
            .contains("rgb(0 0 0 / 1.8%)")
    );
}

/// A headline keeps its thickness: the sides it sweeps lie beside one another by the hundred, and that is no reason to
/// leave it out.
#[test]
fn a_headline_may_be_thick() {
    let document = serde_json::json!({
        "schema": 1, "name": "n", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 600, "height": 200, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e8e4da"}, "pieces": [{"id": "0", "name": "p", "x": 20, "y": 20,
                "shape": {"kind": "text", "string": "Row of beans, row of peas", "font": "Figtree", "size": 40, "weight": 700,
                    "line_height": 1.2},
                "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": [{"id": "e", "name": "e", "on": true,
                    "kind": "extrude", "offset": {"x": 12, "y": 12}, "near": "#803010", "far": "#301008"}]}}]}]
    });
    let project = zolvet_core::model::Project::from_value(&document).expect("a project");
    let assets = zolvet_core::asset::Assets::default();
    let scene = zolvet_core::resolve::scene(&project, &project.scenes[0], &assets);
    assert!(scene.notes.is_empty(), "{:?}", scene.notes);
    assert_eq!(scene.pieces[0].coats.len(), 1);
}
