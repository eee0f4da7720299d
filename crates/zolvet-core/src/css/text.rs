//! Values as CSS writes them.

use std::fmt::Write as _;

use crate::colour::css_text;
use crate::geometry::RoundedBox;
use crate::resolve::{Backdrop, ColourStop, Paint};
use crate::syntax::{number_text, px};

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

pub(super) fn backdrop_text(backdrop: &Backdrop) -> String {
    let mut text = format!("blur({})", px(backdrop.sigma));
    for (name, factor) in [("saturate", backdrop.saturation), ("brightness", backdrop.brightness)] {
        if factor != 1.0 {
            let _ = write!(text, " {name}({})", number_text(factor));
        }
    }
    text
}

/// A fill as the value of a background.
pub(crate) fn paint_text(paint: &Paint) -> String {
    match paint {
        Paint::None => "none".to_owned(),
        Paint::Solid(colour) => css_text(*colour),
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
        .map(|stop| format!("{} {}%", css_text(stop.colour), number_text(stop.at * 100.0)))
        .collect();
    // A gradient of one colour needs it twice.
    if texts.len() == 1 {
        texts.push(texts[0].clone());
    }
    texts.join(", ")
}
