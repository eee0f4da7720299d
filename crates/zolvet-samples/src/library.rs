//! Random projects whose finishes are handed off.

use proptest::prelude::*;
use serde_json::{Value, json};

fn number(from: f64, to: f64) -> BoxedStrategy<Value> {
    prop_oneof![(from..to).prop_map(|n| json!((n * 8.0).round() / 8.0)), (from..to).prop_map(|n| json!(n))]
        .boxed()
}

fn colour() -> BoxedStrategy<Value> {
    prop_oneof![
        "#[0-9a-f]{6}".prop_map(|text| json!(text)),
        Just(json!("oklch(0.7 0.2 140 / 40%)")),
        Just(json!({"swatch": "s1"})),
        Just(json!({"swatch": "s2", "lightness": -0.2})),
        prop::sample::select(vec!["fill", "ground", "light", "picture"])
            .prop_map(|from| json!({"from": from})),
    ]
    .boxed()
}

fn offset() -> BoxedStrategy<Value> {
    prop_oneof![
        (number(-40.0, 40.0), number(-40.0, 40.0)).prop_map(|(x, y)| json!({"x": x, "y": y})),
        (number(-40.0, 40.0), number(0.0, 360.0)).prop_map(|(d, b)| json!({"distance": d, "bearing": b})),
        number(-40.0, 40.0).prop_map(|d| json!({"distance": d, "follows": "l"})),
    ]
    .boxed()
}

fn kind() -> BoxedStrategy<Value> {
    let shadow = (prop::sample::select(vec!["drop", "inner"]), offset(), number(0.0, 90.0), number(-20.0, 20.0), colour())
        .prop_map(|(kind, offset, blur, spread, colour)| {
            json!({"kind": kind, "offset": offset, "blur": blur, "spread": spread, "colour": colour})
        });
    let end = || {
        (offset(), number(0.0, 90.0), colour()).prop_map(
            |(offset, blur, colour)| json!({"offset": offset, "blur": blur, "spread": 0, "colour": colour}),
        )
    };
    prop_oneof![
        4 => shadow,
        1 => colour().prop_map(|colour| json!({"kind": "tint", "fill": {"kind": "solid", "colour": colour}})),
        1 => (number(0.5, 8.0), colour()).prop_map(|(width, colour)| json!({"kind": "stroke", "width": width, "side": if width.as_f64().unwrap_or(0.0) > 4.0 { "inside" } else { "outside" }, "fill": {"kind": "solid", "colour": colour}})),
        1 => number(0.0, 20.0).prop_map(|sigma| json!({"kind": "blur", "sigma": sigma})),
        1 => (number(0.0, 20.0), any::<bool>()).prop_map(|(sigma, early)| json!({"kind": "backdrop", "sigma": sigma, "saturation": 1.5,
            "order": if early { "saturation_blur_brightness" } else { "blur_saturation_brightness" }})),
        1 => (end(), end(), 1..9_u32).prop_map(|(near, far, count)| json!({"kind": "ramp", "shadow": "drop", "near": near, "far": far, "count": count, "growth": 1.5, "lean": -0.25, "total": 0.5})),
        1 => (offset(), colour(), colour()).prop_map(|(offset, near, far)| json!({"kind": "extrude", "offset": offset, "near": near, "far": far})),
    ]
    .boxed()
}

fn coats() -> BoxedStrategy<Value> {
    let coat =
        (kind(), any::<bool>(), number(0.0, 1.0), prop::sample::select(vec!["normal", "multiply", "screen"]));
    prop::collection::vec(coat, 0..5)
        .prop_map(|coats| {
            let whole = coats.into_iter().enumerate().map(|(i, (mut coat, on, opacity, blend))| {
                (coat["id"], coat["name"]) = (json!(format!("c{i}")), json!(format!("Coat {i}")));
                (coat["on"], coat["opacity"], coat["blend"]) = (json!(on), opacity, json!(blend));
                coat
            });
            Value::Array(whole.collect())
        })
        .boxed()
}

fn fill() -> BoxedStrategy<Value> {
    prop_oneof![
        "#[0-9a-f]{6}".prop_map(|colour| json!({"kind": "solid", "colour": colour})),
        Just(json!({"kind": "solid", "colour": {"swatch": "s1"}})),
        ("#[0-9a-f]{6}", 0.0..360.0)
            .prop_map(|(colour, angle)| json!({"kind": "linear", "angle": angle, "stops": [
            {"at": 0, "colour": colour}, {"at": 1, "colour": {"swatch": "s1", "lightness": 0.1}}]})),
        Just(json!({"kind": "linear", "follows": "l", "stops": [
            {"at": 0, "colour": {"swatch": "s1"}}, {"at": 1, "colour": {"swatch": "s2"}}]})),
    ]
    .boxed()
}

/// Projects with a few finishes, in two themes and a state, on boxes, letters and an ellipse that is turned.
pub fn document() -> BoxedStrategy<Value> {
    let finish = ("[A-Za-z .{}$]{1,12}", coats(), coats(), any::<bool>());
    (prop::collection::vec(finish, 1..5), fill(), coats(), coats())
        .prop_map(|(finishes, fill, own, pressed)| {
            let finishes: Vec<Value> = finishes
                .into_iter()
                .enumerate()
                .map(|(i, (name, rest, hover, moves))| {
                    let mut finish = json!({"id": format!("f{i}"), "name": name, "note": "", "coats": rest, "states": {"hover": hover}});
                    if moves {
                        finish["made_with"] = json!("text_shadow");
                        finish["transition"] = json!({"duration": 90, "curve": "ease"});
                        finish["themes"] = json!({"night": finish["states"]["hover"]});
                    }
                    finish
                })
                .collect();
            json!({"schema": 2, "name": "Any",
                "themes": [{"id": "day", "name": "Day", "scheme": "light"}, {"id": "night", "name": "Night", "scheme": "dark"}],
                "swatches": [{"id": "s1", "name": "Leaf", "values": {"day": "#2f7d6b", "night": "#204f45"}},
                    {"id": "s2", "name": "Leaf", "values": {"day": "rgb(0 0 0 / 0.5)", "night": "#ffffff"}}],
                "lights": [{"id": "l", "name": "Sun", "bearing": 20, "colour": "#fff2d0", "strength": 1}],
                "finishes": finishes, "scale": ["f0"],
                "scenes": [{"id": "a", "name": "A", "width": 200, "height": 100, "theme": "day", "ground": {"kind": "none"},
                    "pieces": [{"id": "p", "name": "P", "shape": {"kind": "box", "w": 40, "h": 20, "radii": 4}, "x": 0, "y": 0,
                            "fill": {"kind": "none"}, "wear": {"finish": "f0"}},
                        {"id": "q", "name": "Q", "shape": {"kind": "box", "w": 60, "h": 30, "radii": 9}, "x": 60, "y": 10,
                            "fill": fill, "wear": {"finish": "f0"}},
                        {"id": "t", "name": "T", "shape": {"kind": "text", "string": "Ag", "font": "Figtree", "size": 40, "weight": 700, "line_height": 1.2}, "x": 20, "y": 40,
                            "fill": fill, "wear": {"finish": "f0"}},
                        {"id": "e", "name": "E", "shape": {"kind": "ellipse", "w": 50, "h": 30}, "x": 120, "y": 50, "rotation": 30,
                            "fill": fill, "wear": {"finish": "f0"}},
                        {"id": "o", "name": "O", "shape": {"kind": "box", "w": 50, "h": 30, "radii": 0}, "x": 130, "y": 5,
                            "fill": fill, "wear": {"coats": own}, "states": {"pressed": pressed}}]}]})
        })
        .boxed()
}
