//! Style sheets of a page: what they refer to comes into them, and nothing is left that leads out.

use cssparser::{ParseError, Parser, Token};
use url::Url;

use crate::files::Files;

/// Sheets that import one another, one in the other.
const MAX_DEPTH: usize = 8;

/// A sheet, or the declarations of an element, with its references as data and its imports in their places.
pub fn inlined(css: &str, base: &Url, files: &mut Files<'_>) -> String {
    Writer { files, depth: 0 }.whole(css, base)
}

struct Writer<'f, 'a> {
    files: &'f mut Files<'a>,
    depth: usize,
}

/// Text in the place of some bytes.
type Change = (usize, usize, String);

impl Writer<'_, '_> {
    fn whole(&mut self, css: &str, base: &Url) -> String {
        let mut changes: Vec<Change> = Vec::new();
        let mut parser = Parser::new(css);
        self.tokens(&mut parser, base, &mut changes, 0);
        let (mut text, mut copied) = (String::with_capacity(css.len()), 0);
        for (start, end, written) in changes {
            text += css.get(copied..start).unwrap_or_default();
            text += &written;
            copied = end.max(copied);
        }
        text += css.get(copied..).unwrap_or_default();
        // A sheet cannot end the element that it stands in.
        text.replace("</", "<\\/")
    }

    fn tokens(&mut self, parser: &mut Parser<'_>, base: &Url, changes: &mut Vec<Change>, depth: usize) {
        loop {
            let start = parser.position().byte_index();
            let Ok(token) = parser.next_including_whitespace_and_comments().cloned() else { return };
            match token {
                Token::UnquotedUrl(reference) => {
                    let end = parser.position().byte_index();
                    changes.push((start, end, self.reference(&reference, base)));
                }
                Token::AtKeyword(name) if name.eq_ignore_ascii_case("import") => {
                    let import = self.import(parser, base);
                    changes.push((start, parser.position().byte_index(), import));
                }
                Token::AtKeyword(name) if name.eq_ignore_ascii_case("namespace") => {
                    // The address of a namespace is a name, and is never loaded.
                    while parser.next().is_ok_and(|token| !matches!(token, Token::Semicolon)) {}
                }
                Token::Function(name)
                    if ["url", "src"].iter().any(|known| name.eq_ignore_ascii_case(known)) =>
                {
                    let inside = parser.parse_nested_block(|inner| -> Result<String, ParseError<()>> {
                        Ok(inner.expect_string()?.as_ref().to_owned())
                    });
                    let reference = inside.unwrap_or_default();
                    changes.push((start, parser.position().byte_index(), self.reference(&reference, base)));
                }
                Token::Function(name) if name.to_ascii_lowercase().ends_with("image-set") => {
                    self.nested(parser, base, (changes, depth), true);
                }
                Token::Function(_)
                | Token::ParenthesisBlock
                | Token::SquareBracketBlock
                | Token::CurlyBracketBlock => self.nested(parser, base, (changes, depth), false),
                _ => {}
            }
        }
    }

    fn nested(
        &mut self,
        parser: &mut Parser<'_>,
        base: &Url,
        (changes, depth): (&mut Vec<Change>, usize),
        strings: bool,
    ) {
        // Deeper than browsers read is left as it is: it refers to nothing that the policy of the frame lets through.
        if depth > 200 {
            return;
        }
        let _ = parser.parse_nested_block(|inner| -> Result<(), ParseError<()>> {
            if strings {
                self.strings(inner, base, changes, depth);
            } else {
                self.tokens(inner, base, changes, depth + 1);
            }
            Ok(())
        });
    }

    /// In `image-set()` a string is a reference.
    fn strings(&mut self, parser: &mut Parser<'_>, base: &Url, changes: &mut Vec<Change>, depth: usize) {
        loop {
            let state = parser.state();
            let start = parser.position().byte_index();
            match parser.next_including_whitespace_and_comments().cloned() {
                Ok(Token::QuotedString(reference)) => {
                    let end = parser.position().byte_index();
                    changes.push((start, end, self.reference(&reference, base)));
                }
                Ok(Token::WhiteSpace(_) | Token::Comment(_) | Token::Comma | Token::Dimension { .. }) => {}
                Ok(_) => {
                    parser.reset(&state);
                    return self.tokens(parser, base, changes, depth + 1);
                }
                Err(_) => return,
            }
        }
    }

    /// A reference as data; one to a part of the page stays, any other becomes an empty picture.
    fn reference(&mut self, reference: &str, base: &Url) -> String {
        if reference.trim_start().starts_with('#') {
            let id: String =
                reference.trim().chars().filter(|letter| !"\"\\()<>\n".contains(*letter)).collect();
            return format!("url(\"{id}\")");
        }
        let data = self.files.data(reference, base).unwrap_or_else(|| "data:,".to_owned());
        let escaped = data.replace('\\', "%5C").replace('"', "%22").replace('\n', "");
        format!("url(\"{escaped}\")")
    }

    /// The sheet that an `@import` leads to, within what it says of media, layers and support (CSS Cascading 5, "@import").
    fn import(&mut self, parser: &mut Parser<'_>, base: &Url) -> String {
        let reference = parser.expect_url_or_string().map(|reference| reference.as_ref().to_owned());
        let start = parser.position();
        let mut end = start;
        while let Ok(token) = parser.next_including_whitespace_and_comments() {
            let is_end = matches!(token, Token::Semicolon);
            if matches!(token, Token::Function(_) | Token::ParenthesisBlock) {
                let _ = parser.parse_nested_block(|inner| -> Result<(), ParseError<()>> {
                    while inner.next_including_whitespace_and_comments().is_ok() {}
                    Ok(())
                });
            }
            if is_end {
                break;
            }
            end = parser.position();
        }
        let conditions = parser.slice(start..end).trim().to_owned();
        let Ok(reference) = reference else { return String::new() };
        if self.depth >= MAX_DEPTH {
            return String::new();
        }
        let Some((bytes, address)) = self.files.find(&reference, base) else { return String::new() };
        let css = String::from_utf8_lossy(bytes).into_owned();
        self.depth += 1;
        let inside = self.whole(&css, &address);
        self.depth -= 1;
        within(&conditions, &inside)
    }
}

/// Rules within the conditions of an import.
fn within(conditions: &str, css: &str) -> String {
    if conditions.is_empty() {
        return css.to_owned();
    }
    let lower = conditions.to_ascii_lowercase();
    let argument = |function: &str| {
        let rest = lower.strip_prefix(function)?;
        let end = closing(rest)?;
        Some((conditions[function.len()..function.len() + end].to_owned(), function.len() + end + 1))
    };
    if let Some((layer, end)) = argument("layer(") {
        return format!("@layer {layer} {{\n{}\n}}\n", within(conditions[end..].trim(), css));
    }
    if let Some(rest) = lower.strip_prefix("layer").filter(|rest| rest.is_empty() || rest.starts_with(' ')) {
        let rest = &conditions[conditions.len() - rest.len()..];
        return format!("@layer {{\n{}\n}}\n", within(rest.trim(), css));
    }
    if let Some((support, end)) = argument("supports(") {
        return format!("@supports ({support}) {{\n{}\n}}\n", within(conditions[end..].trim(), css));
    }
    format!("@media {conditions} {{\n{css}\n}}\n")
}

/// Where the bracket ends that a text is in.
fn closing(text: &str) -> Option<usize> {
    let mut depth = 1;
    text.char_indices().find_map(|(at, letter)| {
        depth += match letter {
            '(' => 1,
            ')' => -1,
            _ => 0,
        };
        (depth == 0).then_some(at)
    })
}
