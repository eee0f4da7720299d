//! CSS text cut into what shadows are made of, each with its line and column.
//!
//! cssparser tells tokens apart; numbers are read again from the text, as it keeps them in single precision only.

use cssparser::{ParseError, Parser, SourcePosition, Token};

use super::error::CssError;

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

/// One declaration: a property and the parts of its value.
pub(super) struct Declaration {
    pub name: String,
    pub line: u32,
    pub column: u32,
    pub parts: Vec<Part>,
}

impl Part {
    pub fn error(&self, message: impl Into<String>) -> CssError {
        CssError { line: self.line, column: self.column, message: message.into() }
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

/// Every declaration of the text: bare, or inside the blocks of rules.
pub(super) fn declarations(css: &str) -> Result<Vec<Declaration>, CssError> {
    let mut parser = Parser::new(css);
    let mut found = Vec::new();
    if has_block(css) {
        while !parser.is_exhausted() {
            if matches!(parser.next(), Ok(Token::CurlyBracketBlock)) {
                nested(&mut parser, |inner| block(inner, &mut found))?;
            }
        }
    } else {
        block(&mut parser, &mut found)?;
    }
    Ok(found)
}

/// The parts of a value that stands alone, without its property.
pub(super) fn bare_value(css: &str) -> Result<Vec<Part>, CssError> {
    value(&mut Parser::new(css.trim_end().trim_end_matches(';')))
}

/// Whether the text names a property at all.
pub(super) fn names_property(css: &str) -> bool {
    let mut parser = Parser::new(css);
    let mut colon = false;
    while let Ok(token) = parser.next() {
        colon |= matches!(token, Token::Colon | Token::CurlyBracketBlock);
    }
    colon
}

fn has_block(css: &str) -> bool {
    let mut parser = Parser::new(css);
    while let Ok(token) = parser.next() {
        if matches!(token, Token::CurlyBracketBlock) {
            return true;
        }
    }
    false
}

fn block(parser: &mut Parser<'_>, found: &mut Vec<Declaration>) -> Result<(), CssError> {
    loop {
        parser.skip_whitespace();
        let (line, column) = place(parser);
        let name = match parser.next() {
            Err(_) => return Ok(()),
            Ok(Token::Semicolon) => continue,
            Ok(Token::Ident(name)) => name.to_ascii_lowercase(),
            Ok(other) => {
                let message = format!("expected a property, found {}", spelled(other));
                return Err(CssError { line, column, message });
            }
        };
        if parser.expect_colon().is_err() {
            let message = format!("expected a colon after {name}");
            return Err(CssError { line, column, message });
        }
        let parts = value(parser)?;
        found.push(Declaration { name, line, column, parts });
    }
}

/// Parts of a value that are read: many more than as many shadows as a stack holds have.
const MOST_PARTS: usize = 2_000;

/// The parts up to a semicolon or the end, [`MOST_PARTS`] at most. `!important` says nothing about looks and is passed
/// over.
fn value(parser: &mut Parser<'_>) -> Result<Vec<Part>, CssError> {
    let mut parts = Vec::new();
    loop {
        parser.skip_whitespace();
        let (line, column) = place(parser);
        let start = parser.position();
        let Ok(token) = parser.next().cloned() else {
            return Ok(parts);
        };
        let kind = match token {
            Token::Semicolon => return Ok(parts),
            Token::Comma => Kind::Comma,
            Token::Delim('!') if parser.expect_ident_matching("important").is_ok() => continue,
            Token::Ident(word) => Kind::Word(word.to_ascii_lowercase()),
            Token::Hash(_) | Token::IDHash(_) => Kind::Hash(since(parser, start)),
            Token::Number { .. } => number(&since(parser, start), ""),
            Token::Dimension { unit, .. } => number(&since(parser, start), &unit),
            Token::Function(name) => {
                nested(parser, skip)?;
                let text = since(parser, start);
                Kind::Function { name: name.to_ascii_lowercase(), text }
            }
            Token::ParenthesisBlock | Token::SquareBracketBlock | Token::CurlyBracketBlock => {
                nested(parser, skip)?;
                Kind::Other(since(parser, start))
            }
            _ => Kind::Other(since(parser, start)),
        };
        parts.push(Part { kind, line, column });
        if parts.len() == MOST_PARTS {
            while parser.next().is_ok_and(|token| *token != Token::Semicolon) {}
            return Ok(parts);
        }
    }
}

fn number(text: &str, unit: &str) -> Kind {
    let digits = text.get(..text.len() - unit.len()).unwrap_or(text);
    let px = unit.eq_ignore_ascii_case("px");
    match digits.parse::<f64>() {
        Ok(value) if value.is_finite() && (px || unit.is_empty()) => Kind::Number { value, px },
        _ => Kind::OtherUnit(text.to_owned()),
    }
}

fn skip(parser: &mut Parser<'_>) -> Result<(), CssError> {
    while parser.next().is_ok() {}
    Ok(())
}

/// Reads a nested block, keeping the error's own place.
fn nested<'i>(
    parser: &mut Parser<'i>,
    read: impl FnOnce(&mut Parser<'i>) -> Result<(), CssError>,
) -> Result<(), CssError> {
    let (line, column) = place(parser);
    let mut problem = None;
    let result = parser.parse_nested_block(|inner| -> Result<(), ParseError<()>> {
        problem = read(inner).err();
        Ok(())
    });
    match (problem, result) {
        (Some(problem), _) => Err(problem),
        (None, Ok(())) => Ok(()),
        (None, Err(_)) => Err(CssError { line, column, message: "expected fewer nested blocks".to_owned() }),
    }
}

fn since(parser: &Parser<'_>, start: SourcePosition) -> String {
    parser.slice_from(start).to_owned()
}

fn place(parser: &Parser<'_>) -> (u32, u32) {
    let location = parser.current_source_location();
    (location.line + 1, location.column)
}

fn spelled(token: &Token<'_>) -> String {
    use cssparser::ToCss;
    token.to_css_string()
}
