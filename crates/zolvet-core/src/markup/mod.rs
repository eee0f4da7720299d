//! Pieces of markup that style sheets, pages and SVG files share: elements, paints and filters (SVG 2, Filter Effects 1).

mod element;
mod filter;
mod paint;

pub use element::element;
pub(crate) use element::{blend_style, mixing_attributes};
pub use filter::markup;
pub(crate) use paint::{blur_filter, filled, picture_url, spot_url};

use std::fmt::Write as _;

/// Text with the characters that mean something to XML written out.
pub(crate) fn escaped(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    for letter in text.chars() {
        match letter {
            '<' => result.push_str("&lt;"),
            '>' => result.push_str("&gt;"),
            '&' => result.push_str("&amp;"),
            '"' => result.push_str("&quot;"),
            // Control characters are not allowed in XML, whatever way they are written.
            other if other.is_control() && !matches!(other, '\n' | '\t' | '\r') => {}
            other => result.push(other),
        }
    }
    result
}

/// A transform attribute, with the space before it; nothing for one that changes nothing.
pub(crate) fn transform(affine: kurbo::Affine) -> String {
    if affine == kurbo::Affine::IDENTITY {
        return String::new();
    }
    let numbers = affine.as_coeffs().map(|number| crate::syntax::number_text(tidy(number)));
    let mut text = String::new();
    let _ = match affine.as_coeffs() {
        [1.0, 0.0, 0.0, 1.0, ..] => write!(text, " transform=\"translate({} {})\"", numbers[4], numbers[5]),
        _ => write!(text, " transform=\"matrix({})\"", numbers.join(" ")),
    };
    text
}

/// Path data, to a thousandth of a px.
pub(crate) fn data(path: &kurbo::BezPath) -> String {
    let rounded = kurbo::BezPath::from_vec(path.elements().iter().map(|element| rounded(*element)).collect());
    rounded.to_svg()
}

fn rounded(element: kurbo::PathEl) -> kurbo::PathEl {
    use kurbo::PathEl;
    let at = |point: kurbo::Point| kurbo::Point::new(tidy(point.x), tidy(point.y));
    match element {
        PathEl::MoveTo(a) => PathEl::MoveTo(at(a)),
        PathEl::LineTo(a) => PathEl::LineTo(at(a)),
        PathEl::QuadTo(a, b) => PathEl::QuadTo(at(a), at(b)),
        PathEl::CurveTo(a, b, c) => PathEl::CurveTo(at(a), at(b), at(c)),
        PathEl::ClosePath => PathEl::ClosePath,
    }
}

/// What sums of floats leave behind is not written.
fn tidy(value: f64) -> f64 {
    (value * 1000.0).round() / 1000.0
}
