//! A style sheet cut into rules with raw declarations, each with its line and column (CSS Syntax 3).

use std::collections::BTreeMap;

use cssparser::{ParseError, Parser, Token};

/// A rule: its selectors and its declarations as they stand.
pub(super) struct Rule {
    pub selectors: Vec<String>,
    pub declarations: Vec<Raw>,
    /// Where rules lie in it (CSS Nesting 1).
    pub nested: Vec<(u32, u32)>,
}

/// A declaration as it stands.
#[derive(Clone)]
pub(super) struct Raw {
    pub name: String,
    pub value: String,
    pub line: u32,
    pub column: u32,
}

/// Every rule of a sheet, those in `@media` and other blocks of rules too. What is no rule is passed over.
pub(super) fn rules(css: &str) -> Vec<Rule> {
    let mut found = Vec::new();
    block(&mut Parser::new(css), &mut found, 0);
    found
}

/// How deep blocks are followed into one another.
const DEEPEST: usize = 16;

fn block(parser: &mut Parser<'_>, found: &mut Vec<Rule>, depth: usize) {
    loop {
        parser.skip_whitespace();
        let start = parser.position();
        let (mut at_rule, mut steps) = (false, false);
        let end = loop {
            let before = parser.position();
            match parser.next() {
                Ok(Token::CurlyBracketBlock) => break Some(before),
                Ok(Token::Semicolon) if at_rule => break None,
                Ok(Token::AtKeyword(name)) if before == start => {
                    // What is in key frames is no selector.
                    (at_rule, steps) = (true, name.to_ascii_lowercase().ends_with("keyframes"));
                }
                Ok(Token::Function(_) | Token::ParenthesisBlock | Token::SquareBracketBlock) => {
                    skip_block(parser)
                }
                Ok(_) => {}
                Err(_) => return,
            }
        };
        let Some(end) = end else { continue };
        let prelude = parser.slice(start..end).trim().to_owned();
        let _ = parser.parse_nested_block(|inner| -> Result<(), ParseError<()>> {
            if at_rule && depth < DEEPEST {
                if !steps {
                    block(inner, found, depth + 1);
                }
            } else {
                let (declarations, nested) = declarations(inner);
                let selectors = split_outside(&prelude).into_iter().map(|one| one.trim().to_owned());
                let selectors = selectors.filter(|one| !one.is_empty()).collect();
                found.push(Rule { selectors, declarations, nested });
            }
            while inner.next().is_ok() {}
            Ok(())
        });
    }
}

fn declarations(parser: &mut Parser<'_>) -> (Vec<Raw>, Vec<(u32, u32)>) {
    let (mut found, mut nested) = (Vec::new(), Vec::new());
    loop {
        parser.skip_whitespace();
        let place = parser.current_source_location();
        let at = (place.line + 1, place.column);
        let name = match parser.next() {
            Err(_) => return (found, nested),
            Ok(Token::Semicolon) => continue,
            Ok(Token::Ident(name)) => Some(name.to_string()),
            Ok(Token::CurlyBracketBlock) => {
                nested.push(at);
                continue;
            }
            Ok(token) => {
                let opens = is_block(token);
                if opens {
                    skip_block(parser);
                }
                None
            }
        };
        let declares =
            |parser: &mut Parser<'_>| parser.try_parse(|parser| parser.expect_colon().map_err(drop)).is_ok();
        let name = name.filter(|_| declares(parser));
        match (name, value(parser)) {
            // What opens a block is a rule, but for the value of a custom property.
            (name, (_, true)) if name.as_ref().is_none_or(|name| !name.starts_with("--")) => nested.push(at),
            (Some(name), (value, _)) => {
                let name = if name.starts_with("--") { name } else { name.to_ascii_lowercase() };
                found.push(Raw { name, value, line: at.0, column: at.1 });
            }
            (None, _) => {}
        }
    }
}

/// What stands up to the next semicolon, and whether a block in braces ended it.
fn value(parser: &mut Parser<'_>) -> (String, bool) {
    let start = parser.position();
    let mut end = start;
    let mut braces = false;
    while !braces {
        match parser.next() {
            Err(_) | Ok(Token::Semicolon) => break,
            Ok(token) => {
                braces = matches!(token, Token::CurlyBracketBlock);
                let opens = is_block(token);
                if opens {
                    skip_block(parser);
                }
            }
        }
        end = parser.position();
    }
    (parser.slice(start..end).trim().to_owned(), braces)
}

fn is_block(token: &Token<'_>) -> bool {
    matches!(
        token,
        Token::Function(_) | Token::ParenthesisBlock | Token::SquareBracketBlock | Token::CurlyBracketBlock
    )
}

/// What is in brackets lies before the parser's place only once it has been read.
fn skip_block(parser: &mut Parser<'_>) {
    let _ = parser.parse_nested_block(|inner| -> Result<(), ParseError<()>> {
        while inner.next().is_ok() {}
        Ok(())
    });
}

/// The custom properties of a sheet (CSS Custom Properties 1): those of the root first, then whatever else sets them.
pub(super) fn properties(rules: &[Rule]) -> BTreeMap<String, String> {
    let mut properties = BTreeMap::new();
    let is_root = |rule: &&Rule| rule.selectors.iter().any(|one| one == ":root" || one == "html");
    let others = rules.iter().filter(|rule| !is_root(rule));
    for rule in rules.iter().filter(is_root).chain(others) {
        for raw in rule.declarations.iter().filter(|raw| raw.name.starts_with("--")) {
            properties.entry(raw.name.clone()).or_insert_with(|| raw.value.clone());
        }
    }
    properties
}

/// The custom properties that the values of one rule are looked up in, and how much may still be looked up.
pub(super) struct Scope<'a> {
    /// Those of the rule itself.
    pub own: &'a BTreeMap<&'a str, &'a str>,
    /// Those of the whole sheet.
    pub sheet: &'a BTreeMap<String, String>,
    /// What is left for the whole sheet, so that no sheet multiplies without end.
    pub room: &'a mut Room,
}

/// Substitutions of `var()` and characters they bring, as far as they are still allowed.
pub(super) struct Room {
    substitutions: usize,
    characters: usize,
}

impl Default for Room {
    fn default() -> Self {
        Self { substitutions: 200_000, characters: 16 << 20 }
    }
}

impl Room {
    fn take(&mut self, characters: usize) -> Result<(), String> {
        let left = self.substitutions.checked_sub(1).zip(self.characters.checked_sub(characters));
        let (substitutions, characters) = left.ok_or_else(|| {
            "expected at most 200000 var() that bring 16 MB in all: the sheet has more".to_owned()
        })?;
        *self = Self { substitutions, characters };
        Ok(())
    }
}

impl Scope<'_> {
    /// A value with every `var()` replaced by what it stands for in the rule or the sheet.
    ///
    /// # Errors
    /// The name of a property that is set nowhere and has no fallback, or that leads back to itself; or what of the sheet
    /// is too much.
    pub fn substituted(&mut self, value: &str) -> Result<String, String> {
        self.within(value, 0)
    }

    /// As [`Self::substituted`], for a value that `depth` other values led to. Only these are stacked: however many
    /// `var()` one value has, they are replaced one after the other.
    fn within(&mut self, value: &str, depth: usize) -> Result<String, String> {
        let (mut result, mut rest) = (String::new(), value);
        while let Some(start) = rest.find("var(") {
            result.push_str(&rest[..start]);
            let inside = &rest[start + 4..];
            let close = closing(inside).ok_or_else(|| "a var() that is not closed".to_owned())?;
            let (name, fallback) = match inside[..close].split_once(',') {
                Some((name, fallback)) => (name.trim(), Some(fallback.trim())),
                None => (inside[..close].trim(), None),
            };
            if depth >= DEEPEST {
                return Err(format!("{name} leads back to itself"));
            }
            let found =
                self.own.get(name).copied().or_else(|| self.sheet.get(name).map(String::as_str)).or(fallback);
            let found = found.ok_or_else(|| format!("{name} is set nowhere"))?.to_owned();
            self.room.take(found.len())?;
            result.push_str(&self.within(&found, depth + 1)?);
            if result.len() > LONGEST {
                return Err(format!("{name} makes it longer than {LONGEST} characters"));
            }
            rest = &inside[close + 1..];
        }
        result.push_str(rest);
        Ok(result)
    }
}

/// Where the bracket that was opened before a text is closed in it.
fn closing(inside: &str) -> Option<usize> {
    let mut open = 1_usize;
    inside.bytes().position(|letter| {
        match letter {
            b'(' => open += 1,
            b')' => open -= 1,
            _ => {}
        }
        open == 0
    })
}

/// Characters a value may grow to.
const LONGEST: usize = 100_000;

/// Cut at commas that lie in no brackets.
pub(super) fn split_outside(value: &str) -> Vec<String> {
    let (mut depth, mut parts) = (0_i32, vec![String::new()]);
    for letter in value.chars() {
        match letter {
            '(' => depth += 1,
            ')' => depth -= 1,
            ',' if depth == 0 => {
                parts.push(String::new());
                continue;
            }
            _ => {}
        }
        if let Some(last) = parts.last_mut() {
            last.push(letter);
        }
    }
    parts
}
