//! Properties of whole pictures.

#![allow(clippy::unwrap_used, missing_docs)]

use kurbo::{BezPath, Shape as _};
use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, render};
use zolvet_core::css::{CodeOptions, piece_code, read};
use zolvet_core::lower::{Numbers, Target};
use zolvet_core::measure::{Line, edge_profile};
use zolvet_core::model::{Id, Project};
use zolvet_core::picture::Picture;
use zolvet_core::report::traces;
use zolvet_core::resolve::{self, PieceStates};

fn document(pieces: Value) -> Value {
    json!({
        "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "lights": [{"id": "l", "name": "L", "bearing": 90, "colour": "#fff", "strength": 1}],
        "swatches": [{"id": "s", "name": "S", "values": {"t": "#204080"}}],
        "scenes": [{"id": "a", "name": "A", "width": 160, "height": 120, "theme": "t",
            "ground": {"kind": "solid", "colour": "#e0dcd0"}, "pieces": pieces}]
    })
}

fn piece(coats: Value) -> Value {
    json!({"id": "p", "name": "Piece 1", "shape": {"kind": "box", "w": 80, "h": 50, "radii": 12}, "x": 40, "y": 30,
        "fill": {"kind": "solid", "colour": "#2f7d6b"}, "wear": {"coats": coats}})
}

fn drop(offset: Value, blur: f64, spread: f64) -> Value {
    json!({"id": "d", "name": "D", "on": true, "kind": "drop", "offset": offset, "blur": blur, "spread": spread,
        "colour": {"swatch": "s"}, "opacity": 0.5})
}

fn picture(document: &Value) -> Picture {
    let project = Project::from_value(document).unwrap();
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    assert_eq!(scene.notes, []);
    render(&scene, &Viewport::whole(&scene, 1.0), &RenderOptions::default(), &MaskCache::default())
        .to_picture(Rounding::Nearest)
}

#[test]
fn following_a_light_and_its_bearing_draw_the_same() {
    let at = |offset| picture(&document(json!([piece(json!([drop(offset, 6.0, 1.0)]))])));
    let followed = at(json!({"distance": 9, "follows": "l"}));
    assert_eq!(followed, at(json!({"distance": 9, "bearing": 90})));
    assert_eq!(followed, at(json!({"x": -9, "y": 0})));
}

#[test]
fn what_is_off_or_invisible_changes_nothing() {
    let bare = picture(&document(json!([piece(json!([]))])));
    for (field, value) in [("on", json!(false)), ("opacity", json!(0)), ("colour", json!("transparent"))] {
        let mut coat = drop(json!({"x": 3, "y": 4}), 6.0, 1.0);
        coat[field] = value;
        assert_eq!(picture(&document(json!([piece(json!([coat]))]))), bare, "{field}");
    }
}

#[test]
fn cut_out_leaves_a_hole_and_hide_keeps_the_shadow() {
    let with = |surface: &str| {
        let mut piece = piece(json!([drop(json!({"x": 0, "y": 0}), 0.0, 6.0)]));
        piece["surface"] = json!(surface);
        picture(&document(json!([piece])))
    };
    let ground = [0xe0, 0xdc, 0xd0, 255];
    assert_eq!(with("keep").at(80, 55), [0x2f, 0x7d, 0x6b, 255]);
    assert_eq!(with("cut_out").at(80, 55), ground);
    assert_eq!(with("cut_out").at(37, 55), with("keep").at(37, 55));
    assert_ne!(with("keep").at(37, 55), ground);
}

/// A hard, opaque black shadow 10 px below: all lightness of the ground is gone for 10 px past the edge, none after.
#[test]
fn the_edge_profile_of_a_hard_shadow_is_a_step() {
    let down = Line { x: 0.0, y: 0.0, bearing: 0.0 };
    for shape in
        [json!({"kind": "box", "w": 80, "h": 50, "radii": 12}), json!({"kind": "ellipse", "w": 80, "h": 50})]
    {
        let mut coat = drop(json!({"x": 0, "y": 10}), 0.0, 0.0);
        (coat["colour"], coat["opacity"]) = (json!("#000"), json!(1));
        let mut piece = piece(json!([coat]));
        piece["shape"] = shape;
        let project = Project::from_value(&document(json!([piece]))).unwrap();
        let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
        let profile = edge_profile(&scene, &scene.pieces[0].id, down, &MaskCache::default()).unwrap();
        assert_eq!(
            profile.coats[0].darkness,
            profile.samples.iter().map(|at| at.darkness).collect::<Vec<_>>()
        );
        let at = |px: f64| profile.samples.iter().find(|sample| sample.at == px).unwrap().darkness;
        // OKLab lightness of #e0dcd0, from the CSS Color 4 formulas.
        assert!((at(5.0) - 89.5).abs() < 0.5 && (at(8.0) - 89.5).abs() < 0.5, "{profile:?}");
        assert_eq!((at(-5.0), at(12.0), at(35.0)), (0.0, 0.0, 0.0));
        // The scene ends 40 px below the piece, and the profile with it.
        assert_eq!(profile.samples.last().unwrap().at, 39.0);
    }
}

/// A white card on a black panel on light ground: its shadow can take nothing from black, and all of what lies beyond.
#[test]
fn the_edge_profile_is_that_of_what_lies_below() {
    let mut coat = drop(json!({"x": 0, "y": 12}), 0.0, 0.0);
    (coat["colour"], coat["opacity"]) = (json!("#000"), json!(1));
    let mut card = piece(json!([coat]));
    card["fill"] = json!({"kind": "solid", "colour": "#fff"});
    let panel = json!({"id": "q", "name": "Panel", "shape": {"kind": "box", "w": 120, "h": 56}, "x": 20, "y": 30,
        "fill": {"kind": "solid", "colour": "#000"}, "wear": {"coats": []}});
    let project = Project::from_value(&document(json!([panel, card]))).unwrap();
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let down = Line { x: 0.0, y: 0.0, bearing: 0.0 };
    let profile = edge_profile(&scene, &scene.pieces[1].id, down, &MaskCache::default()).unwrap();
    let at = |px: f64| profile.samples.iter().find(|sample| sample.at == px).unwrap().darkness;
    // The panel goes on for 6 px below the card, and the shadow for 12.
    assert_eq!((at(3.0), at(14.0)), (0.0, 0.0), "{profile:?}");
    assert!((at(9.0) - 89.5).abs() < 0.5, "{profile:?}");
}

/// What is cast is rotated with its piece; what outlines it on the bench lies around what is drawn.
#[test]
fn the_outline_of_a_cast_shadow_lies_around_it_on_a_rotated_piece() {
    let cast = json!({"id": "c", "name": "C", "on": true, "kind": "cast", "shear": 0.5, "squash": 0.6, "anchor": 1,
        "blur_near": 0, "blur_far": 0, "colour": "#000", "fade": 0});
    let mut rotated = piece(json!([cast]));
    (rotated["shape"]["radii"], rotated["rotation"]) = (json!(0), json!(30));
    let whole = document(json!([rotated]));
    let project = Project::from_value(&whole).unwrap();
    let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
    let trace = traces(&scene.pieces[0], &Id::new("c").unwrap()).remove(0);
    let bounds = BezPath::from_svg(&trace.edge).unwrap().bounding_box();
    let mut bare = whole.clone();
    bare["scenes"][0]["pieces"][0]["wear"] = json!({"coats": []});
    let (with, without) = (picture(&whole), picture(&bare));
    let changed = (0..120_u32)
        .flat_map(|y| (0..160_u32).map(move |x| (x, y)))
        .filter(|(x, y)| with.at(*x, *y) != without.at(*x, *y));
    let mut seen = 0;
    for (x, y) in changed {
        seen += 1;
        let inside = bounds.inflate(1.0, 1.0).contains((f64::from(x) + 0.5, f64::from(y) + 0.5));
        assert!(inside, "{x},{y} is outside of {bounds:?}");
    }
    assert!(seen > 200, "{seen} pixels of shadow");
}

#[test]
fn a_picture_that_is_missing_is_reported() {
    let mut picture = piece(json!([]));
    picture["shape"] = json!({"kind": "picture", "asset": "a", "w": 40, "h": 30});
    let mut document = document(json!([picture]));
    document["assets"] = json!([{"id": "a", "name": "Leaf", "media_type": "image/png"}]);
    let project = Project::from_value(&document).unwrap();
    let notes = resolve::scene(&project, &project.scenes[0], &Assets::carried_by(&project)).notes;
    assert_eq!(notes[0].message, "the picture \"a\" is not here: left empty");
}

#[test]
fn text_cannot_hold_inner_shadows_or_spread_in_css_and_says_so() {
    let mut inner = drop(json!({"x": 0, "y": 2}), 3.0, 0.0);
    (inner["id"], inner["kind"], inner["name"]) = (json!("i"), json!("inner"), json!("Carved"));
    let mut text = piece(json!([inner, drop(json!({"x": 0, "y": 2}), 3.0, 1.5)]));
    text["shape"] = json!({"kind": "text", "string": "Plot", "font": "Figtree", "size": 32, "weight": 700, "line_height": 1.2});
    let project = Project::from_value(&document(json!([text]))).unwrap();
    let model = &project.scenes[0].pieces[0];
    let (resolved, _) = resolve::piece(&project, &project.scenes[0], model, &Assets::default());
    let proposed = piece_code(&resolved, &model.shape, &PieceStates::default(), CodeOptions::default());
    assert_eq!(proposed.target, Target::SvgFilter, "it drops nothing");
    assert!(proposed.css.contains("filter: url(#") && proposed.filters.contains("feComposite"));
    let wanted = CodeOptions { target: Some(Target::TextShadow), ..CodeOptions::default() };
    let code = piece_code(&resolved, &model.shape, &PieceStates::default(), wanted);
    let said: Vec<_> = code.differences.iter().map(|note| note.message.as_str()).collect();
    assert_eq!(
        said,
        [
            "Carved: text-shadow has no inner shadows: left out",
            "D: text-shadow has no spread: written without its 1.5px"
        ]
    );
    assert!(code.css.contains("text-shadow: 0 2px 3px rgb(32 64 128 / 50%);"), "{}", code.css);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]

    #[test]
    fn moving_a_piece_by_whole_pixels_moves_its_picture(dx in -10..10_i32, dy in -10..10_i32, blur in 0.0..12.0_f64) {
        let coats = json!([drop(json!({"x": 1.5, "y": 2.25}), blur, 1.0)]);
        let still = picture(&document(json!([piece(coats.clone())])));
        let mut moved = piece(coats);
        (moved["x"], moved["y"]) = (json!(40 + dx), json!(30 + dy));
        let moved = picture(&document(json!([moved])));
        for y in 20..100_u32 {
            for x in 20..130_u32 {
                let there = moved.at((x as i32 + dx) as u32, (y as i32 + dy) as u32);
                prop_assert_eq!(still.at(x, y), there);
            }
        }
    }

    /// What is written reads back as the same numbers.
    #[test]
    fn css_out_and_in_keeps_every_number(x in -500.0..500.0_f64, y in -500.0..500.0_f64, blur in 0.0..256.0_f64, spread in -99.0..99.0_f64) {
        let project = Project::from_value(&document(json!([piece(json!([drop(json!({"x": x, "y": y}), blur, spread)]))]))).unwrap();
        let model = &project.scenes[0].pieces[0];
        let resolved = resolve::piece(&project, &project.scenes[0], model, &Assets::default()).0;
        let exact = CodeOptions { numbers: Numbers::Exact, ..CodeOptions::default() };
        let css = piece_code(&resolved, &model.shape, &PieceStates::default(), exact).css;
        let mut back = project.clone();
        back.scenes[0].pieces[0].wear =
            zolvet_core::model::Wear::Coats(zolvet_core::model::OwnCoats { coats: read(&css).unwrap().coats });
        let again = resolve::piece(&back, &back.scenes[0], &back.scenes[0].pieces[0], &Assets::default()).0;
        prop_assert_eq!(&again.coats[0].op, &resolved.coats[0].op);
    }

    /// Whatever is pasted, the answer is coats or a place, never a panic.
    #[test]
    fn any_text_is_read_or_refused(css in "[a-z0-9#(){}:;,./*! \n-]{0,60}") {
        if let Err(error) = read(&css) {
            prop_assert!(error.line >= 1 && error.column >= 1);
        }
    }
}
