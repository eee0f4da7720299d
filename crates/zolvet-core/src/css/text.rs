//! Values as CSS writes them.

use std::fmt::Write as _;

use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::geometry::RoundedBox;
use crate::resolve::{ColourStop, Frost, Paint};

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

/// The shortest decimal that reads back as the same number.
#[must_use]
pub fn number_text(value: f64) -> String {
    // `+ 0.0` writes a negative zero as 0.
    (value + 0.0).to_string()
}

/// What single precision, sums and trigonometry leave behind is not written: six decimals are kept.
pub(crate) fn tidy(value: f64) -> f64 {
    (value * 1e6).round() / 1e6
}

pub(crate) fn px(value: f64) -> String {
    if value == 0.0 { "0".to_owned() } else { format!("{}px", number_text(value)) }
}

pub(crate) fn mode_text(mode: BlendMode) -> String {
    serde_json::to_value(mode).ok().and_then(|name| name.as_str().map(str::to_owned)).unwrap_or_default()
}

pub(super) fn radii_text(rounded: &RoundedBox) -> Option<String> {
    let radii = rounded.radii;
    if radii.iter().all(|(x, y)| *x == 0.0 && *y == 0.0) {
        return None;
    }
    let list = |parts: [f64; 4]| {
        if parts.iter().all(|part| *part == parts[0]) { px(parts[0]) } else { parts.map(px).join(" ") }
    };
    let (across, down) = (list(radii.map(|(x, _)| x)), list(radii.map(|(_, y)| y)));
    Some(if across == down { across } else { format!("{across} / {down}") })
}

pub(super) fn frost_text(frost: &Frost) -> String {
    let mut text = format!("blur({})", px(frost.sigma));
    for (name, factor) in [("saturate", frost.saturation), ("brightness", frost.brightness)] {
        if factor != 1.0 {
            let _ = write!(text, " {name}({})", number_text(factor));
        }
    }
    text
}

pub(super) fn paint_text(paint: &Paint) -> String {
    match paint {
        Paint::None => "none".to_owned(),
        Paint::Solid(colour) => colour_text(*colour),
        Paint::Linear { angle, stops } => {
            let angle = number_text(angle.rem_euclid(360.0));
            format!("linear-gradient({angle}deg, {})", stops_text(stops))
        }
        Paint::Radial { centre, radius, stops } => format!(
            "radial-gradient(circle {} at {}% {}%, {})",
            px(*radius),
            number_text(centre.0 * 100.0),
            number_text(centre.1 * 100.0),
            stops_text(stops)
        ),
        Paint::Image { .. } => "a picture".to_owned(),
    }
}

fn stops_text(stops: &[ColourStop]) -> String {
    let mut texts: Vec<String> = stops
        .iter()
        .map(|stop| format!("{} {}%", colour_text(stop.colour), number_text(stop.at * 100.0)))
        .collect();
    // A gradient of one colour needs it twice.
    if texts.len() == 1 {
        texts.push(texts[0].clone());
    }
    texts.join(", ")
}

/// A name as a CSS class: small letters, digits and hyphens, never starting with a digit.
#[must_use]
pub fn slug(name: &str) -> String {
    let mut slug = String::new();
    for letter in name.to_lowercase().chars() {
        if letter.is_alphanumeric() {
            slug.push(letter);
        } else if !slug.is_empty() && !slug.ends_with('-') {
            slug.push('-');
        }
    }
    let slug = slug.trim_end_matches('-');
    match slug.chars().next() {
        None => "piece".to_owned(),
        Some(first) if first.is_ascii_digit() => format!("piece-{slug}"),
        Some(_) => slug.to_owned(),
    }
}
