//! Reading declarations, rules and bare values into coats.

use cssparser::{Parser, Token};

use super::error::CssError;
use super::filters::{backdrop_filter, filter_list};
use super::parts::{Part, bare_value};
use super::shadows::{Property, shadows};
use super::sheet::{Body, Declaration, declaration_list, rules};
use crate::model::{Coat, Id};

/// The shadows and filters of a piece of CSS.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadCss {
    /// First is nearest the eye, as in CSS.
    pub coats: Vec<Coat>,
    /// Those of them that come from a `filter`, which is done to the piece as it is painted.
    pub filters: Vec<Id>,
    /// What was approximated or ignored, in words with its place.
    pub diagnostics: Vec<String>,
}

/// Reads declarations, rules with declarations, or the bare value of a `box-shadow`.
///
/// # Errors
/// [`CssError`] at the first part that is not understood; nothing is read in halves.
pub fn read(css: &str) -> Result<ReadCss, CssError> {
    let mut result = ReadCss { coats: Vec::new(), filters: Vec::new(), diagnostics: Vec::new() };
    let found = contents(css);
    if found.is_bare_value {
        result.shadows(Property::BoxShadow, &bare_value(css))?;
        return if result.coats.is_empty() { Err(nothing()) } else { Ok(result) };
    }
    let bodies = if found.has_block {
        rules(css).into_iter().map(|rule| rule.body).collect()
    } else {
        vec![declaration_list(css)]
    };
    if bodies.iter().all(Body::is_empty) {
        return Err(nothing());
    }
    for body in bodies {
        result.body(body)?;
    }
    Ok(result)
}

/// Of what kind a text is.
struct Contents {
    has_block: bool,
    /// Neither a rule nor a declaration is in it.
    is_bare_value: bool,
}

fn contents(css: &str) -> Contents {
    let mut parser = Parser::new(css);
    let (mut has_block, mut has_colon) = (false, false);
    while let Ok(token) = parser.next() {
        has_block |= matches!(token, Token::CurlyBracketBlock);
        has_colon |= matches!(token, Token::Colon);
    }
    Contents { has_block, is_bare_value: !has_block && !has_colon }
}

fn nothing() -> CssError {
    CssError {
        line: 1,
        column: 1,
        message: "expected box-shadow, text-shadow, filter or backdrop-filter".to_owned(),
    }
}

impl ReadCss {
    fn body(&mut self, body: Body) -> Result<(), CssError> {
        if let Some(error) = body.error {
            return Err(error);
        }
        if let Some(&(line, column)) = body.nested.first() {
            let message = "a rule inside a rule is not read".to_owned();
            return Err(CssError { line, column, message });
        }
        body.declarations.iter().try_for_each(|declaration| self.declaration(declaration))
    }

    fn declaration(&mut self, declaration: &Declaration) -> Result<(), CssError> {
        let Declaration { name, value, line, column, .. } = declaration;
        match name.as_str() {
            "box-shadow" | "-webkit-box-shadow" => {
                return self.shadows(Property::BoxShadow, &declaration.parts());
            }
            "text-shadow" => return self.shadows(Property::TextShadow, &declaration.parts()),
            "filter" | "backdrop-filter" | "-webkit-backdrop-filter" => {}
            other => {
                let diagnostic = format!("{line}:{column}: {other} says nothing about shadows: passed over");
                self.diagnostics.push(diagnostic);
                return Ok(());
            }
        }
        let diagnostics = &mut self.diagnostics;
        let mut note = |what: &str| diagnostics.push(format!("{line}:{column}: {what}"));
        let read = match name.as_str() {
            "filter" => filter_list(value, &mut note),
            _ => backdrop_filter(value, &mut note),
        };
        // The prefixed form usually says the same once more.
        if name == "-webkit-backdrop-filter" {
            return Ok(());
        }
        let first = self.coats.len();
        self.coats.extend(read.map_err(|error| CssError { line: *line, column: *column, ..error })?);
        for (number, coat) in self.coats.iter_mut().enumerate().skip(first) {
            coat.id = Id::numbered("css", number + 1);
        }
        if name == "filter" {
            self.filters.extend(self.coats[first..].iter().map(|coat| coat.id.clone()));
        }
        Ok(())
    }

    fn shadows(&mut self, property: Property, parts: &[Part]) -> Result<(), CssError> {
        shadows(property, parts, &mut self.coats, &mut self.diagnostics)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::model::{CoatKind, ColourSource, Offset};

    fn numbers(coat: &Coat) -> (bool, f64, f64, f64, f64, String) {
        let (inset, offset, blur, spread, colour) = match &coat.kind {
            CoatKind::Drop(drop) => (false, &drop.offset, drop.blur, drop.spread, &drop.colour),
            CoatKind::Inner(inner) => (true, &inner.offset, inner.blur, inner.spread, &inner.colour),
            other => panic!("a {} from CSS", other.name()),
        };
        let (Offset::Cartesian(at), ColourSource::Literal(colour)) = (offset, colour) else {
            panic!("CSS gives literals");
        };
        let colour = colour.text().to_owned();
        (inset, at.x.get(), at.y.get(), blur.get(), spread.get(), colour)
    }

    fn first(css: &str) -> (bool, f64, f64, f64, f64, String) {
        numbers(&read(css).unwrap_or_else(|error| panic!("{css}: {error}")).coats[0])
    }

    /// Every order that CSS Backgrounds and Borders 3 allows in `<shadow>`.
    #[test]
    fn any_order() {
        let expected = (true, 1.0, -2.5, 3.0, -0.125, "rgb(1 2 3 / 40%)".to_owned());
        for css in [
            "box-shadow: inset 1px -2.5px 3px -.125px rgb(1 2 3 / 40%)",
            "box-shadow: rgb(1 2 3 / 40%) 1px -2.5px 3px -.125px inset",
            "box-shadow:inset rgb(1 2 3 / 40%) 1px -2.5px 3px -.125px",
            "BOX-SHADOW: /* a */ 1PX -2.5px 3px/**/-.125px rgb(1 2 3 / 40%) Inset !important;",
            ".card:hover { color: red; box-shadow: 1px -2.5px 3px -.125px inset rgb(1 2 3 / 40%); }",
            "1px -2.5px 3px -.125px inset rgb(1 2 3 / 40%);",
        ] {
            assert_eq!(first(css), expected, "{css}");
        }
    }

    #[test]
    fn lists_keep_their_order_and_numbers_their_precision() {
        let css = "box-shadow: 0 .1px 1e1px #0006,\n 0 0 0 3px Teal, inset 0 1px hsl(20 30% 40%)";
        let coats = read(css).expect("a list").coats;
        assert_eq!(coats.len(), 3);
        assert_eq!(numbers(&coats[0]), (false, 0.0, 0.1, 10.0, 0.0, "#0006".to_owned()));
        assert_eq!(numbers(&coats[1]), (false, 0.0, 0.0, 0.0, 3.0, "teal".to_owned()));
        assert!(numbers(&coats[2]).0);
        assert_eq!(read("text-shadow: 1px 1px, 2px 2px 2px red").expect("text").coats.len(), 2);
        assert_eq!(read("box-shadow: none").expect("none").coats, []);
    }

    #[test]
    fn errors_name_the_place_and_what_was_expected() {
        for (css, message) in [
            ("box-shadow: 1em 2px", "1:13: expected a length in px, found 1em"),
            ("box-shadow: 0 1", "1:15: expected a unit after 1: px"),
            ("box-shadow:\n  0 0 -3px red", "2:7: expected a blur radius from 0 to 4000 px, found -3"),
            ("box-shadow: 0 0 5000px red", "1:17: expected a blur radius from 0 to 4000 px, found 5000"),
            ("box-shadow: 99999px 0", "1:13: expected an offset from -10000 to 10000 px, found 99999"),
            ("box-shadow: 0", "1:13: expected a shadow: two lengths at least, x and y"),
            ("box-shadow: 0 0,", "1:16: expected a shadow: two lengths at least, x and y"),
            ("box-shadow: 0 0 1px 1px 1px red", "1:25: expected at most 4 lengths (x, y, blur, spread)"),
            ("box-shadow: 1px red 2px", "1:21: expected the lengths side by side"),
            ("box-shadow: inset inset 0 0", "1:19: inset is given twice"),
            ("text-shadow: inset 0 0 red", "1:14: text-shadow takes no inset"),
            ("text-shadow: 0 0 1px 1px red", "1:22: expected at most 3 lengths (x, y, blur)"),
            ("box-shadow: 0 0 red blue", "1:21: a second colour: blue"),
            (
                "box-shadow: 0 0 color-mix(in srgb, red, blue)",
                "1:17: color-mix is not supported: write the colour out",
            ),
            ("box-shadow: 0 0 calc(1px + 2px)", "1:17: calc is not supported: write the colour out"),
            ("filter: blur(2em)", "1:1: expected a length in px, found 2em"),
            ("}{", "1:1: expected box-shadow, text-shadow, filter or backdrop-filter"),
            ("* 2px", "1:1: expected a length, a colour or inset, found *"),
            ("a:b; *", "1:6: expected a property, found *"),
        ] {
            let error = read(css).err().map(|error| error.to_string());
            assert!(error.as_deref().is_some_and(|error| error.starts_with(message)), "{css}: {error:?}");
        }
    }
}
