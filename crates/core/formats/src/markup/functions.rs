//! Filters as functions of the property `filter` (Filter Effects 1, section 9).

use kurbo::Vec2;

use crate::colour::css_text;
use crate::lower::{Graph, Step};
use crate::syntax::px;

/// A list of filter functions; both take σ itself (Filter Effects 1).
pub fn filter_functions(graph: &Graph, rotation: f64) -> Vec<String> {
    let texts = graph.steps.iter().filter_map(|step| match step {
        Step::DropShadow { dx, dy, sigma, colour, .. } => {
            let (x, y) = turned(Vec2::new(*dx, *dy), rotation);
            Some(format!("drop-shadow({} {} {} {})", px(x), px(y), px(*sigma), css_text(*colour)))
        }
        Step::Blur { sigma, .. } => Some(format!("blur({})", px(*sigma))),
        _ => None,
    });
    texts.collect()
}

/// CSS turns shadows with a rotated element, so their offsets are turned back: to a ten-thousandth of a px, as the
/// decimals would have no end.
pub fn turned(Vec2 { x, y }: Vec2, rotation: f64) -> (f64, f64) {
    if rotation == 0.0 {
        return (x, y);
    }
    let (sin, cos) = crate::maths::sin_cos((-rotation).to_radians());
    let short = |length: f64| (length * 1e4).round() / 1e4;
    (short(x * cos - y * sin), short(x * sin + y * cos))
}
