//! Cases: pieces of a document, and HTML that says the same.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};
use zolvet_core::picture::Picture;

/// A case: its name, the document's pieces, and HTML that says the same.
#[derive(Clone)]
pub struct Case {
    pub name: &'static str,
    pub ground: Value,
    pub page: &'static str,
    pub pieces: Value,
    pub html: String,
}

/// Ten points, some of them between pixels.
pub const STAR: &str = "M100 4 L122 70 L192 70 L136 112 L157 180 L100 139.5 L43 180 L64 112 L8 70 L78 70 Z";

pub const MODES: [&str; 16] = [
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

pub fn case(name: &'static str, pieces: Value, html: impl Into<String>) -> Case {
    Case { name, ground: solid("#e8e4da"), page: "#e8e4da", pieces, html: html.into() }
}

/// A case over a gradient, where blending shows.
pub fn blended(name: &'static str, pieces: Value, html: impl Into<String>) -> Case {
    let stops = json!([{"at": 0, "colour": "#d04828"}, {"at": 0.5, "colour": "#e8d848"}, {"at": 1, "colour": "#2848a0"}]);
    let ground = json!({"kind": "linear", "angle": 100, "stops": stops});
    Case { ground, page: "linear-gradient(100deg,#d04828,#e8d848 50%,#2848a0)", ..case(name, pieces, html) }
}

pub fn solid(colour: &str) -> Value {
    json!({"kind": "solid", "colour": colour})
}

pub fn piece(id: &str, shape: Value, (x, y): (f64, f64), fill: Value, coats: Value) -> Value {
    json!({"id": id, "name": id, "shape": shape, "x": x, "y": y, "fill": fill, "wear": {"coats": coats}})
}

pub fn with(mut value: Value, field: &str, to: Value) -> Value {
    value[field] = to;
    value
}

pub fn coat(id: &str, kind: &str, values: Value) -> Value {
    let mut coat = json!({"id": id, "name": id, "on": true, "kind": kind});
    for (name, value) in values.as_object().unwrap() {
        coat[name] = value.clone();
    }
    coat
}

pub fn shadow(id: &str, kind: &str, numbers: [f64; 4], colour: &str) -> Value {
    let [x, y, blur, spread] = numbers;
    coat(id, kind, json!({"offset": {"x": x, "y": y}, "blur": blur, "spread": spread, "colour": colour}))
}

pub fn boxed(w: f64, h: f64, radius: f64) -> Value {
    json!({"kind": "box", "w": w, "h": h, "radii": radius})
}

pub fn star() -> Value {
    json!({"kind": "path", "d": STAR, "viewbox": [0, 0, 200, 190], "w": 200, "h": 190})
}

/// The star's sweep as one path, filled by the non-zero rule: the star at both ends, and between them what each side
/// sweeps, all wound the same way.
pub fn swept_star(dx: f64, dy: f64) -> String {
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

pub fn div(style: &str) -> String {
    format!("<div style=\"{style}\"></div>")
}

pub fn svg(body: &str) -> String {
    format!(
        "<svg width=400 height=300 style=\"position:absolute;left:0;top:0;overflow:visible\">{body}</svg>"
    )
}

/// A leaf with soft edges, half see-through in its middle.
pub fn leaf() -> Picture {
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

pub fn leaf_url() -> String {
    format!("data:image/png;base64,{}", STANDARD.encode(leaf().to_png().unwrap()))
}

pub fn cell(i: usize) -> (f64, f64) {
    (8.0 + (i % 4) as f64 * 98.0, 8.0 + (i / 4) as f64 * 73.0)
}
