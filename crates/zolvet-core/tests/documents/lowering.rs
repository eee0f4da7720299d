//! What a target cannot hold is said of the coat that loses it, and of no other; what a finish is written for follows who
//! wears it.

#![allow(clippy::unwrap_used, clippy::panic, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::handoff::{SheetOptions, Style, sheet};
use zolvet_core::lower::{Target, lower};
use zolvet_core::model::{CoatKind, Offset, Project};
use zolvet_core::resolve::{self, ColourContext, Context, PaintOp};

fn drop(id: &str, more: &Value) -> Value {
    let mut coat = json!({"kind": "drop", "id": id, "name": id, "on": true, "offset": {"x": 0, "y": 2}, "blur": 4,
        "spread": 0, "colour": "#000000"});
    coat.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
    coat
}

fn piece(id: &str, shape: &Value, wear: &Value) -> Value {
    json!({"id": id, "name": id, "x": 20, "y": 20, "fill": {"kind": "solid", "colour": "#fff"}, "wear": wear, "shape": shape})
}

fn card() -> Value {
    json!({"kind": "box", "w": 80, "h": 40, "radii": 8})
}

fn letters() -> Value {
    json!({"kind": "text", "string": "Depth", "font": "Outfit", "size": 32, "weight": 600, "line_height": 1.2})
}

fn project(finishes: &Value, pieces: &Value) -> Project {
    let document = json!({"schema": 3, "name": "Lowering", "prefix": "p", "scale": [], "finishes": finishes,
        "lights": [{"id": "sun", "name": "Sun", "bearing": 37, "colour": "#ffffff", "strength": 1}],
        "themes": [{"id": "light", "name": "Light", "scheme": "light"}],
        "scenes": [{"id": "s", "name": "S", "width": 240, "height": 180, "theme": "light",
            "ground": {"kind": "solid", "colour": "#eee"}, "pieces": pieces}]});
    Project::from_value(&document).unwrap_or_else(|problems| panic!("{problems:?}"))
}

/// The notes on the first coat of a piece beside an ordinary one, and how many there are on that.
fn notes(shape: &Value, more: &Value, target: Target) -> (Vec<String>, usize) {
    let coats = json!({"coats": [drop("asked", more), drop("plain", &json!({}))]});
    let project = project(&json!([]), &json!([piece("a", shape, &coats)]));
    let (resolved, _) =
        resolve::piece(&project, &project.scenes[0], &project.scenes[0].pieces[0], &Assets::default());
    let said = lower(&resolved, target).notes.0;
    let of = |id: &str| -> Vec<String> {
        said.iter()
            .filter(|note| note.coat.as_ref().is_some_and(|coat| coat.as_str() == id))
            .map(|note| note.message.clone())
            .collect()
    };
    (of("asked"), of("plain").len())
}

#[test]
fn what_shadows_of_css_cannot_hold_is_said_of_the_coat_that_has_it() {
    let curve = json!({"points": [{"from": 0, "to": 0}, {"from": 0.5, "to": 0.2}, {"from": 1, "to": 1}]});
    let cases = [
        (json!({"blur": 256}), None),
        (json!({"blur": 257}), Some("no shadow softer than a blur of 256px")),
        (json!({"blend": "multiply"}), Some("no blend mode")),
        (json!({"falloff": curve}), Some("no falloff of their own")),
        (json!({"grain": {"amount": 0.5, "size": 1, "seed": 1}}), Some("no grain")),
        (json!({"opacity": 0.001}), Some("too faint for browsers")),
        (json!({"opacity": 0.01}), None),
    ];
    for (more, expected) in cases {
        for (shape, target) in [(card(), Target::BoxShadow), (letters(), Target::TextShadow)] {
            let (said, others) = notes(&shape, &more, target);
            match expected {
                None => assert_eq!(said, <[String; 0]>::default(), "{more} {target:?}"),
                Some(part) => {
                    assert!(said.iter().any(|one| one.contains(part)), "{more} {target:?}: {said:?}")
                }
            }
            assert_eq!(others, 0, "{more} {target:?}");
        }
    }
}

/// Chromium limits the softness of `box-shadow` and `text-shadow` (docs/rendering.md), not that of `drop-shadow()`.
#[test]
fn a_filter_is_as_soft_as_it_is_asked_to_be() {
    for target in [Target::DropShadow, Target::SvgFilter] {
        let (said, _) = notes(&card(), &json!({"blur": 400}), target);
        assert!(!said.iter().any(|one| one.contains("softer")), "{target:?}: {said:?}");
    }
}

/// docs/rendering.md, "Ramps": all steps lie on one straight line, said as the ends are where they share a light or a bearing.
#[test]
fn steps_of_a_ramp_keep_the_form_of_their_ends() {
    let forms = [
        (json!({"distance": 2, "bearing": 30}), json!({"distance": 20, "bearing": 30}), "polar"),
        (json!({"distance": 2, "bearing": 30}), json!({"distance": 20, "bearing": 75}), "axes"),
        (json!({"distance": 2, "follows": "sun"}), json!({"distance": 20, "follows": "sun"}), "light"),
        (json!({"distance": 2, "follows": "sun"}), json!({"distance": 20, "bearing": 37}), "axes"),
        (json!({"x": 1, "y": 2}), json!({"x": 9, "y": 4}), "axes"),
    ];
    for (near, far, expected) in forms {
        let end = |offset: &Value| json!({"offset": offset, "blur": 2, "spread": 0, "colour": "#000"});
        let ramp = json!({"kind": "ramp", "id": "r", "name": "r", "on": true, "shadow": "drop", "near": end(&near),
            "far": end(&far), "count": 4, "growth": 2, "lean": 0, "total": 0.6});
        let project = project(&json!([]), &json!([piece("a", &card(), &json!({"coats": [ramp]}))]));
        let assets = Assets::default();
        let context = Context { project: &project, theme: &project.scenes[0].theme, assets: &assets };
        let coats = project.coats_of(&project.scenes[0].pieces[0], context.theme);
        let steps = context.split(&coats[0], &ColourContext::default()).unwrap().unwrap();
        let offsets: Vec<&Offset> = steps
            .iter()
            .map(|step| match &step.kind {
                CoatKind::Drop(drop) => &drop.offset,
                other => panic!("{}", other.name()),
            })
            .collect();
        for offset in &offsets {
            let form = match offset {
                Offset::Polar(_) => "polar",
                Offset::Following(_) => "light",
                Offset::Cartesian(_) => "axes",
            };
            assert_eq!(form, expected, "{near} to {far}");
        }
        let places: Vec<_> = offsets.iter().map(|offset| context.offset(offset)).collect();
        let (first, last) = (&places[0], &places[3]);
        // Growth 2 in four steps: 0, 1/7, 3/7, 1.
        for (place, u) in places.iter().zip([0.0, 1.0 / 7.0, 3.0 / 7.0, 1.0]) {
            let off = (first.x + (last.x - first.x) * u - place.x)
                .hypot(first.y + (last.y - first.y) * u - place.y);
            assert!(off < 1e-9, "{near} to {far}: {place:?}");
        }
    }
}

/// A finish is written for the kinds of pieces that wear it; pieces that wear another are none of its business.
#[test]
fn a_finish_is_written_for_those_who_wear_it() {
    let finish = |id: &str, colour: &str| json!({"id": id, "name": id, "coats": [drop("d", &json!({"colour": colour}))]});
    let finishes = json!([finish("plate", "#010203"), finish("sign", "#040506")]);
    let worn = |id: &str| json!({"finish": id});
    let css = sheet(
        &project(
            &finishes,
            &json!([piece("a", &card(), &worn("plate")), piece("b", &letters(), &worn("sign"))]),
        ),
        &Assets::default(),
        &SheetOptions::default(),
    );
    let lines = |colour: &str| -> Vec<&str> {
        css.lines()
            .filter(|line| line.contains(colour))
            .map(|line| line.trim().split(':').next().unwrap())
            .collect()
    };
    assert_eq!(lines("#010203"), ["box-shadow"], "{css}");
    assert_eq!(lines("#040506"), ["text-shadow"], "{css}");
}

/// That a finish takes the fill of what wears it is said where one of its coats does, and not otherwise.
#[test]
fn one_coat_in_the_colour_of_the_fill_is_enough_to_say_so() {
    let own = json!({"colour": {"from": "fill"}});
    let flat = SheetOptions { style: Style::Flat, ..SheetOptions::default() };
    for (coats, is_said) in [
        (json!([drop("a", &own), drop("b", &json!({}))]), true),
        (json!([drop("a", &json!({})), drop("b", &own)]), true),
        (json!([drop("a", &json!({}))]), false),
        (json!([]), false),
    ] {
        let finishes = json!([{"id": "f", "name": "F", "coats": coats}]);
        let project = project(&finishes, &json!([piece("a", &card(), &json!({"finish": "f"}))]));
        for wanted in [flat.clone(), SheetOptions::default()] {
            let css = sheet(&project, &Assets::default(), &wanted);
            assert_eq!(css.contains("It takes the fill"), is_said, "{css}");
        }
    }
}

/// Browsers move what a filter has blurred by whole px (docs/rendering.md): said of what is blurred and lies between them.
#[test]
fn what_a_filter_moves_by_parts_of_a_pixel_is_said_where_it_is_blurred() {
    for (blur, y, is_said) in [(8.0, 2.0, false), (8.0, 2.5, true), (0.0, 2.5, false), (0.0, 2.0, false)] {
        let more = json!({"blur": blur, "offset": {"x": 0, "y": y}});
        let (said, _) = notes(&card(), &more, Target::SvgFilter);
        let found = said.iter().any(|one| one.contains("by whole px"));
        assert_eq!(found, is_said, "blur {blur}, y {y}: {said:?}");
    }
}

fn whole_notes(piece: &Value, target: Target) -> String {
    let project = project(&json!([]), &json!([piece]));
    let (resolved, _) =
        resolve::piece(&project, &project.scenes[0], &project.scenes[0].pieces[0], &Assets::default());
    lower(&resolved, target).notes.0.iter().map(|note| note.message.clone() + "\n").collect()
}

#[test]
fn a_gradient_on_letters_is_said_where_a_text_shadow_would_lie_over_it() {
    let gradient = json!({"kind": "linear", "angle": 0, "stops": [{"at": 0, "colour": "#f00"}, {"at": 1, "colour": "#00f"}]});
    let solid = json!({"kind": "solid", "colour": "#f00"});
    for (fill, coats, surface, target, is_said) in [
        (&gradient, json!([drop("d", &json!({}))]), "keep", Target::TextShadow, true),
        (&gradient, json!([drop("d", &json!({}))]), "keep", Target::DropShadow, false),
        (&gradient, json!([]), "keep", Target::TextShadow, false),
        (&gradient, json!([drop("d", &json!({}))]), "hide", Target::TextShadow, false),
        (&solid, json!([drop("d", &json!({}))]), "keep", Target::TextShadow, false),
    ] {
        let mut one = piece("a", &letters(), &json!({"coats": coats}));
        one["fill"] = fill.clone();
        one["surface"] = json!(surface);
        let said = whole_notes(&one, target);
        assert_eq!(said.contains("A gradient on text"), is_said, "{fill} {surface} {target:?}: {said}");
    }
}

/// At a share of its opacity a coat is that much fainter, in whatever it is drawn with.
#[test]
fn a_coat_at_a_share_is_as_much_fainter() {
    let tint = json!({"kind": "tint", "id": "t", "name": "t", "on": true, "opacity": 0.8, "fill": {"kind": "solid", "colour": "#f00"}});
    let coats = json!({"coats": [tint, drop("d", &json!({"opacity": 0.6}))]});
    let project = project(&json!([]), &json!([piece("a", &card(), &coats)]));
    let (resolved, _) =
        resolve::piece(&project, &project.scenes[0], &project.scenes[0].pieces[0], &Assets::default());
    for coat in &resolved.coats {
        let faint = coat.at_share(0.25);
        assert!((faint.opacity - coat.opacity * 0.25).abs() < 1e-12, "{} of {}", faint.opacity, coat.opacity);
        if let (PaintOp::Shadow(whole), PaintOp::Shadow(part)) = (&coat.op, &faint.op) {
            assert!((part.colour().a - whole.colour().a * 0.25).abs() < 1e-6);
        }
    }
}

/// With the pieces of scenes, lights are computed on those that are drawn with them, and on no other.
#[test]
fn lights_are_computed_on_pieces_that_use_them() {
    let lit = json!({"offset": {"distance": 9, "follows": "sun"}});
    let pieces = json!([
        piece("lit", &card(), &json!({"coats": [drop("d", &lit)]})),
        piece("plain", &card(), &json!({"coats": [drop("d", &json!({"blur": 9}))]})),
    ]);
    let wanted = SheetOptions { scenes: true, ..SheetOptions::default() };
    let css = sheet(&project(&json!([]), &pieces), &Assets::default(), &wanted);
    let rule = css.split('}').find(|rule| rule.contains("sin(")).unwrap_or_else(|| panic!("{css}"));
    let selectors = rule.split('{').next().unwrap();
    assert!(selectors.contains(".p-lit") && !selectors.contains(".p-plain"), "{css}");
}
