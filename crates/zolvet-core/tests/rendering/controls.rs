//! Controls: a group's parts are drawn in the state that it is shown in, and a control within another keeps its own.

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::lower::with_carried_shadows;
use zolvet_core::model::{Project, State};
use zolvet_core::picture::Picture;
use zolvet_core::resolve;
use zolvet_samples::star::{coat, document};

fn shadow(id: &str, y: i32) -> Value {
    coat(id, "drop", json!({"offset": {"x": 0, "y": y}, "blur": 8, "spread": 0, "colour": "#203050a0"}))
}

fn boxed(id: &str, x: i32, w: i32, more: Value) -> Value {
    let mut piece = json!({"id": id, "name": id, "shape": {"kind": "box", "w": w, "h": 30, "radii": 6}, "x": x, "y": 20,
        "fill": {"kind": "solid", "colour": "#e0a030"}, "wear": {"coats": []}});
    piece.as_object_mut().unwrap().append(&mut more.as_object().unwrap().clone());
    piece
}

fn group(id: &str, parts: Value, more: Value) -> Value {
    let mut piece = json!({"id": id, "name": id, "shape": {"kind": "group", "parts": parts}, "x": 20, "y": 20,
        "wear": {"coats": []}});
    piece.as_object_mut().unwrap().append(&mut more.as_object().unwrap().clone());
    piece
}

fn project(pieces: Value) -> Project {
    Project::from_value(&document(pieces)).unwrap()
}

fn drawn(project: &Project) -> Picture {
    let scene = resolve::scene(project, &project.scenes[0], &Assets::default());
    let view = Viewport::whole(&scene, 2.0);
    picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &MaskCache::default())
}

fn worst(one: &Picture, other: &Picture) -> u8 {
    let pairs = one.rgba.iter().zip(&other.rgba);
    pairs.map(|(a, b)| a.abs_diff(*b)).max().unwrap()
}

/// A button whose parts have coats for being pressed, in a card that has some too.
fn card(card_shows: Value, button_shows: Value, [face, back]: [Value; 2]) -> Value {
    let states = |y| json!({"pressed": [shadow("p", y)]});
    let mut button = boxed("face", 4, 60, json!({"wear": {"coats": [face]}, "states": states(1)}));
    button["y"] = json!(4);
    let button = group("button", json!([button]), json!({"control": true, "shows": button_shows}));
    let back = boxed("back", 0, 140, json!({"wear": {"coats": [back]}, "states": states(2)}));
    json!([group("card", json!([back, button]), json!({"control": true, "shows": card_shows}))])
}

#[test]
fn parts_are_drawn_in_the_state_of_the_nearest_control() {
    let (rest, pressed) = (shadow("r", 10), |y| shadow("p", y));
    let both = |face: Value, back: Value| drawn(&project(card(Value::Null, Value::Null, [face, back])));
    let shown = |card_shows: Value, button_shows: Value| {
        drawn(&project(card(card_shows, button_shows, [rest.clone(), rest.clone()])))
    };
    assert_eq!(shown(json!("pressed"), Value::Null), both(rest.clone(), pressed(2)));
    assert_eq!(shown(Value::Null, json!("pressed")), both(pressed(1), rest.clone()));
    assert_eq!(shown(json!("hover"), Value::Null), both(rest.clone(), rest.clone()), "it has none for that");
}

#[test]
fn a_piece_knows_the_control_it_follows() {
    let project = project(card(Value::Null, Value::Null, [shadow("r", 1), shadow("r", 1)]));
    let scene = &project.scenes[0];
    let follows = |id: &str| project.control_of(scene, scene.piece(id).unwrap()).unwrap().id.to_string();
    assert_eq!(["face", "button", "back", "card"].map(follows), ["button", "button", "card", "card"]);
    let inner = scene.piece("card").unwrap().inner_controls();
    assert_eq!(inner.iter().map(|piece| piece.id.as_str()).collect::<Vec<_>>(), ["button"]);
    // By itself, a piece with states is a control, and one without is none.
    let alone = boxed("a", 0, 9, json!({"states": {"pressed": []}}));
    let project = self::project(json!([alone, boxed("b", 0, 9, json!({}))]));
    let scene = &project.scenes[0];
    let is_one = |at: usize| project.control_of(scene, &scene.pieces[at]).is_some();
    assert!(is_one(0) && !is_one(1));
    assert_eq!(scene.shown_state(&scene.pieces[0].id), None::<State>);
}

/// The picture of a group is the same where its lowest part carries its shadows, in every state it is shown in: an
/// outline of lines and a rounded box are rounded otherwise.
#[test]
fn carried_shadows_change_no_pixel_by_more_than_rounding() {
    for shows in [Value::Null, json!("pressed")] {
        let states = json!({"pressed": [shadow("g", 2)]});
        let own = json!({"coats": [shadow("own", 5)]});
        for wear in [json!({"coats": []}), own] {
            let back = boxed("back", 0, 140, json!({"wear": wear, "states": {"pressed": [shadow("b", 1)]}}));
            let label = boxed("label", 20, 50, json!({"fill": {"kind": "solid", "colour": "#fff"}}));
            let more = json!({"control": true, "shows": shows, "opacity": 0.8, "states": states,
                "wear": {"coats": [shadow("g", 9)]}});
            let project = project(json!([group("g", json!([back, label]), more)]));
            let carried = with_carried_shadows(&project, &Assets::default());
            let part = |project: &Project| {
                project
                    .coats_of(&project.scenes[0].pieces[0].shape.parts()[0], &project.scenes[0].theme)
                    .len()
            };
            assert!(part(&carried) > part(&project), "{shows} {wear}");
            assert!(project.coats_of(&carried.scenes[0].pieces[0], &project.scenes[0].theme).is_empty());
            let apart = worst(&drawn(&carried), &drawn(&project));
            assert!(apart <= 1, "{shows} {wear}: {apart}");
        }
    }
}

/// Where the picture would be another, or the code no closer, shadows stay with the group.
#[test]
fn shadows_stay_with_groups_that_no_part_can_carry_for() {
    let back = |more: Value| boxed("back", 0, 140, more);
    let over = boxed("over", 130, 50, json!({}));
    let within = boxed("within", 20, 50, json!({}));
    let group_of = |parts: Value, coats: Value| group("g", parts, json!({"wear": {"coats": coats}}));
    let tint = coat("t", "tint", json!({"fill": {"kind": "solid", "colour": "#f008"}}));
    let from_fill = coat(
        "f",
        "drop",
        json!({"offset": {"x": 0, "y": 4}, "blur": 8, "spread": 0, "colour": {"from": "fill"}}),
    );
    let cases = [
        ("a part beyond it", group_of(json!([back(json!({})), over]), json!([shadow("s", 4)]))),
        (
            "a coat on all of it",
            group_of(json!([back(json!({})), within.clone()]), json!([shadow("s", 4), tint])),
        ),
        (
            "a colour taken from the fill",
            group_of(json!([back(json!({})), within.clone()]), json!([from_fill])),
        ),
        (
            "a faded part",
            group_of(json!([back(json!({"opacity": 0.5})), within.clone()]), json!([shadow("s", 4)])),
        ),
        (
            "a clear part",
            group_of(
                json!([back(json!({"fill": {"kind": "none"}})), within.clone()]),
                json!([shadow("s", 4)]),
            ),
        ),
        (
            "a control of its own",
            group_of(json!([back(json!({"control": true})), within]), json!([shadow("s", 4)])),
        ),
    ];
    for (what, piece) in cases {
        let project = project(json!([piece]));
        assert_eq!(with_carried_shadows(&project, &Assets::default()).scenes, project.scenes, "{what}");
    }
}
