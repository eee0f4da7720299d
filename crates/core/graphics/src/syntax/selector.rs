//! Selectors that are written into sheets as they are.

use cssparser::{ParseError, Parser, Token};

/// Whether a text can stand before a rule's braces as one or more selectors: it neither ends the rule nor begins a comment or
/// another one (CSS Syntax 3, "Qualified rules"). What it selects is not looked at.
#[must_use]
pub fn is_selector(text: &str) -> bool {
    let plain = !text.trim().is_empty() && !text.contains("/*") && !text.chars().any(char::is_control);
    // A bracket or a string that is left open would take in what follows: what is closed with a mark after it shows both.
    let marked = format!("{text}{MARK}");
    plain && holds_no_rule(&mut Parser::new(text)) && ends_in_mark(&marked)
}

/// A character that no selector has.
const MARK: char = ';';

/// Whether the last token outside all brackets and strings is the mark.
fn ends_in_mark(text: &str) -> bool {
    let parser = &mut Parser::new(text);
    let mut last = None;
    while let Ok(token) = parser.next() {
        last = Some(matches!(token, Token::Semicolon));
    }
    last == Some(true)
}

fn holds_no_rule(parser: &mut Parser<'_>) -> bool {
    while let Ok(token) = parser.next().cloned() {
        match token {
            Token::CurlyBracketBlock
            | Token::CloseCurlyBracket
            | Token::CloseParenthesis
            | Token::CloseSquareBracket
            | Token::Semicolon
            | Token::AtKeyword(_)
            | Token::BadString(_)
            | Token::BadUrl(_)
            | Token::CDO
            | Token::CDC => return false,
            // Others mean something to those who read sheets as SCSS.
            Token::Delim(mark) if !".*>+~|=".contains(mark) => return false,
            Token::Function(_) | Token::ParenthesisBlock | Token::SquareBracketBlock => {
                let inner = parser
                    .parse_nested_block(|inner| -> Result<bool, ParseError<()>> { Ok(holds_no_rule(inner)) });
                if inner != Ok(true) {
                    return false;
                }
            }
            _ => {}
        }
    }
    true
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn nothing_ends_the_rule() {
        for right in
            [".dark", "[data-theme=\"dark\"]", "html:not(.light) body", ":where(.a, .b) > *", "#a.b::before"]
        {
            assert!(is_selector(right), "{right}");
        }
        for wrong in [
            "",
            " ",
            "a{}b",
            "a;b",
            "a}",
            "@media x",
            "a /* b",
            "a[b",
            ":is(a",
            "[b=\"c",
            "a\\",
            "a)",
            "a\nb",
            "<!-- a",
            "& a",
            "%a",
            ":is(a{b})",
        ] {
            assert!(!is_selector(wrong), "{wrong}");
        }
    }
}
