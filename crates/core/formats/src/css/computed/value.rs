//! Values with every length in px and every colour written out.

use std::fmt::Write as _;

use cssparser::{Parser, Token};

use super::around::{ValueContext, ValueError};
use super::brackets::{MAX_DEPTH, inside};
use super::system::system_colour;
use super::{colours, maths};
use crate::colour::{Rgba, colour_text};
use crate::syntax::number_text;

/// A value of shadows or filters with every length in px, every number plain, every colour written out. Words and functions
/// that are neither stay as they are.
///
/// # Errors
/// [`ValueError`] at the first part that comes to nothing.
pub(in super::super) fn computed(value: &str, around: &dyn ValueContext) -> Result<String, ValueError> {
    within(value, around, 0)
}

fn within(value: &str, around: &dyn ValueContext, depth: usize) -> Result<String, ValueError> {
    if depth > MAX_DEPTH {
        return Err(ValueError::Construct("functions within more than 32 others".to_owned()));
    }
    let mut parser = Parser::new(value);
    let mut out = String::with_capacity(value.len());
    loop {
        let start = parser.position();
        let Ok(token) = parser.next_including_whitespace().cloned() else { return Ok(out) };
        match token {
            Token::Dimension { unit, .. } => {
                let text = parser.slice_from(start);
                out.push_str(&dimension(text, &unit, around)?);
            }
            // Browsers know no word with a letter that has to be escaped.
            Token::Ident(word) if word.contains(|letter: char| letter.is_ascii() && !is_plain(letter)) => {
                return Err(ValueError::invalid(format!("found {}", parser.slice_from(start))));
            }
            Token::Ident(word) => out.push_str(&self::word(&word, around)?),
            Token::Function(name) => {
                let inside = inside(&mut parser)?;
                out.push_str(&function(&name, &inside, around, depth)?);
            }
            Token::ParenthesisBlock | Token::SquareBracketBlock | Token::CurlyBracketBlock => {
                return Err(ValueError::invalid("brackets without a function"));
            }
            Token::BadString(_) | Token::BadUrl(_) | Token::Semicolon => {
                return Err(ValueError::invalid(format!("found {}", parser.slice_from(start))));
            }
            _ => out.push_str(parser.slice_from(start)),
        }
    }
}

fn is_plain(letter: char) -> bool {
    letter.is_ascii_alphanumeric() || letter == '-' || letter == '_'
}

fn dimension(text: &str, unit: &str, around: &dyn ValueContext) -> Result<String, ValueError> {
    let number = text.get(..text.len() - unit.len()).and_then(|digits| digits.parse::<f64>().ok());
    let number = number.ok_or_else(|| ValueError::invalid(format!("found {text}")))?;
    if unit.eq_ignore_ascii_case("px") {
        return Ok(format!("{}px", number_text(number)));
    }
    match maths::in_px(number, unit, around) {
        Ok(px) => Ok(format!("{}px", number_text(maths::tidy(px)))),
        // Angles, times and resolutions are left to those who know what to do with them.
        Err(ValueError::Invalid(_)) if maths::is_other_unit(unit) => Ok(text.to_owned()),
        Err(trouble) => Err(trouble),
    }
}

fn word(word: &str, around: &dyn ValueContext) -> Result<String, ValueError> {
    let lower = word.to_ascii_lowercase();
    if lower == "currentcolor" {
        let colour = around.current_colour();
        return colour.map(colour_text).ok_or_else(|| ValueError::Construct("currentColor".to_owned()));
    }
    Ok(system_colour(&lower, around.is_dark()).map_or(lower, colour_text))
}

fn function(name: &str, inside: &str, around: &dyn ValueContext, depth: usize) -> Result<String, ValueError> {
    let name = name.to_ascii_lowercase();
    if maths::FUNCTIONS.contains(&name.as_str()) {
        return maths::value(&format!("{name}({inside})"), around);
    }
    if colours::FUNCTIONS.contains(&name.as_str()) {
        let colour = colours::colour(&format!("{name}({inside})"), around)?;
        return Ok(colour_text(colour));
    }
    match name.as_str() {
        "env" | "attr" | "if" | "random" | "sibling-index" | "sibling-count" | "anchor" | "toggle" => {
            Err(ValueError::Construct(format!("{name}()")))
        }
        "var" => Err(ValueError::invalid("a var() that is not closed")),
        own if own.starts_with("--") => {
            Err(ValueError::Construct(format!("{own}(), which @function defines,")))
        }
        _ => {
            let mut text = String::new();
            let _ = write!(text, "{name}({})", within(inside, around, depth + 1)?);
            Ok(text)
        }
    }
}

/// A colour as a browser computes it.
///
/// # Errors
/// [`ValueError`] where it is none.
pub(in super::super) fn colour(text: &str, around: &dyn ValueContext) -> Result<Rgba, ValueError> {
    colours::colour(text, around)
}

#[cfg(test)]
mod tests {
    use super::*;

    struct Somewhere;

    impl ValueContext for Somewhere {
        fn font_size(&self) -> f64 {
            20.0
        }

        fn root_font_size(&self) -> f64 {
            10.0
        }

        fn current_colour(&self) -> Option<Rgba> {
            Some(Rgba::new(1.0, 0.0, 0.0, 1.0))
        }

        fn is_dark(&self) -> bool {
            true
        }
    }

    /// CSS Values 4, "Mathematical Expressions" and "Distance Units".
    #[test]
    fn arithmetic_and_units_come_to_px() {
        for (value, expected) in [
            ("calc(2px + 3px * 2) 0 red", "8px 0 red"),
            ("calc(-10px * sin(30deg)) calc(10px * cos(0deg))", "-5px 10px"),
            ("max(4px, 1px) min(4px, 1px) clamp(2px, 9px, 5px)", "4px 1px 5px"),
            ("calc((1px + 2px) * -2)", "-6px"),
            ("calc(1in / 2) 1pc 3pt", "48px 16px 4px"),
            ("0.5em 2rem 1vw 1vmin", "10px 20px 12.8px 8px"),
            ("calc(1em - 0.5rem)", "15px"),
            ("calc(-1 * -.5rem)", "5px"),
            ("round(down, 7px, 3px) hypot(3px, 4px) calc(1px * pow(2, 3)) mod(-1px, 3px)", "6px 5px 8px 2px"),
            ("drop-shadow(calc(1px + 1px) 0 0 red)", "drop-shadow(2px 0 0 red)"),
            ("0 0 1px canvastext", "0 0 1px #ffffff"),
            ("0 0 1px currentColor", "0 0 1px #ff0000"),
        ] {
            assert_eq!(computed(value, &Somewhere).as_deref(), Ok(expected), "{value}");
        }
        for wrong in ["calc(0 + 1px)", "calc(1px + 2)", "calc(1px * 1px)", "rgba(#000, .5)", "calc(1px+2px)"]
        {
            assert!(matches!(computed(wrong, &Somewhere), Err(ValueError::Invalid(_))), "{wrong}");
        }
    }

    /// CSS Color 5, "Relative Colors", "Mixing Colors" and "light-dark()".
    #[test]
    fn colours_are_made_of_others() {
        for (value, expected) in [
            ("rgb(from #3b2f22 r g b / 0.22)", "rgb(59 47 34 / 0.22)"),
            ("rgb(from rgb(10 20 30 / 0.5) r g b / calc(alpha * 0.5))", "rgb(10 20 30 / 0.25)"),
            ("rgb(from red calc(r - 55) 0 0)", "#c80000"),
            ("color-mix(in srgb, red, white)", "rgb(255 127.5 127.5)"),
            ("color-mix(in srgb, red 25%, transparent)", "rgb(255 0 0 / 0.25)"),
            ("color-mix(in srgb, red 20%, white 20%)", "rgb(255 127.5 127.5 / 0.4)"),
            ("light-dark(red, rgb(0 0 255 / calc(1 / 2)))", "rgb(0 0 255 / 0.5)"),
            ("hsl(from red calc(h + 120) s l)", "#00ff00"),
            ("rgba(0,0,0,.2)", "rgb(0 0 0 / 0.2)"),
            ("rgb(calc(100 + 55) 0 0 / 50%)", "rgb(155 0 0 / 0.5)"),
            ("lightgrey", "lightgrey"),
        ] {
            assert_eq!(computed(value, &Somewhere).as_deref(), Ok(expected), "{value}");
        }
    }
}
