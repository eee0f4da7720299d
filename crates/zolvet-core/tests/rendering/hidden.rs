//! What lies below an opaque surface is not painted, and no pixel tells: a surface of one colour, where that is done, beside a
//! gradient from that colour to the same, where it is not.

#![allow(clippy::unwrap_used, missing_docs)]

use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture, render};
use zolvet_core::model::Project;
use zolvet_core::resolve;

fn flat(colour: &str) -> Value {
    json!({"kind": "solid", "colour": colour})
}

fn gradient(colour: &str) -> Value {
    json!({"kind": "linear", "angle": 90, "stops": [{"at": 0, "colour": colour}, {"at": 1, "colour": colour}]})
}

/// A piece that covers others or not, with a shadow, and sometimes a blur of what lies behind it.
fn piece() -> impl Strategy<Value = Value> {
    let colour = prop_oneof![Just("#2f7d6b"), Just("#fbf9f3"), Just("#2f7d6b80")];
    let shape = prop_oneof![
        3 => (60.0..380.0_f64, 20.0..250.0_f64, 0.0..40.0_f64)
            .prop_map(|(w, h, radii)| json!({"kind": "box", "w": w, "h": h, "radii": radii})),
        1 => (60.0..380.0_f64, 20.0..250.0_f64).prop_map(|(w, h)| json!({"kind": "ellipse", "w": w, "h": h})),
    ];
    let place = (-60.0..300.0_f64, -60.0..200.0_f64);
    (colour, shape, place, 0.0..40.0_f64, 0.3..1.2_f64, any::<bool>()).prop_map(
        |(colour, shape, (x, y), blur, opacity, frosted)| {
            let mut coats = vec![json!({"id": "d", "name": "D", "on": true, "kind": "drop",
                "offset": {"x": 3.5, "y": 6}, "blur": blur, "spread": 0, "colour": "#102018", "opacity": 0.4})];
            if frosted {
                coats.push(json!({"id": "b", "name": "B", "on": true, "kind": "backdrop", "sigma": 6, "saturation": 1.2,
                    "opacity": 1.0}));
            }
            json!({"name": "P", "shape": shape, "x": x, "y": y, "fill": colour, "opacity": opacity.min(1.0),
                "wear": {"coats": coats}})
        },
    )
}

fn project(pieces: &[Value], fill: fn(&str) -> Value, ground: &Value) -> Project {
    let mut pieces = pieces.to_vec();
    for (i, piece) in pieces.iter_mut().enumerate() {
        piece["id"] = json!(format!("p{i}"));
        piece["fill"] = fill(piece["fill"].as_str().unwrap());
    }
    let document = json!({
        "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "scenes": [{"id": "a", "name": "A", "width": 360, "height": 240, "theme": "t", "ground": ground,
            "pieces": pieces}]
    });
    Project::from_value(&document).unwrap()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 48, ..ProptestConfig::default() })]

    #[test]
    fn hidden_or_painted_over_every_pixel_is_the_same(
        pieces in prop::collection::vec(piece(), 1..6),
        on_gradient in any::<bool>(),
        scale in prop_oneof![Just(1.0), 0.6..2.1_f64],
    ) {
        let ground = if on_gradient {
            json!({"kind": "linear", "angle": 160, "stops": [{"at": 0, "colour": "#fff"}, {"at": 1, "colour": "#345"}]})
        } else {
            flat("#e0d8c8")
        };
        let drawn = |fill| {
            let project = project(&pieces, fill, &ground);
            let scene = resolve::scene(&project, &project.scenes[0], &Assets::default());
            let (view, options, cache) = (Viewport::whole(&scene, scale), RenderOptions::default(), MaskCache::default());
            (render(&scene, &view, &options, &cache), picture(&scene, &view, &options, Rounding::Nearest, &cache))
        };
        let (hidden, painted) = (drawn(flat), drawn(gradient));
        prop_assert!(hidden.0.pixels == painted.0.pixels);
        prop_assert!(hidden.1 == painted.1);
        prop_assert!(hidden.1 == hidden.0.to_picture(Rounding::Nearest));
    }
}
