//! Pieces of markup that style sheets, pages and SVG files share: elements, paints and filters (SVG 2, Filter Effects 1).

mod element;
mod filter;
mod functions;
mod paint;

pub use element::element;
pub(crate) use element::{blend_style, mixing_attributes};
pub use filter::{markup, markup_in};
pub(crate) use functions::{filter_functions, turned};
pub(crate) use paint::{blur_filter, filled, highlight_url, own_picture_url, svg_url};

use std::fmt::Write as _;

use crate::syntax::{number_text, path_text, round_to};

/// Text with the characters that mean something to XML written out.
pub fn escaped(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    for letter in text.chars() {
        match letter {
            '<' => result.push_str("&lt;"),
            '>' => result.push_str("&gt;"),
            '&' => result.push_str("&amp;"),
            '"' => result.push_str("&quot;"),
            // Control characters and these two are not allowed in XML (1.0, section 2.2), whatever way they are written.
            other if other.is_control() && !matches!(other, '\n' | '\t' | '\r') => {}
            '\u{fffe}' | '\u{ffff}' => {}
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
    let numbers = affine.as_coeffs().map(|number| number_text(round_to(number, DECIMALS)));
    let mut text = String::new();
    let _ = match affine.as_coeffs() {
        [1.0, 0.0, 0.0, 1.0, ..] => write!(text, " transform=\"translate({} {})\"", numbers[4], numbers[5]),
        _ => write!(text, " transform=\"matrix({})\"", numbers.join(" ")),
    };
    text
}

/// Decimals of coordinates in SVG files: a thousandth of a px.
const DECIMALS: i32 = 3;

/// Path data, to a thousandth of a px.
pub fn data(path: &kurbo::BezPath) -> String {
    path_text(path, DECIMALS)
}
