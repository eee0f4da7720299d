//! Colours as CSS text.

use super::Rgba;
use crate::syntax::number_text;

/// A colour as CSS: hex where it is exact, else with every digit it needs.
#[must_use]
pub fn colour_text(colour: Rgba) -> String {
    let channels = [colour.r, colour.g, colour.b].map(|part| part * 255.0);
    if channels.iter().any(|part| (part - part.round()).abs() > 1e-4) {
        let [r, g, b] = [colour.r, colour.g, colour.b];
        let alpha = if colour.a >= 1.0 { String::new() } else { format!(" / {}", colour.a) };
        return format!("color(srgb {r} {g} {b}{alpha})");
    }
    let [r, g, b] = channels.map(|part| part.round() as u8);
    if colour.a >= 1.0 {
        format!("#{r:02x}{g:02x}{b:02x}")
    } else {
        format!("rgb({r} {g} {b} / {})", colour.a)
    }
}

/// A colour without its opacity as renderers of SVG know it that know no more than CSS Color 3.
pub(crate) fn solid_text(colour: Rgba) -> String {
    let solid = colour_text(Rgba { a: 1.0, ..colour });
    if solid.starts_with('#') {
        return solid;
    }
    let parts = [colour.r, colour.g, colour.b].map(|part| (f64::from(part) * 255_000.0).round() / 1000.0);
    format!("rgb({})", parts.map(number_text).join(", "))
}
