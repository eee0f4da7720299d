//! Arranged pieces, and the handles of coats: places that follow from the geometry alone.

#![allow(clippy::unwrap_used, missing_docs)]

use serde_json::{Value, json};
use zolvet_core::arrange::{AlignLine, Arrangement, Axis, arranged};
use zolvet_core::asset::Assets;
use zolvet_core::model::{Id, JoinOp, Project};
use zolvet_core::report::{HandleKind, coat_outline};

fn document() -> Value {
    let piece = |id: &str, x: f64, w: f64| {
        let drop = json!({"id": "d", "name": "d", "on": true, "kind": "drop", "offset": {"x": 3, "y": 4}, "blur": 2, "spread": 0, "colour": "#000"});
        let tint = json!({"id": "t", "name": "t", "on": true, "kind": "tint", "fill": {"kind": "solid", "colour": "#fff"}});
        json!({"id": id, "name": id, "shape": {"kind": "box", "w": w, "h": 20}, "x": x, "y": x / 2.0,
            "fill": {"kind": "solid", "colour": "#888"}, "wear": {"coats": [tint, drop]}})
    };
    let mut clipped = piece("clipped", 200.0, 10.0);
    clipped["clip_to"] = json!("b");
    json!({"schema": 1, "name": "p", "themes": [{"id": "t", "name": "t", "scheme": "light"}],
        "lights": [{"id": "sun", "name": "Sun", "bearing": 90, "colour": "#fff", "strength": 1}],
        "scenes": [{"id": "s", "name": "s", "width": 400, "height": 300, "theme": "t", "ground": {"kind": "none"},
            "pieces": [piece("a", 10.0, 30.0), piece("b", 60.0, 10.0), piece("c", 110.0, 50.0), clipped]}]})
}

/// The scene after an arrangement, and the ids to be chosen.
fn after(document: &Value, pieces: &[&str], how: Arrangement) -> Option<(Value, Vec<String>)> {
    let project = Project::from_value(document).unwrap();
    let ids: Vec<Id> = pieces.iter().map(|id| Id::new(*id).unwrap()).collect();
    let found = arranged(&project, &project.scenes[0], &ids, &how, &Assets::default())?;
    let mut changed = document.clone();
    json_patch::patch(&mut changed["scenes"][0], &found.patch).unwrap();
    assert!(Project::from_value(&changed).is_ok(), "{how:?}");
    Some((changed, found.chosen.iter().map(ToString::to_string).collect()))
}

fn lefts(document: &Value) -> Vec<f64> {
    let pieces = document["scenes"][0]["pieces"].as_array().unwrap();
    pieces.iter().map(|piece| piece["x"].as_f64().unwrap()).collect()
}

#[test]
fn pieces_share_an_edge_or_equal_gaps() {
    let document = document();
    let align = |line| Arrangement::Align { line };
    let of = |pieces: &[&str], how| lefts(&after(&document, pieces, how).unwrap().0);
    assert_eq!(of(&["a", "b", "c"], align(AlignLine::Left)), [10.0, 10.0, 10.0, 200.0]);
    assert_eq!(of(&["a", "b", "c"], align(AlignLine::Right)), [130.0, 150.0, 110.0, 200.0]);
    assert_eq!(of(&["b"], align(AlignLine::Centre)), [10.0, 195.0, 110.0, 200.0], "one goes by the scene");
    // 150 px from end to end, 90 of them filled: two gaps of 30.
    assert_eq!(of(&["a", "b", "c"], Arrangement::Distribute { axis: Axis::X }), [10.0, 70.0, 110.0, 200.0]);
    assert!(after(&document, &["a", "b"], Arrangement::Distribute { axis: Axis::X }).is_none());
}

#[test]
fn a_join_taken_apart_is_the_pieces_it_was_made_of() {
    let document = document();
    let (joined, chosen) = after(&document, &["b", "a"], Arrangement::Join { op: JoinOp::Add }).unwrap();
    let pieces = joined["scenes"][0]["pieces"].as_array().unwrap();
    assert_eq!(pieces.len(), 3);
    let join = &pieces[0];
    assert_eq!(join["name"], "b joined", "named after the one that was chosen first");
    assert_eq!((join["x"].as_f64(), join["shape"]["parts"][1]["x"].as_f64()), (Some(10.0), Some(50.0)));
    assert_eq!(join["wear"]["coats"][0]["kind"], "drop", "it casts what its main piece cast");
    assert_eq!(
        join["shape"]["parts"][1]["wear"]["coats"].as_array().unwrap().len(),
        1,
        "what lies on it stays"
    );
    assert_eq!(pieces[2]["clip_to"], json!(chosen[0]));
    let (apart, chosen) = after(&joined, &[&chosen[0]], Arrangement::TakeApart).unwrap();
    assert_eq!(chosen, ["a", "b"]);
    assert_eq!(lefts(&apart), lefts(&document));
    assert_eq!(apart["scenes"][0]["pieces"][3]["clip_to"], Value::Null);
}

#[test]
fn handles_lie_where_the_light_and_the_rotation_put_them() {
    let mut document = document();
    document["scenes"][0]["pieces"][0]["rotation"] = json!(90);
    let spot = json!({"shape": {"kind": "ellipse", "w": 10, "h": 4}, "x": 20, "y": 8});
    document["scenes"][0]["pieces"][0]["wear"]["coats"][0] = json!({"id": "h", "name": "h", "on": true, "kind": "highlight",
        "spot": spot, "fill": {"kind": "solid", "colour": "#fff"}, "blur": 6, "follows": "sun"});
    let project = Project::from_value(&document).unwrap();
    let (scene, assets) = (&project.scenes[0], Assets::default());
    let handle = |coat: &str, kind: HandleKind| {
        let outline =
            coat_outline(&project, scene, &scene.pieces[0], &Id::new(coat).unwrap(), &assets).unwrap();
        let found = outline.handles.into_iter().find(|handle| handle.kind == kind).unwrap();
        ([found.at.x, found.at.y].map(f64::round), found.axes.map(|axis| axis.map(f64::round)))
    };
    // The middle of the piece is at 25, 15; offsets do not turn with it.
    assert_eq!(handle("d", HandleKind::Offset), ([28.0, 19.0], [[1.0, 0.0], [0.0, 1.0]]));
    // 10 px right of the middle, turned by the light to below it, by the piece to left of it.
    assert_eq!(handle("h", HandleKind::Place), ([15.0, 15.0], [[-1.0, 0.0], [0.0, -1.0]]));
}
