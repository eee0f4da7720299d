//! Arithmetic in values (CSS Values 4, sections 6 and 10).

use cssparser::{ParseError, Parser, Token};

use super::around::{ValueContext, ValueError};
use crate::syntax::number_text;

/// Functions that come to a number.
pub(super) const FUNCTIONS: [&str; 22] = [
    "calc",
    "-webkit-calc",
    "min",
    "max",
    "clamp",
    "round",
    "mod",
    "rem",
    "sin",
    "cos",
    "tan",
    "asin",
    "acos",
    "atan",
    "atan2",
    "pow",
    "sqrt",
    "hypot",
    "log",
    "exp",
    "abs",
    "sign",
];

/// The unit of a number.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Unit {
    None,
    Px,
    /// In radians.
    Angle,
    /// In seconds.
    Time,
    Percent,
}

/// A number with its unit.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Quantity {
    pub number: f64,
    pub unit: Unit,
}

/// A mathematical function as a plain value.
pub(super) fn value(text: &str, around: &dyn ValueContext) -> Result<String, ValueError> {
    let Quantity { number, unit } = quantity(text, around, &[])?;
    if !number.is_finite() && unit == Unit::None {
        return Err(ValueError::Construct("a calculation without a finite result".to_owned()));
    }
    // Infinite lengths come to as much as can be said.
    let number = tidy(number.clamp(-3.3e7, 3.3e7));
    Ok(match unit {
        Unit::None => number_text(number),
        Unit::Px => format!("{}px", number_text(number)),
        Unit::Angle => format!("{}deg", number_text(tidy(number.to_degrees()))),
        Unit::Time => format!("{}s", number_text(number)),
        Unit::Percent => format!("{}%", number_text(number)),
    })
}

/// An expression as a number; names of `known` stand for theirs.
pub(super) fn quantity(
    text: &str,
    around: &dyn ValueContext,
    known: &[(&str, f64)],
) -> Result<Quantity, ValueError> {
    let mut reader = Reader { around, known, trouble: None, depth: 0 };
    let mut parser = Parser::new(text);
    let found = reader.term(&mut parser).filter(|_| parser.is_exhausted());
    found.ok_or_else(|| {
        reader.trouble.unwrap_or_else(|| ValueError::invalid(format!("not a calculation: {text}")))
    })
}

/// A length that stands alone, in px: also a plain 0, or the result of a calculation.
pub(in super::super) fn length_in(text: &str, around: &dyn ValueContext) -> Option<f64> {
    let found = quantity(text.trim(), around, &[]).ok()?;
    match found.unit {
        Unit::Px => Some(found.number),
        Unit::None if found.number == 0.0 => Some(0.0),
        _ => None,
    }
}

/// Without the last digits that sines leave behind.
pub(super) fn tidy(number: f64) -> f64 {
    (number * 1e9).round() / 1e9 + 0.0
}

/// A length in px.
pub(super) fn in_px(number: f64, unit: &str, around: &dyn ValueContext) -> Result<f64, ValueError> {
    let unit = unit.to_ascii_lowercase();
    let (width, height) = around.viewport();
    let viewport = unit.trim_start_matches(['s', 'l', 'd']);
    let factor = match unit.as_str() {
        "px" => 1.0,
        "in" => 96.0,
        "cm" => 96.0 / 2.54,
        "mm" => 9.6 / 2.54,
        "q" => 2.4 / 2.54,
        "pt" => 96.0 / 72.0,
        "pc" => 16.0,
        "em" => around.font_size(),
        "rem" => around.root_font_size(),
        // Where no font is known (CSS Values 4, section 6.1.1).
        "ex" | "ch" => around.font_size() / 2.0,
        "ic" => around.font_size(),
        _ => match viewport {
            "vw" | "vi" => width / 100.0,
            "vh" | "vb" => height / 100.0,
            "vmin" => width.min(height) / 100.0,
            "vmax" => width.max(height) / 100.0,
            _ => return Err(other_length(&unit)),
        },
    };
    Ok(number * factor)
}

fn other_length(unit: &str) -> ValueError {
    const LENGTHS: [&str; 13] =
        ["lh", "rlh", "rex", "rch", "ric", "cap", "rcap", "cqw", "cqh", "cqi", "cqb", "cqmin", "cqmax"];
    if LENGTHS.contains(&unit) {
        ValueError::Construct(format!("the unit {unit}"))
    } else {
        ValueError::invalid(format!("expected a length, found the unit {unit}"))
    }
}

/// Units of something else than lengths.
pub(super) fn is_other_unit(unit: &str) -> bool {
    let known = ["deg", "grad", "turn", "rad", "s", "ms", "dppx", "dpi", "dpcm", "x", "fr"];
    known.iter().any(|known| unit.eq_ignore_ascii_case(known))
}

/// Calculations within calculations.
const MAX_DEPTH: usize = 32;

/// Reads an expression from left to right. `None` is that it is not understood; the first reason is kept.
struct Reader<'a> {
    around: &'a dyn ValueContext,
    known: &'a [(&'a str, f64)],
    trouble: Option<ValueError>,
    depth: usize,
}

impl Reader<'_> {
    fn sum(&mut self, parser: &mut Parser<'_>) -> Option<Quantity> {
        let mut left = self.product(parser)?;
        loop {
            let before = parser.state();
            let spaced = matches!(parser.next_including_whitespace(), Ok(Token::WhiteSpace(_)));
            let sign = match parser.next() {
                Ok(Token::Delim('+')) if spaced => 1.0,
                Ok(Token::Delim('-')) if spaced => -1.0,
                _ => {
                    parser.reset(&before);
                    return Some(left);
                }
            };
            // CSS Values 4, section 10.1: white space is required on both sides.
            if !matches!(parser.next_including_whitespace(), Ok(Token::WhiteSpace(_))) {
                return None;
            }
            let right = self.product(parser)?;
            if left.unit != right.unit {
                return None;
            }
            left.number += sign * right.number;
        }
    }

    fn product(&mut self, parser: &mut Parser<'_>) -> Option<Quantity> {
        let mut left = self.term(parser)?;
        loop {
            let before = parser.state();
            let divides = match parser.next() {
                Ok(Token::Delim('*')) => false,
                Ok(Token::Delim('/')) => true,
                _ => {
                    parser.reset(&before);
                    return Some(left);
                }
            };
            let right = self.term(parser)?;
            let unit = match (left.unit, right.unit) {
                (unit, Unit::None) => unit,
                (Unit::None, unit) if !divides => unit,
                (one, other) if divides && one == other => Unit::None,
                _ => return None,
            };
            let number = if divides { left.number / right.number } else { left.number * right.number };
            left = Quantity { number, unit };
        }
    }

    /// A number, a name, or text in brackets.
    fn term(&mut self, parser: &mut Parser<'_>) -> Option<Quantity> {
        parser.skip_whitespace();
        let start = parser.position();
        let token = parser.next().ok()?.clone();
        let text = parser.slice_from(start);
        match token {
            Token::Number { .. } => Some(Quantity { number: text.parse().ok()?, unit: Unit::None }),
            Token::Percentage { .. } => {
                let number: f64 = text.strip_suffix('%')?.parse().ok()?;
                Some(match self.around.whole() {
                    Some(whole) => Quantity { number: whole * number / 100.0, unit: Unit::Px },
                    None => Quantity { number, unit: Unit::Percent },
                })
            }
            Token::Dimension { unit, .. } => {
                self.dimension(text.get(..text.len() - unit.len())?.parse().ok()?, &unit)
            }
            Token::Ident(name) => self.named(&name),
            Token::ParenthesisBlock => self.arguments("calc", parser),
            Token::Function(name) => self.arguments(&name.to_ascii_lowercase(), parser),
            _ => None,
        }
    }

    fn dimension(&mut self, number: f64, unit: &str) -> Option<Quantity> {
        use std::f64::consts::{PI, TAU};
        let (factor, kind) = match unit.to_ascii_lowercase().as_str() {
            "deg" => (PI / 180.0, Unit::Angle),
            "grad" => (PI / 200.0, Unit::Angle),
            "turn" => (TAU, Unit::Angle),
            "rad" => (1.0, Unit::Angle),
            "s" => (1.0, Unit::Time),
            "ms" => (0.001, Unit::Time),
            _ => {
                return match in_px(number, unit, self.around) {
                    Ok(number) => Some(Quantity { number, unit: Unit::Px }),
                    Err(trouble) => {
                        self.trouble.get_or_insert(trouble);
                        None
                    }
                };
            }
        };
        Some(Quantity { number: number * factor, unit: kind })
    }

    fn named(&self, name: &str) -> Option<Quantity> {
        let known =
            self.known.iter().find(|(known, _)| known.eq_ignore_ascii_case(name)).map(|(_, number)| *number);
        let number = known.or_else(|| match name.to_ascii_lowercase().as_str() {
            "pi" => Some(std::f64::consts::PI),
            "e" => Some(std::f64::consts::E),
            "infinity" => Some(f64::INFINITY),
            "-infinity" => Some(f64::NEG_INFINITY),
            "none" if !self.known.is_empty() => Some(0.0),
            _ => None,
        })?;
        Some(Quantity { number, unit: Unit::None })
    }

    /// The arguments in the brackets that have just been opened, and the function's result for them.
    fn arguments(&mut self, name: &str, parser: &mut Parser<'_>) -> Option<Quantity> {
        self.depth += 1;
        if self.depth > MAX_DEPTH {
            self.trouble
                .get_or_insert(ValueError::Construct("calculations within more than 32 others".to_owned()));
            return None;
        }
        let found = parser.parse_nested_block(|inner| -> Result<_, ParseError<()>> {
            self.list(name, inner).ok_or_else(ParseError::unexpected_token)
        });
        self.depth -= 1;
        found.ok()
    }

    fn list(&mut self, name: &str, parser: &mut Parser<'_>) -> Option<Quantity> {
        let strategy = if name == "round" { strategy(parser) } else { "nearest" };
        let mut found = vec![self.sum(parser)?];
        while parser.try_parse(|inner| inner.expect_comma()).is_ok() {
            found.push(self.sum(parser)?);
        }
        parser.is_exhausted().then(|| function(name, strategy, &found))?
    }
}

/// The first argument of `round()`, where it says how.
fn strategy(parser: &mut Parser<'_>) -> &'static str {
    let named = parser.try_parse(|inner| -> Result<&'static str, ParseError<()>> {
        let word = inner.expect_ident().map_err(|_| ParseError::unexpected_token())?.to_ascii_lowercase();
        let known = ["nearest", "up", "down", "to-zero"].into_iter().find(|one| *one == word);
        inner.expect_comma().map_err(|_| ParseError::unexpected_token())?;
        known.ok_or_else(ParseError::unexpected_token)
    });
    named.unwrap_or("nearest")
}

fn function(name: &str, strategy: &str, arguments: &[Quantity]) -> Option<Quantity> {
    let [first, others @ ..] = arguments else { return None };
    let same = others.iter().all(|other| other.unit == first.unit);
    let of = |number: f64, unit: Unit| Some(Quantity { number, unit });
    let numbers = || arguments.iter().map(|one| one.number);
    let plain = first.unit == Unit::None && same;
    let turned = matches!(first.unit, Unit::None | Unit::Angle);
    match (name, arguments) {
        ("calc" | "-webkit-calc", [one]) => Some(*one),
        ("min", _) if same => of(numbers().fold(f64::INFINITY, f64::min), first.unit),
        ("max", _) if same => of(numbers().fold(f64::NEG_INFINITY, f64::max), first.unit),
        // CSS Values 4, section 10.2: clamp(MIN, VAL, MAX) is max(MIN, min(VAL, MAX)).
        ("clamp", [low, value, high]) if same => {
            of(low.number.max(value.number.min(high.number)), first.unit)
        }
        ("round", [value]) if plain => of(rounded(value.number, 1.0, strategy), Unit::None),
        ("round", [value, step]) if same => of(rounded(value.number, step.number, strategy), first.unit),
        ("mod", [a, b]) if same => of(a.number - b.number * (a.number / b.number).floor(), first.unit),
        ("rem", [a, b]) if same => of(a.number % b.number, first.unit),
        ("abs", [one]) => of(one.number.abs(), one.unit),
        ("sign", [one]) => of(if one.number == 0.0 { 0.0 } else { one.number.signum() }, Unit::None),
        ("hypot", _) if same => of(numbers().map(|one| one * one).sum::<f64>().sqrt(), first.unit),
        ("sqrt", [one]) if plain => of(one.number.sqrt(), Unit::None),
        ("exp", [one]) if plain => of(crate::maths::exp(one.number), Unit::None),
        ("pow", [base, power]) if plain => of(crate::maths::powf(base.number, power.number), Unit::None),
        ("log", [one]) if plain => of(crate::maths::ln(one.number), Unit::None),
        ("log", [one, base]) if plain => {
            of(crate::maths::ln(one.number) / crate::maths::ln(base.number), Unit::None)
        }
        ("sin", [one]) if turned => of(crate::maths::sin(one.number), Unit::None),
        ("cos", [one]) if turned => of(crate::maths::cos(one.number), Unit::None),
        ("tan", [one]) if turned => of(crate::maths::tan(one.number), Unit::None),
        ("asin", [one]) if plain => of(crate::maths::asin(one.number), Unit::Angle),
        ("acos", [one]) if plain => of(crate::maths::acos(one.number), Unit::Angle),
        ("atan", [one]) if plain => of(crate::maths::atan(one.number), Unit::Angle),
        ("atan2", [y, x]) if same => of(crate::maths::atan2(y.number, x.number), Unit::Angle),
        _ => None,
    }
}

/// To a multiple of a step (CSS Values 4, section 10.3).
fn rounded(number: f64, step: f64, strategy: &str) -> f64 {
    let times = number / step;
    step * match strategy {
        "up" => times.ceil(),
        "down" => times.floor(),
        "to-zero" => times.trunc(),
        // Halves go up.
        _ => (times + 0.5).floor(),
    }
}
