//! `filter` and `backdrop-filter` into coats (Filter Effects 1 and 2). Both take σ itself.

use cssparser::{Parser, Token};

use super::error::CssError;
use super::shadows::{Property, shadow_list};
use super::sheet::skip_block;
use crate::model::{
    Backdrop, BackdropFunction, BackdropOrder, Blur, Coat, CoatKind, CssColour, Factor, Id, Opacity,
    OutOfRange, Sigma,
};

/// The coats of a `filter`; `own` is the colour of shadows without one, and `note` receives each approximation.
///
/// # Errors
/// [`CssError`] where a function that says something about depth is not understood.
pub(super) fn filter_list(
    value: &str,
    own: &CssColour,
    note: &mut dyn FnMut(&str),
) -> Result<Vec<Coat>, CssError> {
    let mut coats = Vec::new();
    for (name, inside) in functions(value)? {
        match name.as_str() {
            "drop-shadow" => {
                if coats.iter().any(|coat: &Coat| matches!(coat.kind, CoatKind::Drop(_))) {
                    note(
                        "in a chain each shadow is cast by those before it too: taken as shadows of the piece alone",
                    );
                }
                let mut read = shadow_list(Property::TextShadow, &inside, own)?;
                for coat in &mut read {
                    if let CoatKind::Drop(drop) = &mut coat.kind {
                        let doubled = crate::model::BlurRadius::new(drop.blur.get() * 2.0);
                        drop.blur = doubled.map_err(|error| wrong(error.to_string()).limit(true))?;
                    }
                }
                coats.extend(read);
            }
            "blur" => coats.push(coat("Blur", CoatKind::Blur(Blur { sigma: sigma(&inside)? }))),
            other if OTHERS.contains(&other) => note(&format!("{other}() is not depth: left out")),
            other => return Err(wrong(format!("expected a filter function, found {other}()"))),
        }
    }
    Ok(coats)
}

/// The one coat of a `backdrop-filter`.
///
/// # Errors
/// As [`filter_list`].
pub(super) fn backdrop_filter(value: &str, note: &mut dyn FnMut(&str)) -> Result<Vec<Coat>, CssError> {
    let order = BackdropOrder::default();
    let mut backdrop = Backdrop { sigma: Sigma::default(), saturation: None, brightness: None, order };
    let mut written = Vec::new();
    let functions = functions(value)?;
    if functions.is_empty() {
        return Ok(Vec::new());
    }
    for (name, inside) in functions {
        match name.as_str() {
            "blur" => {
                // Two blurs are one of the sum of their variances.
                let both = crate::maths::hypot(backdrop.sigma.get(), sigma(&inside)?.get());
                backdrop.sigma = limited(Sigma::new(both), both)?;
                written.push(BackdropFunction::Blur);
            }
            "saturate" => {
                backdrop.saturation = Some(times(backdrop.saturation, factor(&inside)?)?);
                written.push(BackdropFunction::Saturation);
            }
            "brightness" => {
                backdrop.brightness = Some(times(backdrop.brightness, factor(&inside)?)?);
                written.push(BackdropFunction::Brightness);
            }
            other if OTHERS.contains(&other) || other == "drop-shadow" => {
                note(&format!("{other}() is not kept behind a pane: left out"));
            }
            other => return Err(wrong(format!("expected a filter function, found {other}()"))),
        }
    }
    backdrop.order = BackdropOrder::from_functions(&written);
    Ok(vec![coat("Backdrop", CoatKind::Backdrop(backdrop))])
}

/// A factor after another.
fn times(before: Option<Factor>, factor: Factor) -> Result<Factor, CssError> {
    let both = before.map_or(1.0, Factor::get) * factor.get();
    limited(Factor::new(both), both)
}

fn limited<T>(value: Result<T, OutOfRange>, number: f64) -> Result<T, CssError> {
    value.map_err(|error| wrong(error.to_string()).limit(number > 0.0))
}

/// Functions that change colours only (Filter Effects 1, section 6).
const OTHERS: [&str; 8] =
    ["brightness", "contrast", "grayscale", "hue-rotate", "invert", "opacity", "saturate", "sepia"];

fn coat(name: &str, kind: CoatKind) -> Coat {
    let (id, opacity, blend) = (Id::numbered("css", 1), Opacity::solid(), Default::default());
    Coat { id, name: name.to_owned(), on: true, opacity, blend, kind }
}

fn wrong(message: impl Into<String>) -> CssError {
    CssError::new(1, 1, message)
}

fn sigma(inside: &str) -> Result<Sigma, CssError> {
    let text = inside.trim();
    if text.is_empty() {
        return Ok(Sigma::default());
    }
    let number = text.strip_suffix("px").or((text == "0").then_some("0"));
    let number = number.and_then(|number| number.parse().ok());
    let number = number.ok_or_else(|| wrong(format!("expected a length in px, found {text}")))?;
    limited(Sigma::new(number), number)
}

/// A number or a percentage; 1 where nothing is written.
fn factor(inside: &str) -> Result<Factor, CssError> {
    let text = inside.trim();
    let number = match (text.is_empty(), text.strip_suffix('%')) {
        (true, _) => Some(1.0),
        (_, Some(percent)) => percent.parse::<f64>().ok().map(|percent| percent / 100.0),
        (_, None) => text.parse().ok(),
    };
    let number = number.ok_or_else(|| wrong(format!("expected a number or percentage, found {text}")))?;
    limited(Factor::new(number), number)
}

/// The functions of a list, each with its arguments.
fn functions(value: &str) -> Result<Vec<(String, String)>, CssError> {
    let mut parser = Parser::new(value);
    let mut found = Vec::new();
    loop {
        match parser.next().cloned() {
            Err(_) => return Ok(found),
            Ok(Token::Ident(word)) if word.eq_ignore_ascii_case("none") => {}
            Ok(Token::Delim('!')) => {
                let _ = parser.expect_ident_matching("important");
            }
            Ok(Token::Function(name)) => {
                let start = parser.position();
                skip_block(&mut parser);
                let inside = parser.slice_from(start).trim_end_matches(')').to_owned();
                let unclosed = inside.matches('(').count().saturating_sub(inside.matches(')').count());
                found.push((name.to_ascii_lowercase(), inside + &")".repeat(unclosed)));
            }
            Ok(Token::UnquotedUrl(_)) => {
                return Err(wrong("url() leads to a filter that is not in this file").limit(true));
            }
            Ok(_) => return Err(wrong("expected filter functions")),
        }
    }
}
