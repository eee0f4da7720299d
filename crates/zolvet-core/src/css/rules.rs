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

/// A value with every `var()` replaced by what it stands for in the rule or the sheet.
///
/// # Errors
/// The name of a property that is set nowhere and has no fallback, or that leads back to itself.
pub(super) fn substituted(
    value: &str,
    own: &[Raw],
    properties: &BTreeMap<String, String>,
    depth: usize,
) -> Result<String, String> {
    let Some(start) = value.find("var(") else { return Ok(value.to_owned()) };
    let inside = &value[start + 4..];
    let mut open = 1_usize;
    let close = inside.char_indices().find_map(|(at, letter)| {
        match letter {
            '(' => open += 1,
            ')' => open -= 1,
            _ => {}
        }
        (open == 0).then_some(at)
    });
    let close = close.ok_or_else(|| "a var() that is not closed".to_owned())?;
    let (name, fallback) = match inside[..close].split_once(',') {
        Some((name, fallback)) => (name.trim(), Some(fallback.trim().to_owned())),
        None => (inside[..close].trim(), None),
    };
    if depth >= DEEPEST || value.len() > LONGEST {
        return Err(format!("{name} leads back to itself"));
    }
    let here = own.iter().find(|raw| raw.name == name).map(|raw| raw.value.clone());
    let found = here.or_else(|| properties.get(name).cloned()).or(fallback);
    let found = found.ok_or_else(|| format!("{name} is set nowhere"))?;
    let found = substituted(&found, own, properties, depth + 1)?;
    substituted(&format!("{}{found}{}", &value[..start], &inside[close + 1..]), own, properties, depth)
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
