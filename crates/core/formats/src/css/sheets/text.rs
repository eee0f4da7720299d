//! Pieces of the text of a style sheet.

use cssparser::{ParseError, Parser, Token};

/// The text of a value. With a block in braces it is a rule such as `a:hover { … }`, unless any value is allowed.
pub(super) fn declared<'i>(name: &str, input: &mut Parser<'i>) -> Result<&'i str, ParseError<()>> {
    let start = input.position();
    while let Ok(token) = input.next() {
        if !name.starts_with("--") && matches!(token, Token::CurlyBracketBlock) {
            return Err(ParseError::unexpected_token());
        }
    }
    Ok(input.slice_from(start).trim())
}

/// A value without `!important`, and whether that was there.
pub(super) fn without_importance(value: &str) -> (String, bool) {
    let plain = value.trim();
    let stripped = plain.rsplit_once('!').filter(|(_, word)| word.trim().eq_ignore_ascii_case("important"));
    stripped.map_or_else(|| (plain.to_owned(), false), |(value, _)| (value.trim_end().to_owned(), true))
}

/// A text with a space for each comment; strings are left as they are.
pub(super) fn without_comments(text: &str) -> String {
    if !text.contains("/*") {
        return text.trim().to_owned();
    }
    let (mut out, mut rest, mut quote) = (String::with_capacity(text.len()), text, None);
    while let Some(letter) = rest.chars().next() {
        if quote.is_none() && rest.starts_with("/*") {
            out.push(' ');
            rest = rest[2..].find("*/").map_or("", |end| &rest[end + 4..]);
            continue;
        }
        match quote {
            Some(open) if open == letter => quote = None,
            None if matches!(letter, '"' | '\'') => quote = Some(letter),
            _ => {}
        }
        out.push(letter);
        rest = &rest[letter.len_utf8()..];
    }
    out.trim().to_owned()
}

/// The custom properties that a value refers to.
pub(super) fn referred(value: &str) -> impl Iterator<Item = String> {
    value
        .split("var(")
        .skip(1)
        .map(|rest| rest.split([',', ')']).next().unwrap_or_default().trim().to_owned())
}

/// The rest of the text that is being parsed.
pub(super) fn rest<'i>(input: &mut Parser<'i>) -> &'i str {
    let start = input.position();
    skip_rest(input);
    input.slice_from(start)
}

/// Moves past the rest of the text.
pub(super) fn skip_rest(parser: &mut Parser<'_>) {
    while parser.next().is_ok() {}
}
