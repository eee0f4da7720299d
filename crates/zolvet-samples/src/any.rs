//! Arbitrary documents.

use proptest::prelude::*;
use serde_json::{Value, json};

/// Numbers of usual sizes, and some at the ends of the range of floats.
pub fn number() -> BoxedStrategy<Value> {
    prop_oneof![
        6 => (-60.0..60.0_f64).prop_map(|number| json!((number * 4.0).round() / 4.0)),
        2 => (0.0..1.0_f64).prop_map(|number| json!(number)),
        1 => prop_oneof![Just(0.0), Just(1e-9), Just(-0.0), Just(4000.0), Just(-10_000.0), Just(1e308), Just(2000.0)].prop_map(|number| json!(number)),
        1 => Just(json!(null)),
    ]
    .boxed()
}

fn length() -> BoxedStrategy<Value> {
    prop_oneof![8 => (0.0..120.0_f64).prop_map(|length| json!((length * 2.0).round() / 2.0)), 1 => Just(json!(0)), 1 => number()]
    .boxed()
}

fn share() -> BoxedStrategy<Value> {
    prop_oneof![8 => (0.0..=1.0_f64).prop_map(|share| json!(share)), 1 => number()].boxed()
}

/// Colours, valid or not.
pub fn colour() -> BoxedStrategy<Value> {
    prop_oneof![
        4 => "#[0-9a-f]{6}".prop_map(|text| json!(text)),
        1 => Just(json!("oklch(0.7 0.3 140 / 40%)")),
        1 => Just(json!({"swatch": "s", "lightness": -0.3})),
        2 => prop::sample::select(vec!["fill", "ground", "light", "picture"]).prop_map(|from| json!({"from": from})),
        1 => ".{0,12}".prop_map(|text| json!(text)),
    ]
    .boxed()
}

fn fill() -> BoxedStrategy<Value> {
    prop_oneof![
        Just(json!({"kind": "none"})),
        colour().prop_map(|colour| json!({"kind": "solid", "colour": colour})),
        (number(), colour(), colour(), share()).prop_map(|(angle, a, b, at)| json!({"kind": "linear", "angle": angle, "stops": [{"at": at, "colour": a}, {"at": 1, "colour": b}]})),
        (length(), colour(), colour()).prop_map(|(radius, a, b)| json!({"kind": "radial", "centre": {"x": 0.3, "y": 0.6}, "radius": radius, "stops": [{"at": 0, "colour": a}, {"at": 1, "colour": b}]})),
        prop::sample::select(vec!["cover", "contain", "tile", "stretch"]).prop_map(|fit| json!({"kind": "image", "asset": "leaf", "fit": fit})),
    ]
    .boxed()
}

fn shape() -> BoxedStrategy<Value> {
    let simple = prop_oneof![
        (length(), length(), length()).prop_map(|(w, h, radii)| json!({"kind": "box", "w": w, "h": h, "radii": radii})),
        (length(), length()).prop_map(|(w, h)| json!({"kind": "ellipse", "w": w, "h": h})),
        ("[MLHVCQAZmlcaz0-9 .,-]{0,40}", length(), length(), length()).prop_map(|(d, w, h, rounding)| json!({"kind": "path", "d": d, "viewbox": [0, 0, 10, 10], "w": w, "h": h, "rounding": rounding})),
        (prop::collection::vec((0..90_u8, 0..90_u8), 3..9), length()).prop_map(|(points, rounding)| {
            let points: Vec<String> = points.iter().map(|(x, y)| format!("{x} {y}")).collect();
            json!({"kind": "path", "d": format!("M{}Z", points.join("L")), "viewbox": [0, 0, 90, 90], "w": 90, "h": 90, "rounding": rounding})
        }),
        (".{0,8}", 1.0..60.0_f64).prop_map(|(string, size)| json!({"kind": "text", "string": string, "font": "Figtree", "size": size, "weight": 700, "line_height": 1.2})),
        (length(), length()).prop_map(|(w, h)| json!({"kind": "picture", "asset": "leaf", "w": w, "h": h})),
    ];
    simple.prop_recursive(2, 6, 3, |inner| {
        let op = prop::sample::select(vec!["add", "subtract", "intersect", "exclude"]);
        (op, prop::collection::vec((inner, fill(), number(), number()), 1..4), length()).prop_map(|(op, parts, rounding)| {
            let part = |(i, (shape, fill, x, y)): (usize, (Value, Value, Value, Value))| {
                json!({"id": i.to_string(), "name": "part", "shape": shape, "x": x, "y": y, "fill": fill, "wear": {"coats": []}})
            };
            json!({"kind": "join", "op": op, "rounding": rounding, "parts": parts.into_iter().enumerate().map(part).collect::<Vec<_>>()})
        })
    })
    .boxed()
}

fn offset() -> BoxedStrategy<Value> {
    prop_oneof![
        (number(), number()).prop_map(|(x, y)| json!({"x": x, "y": y})),
        (number(), number())
            .prop_map(|(distance, bearing)| json!({"distance": distance, "bearing": bearing})),
        number().prop_map(|distance| json!({"distance": distance, "follows": "l"})),
    ]
    .boxed()
}

/// A coat, valid or not.
pub fn coat() -> BoxedStrategy<Value> {
    let shadow = (
        prop::sample::select(vec!["drop", "inner"]),
        offset(),
        length(),
        number(),
        colour(),
        any::<bool>(),
        share(),
    )
        .prop_map(|(kind, offset, blur, spread, colour, toned, amount)| {
            let mut coat =
                json!({"kind": kind, "offset": offset, "blur": blur, "spread": spread, "colour": colour});
            if toned {
                coat["falloff"] =
                    json!({"points": [{"from": 0, "to": 0.2}, {"from": 0.5, "to": 1}, {"from": 1, "to": 0}]});
                coat["grain"] = json!({"amount": amount, "size": 1.5, "seed": 3});
            }
            coat
        });
    let end = || {
        (offset(), length(), number(), colour()).prop_map(|(offset, blur, spread, colour)| json!({"offset": offset, "blur": blur, "spread": spread, "colour": colour}))
    };
    let kinds = prop_oneof![
        4 => shadow,
        1 => (shape(), fill(), length(), number()).prop_map(|(shape, fill, blur, x)| json!({"kind": "highlight", "spot": {"shape": shape, "x": x, "y": -4}, "fill": fill, "blur": blur, "follows": "l"})),
        1 => fill().prop_map(|fill| json!({"kind": "tint", "fill": fill})),
        1 => (length(), prop::sample::select(vec!["outside", "centre", "inside"]), prop::sample::select(vec!["miter", "round", "bevel"]), fill())
            .prop_map(|(width, side, join, fill)| json!({"kind": "stroke", "width": width, "side": side, "join": join, "fill": fill})),
        1 => length().prop_map(|sigma| json!({"kind": "blur", "sigma": sigma})),
        1 => (length(), share()).prop_map(|(sigma, factor)| json!({"kind": "backdrop", "sigma": sigma, "saturation": factor})),
        1 => (offset(), colour(), colour()).prop_map(|(offset, near, far)| json!({"kind": "extrude", "offset": offset, "near": near, "far": far})),
        1 => (share(), share(), length(), length(), colour()).prop_map(|(shear, squash, near, far, colour)| json!({"kind": "cast", "shear": shear, "squash": squash, "anchor": 1, "blur_near": near, "blur_far": far, "colour": colour, "fade": 0.4})),
        1 => (number(), length(), number(), 0..8_usize, colour()).prop_map(|(height, blur, spread, count, colour)| json!({"kind": "raised", "height": height, "bearing": 10,
            "follows": "l", "rig": {"elevation": 50, "size": 8, "ambient": 0.4}, "colour": colour,
            "shadows": vec![json!({"distance": 1, "blur": blur, "spread": spread, "opacity": 0.5}); count]})),
        1 => (end(), end(), 0..66_u32, share(), share()).prop_map(|(near, far, count, lean, total)| json!({"kind": "ramp", "shadow": "drop", "near": near, "far": far, "count": count, "growth": 1.4, "lean": lean, "total": total})),
    ];
    (kinds, share(), prop::sample::select(vec!["normal", "multiply", "screen", "color-burn", "luminosity"]))
        .prop_map(|(mut coat, opacity, blend)| {
            (coat["name"], coat["on"], coat["opacity"], coat["blend"]) =
                (json!("coat"), json!(true), opacity, json!(blend));
            coat
        })
        .boxed()
}

fn piece() -> BoxedStrategy<Value> {
    let inner = prop_oneof![9 => piece_of(shape()), 1 => group(piece_of(shape()))];
    prop_oneof![5 => piece_of(shape()), 1 => group(inner.boxed())].boxed()
}

fn piece_of(shape: BoxedStrategy<Value>) -> BoxedStrategy<Value> {
    (shape, number(), number(), number(), fill(), prop::collection::vec(coat(), 0..5), prop::sample::select(vec!["keep", "cut_out", "hide"]), share(), states()).prop_map(
        |(shape, x, y, rotation, fill, mut coats, surface, opacity, (has_states, shows))| {
            coats.iter_mut().enumerate().for_each(|(i, coat)| coat["id"] = json!(i.to_string()));
            let states = if has_states { json!({"pressed": coats.first().as_slice()}) } else { json!({}) };
            json!({"name": "piece", "shape": shape, "x": x, "y": y, "rotation": rotation, "fill": fill, "surface": surface, "opacity": opacity, "wear": {"coats": coats}, "states": states, "shows": shows})
        },
    )
    .boxed()
}

/// Whether a piece has coats for being pressed, and the state it is shown in.
fn states() -> impl Strategy<Value = (bool, Option<&'static str>)> {
    (any::<bool>(), prop::option::weighted(0.3, prop::sample::select(vec!["pressed", "hover"])))
}

/// A group of parts; half of them only arrange, and half of them are controls.
fn group(part: BoxedStrategy<Value>) -> BoxedStrategy<Value> {
    let parts = prop::collection::vec(part, 1..3);
    let blend = prop::sample::select(vec!["normal", "multiply", "screen"]);
    let shape = parts.prop_map(|parts| json!({"kind": "group", "parts": parts})).boxed();
    (piece_of(shape), any::<bool>(), any::<bool>(), blend)
        .prop_map(|(mut group, is_plain, is_control, blend)| {
            (group["blend"], group["control"]) = (json!(blend), json!(is_control));
            if is_plain {
                (group["opacity"], group["surface"], group["blend"]) =
                    (json!(1), json!("keep"), json!("normal"));
                group["wear"] = json!({"coats": []});
            }
            group
        })
        .boxed()
}

/// Gives pieces, and those in groups, ids of their own.
fn number_pieces(pieces: &mut Value, prefix: &str) {
    for (i, piece) in pieces.as_array_mut().into_iter().flatten().enumerate() {
        let id = format!("{prefix}{i}");
        if piece["shape"]["kind"] == "group" {
            number_pieces(&mut piece["shape"]["parts"], &format!("{id}-"));
        }
        if i == 1 {
            piece["clip_to"] = json!(format!("{prefix}0"));
        }
        piece["id"] = json!(id);
    }
}

/// A document, valid or not.
pub fn document() -> BoxedStrategy<Value> {
    (prop::collection::vec(piece(), 0..4), fill()).prop_map(|(pieces, ground)| {
        let mut pieces = json!(pieces);
        number_pieces(&mut pieces, "");
        json!({
            "schema": 1, "name": "fuzz", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
            "lights": [{"id": "l", "name": "L", "bearing": 123, "colour": "#fea", "strength": 0.8}],
            "swatches": [{"id": "s", "name": "S", "values": {"t": "#346"}}],
            "assets": [{"id": "leaf", "name": "Leaf", "media_type": "image/png", "data": LEAF}],
            "scenes": [{"id": "a", "name": "A", "width": 120, "height": 100, "theme": "t", "ground": ground, "pieces": pieces}]
        })
    })
    .boxed()
}

/// Six pixels, some of them clear.
const LEAF: &str = "iVBORw0KGgoAAAANSUhEUgAAAAMAAAACCAYAAACddGYaAAAAGElEQVR4nGM4oSHyX6TCpoEBGfz///8/AFGGB0h6/lU4AAAAAElFTkSuQmCC";
