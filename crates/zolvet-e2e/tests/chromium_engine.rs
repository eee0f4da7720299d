//! Every kind of piece and coat against Chromium's picture of the equivalent HTML and SVG (DESIGN §10).
//!
//! The equivalents say in the words of CSS, Filter Effects 1 and 2, Compositing and Blending 1, CSS Images 3 and SVG 2
//! what the document says in its own.

#![allow(clippy::expect_used, clippy::unwrap_used, clippy::panic, missing_docs)]

use std::fmt::Write as _;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};
use zolvet_core::asset::Assets;
use zolvet_core::chromium;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::model::Project;
use zolvet_core::picture::Picture;
use zolvet_core::resolve::Scene;
use zolvet_e2e::{Browser, Difference, Outcome};

const WIDTH: u32 = 400;
const HEIGHT: u32 = 300;

/// A case: its name, the document's pieces, and HTML that says the same.
struct Case {
    name: &'static str,
    ground: Value,
    page: &'static str,
    pieces: Value,
    html: String,
}

fn case(name: &'static str, pieces: Value, html: impl Into<String>) -> Case {
    Case { name, ground: solid("#e8e4da"), page: "#e8e4da", pieces, html: html.into() }
}

/// A case over a gradient, where blending shows.
fn blended(name: &'static str, pieces: Value, html: impl Into<String>) -> Case {
    let stops = json!([{"at": 0, "colour": "#d04828"}, {"at": 0.5, "colour": "#e8d848"}, {"at": 1, "colour": "#2848a0"}]);
    let ground = json!({"kind": "linear", "angle": 100, "stops": stops});
    Case { ground, page: "linear-gradient(100deg,#d04828,#e8d848 50%,#2848a0)", ..case(name, pieces, html) }
}

fn solid(colour: &str) -> Value {
    json!({"kind": "solid", "colour": colour})
}

fn piece(id: &str, shape: Value, x: f64, y: f64, fill: Value, coats: Value) -> Value {
    json!({"id": id, "name": id, "shape": shape, "x": x, "y": y, "fill": fill, "wear": {"coats": coats}})
}

fn with(mut value: Value, field: &str, to: Value) -> Value {
    value[field] = to;
    value
}

fn coat(id: &str, kind: &str, values: Value) -> Value {
    let mut coat = json!({"id": id, "name": id, "on": true, "kind": kind});
    for (name, value) in values.as_object().unwrap() {
        coat[name] = value.clone();
    }
    coat
}

fn shadow(id: &str, kind: &str, numbers: [f64; 4], colour: &str) -> Value {
    let [x, y, blur, spread] = numbers;
    coat(id, kind, json!({"offset": {"x": x, "y": y}, "blur": blur, "spread": spread, "colour": colour}))
}

fn boxed(w: f64, h: f64, radius: f64) -> Value {
    json!({"kind": "box", "w": w, "h": h, "radii": radius})
}

/// Ten points, some of them between pixels.
const STAR: &str = "M100 4 L122 70 L192 70 L136 112 L157 180 L100 139.5 L43 180 L64 112 L8 70 L78 70 Z";

fn star() -> Value {
    json!({"kind": "path", "d": STAR, "viewbox": [0, 0, 200, 190], "w": 200, "h": 190})
}

/// The star's sweep as one path, filled by the non-zero rule: the star at both ends, and between them what each side
/// sweeps, all wound the same way.
fn swept_star(dx: f64, dy: f64) -> String {
    let numbers: Vec<f64> =
        STAR.split(['M', 'L', 'Z', ' ']).filter_map(|number| number.parse().ok()).collect();
    let points: Vec<(f64, f64)> = numbers.chunks(2).map(|at| (at[0], at[1])).collect();
    let far: Vec<_> = points.iter().map(|(x, y)| (x + dx, y + dy)).collect();
    let side = |i: usize| {
        let j = (i + 1) % points.len();
        let turn = (points[j].0 - points[i].0) * dy - (points[j].1 - points[i].1) * dx;
        let mut side = vec![points[i], points[j], far[j], far[i]];
        if turn < 0.0 {
            side.reverse();
        }
        side
    };
    let contours = [points.clone(), far.clone()].into_iter().chain((0..points.len()).map(side));
    let lines = contours.map(|contour| {
        let at: Vec<String> = contour.iter().map(|(x, y)| format!("{x} {y}")).collect();
        format!("M{}Z", at.join(" L"))
    });
    lines.collect()
}

fn div(style: &str) -> String {
    format!("<div style=\"{style}\"></div>")
}

fn svg(body: &str) -> String {
    format!(
        "<svg width=400 height=300 style=\"position:absolute;left:0;top:0;overflow:visible\">{body}</svg>"
    )
}

/// A leaf with soft edges, half see-through in its middle.
fn leaf() -> Picture {
    let (width, height) = (120, 90);
    let mut rgba = Vec::new();
    for y in 0..height {
        for x in 0..width {
            let (u, v) = ((f64::from(x) - 59.5) / 56.0, (f64::from(y) - 44.5) / 40.0);
            let inside = 1.0 - u * u - v.abs() * (1.0 + u * 0.4);
            let alpha = (inside * 12.0).clamp(0.0, 1.0) * if u.abs() < 0.2 { 0.5 } else { 1.0 };
            rgba.extend([(60 + x) as u8, 140, (30 + y) as u8, (alpha * 255.0).round() as u8]);
        }
    }
    Picture { width, height, rgba }
}

fn leaf_url() -> String {
    format!("data:image/png;base64,{}", STANDARD.encode(leaf().to_png().unwrap()))
}

const MODES: [&str; 16] = [
    "normal",
    "multiply",
    "screen",
    "overlay",
    "darken",
    "lighten",
    "color-dodge",
    "color-burn",
    "hard-light",
    "soft-light",
    "difference",
    "exclusion",
    "hue",
    "saturation",
    "color",
    "luminosity",
];

fn cell(i: usize) -> (f64, f64) {
    (8.0 + (i % 4) as f64 * 98.0, 8.0 + (i / 4) as f64 * 73.0)
}

fn pieces_and_silhouettes() -> Vec<Case> {
    let drop = |numbers, colour| json!([shadow("d", "drop", numbers, colour)]);
    let picture = json!({"kind": "picture", "asset": "leaf", "w": 120, "h": 90});
    let scaled = json!({"kind": "picture", "asset": "leaf", "w": 240, "h": 180});
    let part = |id, shape, x, y, fill: &str| piece(id, shape, x, y, solid(fill), json!([]));
    let join = |op| {
        let parts = [
            part("a", boxed(120.0, 70.0, 0.0), 0.0, 40.0, "#c05030"),
            part("b", json!({"kind": "ellipse", "w": 100, "h": 100}), 70.0, 0.0, "#c05030"),
        ];
        json!({"kind": "join", "op": op, "parts": parts})
    };
    let joined = |body: &str| {
        svg(&format!(
            "<g fill=#c05030 transform=\"translate(100,80)\" style=\"filter:drop-shadow(6px 10px 5px rgb(0 0 0/.6))\">{body}</g>"
        ))
    };
    let circle = "M70 50 a50 50 0 1 0 100 0 a50 50 0 1 0 -100 0 Z";
    vec![
        case(
            "ellipse",
            json!([piece("p", json!({"kind": "ellipse", "w": 200, "h": 140}), 90.0, 70.0, solid("#2f7d6b"),
                json!([shadow("i", "inner", [0.0, 8.0, 12.0, 0.0], "rgb(255 255 255/.6)"), shadow("d", "drop", [4.0, 10.0, 24.0, 6.0], "rgb(0 0 0/.5)")]))]),
            div("left:90px;top:70px;width:200px;height:140px;border-radius:50%;background:#2f7d6b;box-shadow:inset 0 8px 12px rgb(255 255 255/.6),4px 10px 24px 6px rgb(0 0 0/.5)"),
        ),
        case(
            "path",
            json!([piece("p", star(), 100.0, 60.0, solid("#c05030"), drop([6.0, 8.0, 8.0, 0.0], "rgb(0 0 0/.6)"))]),
            svg(&format!("<path d=\"{STAR}\" fill=#c05030 transform=\"translate(100,60)\" style=\"filter:drop-shadow(6px 8px 4px rgb(0 0 0/.6))\"/>")),
        ),
        case(
            "path, even-odd and scaled",
            json!([piece("p", json!({"kind": "path", "d": "M0 0 H10 V10 H0 Z M2 2 V8 H8 V2 Z", "viewbox": [0, 0, 10, 10], "w": 180, "h": 120}), 100.0, 80.0, solid("#205080"), drop([0.0, 12.0, 20.0, 0.0], "black"))]),
            svg("<path d=\"M0 0 H10 V10 H0 Z M2 2 V8 H8 V2 Z\" fill=#205080 transform=\"translate(100,80) scale(18,12)\" style=\"filter:drop-shadow(0 .8333px 0 transparent)\"/>")
                .replace("style=\"filter:drop-shadow(0 .8333px 0 transparent)\"", "")
                .replace("overflow:visible", "overflow:visible;filter:drop-shadow(0 12px 10px black)"),
        ),
        case(
            "picture",
            json!([piece("p", picture.clone(), 140.0, 100.0, json!({"kind": "none"}), drop([5.0, 9.0, 6.0, 0.0], "rgb(0 0 0/.7)"))]),
            format!("<img src=\"{}\" style=\"left:140px;top:100px;filter:drop-shadow(5px 9px 3px rgb(0 0 0/.7))\">", leaf_url()),
        ),
        case(
            "picture, twice its size",
            json!([piece("p", scaled, 80.0, 60.0, json!({"kind": "none"}), drop([0.0, 16.0, 24.0, 0.0], "#402010"))]),
            format!("<img src=\"{}\" width=240 height=180 style=\"left:80px;top:60px;filter:drop-shadow(0 16px 12px #402010)\">", leaf_url()),
        ),
        case(
            "a picture that is its own shadow",
            json!([piece(
                "p",
                json!({"kind": "picture", "asset": "leaf", "w": 120, "h": 90}),
                140.0,
                100.0,
                json!({"kind": "none"}),
                json!([coat("d", "drop", json!({"offset": {"x": 8, "y": 22}, "blur": 12, "spread": 0, "colour": {"from": "picture"}}))])
            )]),
            format!(
                "<img src=\"{0}\" style=\"left:148px;top:122px;filter:blur(6px)\"><img src=\"{0}\" style=\"left:140px;top:100px\">",
                leaf_url()
            ),
        ),
        case(
            "join, added",
            json!([piece("p", join("add"), 100.0, 80.0, json!({"kind": "none"}), drop([6.0, 10.0, 10.0, 0.0], "rgb(0 0 0/.6)"))]),
            joined(&format!("<path d=\"M0 40 H120 V110 H0 Z\"/><path d=\"{circle}\"/>")),
        ),
        case(
            "join, excluded",
            json!([piece("p", join("exclude"), 100.0, 80.0, solid("#c05030"), drop([6.0, 10.0, 10.0, 0.0], "rgb(0 0 0/.6)"))]),
            joined(&format!("<path fill-rule=evenodd d=\"M0 40 H120 V110 H0 Z {circle}\"/>")),
        ),
        case(
            "join, subtracted",
            json!([piece("p", join("subtract"), 100.0, 80.0, json!({"kind": "none"}), drop([6.0, 10.0, 10.0, 0.0], "rgb(0 0 0/.6)"))]),
            joined(&format!("<clipPath id=c><path clip-rule=evenodd d=\"M-99 -99 H300 V300 H-99 Z {circle}\"/></clipPath><path d=\"M0 40 H120 V110 H0 Z\" clip-path=\"url(#c)\"/>")),
        ),
        case(
            "join, intersected",
            json!([piece("p", join("intersect"), 100.0, 80.0, json!({"kind": "none"}), drop([6.0, 10.0, 10.0, 0.0], "rgb(0 0 0/.6)"))]),
            joined(&format!("<clipPath id=c><path d=\"{circle}\"/></clipPath><path d=\"M0 40 H120 V110 H0 Z\" clip-path=\"url(#c)\"/>")),
        ),
        case(
            "rotated box, its shadow not turned",
            json!([with(piece("p", boxed(160.0, 90.0, 20.0), 120.0, 100.0, solid("#2f7d6b"), drop([0.0, 14.0, 10.0, 0.0], "rgb(0 0 0/.6)")), "rotation", json!(17))]),
            format!("<section style=\"filter:drop-shadow(0 14px 5px rgb(0 0 0/.6))\">{}</section>", div("left:120px;top:100px;width:160px;height:90px;border-radius:20px;background:#2f7d6b;rotate:17deg")),
        ),
        case(
            "clipped to another piece",
            json!([
                piece("a", boxed(200.0, 120.0, 40.0), 100.0, 90.0, solid("#ffffff"), json!([])),
                with(piece("b", boxed(160.0, 90.0, 0.0), 180.0, 60.0, solid("#2f7d6b"), drop([0.0, 6.0, 16.0, 4.0], "black")), "clip_to", json!("a")),
            ]),
            format!("<div style=\"left:100px;top:90px;width:200px;height:120px;border-radius:40px;background:#fff;overflow:hidden\">{}</div>",
                div("left:80px;top:-30px;width:160px;height:90px;background:#2f7d6b;box-shadow:0 6px 16px 4px black")),
        ),
        case(
            "half see-through with its shadows",
            json!([with(piece("p", boxed(180.0, 110.0, 24.0), 110.0, 90.0, solid("#2f7d6b"), json!([shadow("i", "inner", [0.0, 6.0, 8.0, 0.0], "white"), shadow("d", "drop", [10.0, 14.0, 20.0, 0.0], "black")])), "opacity", json!(0.45))]),
            div("left:110px;top:90px;width:180px;height:110px;border-radius:24px;background:#2f7d6b;box-shadow:inset 0 6px 8px white,10px 14px 20px black;opacity:.45"),
        ),
    ]
}

fn fills() -> Vec<Case> {
    let stops = json!([{"at": 0, "colour": "#f4d35e"}, {"at": 0.35, "colour": "rgb(238 99 82/.7)"}, {"at": 1, "colour": "#083d77"}]);
    let css = "#f4d35e,rgb(238 99 82/.7) 35%,#083d77";
    let of = |fill| json!([piece("p", boxed(300.0, 180.0, 30.0), 50.0, 60.0, fill, json!([]))]);
    let html = |background: &str| {
        div(&format!(
            "left:50px;top:60px;width:300px;height:180px;border-radius:30px;background:{background}"
        ))
    };
    let image = |fit| json!({"kind": "image", "asset": "leaf", "fit": fit});
    let url = leaf_url();
    vec![
        case(
            "linear",
            of(json!({"kind": "linear", "angle": 137, "stops": stops})),
            html(&format!("linear-gradient(137deg,{css})")),
        ),
        case(
            "linear, hard stop",
            of(
                json!({"kind": "linear", "angle": 90, "stops": [{"at": 0.3, "colour": "red"}, {"at": 0.3, "colour": "blue"}]}),
            ),
            html("linear-gradient(90deg,red 30%,blue 30%)"),
        ),
        case(
            "radial",
            of(json!({"kind": "radial", "centre": {"x": 0.3, "y": 0.25}, "radius": 170, "stops": stops})),
            html(&format!("radial-gradient(circle 170px at 30% 25%,{css})")),
        ),
        case("picture, cover", of(image("cover")), html(&format!("url({url}) center/cover"))),
        case("picture, contain", of(image("contain")), html(&format!("url({url}) center/contain no-repeat"))),
        case("picture, tiled", of(image("tile")), html(&format!("url({url}) 0 0"))),
        case("picture, stretched", of(image("stretch")), html(&format!("url({url}) 0 0/100% 100%"))),
    ]
}

fn blending() -> Vec<Case> {
    let fill = "rgb(90 160 210/.8)";
    let pieces: Vec<_> = MODES
        .iter()
        .enumerate()
        .map(|(i, mode)| {
            let (x, y) = cell(i);
            with(piece(mode, boxed(84.0, 60.0, 12.0), x, y, solid(fill), json!([])), "blend", json!(mode))
        })
        .collect();
    let divs: String = MODES.iter().enumerate().map(|(i, mode)| {
        let (x, y) = cell(i);
        div(&format!("left:{x}px;top:{y}px;width:84px;height:60px;border-radius:12px;background:{fill};mix-blend-mode:{mode}"))
    }).collect();
    let tinted: Vec<_> = MODES.iter().enumerate().map(|(i, mode)| {
        let (x, y) = cell(i);
        let gradient = json!({"kind": "linear", "angle": 0, "stops": [{"at": 0, "colour": "#20406080"}, {"at": 1, "colour": "#ffd08090"}]});
        let tint = coat("t", "tint", json!({"fill": gradient, "blend": mode}));
        piece(mode, boxed(84.0, 60.0, 0.0), x, y, solid("#b05a3c"), json!([tint]))
    }).collect();
    let backgrounds: String = MODES.iter().enumerate().map(|(i, mode)| {
        let (x, y) = cell(i);
        div(&format!("left:{x}px;top:{y}px;width:84px;height:60px;background:linear-gradient(0deg,#20406080,#ffd08090),#b05a3c;background-blend-mode:{mode},normal"))
    }).collect();
    let shadows: Vec<_> = MODES
        .iter()
        .enumerate()
        .map(|(i, mode)| {
            let (x, y) = cell(i);
            let coat =
                with(shadow("d", "drop", [3.0, 4.0, 10.0, 0.0], "rgb(60 200 120/.8)"), "blend", json!(mode));
            piece(
                mode,
                boxed(60.0, 40.0, 0.0),
                x + 8.0,
                y + 8.0,
                json!({"kind": "none"}),
                json!([with(coat, "knock_out", json!(false))]),
            )
        })
        .collect();
    let blurred: String = MODES.iter().enumerate().map(|(i, mode)| {
        let (x, y) = cell(i);
        div(&format!("left:{}px;top:{}px;width:60px;height:40px;background:rgb(60 200 120/.8);filter:blur(5px);mix-blend-mode:{mode}", x + 11.0, y + 12.0))
    }).collect();
    vec![
        blended("blend modes of pieces", json!(pieces), divs),
        case("blend modes of tints", json!(tinted), backgrounds),
        blended("blend modes of shadows", json!(shadows), blurred),
    ]
}

fn coats() -> Vec<Case> {
    let stroke = |side, join, width, fill| {
        coat("s", "stroke", json!({"width": width, "side": side, "join": join, "fill": fill}))
    };
    let on_star = |coats| json!([piece("p", star(), 100.0, 60.0, solid("#e0a030"), coats)]);
    let lined = |width: f64, join: &str, order: &str| {
        svg(&format!(
            "<path d=\"{STAR}\" fill=#e0a030 stroke=#203050 stroke-width={width} stroke-linejoin={join} stroke-miterlimit=4 paint-order={order} transform=\"translate(100,60)\"/>"
        ))
    };
    let card = |coats| json!([piece("p", boxed(200.0, 120.0, 24.0), 100.0, 90.0, solid("#2f7d6b"), coats)]);
    let ring = solid("#203050");
    vec![
        case("stroke across, mitred", on_star(json!([stroke("centre", "miter", 10.0, ring.clone())])), lined(10.0, "miter", "normal")),
        case("stroke outside, rounded", on_star(json!([stroke("outside", "round", 9.0, ring.clone())])), lined(18.0, "round", "stroke")),
        case("stroke outside, bevelled", on_star(json!([stroke("outside", "bevel", 9.0, ring.clone())])), lined(18.0, "bevel", "stroke")),
        case(
            "a border and what it casts",
            card(json!([shadow("i", "inner", [0.0, 6.0, 8.0, 0.0], "rgb(0 0 0/.6)"), stroke("outside", "miter", 7.0, ring.clone()), shadow("d", "drop", [0.0, 12.0, 16.0, 2.0], "rgb(0 0 0/.6)")])),
            div("left:93px;top:83px;width:200px;height:120px;border-radius:31px;border:7px solid #203050;background:#2f7d6b;box-shadow:inset 0 6px 8px rgb(0 0 0/.6),0 12px 16px 2px rgb(0 0 0/.6)"),
        ),
        case(
            "a border inside",
            card(json!([shadow("i", "inner", [0.0, 6.0, 8.0, 0.0], "rgb(0 0 0/.6)"), stroke("inside", "miter", 7.0, ring)])),
            div("left:100px;top:90px;width:200px;height:120px;box-sizing:border-box;border-radius:24px;border:7px solid #203050;background:#2f7d6b;box-shadow:inset 0 6px 8px rgb(0 0 0/.6)"),
        ),
        case(
            "tint",
            card(json!([coat("t", "tint", json!({"opacity": 0.5, "fill": {"kind": "linear", "angle": 180, "stops": [{"at": 0, "colour": "white"}, {"at": 1, "colour": "black"}]}}))])),
            div("left:100px;top:90px;width:200px;height:120px;border-radius:24px;background:linear-gradient(180deg,rgb(255 255 255/.5),rgb(0 0 0/.5)),#2f7d6b"),
        ),
        case(
            "blur",
            card(json!([coat("b", "blur", json!({"sigma": 3})), coat("c", "blur", json!({"sigma": 4})), shadow("i", "inner", [0.0, 10.0, 6.0, 0.0], "white")])),
            div("left:100px;top:90px;width:200px;height:120px;border-radius:24px;background:#2f7d6b;box-shadow:inset 0 10px 6px white;filter:blur(5px)"),
        ),
        case(
            "highlight",
            card(json!([coat("h", "highlight", json!({"spot": {"shape": {"kind": "ellipse", "w": 160, "h": 50}, "x": 20, "y": -14}, "fill": {"kind": "linear", "angle": 180, "stops": [{"at": 0, "colour": "white"}, {"at": 1, "colour": "rgb(255 255 255/.3)"}]}, "blur": 16}))])),
            format!("<div style=\"left:100px;top:90px;width:200px;height:120px;border-radius:24px;background:#2f7d6b;overflow:hidden\">{}</div>",
                div("left:20px;top:-14px;width:160px;height:50px;border-radius:50%;background:linear-gradient(180deg,white,rgb(255 255 255/.3));filter:blur(8px)")),
        ),
        blended(
            "backdrop",
            json!([
                piece("a", boxed(60.0, 200.0, 0.0), 120.0, 40.0, solid("#101010"), json!([])),
                piece("b", boxed(30.0, 180.0, 0.0), 230.0, 60.0, solid("#ffffff"), json!([])),
                piece("p", boxed(220.0, 120.0, 28.0), 90.0, 90.0, solid("rgb(255 255 255/.2)"), json!([coat("f", "backdrop", json!({"sigma": 9, "saturation": 1.6, "brightness": 0.9}))])),
            ]),
            [
                div("left:120px;top:40px;width:60px;height:200px;background:#101010"),
                div("left:230px;top:60px;width:30px;height:180px;background:#fff"),
                div("left:90px;top:90px;width:220px;height:120px;border-radius:28px;background:rgb(255 255 255/.2);backdrop-filter:blur(9px) saturate(1.6) brightness(.9)"),
            ].concat(),
        ),
        case(
            "cast, evenly soft",
            json!([piece("p", star(), 100.0, 30.0, solid("#c05030"), json!([coat("c", "cast", json!({"shear": 0.5, "squash": -0.35, "anchor": 1, "blur_near": 6, "blur_far": 6, "colour": "rgb(0 0 0/.6)", "fade": 0}))]))]),
            format!("{}{}",
                svg(&format!("<g style=\"filter:blur(3px)\"><path d=\"{STAR}\" fill=\"rgb(0 0 0/.6)\" transform=\"matrix(1 0 -.5 -.35 110 297) translate(100,30)\"/></g>")),
                svg(&format!("<path d=\"{STAR}\" fill=#c05030 transform=\"translate(100,30)\"/>"))),
        ),
        case(
            "inner shadow of a path, and a falloff",
            json!([piece("p", star(), 100.0, 60.0, solid("#e0a030"), json!([
                shadow("i", "inner", [0.0, 6.0, 10.0, 0.0], "rgb(60 0 0/.8)"),
                with(shadow("d", "drop", [0.0, 14.0, 24.0, 0.0], "#203050"), "falloff", json!({"points": [{"from": 0, "to": 0}, {"from": 0.25, "to": 0.7}, {"from": 0.5, "to": 0.1}, {"from": 0.75, "to": 0.9}, {"from": 1, "to": 1}]})),
            ]))]),
            svg(&format!("<filter id=f x=0 y=0 width=400 height=300 filterUnits=userSpaceOnUse color-interpolation-filters=sRGB>\
                <feGaussianBlur in=SourceAlpha stdDeviation=12 /><feOffset dy=14 /><feComponentTransfer result=s><feFuncA type=table tableValues=\"0 .7 .1 .9 1\"/></feComponentTransfer>\
                <feFlood flood-color=#203050 /><feComposite in2=s operator=in result=d />\
                <feGaussianBlur in=SourceAlpha stdDeviation=5 /><feOffset dy=6 result=hole /><feFlood flood-color=\"rgb(60 0 0)\" flood-opacity=.8 />\
                <feComposite in2=hole operator=out /><feComposite in2=SourceAlpha operator=in result=i />\
                <feMerge><feMergeNode in=d /><feMergeNode in=SourceGraphic /><feMergeNode in=i /></feMerge></filter>\
                <g filter=\"url(#f)\"><path d=\"{STAR}\" fill=#e0a030 transform=\"translate(100,60)\"/></g>")),
        ),
        case(
            "a drop shadow that runs on under a see-through box",
            json!([piece("p", boxed(160.0, 90.0, 0.0), 110.0, 90.0, solid("rgb(255 255 255/.4)"), json!([with(shadow("d", "drop", [8.0, 10.0, 12.0, 0.0], "black"), "knock_out", json!(false))]))]),
            format!("{}{}", div("left:118px;top:100px;width:160px;height:90px;background:black;filter:blur(6px)"), div("left:110px;top:90px;width:160px;height:90px;background:rgb(255 255 255/.4)")),
        ),
        case(
            "thickness",
            json!([piece("p", star(), 80.0, 40.0, solid("#e0a030"), json!([coat("e", "extrude", json!({"offset": {"x": 37, "y": 24}, "near": "#803010", "far": "#803010"}))]))]),
            svg(&format!("<g transform=\"translate(80,40)\"><path d=\"{}\" fill=#803010 /><path d=\"{STAR}\" fill=#e0a030 /></g>", swept_star(37.0, 24.0))),
        ),
        case(
            "a substitute shape",
            json!([piece("p", json!({"kind": "ellipse", "w": 120, "h": 120}), 140.0, 60.0, solid("#c05030"), json!([with(shadow("d", "drop", [0.0, 0.0, 14.0, 0.0], "rgb(0 0 0/.7)"), "substitute", json!({"shape": {"kind": "ellipse", "w": 100, "h": 22}, "x": 10, "y": 112}))]))]),
            format!("{}{}", div("left:150px;top:172px;width:100px;height:22px;border-radius:50%;background:rgb(0 0 0/.7);filter:blur(7px)"), div("left:140px;top:60px;width:120px;height:120px;border-radius:50%;background:#c05030")),
        ),
    ]
}

fn texts() -> Vec<Case> {
    let text = |string: &str, font: &str, size: f64, weight: u32| json!({"kind": "text", "string": string, "font": font, "size": size, "weight": weight, "line_height": 1.25});
    let line = |font: &str, size: f64, weight: u32, more: &str, string: &str| {
        format!(
            "<p style=\"left:40px;top:40px;font:{weight} {size}px/1.25 '{font}';white-space:pre;color:#7fa090;{more}\">{string}</p>"
        )
    };
    let of = |shape, coats| json!([piece("p", shape, 40.0, 40.0, solid("#7fa090"), coats)]);
    let drop = json!([shadow("d", "drop", [4.0, 6.0, 8.0, 0.0], "rgb(0 0 0/.5)")]);
    let css = "text-shadow:4px 6px 8px rgb(0 0 0/.5);";
    let mut lines = text("Ten rows\nof Tall AV\nsage", "Figtree", 40.0, 700);
    (lines["spacing"], lines["align"], lines["width"]) = (json!(3), json!("centre"), json!(320));
    vec![
        case(
            "thin letters",
            of(text("Thin 100", "Outfit", 72.0, 100), drop.clone()),
            line("Outfit", 72.0, 100, css, "Thin 100"),
        ),
        case(
            "heavy letters",
            of(text("Heavy", "Archivo Black", 72.0, 400), drop.clone()),
            line("Archivo Black", 72.0, 400, css, "Heavy"),
        ),
        case(
            "several lines, spaced and centred",
            of(lines, drop),
            line(
                "Figtree",
                40.0,
                700,
                &format!("{css}width:320px;letter-spacing:3px;text-align:center;"),
                "Ten rows\nof Tall AV\nsage",
            ),
        ),
    ]
}

/// The case as our core draws it, and its bare ground.
fn ours(case: &Case) -> (Picture, Picture) {
    let document = json!({
        "schema": 1, "name": "test", "themes": [{"id": "t", "name": "T", "scheme": "light"}],
        "assets": [{"id": "leaf", "name": "Leaf", "media_type": "image/png", "data": STANDARD.encode(leaf().to_png().unwrap())}],
        "scenes": [{"id": "a", "name": "A", "width": WIDTH, "height": HEIGHT, "theme": "t", "ground": case.ground, "pieces": case.pieces}]
    });
    let project =
        Project::from_value(&document).unwrap_or_else(|problems| panic!("{}: {problems:?}", case.name));
    let scene = zolvet_core::resolve::scene(&project, &project.scenes[0], &Assets::carried_by(&project));
    assert_eq!(scene.notes, [], "{}", case.name);
    let draw = |scene: &Scene| {
        let view = Viewport::whole(scene, 1.0);
        let part = RenderOptions { mode: chromium::CSS, ..RenderOptions::default() };
        picture(scene, &view, &part, Rounding::Nearest, &MaskCache::default())
    };
    (draw(&scene), draw(&Scene { pieces: Vec::new(), ..scene.clone() }))
}

fn page() -> String {
    let mut page = "<!doctype html><meta charset=utf-8><style>body{margin:0;overflow:hidden}div,img,p{position:absolute;margin:0}p{text-rendering:geometricPrecision}".to_owned();
    for family in &zolvet_core::geometry::text::FAMILIES {
        for face in family.faces {
            let data = STANDARD.encode(face.data);
            let _ = write!(
                page,
                "@font-face{{font-family:'{}';font-weight:{};src:url(data:font/ttf;base64,{data})}}",
                family.name, face.weight
            );
        }
    }
    page + "</style><body>"
}

async fn compare(cases: Vec<Case>) -> Outcome {
    let browser = Browser::start(WIDTH, HEIGHT).await?;
    browser.show(&page()).await?;
    let mut failures = String::new();
    for (i, case) in cases.iter().enumerate() {
        let put = "const done = arguments[2]; document.body.style.background = arguments[0]; document.body.style.height = '300px';
            document.body.innerHTML = arguments[1];
            Promise.all([...document.images].map((image) => image.decode())).then(() => requestAnimationFrame(() => setTimeout(done, 30)));";
        browser.driver.execute_async(put, vec![json!(case.page), json!(case.html)]).await?;
        let (theirs, (ours, bare)) = (browser.picture().await?, ours(case));
        let difference = Difference::touched(&ours, &theirs, &bare);
        println!(
            "{:.3} {:2} {:3} {:3}  {}",
            difference.mean, difference.p99, difference.p999, difference.worst, case.name
        );
        if !difference.meets_the_bar_but_for_edges() {
            let _ = writeln!(failures, "{difference:?} {}", case.name);
            if let Some(folder) = std::env::var_os("ZOLVET_KEEP_PICTURES") {
                let folder = std::path::PathBuf::from(folder);
                std::fs::write(
                    folder.join(format!("{}-{i}-ours.png", case.name.replace([' ', ','], "-"))),
                    ours.to_png()?,
                )?;
                std::fs::write(
                    folder.join(format!("{}-{i}-theirs.png", case.name.replace([' ', ','], "-"))),
                    theirs.to_png()?,
                )?;
            }
        }
    }
    browser.quit().await?;
    assert!(failures.is_empty(), "further from Chromium than the bar of DESIGN §10:\n{failures}");
    Ok(())
}

#[tokio::test]
async fn pieces_look_as_chromium_draws_them() -> Outcome {
    compare(pieces_and_silhouettes()).await
}

#[tokio::test]
async fn fills_look_as_chromium_draws_them() -> Outcome {
    compare(fills()).await
}

#[tokio::test]
async fn blend_modes_look_as_chromium_draws_them() -> Outcome {
    compare(blending()).await
}

#[tokio::test]
async fn coats_look_as_chromium_draws_them() -> Outcome {
    compare(coats()).await
}

#[tokio::test]
async fn texts_look_as_chromium_draws_them() -> Outcome {
    compare(texts()).await
}
