//! Whatever is put in, the answer is a result or an error with a place: no panic, no hang. A short run each time;
//! `PROPTEST_CASES=200000 cargo test --release -p zolvet-core --test fuzz` is a long one.

#![allow(clippy::unwrap_used, missing_docs)]

use std::time::{Duration, Instant};

use proptest::prelude::*;
use serde_json::{Value, json};
use zolvet_core::asset::{Assets, Bitmap};
use zolvet_core::audit::{Limits, audit};
use zolvet_core::compose::{MaskCache, Part, Rounding, View, picture};
use zolvet_core::css::{self, Wanted, piece_code, read};
use zolvet_core::icon::Icon;
use zolvet_core::model::Project;
use zolvet_core::resolve::PieceStates;
use zolvet_core::{report, resolve, svg};

/// The longest anything within the limits may take.
const PATIENCE: Duration = Duration::from_secs(5);

fn number() -> BoxedStrategy<Value> {
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

fn colour() -> BoxedStrategy<Value> {
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

fn coat() -> BoxedStrategy<Value> {
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
    (shape(), number(), number(), number(), fill(), prop::collection::vec(coat(), 0..5), prop::sample::select(vec!["keep", "cut_out", "hide"]), share()).prop_map(
        |(shape, x, y, rotation, fill, mut coats, surface, opacity)| {
            coats.iter_mut().enumerate().for_each(|(i, coat)| coat["id"] = json!(i.to_string()));
            json!({"name": "piece", "shape": shape, "x": x, "y": y, "rotation": rotation, "fill": fill, "surface": surface, "opacity": opacity, "wear": {"coats": coats}})
        },
    )
    .boxed()
}

fn document() -> BoxedStrategy<Value> {
    (prop::collection::vec(piece(), 0..4), fill()).prop_map(|(mut pieces, ground)| {
        for (i, piece) in pieces.iter_mut().enumerate() {
            piece["id"] = json!(i.to_string());
            if i == 1 {
                piece["clip_to"] = json!("0");
            }
        }
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

fn in_time<T>(what: &str, work: impl FnOnce() -> T) -> T {
    let start = Instant::now();
    let result = work();
    assert!(start.elapsed() < PATIENCE, "{what} took {:?}", start.elapsed());
    result
}

fn draw(document: &Value) {
    let Ok(project) = Project::from_value(document) else { return };
    let assets = Assets::carried_by(&project);
    assert!(project.assets.iter().all(|asset| assets.get(&asset.id).is_some()));
    let cache = MaskCache::with_capacity(8 << 20);
    let scene = resolve::scene(&project, &project.scenes[0], &assets);
    for scale in [1.0, 0.3] {
        let drawn = picture(&scene, &View::whole(&scene, scale), &Part::default(), Rounding::Nearest, &cache);
        assert_eq!(drawn.rgba.len(), drawn.width as usize * drawn.height as usize * 4);
    }
    for piece in &project.scenes[0].pieces {
        let (resolved, _) = resolve::piece(&project, &project.scenes[0], piece, &assets);
        let _ = piece_code(&resolved, &piece.shape, &PieceStates::default(), Wanted::default());
        assert!(
            report::report(
                &project,
                &project.scenes[0],
                (piece.id.as_str(), None),
                Wanted::default(),
                &assets,
                &cache
            )
            .is_some()
        );
        for coat in project.coats_of(piece) {
            let outline = report::coat_outline(&project, &project.scenes[0], piece, &coat.id, &assets);
            assert!(outline.is_some());
        }
    }
}

/// Primitives that lead to one another in every way.
const FILTER_PART: &str = "(<feGaussianBlur (in='([a-c]|SourceGraphic)' )?stdDeviation='[0-9]{1,4}( [0-9])?' (result='[a-c]')?/>\
|<feMerge result='[a-c]'>(<feMergeNode in='([a-c]|SourceGraphic)'/>){0,4}</feMerge>|<feOffset dx='-?[0-9]{1,6}' dy='[0-9]'/>\
|<feComposite operator='(in|out|atop|over|xor|lighter)' in='[a-c]' in2='(SourceAlpha|[a-c])' (result='[a-c]')?/>\
|<feComposite operator='arithmetic' k1='[01]' k2='-?1' k3='1' in2='SourceAlpha'/>|<feColorMatrix values='0 0 0 0 .3 0 0 0 0 .2 0 0 0 0 1 0 0 0 -?[0-9] [01]'/>\
|<feColorMatrix values='[0-9 .-]{0,30}'/>|<feFlood flood-color='#[0-9a-f]{3}' flood-opacity='.[0-9]' result='[a-c]'/>\
|<feMorphology (operator='dilate' )?radius='[0-9]{1,4}'/>|<feDropShadow dy='[0-9]' stdDeviation='[0-9]' (in='[a-c]')?/>\
|<feComponentTransfer><feFuncA type='(table|discrete)' tableValues='[01 .]{0,8}'/></feComponentTransfer>|<feBlend mode='(multiply|screen|x)' in2='[a-c]'/>|<feTile/>|[<>a-z'=/ ]{0,9})";

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn documents(document in document()) {
        in_time("drawing", || draw(&document));
    }

    #[test]
    fn json(text in "[\\[\\]{}\":,a-z0-9.e-]{0,80}") {
        let _ = in_time("reading", || Project::from_json(&text));
    }

    #[test]
    fn css(text in "(box-shadow|text-shadow|filter)?:?[a-z0-9#(){}:;,./*! \n-]{0,80}") {
        if let Err(error) = in_time("reading", || read(&text)) {
            prop_assert!(error.line >= 1 && error.column >= 1);
        }
    }

    #[test]
    fn svg(parts in prop::collection::vec("(<path d='[MLCAZ0-9 .-]{0,20}'/>|<rect width='[0-9]{1,4}' height='9' stroke='red'/>|<use href='#[a-c]'/>|<g id='[a-c]'>|</g>|[<>a-z'=/ ]{0,9})", 0..8)) {
        let text = format!("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 24 24'>{}</svg>", parts.concat());
        let _ = in_time("reading", || Icon::read(&text));
    }

    #[test]
    fn filters(parts in prop::collection::vec(FILTER_PART, 0..24), linear in any::<bool>()) {
        let space = if linear { "" } else { " color-interpolation-filters='sRGB'" };
        let text = format!("<svg><filter id='f'{space}>{}</filter></svg>", parts.concat());
        if let Ok(read) = in_time("reading", || svg::import(&text)) {
            let mut document = json!({"schema": 1, "name": "f", "themes": [{"id": "t", "name": "T", "scheme": "light"}], "scenes": []});
            read.put_into(&mut document);
            prop_assert!(Project::from_value(&document).is_ok(), "{document}");
        }
    }

    #[test]
    fn style_sheets(text in "([.#:]?[a-c]{1,2}|@media x|:is\\(|\\)|[{}]|box-shadow:|--a:|var\\(--a\\)|0 1px 2px|red|inset|filter:|blur\\(2px\\)|;|,| |/\\*|\\*/|[a-z0-9(){}\"'&>-]{0,6}){0,40}") {
        let read = in_time("reading", || css::import(&text));
        let mut document = json!({"schema": 1, "name": "f", "themes": [{"id": "t", "name": "T", "scheme": "light"}], "scenes": []});
        read.put_into(&mut document);
        prop_assert!(Project::from_value(&document).is_ok(), "{document}");
    }

    #[test]
    fn pictures(head in 0..4_usize, bytes in prop::collection::vec(any::<u8>(), 0..200)) {
        let heads: [&[u8]; 4] = [b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR", b"\xff\xd8\xff\xe0\0\x10JFIF", b"RIFF\xff\0\0\0WEBPVP8 ", b""];
        let file = [heads[head], &bytes].concat();
        let _ = in_time("reading", || Bitmap::decode(&file));
    }
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(16) })]

    /// Whatever is looked over is looked over to its end.
    #[test]
    fn audits(document in document()) {
        if let Ok(project) = Project::from_value(&document) {
            let (limits, cache) = (Limits::default(), MaskCache::default());
            prop_assert!(audit(&project, &document, &Assets::default(), &limits, &cache, &mut |_| true).is_some());
        }
    }
}
