//! Groups: what only arranges changes no pixel, what is one thing is faded, mixed and shaded as one (docs/rendering.md, "Groups").

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::arrange::{Arrangement, arranged};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{Canvas, MaskCache, RenderOptions, Rounding, Viewport, picture, render};
use zolvet_core::model::{Id, Project};
use zolvet_core::picture::Picture;
use zolvet_core::resolve;
use zolvet_samples::star::{coat, document};

fn piece(id: &str, at: [f64; 2], size: [f64; 2], colour: &str) -> Value {
    json!({"id": id, "name": id, "shape": {"kind": "box", "w": size[0], "h": size[1], "radii": 6}, "x": at[0], "y": at[1],
        "fill": {"kind": "solid", "colour": colour}, "wear": {"coats": []}})
}

fn group(id: &str, at: [f64; 2], parts: Vec<Value>) -> Value {
    json!({"id": id, "name": id, "shape": {"kind": "group", "parts": parts}, "x": at[0], "y": at[1], "wear": {"coats": []}})
}

fn scene(pieces: Value) -> resolve::Scene {
    let project = Project::from_value(&document(pieces)).unwrap();
    resolve::scene(&project, &project.scenes[0], &Assets::default())
}

fn drawn(pieces: Value) -> Picture {
    let scene = scene(pieces);
    picture(
        &scene,
        &Viewport::whole(&scene, 2.0),
        &RenderOptions::default(),
        Rounding::Nearest,
        &MaskCache::default(),
    )
}

/// Colours before they are rounded, without the ground where that is left out.
fn canvas(pieces: Value, ground: bool) -> Canvas {
    let mut scene = scene(pieces);
    if !ground {
        scene.ground = resolve::Paint::None;
    }
    render(&scene, &Viewport::whole(&scene, 1.0), &RenderOptions::default(), &MaskCache::default())
}

fn shadow(id: &str) -> Value {
    coat(id, "drop", json!({"offset": {"x": 4, "y": 10}, "blur": 18, "spread": 2, "colour": "#20305090"}))
}

fn two() -> Vec<Value> {
    vec![piece("a", [10.0, 6.0], [80.0, 60.0], "#e0a030"), piece("b", [50.0, 40.0], [70.0, 50.0], "#3070c0")]
}

#[test]
fn a_group_without_coats_is_its_parts() {
    let mut flat = two();
    for part in &mut flat {
        part["x"] = json!(part["x"].as_f64().unwrap() + 31.25);
        part["y"] = json!(part["y"].as_f64().unwrap() + 17.5);
        part["wear"] = json!({"coats": [shadow("s")]});
    }
    let mut parts = two();
    parts.iter_mut().for_each(|part| part["wear"] = json!({"coats": [shadow("s")]}));
    let inner = group("inner", [1.25, 7.5], parts);
    assert_eq!(drawn(json!([group("outer", [30.0, 10.0], vec![inner])])), drawn(json!(flat)));
}

/// A group that casts a shadow, holds a blurred part, a gradient, a clipped part and another group, in many places one after the
/// other: whole pixels and parts of them, over the edges of the picture and out of it.
#[test]
fn a_moved_group_draws_from_the_cache_as_it_draws_anew() {
    let cache = MaskCache::default();
    for scale in [1.0, 2.0] {
        for (x, y) in [
            (40.0, 30.0),
            (47.0, 33.0),
            (47.3, 33.6),
            (-30.0, 33.0),
            (40.0, 30.0),
            (-400.0, 0.0),
            (180.3, 120.6),
            (48.3, 34.6),
        ] {
            let mut parts = two();
            parts[0]["wear"] = json!({"coats": [coat("i", "inner", json!({"offset": {"x": 0, "y": 2}, "blur": 4, "spread": 0, "colour": "#fff"})),
                coat("b", "blur", json!({"sigma": 1.5}))]});
            parts[1]["fill"] = json!({"kind": "linear", "angle": 30, "stops": [
                {"at": 0, "colour": "#3070c0"}, {"at": 1, "colour": "#c07030"}]});
            parts[1]["clip_to"] = json!("a");
            let mut inner =
                group("inner", [20.0, 30.0], vec![piece("c", [0.0, 0.0], [30.0, 20.0], "#208040")]);
            inner["opacity"] = json!(0.5);
            parts.push(inner);
            let mut outer = group("outer", [x, y], parts);
            outer["wear"] = json!({"coats": [shadow("s")]});
            let scene = scene(json!([outer]));
            let viewport = Viewport::whole(&scene, scale);
            let with = |cache: &MaskCache| {
                picture(&scene, &viewport, &RenderOptions::default(), Rounding::Nearest, cache)
            };
            assert!(with(&cache) == with(&MaskCache::default()), "{x}, {y} at {scale}");
        }
    }
}

/// A quarter turn about the middle of a square leaves whole pixels whole pixels.
#[test]
fn a_group_turns_its_parts_about_its_middle_and_no_light() {
    let mut turned = group(
        "g",
        [60.0, 50.0],
        vec![
            piece("a", [0.0, 0.0], [100.0, 100.0], "#fff"),
            piece("b", [10.0, 20.0], [30.0, 12.0], "#3070c0"),
        ],
    );
    turned["rotation"] = json!(90);
    turned["shape"]["parts"][1]["wear"] = json!({"coats": [shadow("s")]});
    // (10..40, 20..32) about (50, 50), a quarter clockwise: (68..80, 10..40).
    let mut by_hand = piece("b", [60.0 + 74.0 - 15.0, 50.0 + 25.0 - 6.0], [30.0, 12.0], "#3070c0");
    (by_hand["rotation"], by_hand["wear"]) = (json!(90), json!({"coats": [shadow("s")]}));
    let mut plate = piece("a", [60.0, 50.0], [100.0, 100.0], "#fff");
    plate["rotation"] = json!(90);
    assert_eq!(drawn(json!([turned])), drawn(json!([plate, by_hand])));
}

/// The formula of group opacity (Compositing and Blending 1, section 9.1.4, over what the group comes to by itself).
#[test]
fn a_faded_group_is_faded_as_one() {
    let mut faded = group("g", [20.0, 20.0], two());
    faded["opacity"] = json!(0.4);
    let (together, alone) =
        (canvas(json!([faded]), true), canvas(json!([group("g", [20.0, 20.0], two())]), false));
    let ground = canvas(json!([]), true);
    for ((pixel, own), below) in together.pixels.iter().zip(&alone.pixels).zip(&ground.pixels) {
        for part in 0..4 {
            let expected = own[part] * 0.4 + below[part] * (1.0 - own[3] * 0.4);
            assert!((pixel[part] - expected).abs() < 2e-6, "{pixel:?} of {own:?} over {below:?}");
        }
    }
}

/// Its shadow is that of the shape they make together, which a join has in closed form.
#[test]
fn a_group_casts_one_shadow() {
    let mut grouped = group("g", [20.0, 20.0], two());
    grouped["wear"] = json!({"coats": [shadow("s")]});
    let join = json!({"id": "g", "name": "g", "x": 20, "y": 20, "fill": {"kind": "none"}, "wear": {"coats": [shadow("s")]},
        "shape": {"kind": "join", "op": "add", "rounding": 0, "parts": two()}});
    let (one, other) = (drawn(json!([grouped])), drawn(json!([join])));
    let blank = drawn(json!([]));
    let touched =
        one.rgba.chunks(4).zip(blank.rgba.chunks(4)).filter(|(pixel, ground)| pixel != ground).count();
    let off = one.rgba.iter().zip(&other.rgba).map(|(a, b)| a.abs_diff(*b)).max().unwrap();
    assert!(touched > 20_000, "{touched}");
    // Along the edges a join covers each pixel once, the parts of a group one after the other.
    assert!(off <= 3, "{off} of 255 apart");
}

#[test]
fn coats_on_a_group_lie_on_all_its_parts_and_nowhere_else() {
    let mut tinted = group("g", [20.0, 20.0], two());
    tinted["shape"]["parts"][0]["wear"] = json!({"coats": [shadow("s")]});
    tinted["wear"] =
        json!({"coats": [coat("t", "tint", json!({"fill": {"kind": "solid", "colour": "#c02020"}}))]});
    let mut plain = tinted.clone();
    plain["wear"] = json!({"coats": []});
    let (with, without) = (canvas(json!([tinted]), true), canvas(json!([plain]), true));
    let at = |canvas: &Canvas, x: usize, y: usize| canvas.pixels[y * canvas.width as usize + x];
    for (x, y) in [(50, 40), (120, 90)] {
        let [r, g, b, _] = at(&with, x, y);
        assert!((r - 192.0 / 255.0).abs() < 1e-4 && g < 0.13 && b < 0.13, "{x} {y}");
    }
    // The shadow of a part, beside both.
    assert_eq!(at(&with, 50, 92), at(&without, 50, 92));
    assert_ne!(at(&without, 50, 92), canvas(json!([]), true).pixels[92 * with.width as usize + 50]);
}

/// Filter Effects 2, "Backdrop root": a part of an isolated group sees no more than the group.
#[test]
fn a_backdrop_in_a_group_sees_only_the_group() {
    let stripes = piece("stripes", [0.0, 0.0], [240.0, 60.0], "#202020");
    let frosted = |opacity: f64, coats: Value| {
        let mut pane = piece("pane", [10.0, 10.0], [100.0, 100.0], "#ffffff40");
        pane["wear"] = json!({"coats": coats});
        let mut group = group("g", [0.0, 0.0], vec![pane]);
        group["opacity"] = json!(opacity);
        json!([stripes, group])
    };
    let backdrop = json!([coat("b", "backdrop", json!({"sigma": 8, "saturation": 1, "brightness": 1}))]);
    assert_eq!(drawn(frosted(0.9, backdrop.clone())), drawn(frosted(0.9, json!([]))));
    assert_ne!(
        drawn(frosted(1.0, backdrop)),
        drawn(frosted(1.0, json!([]))),
        "a group that only arranges is none"
    );
}

#[test]
fn a_hidden_part_is_no_part() {
    let mut whole = group("g", [20.0, 20.0], vec![two().remove(0)]);
    whole["wear"] = json!({"coats": [shadow("s")]});
    let mut hidden = whole.clone();
    let mut part = two().remove(1);
    part["hidden"] = json!(true);
    hidden["shape"]["parts"].as_array_mut().unwrap().push(part);
    assert_eq!(drawn(json!([hidden])), drawn(json!([whole])));
}

/// Grouping and separating pieces changes no pixel, also of a group that was turned meanwhile.
#[test]
fn pieces_are_grouped_and_separated_where_they_lie() {
    let mut document = document(json!(two()));
    document["scenes"][0]["pieces"][0]["wear"] = json!({"coats": [shadow("s")]});
    let pieces = |document: &Value| document["scenes"][0]["pieces"].clone();
    let before = drawn(pieces(&document));
    let ids = ["b", "a"].map(|id| Id::new(id).unwrap());
    let [group] = arrange(&mut document, &ids, Arrangement::Group).try_into().unwrap();
    assert_eq!(pieces(&document).as_array().unwrap().len(), 1);
    assert_eq!(drawn(pieces(&document)), before);
    document["scenes"][0]["pieces"][0]["rotation"] = json!(90);
    let turned = drawn(pieces(&document));
    let parts = arrange(&mut document, &[group], Arrangement::Separate);
    assert_eq!(parts, ["a", "b"].map(|id| Id::new(id).unwrap()));
    assert_eq!(drawn(pieces(&document)), turned);
}

/// Makes a change of the scene, and tells what is chosen then.
fn arrange(document: &mut Value, pieces: &[Id], how: Arrangement) -> Vec<Id> {
    let project = Project::from_value(document).unwrap();
    let arranged = arranged(&project, &project.scenes[0], pieces, &how, &Assets::default()).unwrap();
    json_patch::patch(&mut document["scenes"][0], &arranged.patch).unwrap();
    arranged.chosen
}

/// Bad groups name their place.
#[test]
fn groups_that_cannot_be_are_refused_by_place() {
    let problem = |pieces: Value| {
        let found = Project::from_value(&document(pieces)).unwrap_err();
        found.iter().map(|problem| format!("{problem}\n")).collect::<String>()
    };
    let empty = problem(json!([group("g", [0.0, 0.0], vec![])]));
    assert!(
        empty.contains("/scenes/0/pieces/0/shape/parts") && empty.contains("at least one part"),
        "{empty}"
    );
    let twice = problem(json!([piece("a", [0.0; 2], [9.0; 2], "#000"), group("g", [0.0, 0.0], two())]));
    assert!(twice.contains("/scenes/0/pieces/1/shape/parts/0/id") && twice.contains("unique"), "{twice}");
    let mut part = piece("leaf", [0.0; 2], [9.0; 2], "#000");
    for depth in 0..9 {
        part = group(&format!("g{depth}"), [0.0, 0.0], vec![part]);
    }
    let deep = problem(json!([part]));
    assert!(deep.contains("no more than 8 deep"), "{deep}");
    let mut clipped = group("g", [0.0, 0.0], two());
    clipped["shape"]["parts"][1]["clip_to"] = json!("g");
    let unknown = problem(json!([clipped]));
    assert!(unknown.contains("/parts/1/clip_to"), "{unknown}");
    let join = json!({"id": "j", "name": "j", "x": 0, "y": 0, "wear": {"coats": []},
        "shape": {"kind": "join", "op": "add", "parts": [group("g", [0.0, 0.0], two())]}});
    let outline = problem(json!([join]));
    assert!(outline.contains("/shape/parts/0/shape") && outline.contains("found a group"), "{outline}");
}
