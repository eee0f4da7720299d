//! Values cut into the parts that shadows are made of, each with its line and column.
//!
//! cssparser tokenises; numbers are parsed again from the text, as it has them in single precision only.

use cssparser::{Parser, Token};

use super::error::CssError;
use super::sheet::{Declaration, skip_block};

/// One part of a property's value.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Part {
    pub kind: Kind,
    pub line: u32,
    pub column: u32,
}

#[derive(Debug, Clone, PartialEq)]
pub(super) enum Kind {
    /// A word, in lower case.
    Word(String),
    /// A length in px, or a plain number.
    Number {
        value: f64,
        px: bool,
    },
    /// A number with a unit that is not px.
    OtherUnit(String),
    /// A `#…` colour.
    Hash(String),
    /// A function, whole, and its name in lower case.
    Function {
        name: String,
        text: String,
    },
    Comma,
    /// Anything else, as it stands.
    Other(String),
}

impl Part {
    pub fn error(&self, message: impl Into<String>) -> CssError {
        CssError::new(self.line, self.column, message)
    }

    /// The part as it stood, for messages.
    pub fn text(&self) -> String {
        match &self.kind {
            Kind::Word(text) | Kind::OtherUnit(text) | Kind::Hash(text) | Kind::Other(text) => text.clone(),
            Kind::Number { value, px } => format!("{value}{}", if *px { "px" } else { "" }),
            Kind::Function { text, .. } => text.clone(),
            Kind::Comma => ",".to_owned(),
        }
    }
}

impl Declaration {
    /// The parts of the value.
    pub fn parts(&self) -> Vec<Part> {
        parts(&self.value, self.value_at)
    }
}

/// The parts of a value that stands alone, without its property.
pub(super) fn bare_value(css: &str) -> Vec<Part> {
    parts(css.trim_end().trim_end_matches(';'), (1, 1))
}

/// Parts of a value that are read: more than the longest stack of shadows needs.
const MAX_PARTS: usize = 2_000;

/// The parts of a value whose first character is at a line and column, [`MAX_PARTS`] at most. `!important` says nothing
/// about looks and is passed over.
fn parts(value: &str, (first_line, first_column): (u32, u32)) -> Vec<Part> {
    let parser = &mut Parser::new(value);
    let mut parts = Vec::new();
    while parts.len() < MAX_PARTS {
        parser.skip_whitespace();
        let at = parser.current_source_location();
        let start = parser.position();
        let Ok(token) = parser.next().cloned() else { break };
        let kind = match token {
            Token::Comma => Kind::Comma,
            Token::Delim('!') if parser.expect_ident_matching("important").is_ok() => continue,
            Token::Ident(word) => Kind::Word(word.to_ascii_lowercase()),
            Token::Hash(_) | Token::IDHash(_) => Kind::Hash(parser.slice_from(start).to_owned()),
            Token::Number { .. } => number(parser.slice_from(start), ""),
            Token::Dimension { unit, .. } => number(parser.slice_from(start), &unit),
            Token::Function(name) => {
                skip_block(parser);
                let text = parser.slice_from(start).to_owned();
                Kind::Function { name: name.to_ascii_lowercase(), text }
            }
            Token::ParenthesisBlock | Token::SquareBracketBlock | Token::CurlyBracketBlock => {
                skip_block(parser);
                Kind::Other(parser.slice_from(start).to_owned())
            }
            _ => Kind::Other(parser.slice_from(start).to_owned()),
        };
        let column = if at.line == 0 { first_column + at.column - 1 } else { at.column };
        parts.push(Part { kind, line: first_line + at.line, column });
    }
    parts
}

fn number(text: &str, unit: &str) -> Kind {
    let digits = text.get(..text.len() - unit.len()).unwrap_or(text);
    let px = unit.eq_ignore_ascii_case("px");
    match digits.parse::<f64>() {
        Ok(value) if value.is_finite() && (px || unit.is_empty()) => Kind::Number { value, px },
        _ => Kind::OtherUnit(text.to_owned()),
    }
}
