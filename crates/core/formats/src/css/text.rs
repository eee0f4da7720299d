//! Values as CSS writes them.

use kurbo::Point;

use crate::colour::css_text;
use crate::geometry::RoundedBox;
use crate::model::BackdropFunction;
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
    let function = |function| {
        let (name, factor) = match function {
            BackdropFunction::Blur => return Some(format!("blur({})", px(backdrop.sigma))),
            BackdropFunction::Saturation => ("saturate", backdrop.saturation),
            BackdropFunction::Brightness => ("brightness", backdrop.brightness),
        };
        (factor != 1.0).then(|| format!("{name}({})", number_text(factor)))
    };
    backdrop.order.functions().into_iter().filter_map(function).collect::<Vec<_>>().join(" ")
}

/// A fill as the value of a background.
pub fn paint_text(paint: &Paint) -> String {
    match paint {
        Paint::None => "none".to_owned(),
        Paint::Solid(colour) => css_text(*colour),
        Paint::Linear { angle, stops } => {
            let (angle, stops) = (number_text(angle.rem_euclid(360.0)), stops_text(stops));
            format!("linear-gradient({angle}deg{}, {stops})", interpolation(&stops))
        }
        Paint::Radial { centre, radius, stops } => {
            let stops = stops_text(stops);
            format!(
                "radial-gradient({}{}, {stops})",
                circle((*centre).into(), *radius),
                interpolation(&stops)
            )
        }
        Paint::Image { .. } => "a picture".to_owned(),
    }
}

/// The circle of a radial gradient; `centre` in parts of the box, `radius` in px.
pub fn circle(Point { x, y }: Point, radius: f64) -> String {
    format!("circle {} at {}% {}%", px(radius), number_text(x * 100.0), number_text(y * 100.0))
}

/// Where the colours between two stops lie, written only where browsers would not mix in sRGB on their own: one stop that is not in a
/// legacy syntax makes them mix in Oklab (CSS Images 4, section 3.1.1, *color-interpolation-method*). A variable may become one.
pub fn interpolation(stops: &str) -> &'static str {
    let legacy = !["color(", "(from ", "var("].iter().any(|modern| stops.contains(modern));
    if legacy { "" } else { " in srgb" }
}

fn stops_text(stops: &[ColourStop]) -> String {
    let mut texts: Vec<String> = stops
        .iter()
        .map(|stop| format!("{} {}%", css_text(stop.colour.tidied()), number_text(stop.at * 100.0)))
        .collect();
    // A gradient of one colour needs it twice.
    if texts.len() == 1 {
        texts.push(texts[0].clone());
    }
    texts.join(", ")
}
