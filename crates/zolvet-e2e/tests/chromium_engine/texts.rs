//! Text in every shipped family.

use serde_json::json;

use crate::case::{Case, case, piece, shadow, solid};

pub fn texts() -> Vec<Case> {
    let text = |string: &str, font: &str, size: f64, weight: u32| json!({"kind": "text", "string": string, "font": font, "size": size, "weight": weight, "line_height": 1.25});
    let line = |font: &str, size: f64, weight: u32, more: &str, string: &str| {
        format!(
            "<p style=\"left:40px;top:40px;font:{weight} {size}px/1.25 '{font}';white-space:pre;color:#7fa090;{more}\">{string}</p>"
        )
    };
    let of = |shape, coats| json!([piece("p", shape, (40.0, 40.0), solid("#7fa090"), coats)]);
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
