//! Colours as CSS text.

use super::Rgba;
use crate::syntax::number_text;

/// A colour as CSS: hex where it is exact, `rgb()` where tenths are, else with every digit it needs.
#[must_use]
pub fn colour_text(colour: Rgba) -> String {
    let channels = [colour.r, colour.g, colour.b].map(|part| f64::from(part) * 255.0);
    let within =
        |fine: f64| channels.iter().all(|part| (part * fine - (part * fine).round()).abs() < fine * 1e-4);
    let alpha = if colour.a >= 1.0 { String::new() } else { format!(" / {}", colour.a) };
    if within(1.0) && colour.a >= 1.0 {
        let [r, g, b] = channels.map(|part| part.round() as u8);
        return format!("#{r:02x}{g:02x}{b:02x}");
    }
    if within(10.0) && channels.iter().all(|part| (0.0..=255.0).contains(part)) {
        let [r, g, b] = channels.map(|part| number_text((part * 10.0).round() / 10.0));
        return format!("rgb({r} {g} {b}{alpha})");
    }
    format!("color(srgb {} {} {}{alpha})", colour.r, colour.g, colour.b)
}

/// A colour in a style sheet: as [`colour_text`], hex as short as it can be and opacity in percent.
#[must_use]
pub fn css_text(colour: Rgba) -> String {
    let text = colour_text(colour);
    if let Some(hex) = text.strip_prefix('#') {
        let short: String = hex.chars().step_by(2).collect();
        let doubled: String = short.chars().flat_map(|digit| [digit, digit]).collect();
        return if doubled == hex { format!("#{short}") } else { text };
    }
    match text.rsplit_once(" / ") {
        Some((parts, _)) => format!("{parts} / {})", percent(colour.a)),
        None => text,
    }
}

/// A share in percent, where that reads back as the same number.
#[must_use]
pub fn percent(share: f32) -> String {
    let exact: f64 = share.to_string().parse().unwrap_or_default();
    let percent = (exact * 1e10).round() / 1e8;
    if ((percent / 100.0) as f32).to_bits() == share.to_bits() {
        format!("{}%", number_text(percent))
    } else {
        share.to_string()
    }
}

/// A colour without its opacity as every renderer of SVG reads it: some paint `rgb()` with decimals black. It is
/// painted in 8 bits anyway.
pub fn solid_text(colour: Rgba) -> String {
    let [r, g, b] = [colour.r, colour.g, colour.b].map(|part| (part * 255.0).round() as u8);
    format!("#{r:02x}{g:02x}{b:02x}")
}
