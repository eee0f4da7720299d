//! Text in every shipped family, and in fonts that a project brings.

use std::path::Path;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::{Value, json};
use zolvet_core::font::{Font, media_type};

use crate::case::{Case, case, piece, shadow, solid};

/// A font that is brought, by the name it is given.
pub struct Brought {
    family: &'static str,
    bytes: Vec<u8>,
}

impl Brought {
    pub fn asset(&self) -> Value {
        let font = Font::read(&self.bytes).unwrap();
        json!({"id": self.family, "name": self.family, "media_type": media_type(&self.bytes), "data": STANDARD.encode(&self.bytes),
            "font": {"family": self.family, "weights": font.weights, "licence": font.licence}})
    }

    /// The font in Chromium, from the same bytes.
    pub fn rule(&self) -> String {
        let [low, high] = Font::read(&self.bytes).unwrap().weights;
        let data = STANDARD.encode(&self.bytes);
        format!(
            "@font-face{{font-family:'{}';font-weight:{low} {high};src:url(data:font/any;base64,{data})}}",
            self.family
        )
    }
}

/// OpenType with cubic curves, and a variable font packed as WOFF 2.
pub fn brought() -> [Brought; 2] {
    let mono = "../../web/node_modules/@fontsource-variable/spline-sans-mono/files/spline-sans-mono-latin-wght-normal.woff2";
    let mono = std::fs::read(Path::new(env!("CARGO_MANIFEST_DIR")).join(mono)).unwrap();
    let letters = include_bytes!("../../../zolvet-core/tests/rendering/letters/test-letters.otf").to_vec();
    [Brought { family: "Brought Letters", bytes: letters }, Brought { family: "Brought Mono", bytes: mono }]
}

/// Both fonts at the sizes the bar is for.
pub fn in_brought_fonts() -> Vec<Case> {
    let mut cases = Vec::new();
    let texts = [
        ("Brought Mono", 300, "0x2f7d6b"),
        ("Brought Mono", 550, "let sun = 12"),
        ("Brought Letters", 600, "Curved letters"),
        ("Brought Letters", 600, "Cursed reeds"),
    ];
    for (family, weight, string) in texts {
        for (name, size) in [("24 px", 24.0), ("32 px", 32.0), ("48.5 px", 48.5)] {
            let shape = json!({"kind": "text", "string": string, "font": family, "size": size, "weight": weight, "line_height": 1.25});
            let drop = json!([shadow("d", "drop", [4.0, 6.0, 8.0, 0.0], "rgb(0 0 0/.5)")]);
            let html = format!(
                "<p style=\"left:24px;top:40px;font:{weight} {size}px/1.25 '{family}';white-space:pre;color:#7fa090;text-shadow:4px 6px 8px rgb(0 0 0/.5)\">{string}</p>"
            );
            cases.push(case(name, json!([piece("p", shape, (24.0, 40.0), solid("#7fa090"), drop)]), html));
        }
    }
    cases
}

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
            "letters with cubic curves",
            of(text("Curved letters", "Brought Letters", 40.0, 600), drop.clone()),
            line("Brought Letters", 40.0, 600, css, "Curved letters"),
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
