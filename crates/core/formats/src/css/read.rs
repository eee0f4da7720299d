//! Reading declarations, rules and bare values into coats.

use cssparser::{Parser, Token};

use super::computed::{Plain, computed};
use super::error::CssError;
use super::filters::{backdrop_filter, filter_list};
use super::parts::{Part, bare_value};
use super::shadows::{Property, shadows};
use super::sheet::{Body, Declaration, declaration_list, rules};
use crate::model::{Coat, CssColour, Id};

/// The shadows and filters of a piece of CSS.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct ReadCss {
    /// First is nearest the eye, as in CSS.
    pub coats: Vec<Coat>,
    /// Coats from a `filter`, which applies to the piece as it is painted.
    pub filters: Vec<Id>,
    /// Coats from a `text-shadow`, which letters cast.
    pub of_letters: Vec<Id>,
    /// Each thing that was approximated or ignored, in words with its place.
    pub diagnostics: Vec<String>,
    /// Declarations of other properties, which were passed over.
    pub others: Vec<CssError>,
}

/// Reads declarations, rules with declarations, or the bare value of a `box-shadow`.
///
/// # Errors
/// [`CssError`] at the first part that is not understood; nothing is read in halves.
pub fn read(css: &str) -> Result<ReadCss, CssError> {
    let mut result = ReadCss::default();
    let found = contents(css);
    if found.is_bare_value {
        result.written_or_computed(css, (1, 1), |result, text| {
            result.shadows(Property::BoxShadow, &bare_value(text.unwrap_or(css)))
        })?;
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

/// The kind of a text.
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
    CssError::new(1, 1, "expected box-shadow, text-shadow, filter or backdrop-filter")
}

/// A property without the prefix under which browsers know it too.
fn property(name: &str) -> &str {
    name.strip_prefix("-webkit-").unwrap_or(name)
}

impl ReadCss {
    fn body(&mut self, body: Body) -> Result<(), CssError> {
        if let Some(error) = body.error {
            return Err(error);
        }
        if let Some(&(line, column)) = body.nested.first() {
            return Err(CssError::new(line, column, "a rule inside a rule is not read"));
        }
        for (at, declaration) in body.declarations.iter().enumerate() {
            // The last of a property counts, as everywhere in CSS.
            let again = |other: &Declaration| property(&other.name) == property(&declaration.name);
            if !body.declarations[at + 1..].iter().any(again) {
                self.declaration(declaration)?;
            }
        }
        Ok(())
    }

    fn declaration(&mut self, declaration: &Declaration) -> Result<(), CssError> {
        let Declaration { name, value, line, column, .. } = declaration;
        let depth = ["box-shadow", "text-shadow", "filter", "backdrop-filter"].contains(&property(name));
        if depth && value.is_empty() {
            let (line, column) = declaration.value_at;
            return Err(CssError::new(
                line,
                column,
                format!("expected a shadow or filter in {name}, found nothing"),
            ));
        }
        if !depth {
            let diagnostic = format!("{line}:{column}: {name} says nothing about shadows: passed over");
            self.diagnostics.push(diagnostic);
            let message =
                format!("expected box-shadow, text-shadow, filter or backdrop-filter, found {name}");
            self.others.push(CssError::new(*line, *column, message));
            return Ok(());
        }
        self.written_or_computed(value, (*line, *column), |read, text| {
            let parts = || text.map_or_else(|| declaration.parts(), bare_value);
            match property(name) {
                "box-shadow" => read.shadows(Property::BoxShadow, &parts()),
                "text-shadow" => read.shadows(Property::TextShadow, &parts()),
                _ => read.filter(declaration, text.unwrap_or(value)),
            }
        })
    }

    /// Reads a value as it is written; where that fails, as it computes where nothing else is said.
    fn written_or_computed(
        &mut self,
        value: &str,
        (line, column): (u32, u32),
        take: impl Fn(&mut Self, Option<&str>) -> Result<(), CssError>,
    ) -> Result<(), CssError> {
        let before = self.clone();
        let Err(error) = take(self, None) else { return Ok(()) };
        *self = before.clone();
        let computed = computed(value, &Plain).ok().filter(|text| text != value && !error.is_limit);
        match computed.map(|text| take(self, Some(&text))) {
            Some(Ok(())) => {
                self.diagnostics
                    .push(format!("{line}:{column}: computed with a font size of 16 px, and black text"));
                Ok(())
            }
            _ => {
                *self = before;
                Err(error)
            }
        }
    }

    fn filter(&mut self, declaration: &Declaration, value: &str) -> Result<(), CssError> {
        let Declaration { name, line, column, .. } = declaration;
        let diagnostics = &mut self.diagnostics;
        let mut note = |what: &str| diagnostics.push(format!("{line}:{column}: {what}"));
        let read = match property(name) {
            "filter" => filter_list(value, &CssColour::black(), &mut note),
            _ => backdrop_filter(value, &mut note),
        };
        let first = self.coats.len();
        self.coats.extend(read.map_err(|error| CssError { line: *line, column: *column, ..error })?);
        for (number, coat) in self.coats.iter_mut().enumerate().skip(first) {
            coat.id = Id::numbered("css", number + 1);
        }
        if property(name) == "filter" {
            self.filters.extend(self.coats[first..].iter().map(|coat| coat.id.clone()));
        }
        Ok(())
    }

    fn shadows(&mut self, property: Property, parts: &[Part]) -> Result<(), CssError> {
        let first = self.coats.len();
        shadows(property, parts, &mut self.coats, &mut self.diagnostics)?;
        if property == Property::TextShadow {
            self.of_letters.extend(self.coats[first..].iter().map(|coat| coat.id.clone()));
        }
        Ok(())
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

    /// Calculated values use the initial values of browsers: 16 px, black text.
    #[test]
    fn what_is_computed_is_said() {
        let red = (false, 16.0, 3.0, 8.0, 0.0, "#80000080".to_owned());
        for css in [
            "box-shadow: 1em calc(1px + 2px) .5rem rgb(from #800000 r g b / 50.2%)",
            "1rem 3px max(8px, 2px) color-mix(in srgb, rgb(128 0 0 / 50.2%), #80000080)",
        ] {
            let read = read(css).unwrap_or_else(|error| panic!("{css}: {error}"));
            let found = numbers(&read.coats[0]);
            let parts = |text: &str| CssColour::parse(text).expect("a colour").rgba().parts();
            let mut each = parts(&found.5).into_iter().zip(parts(&red.5));
            assert_eq!((found.0, found.1, found.2, found.3), (red.0, red.1, red.2, red.3), "{css}");
            assert!(each.all(|(a, b)| (a - b).abs() < 0.002), "{css}: {}", found.5);
            assert_eq!(
                read.diagnostics,
                ["1:1: computed with a font size of 16 px, and black text"],
                "{css}"
            );
        }
    }

    #[test]
    fn errors_name_the_place_and_what_was_expected() {
        for (css, message) in [
            ("box-shadow: 1lh 2px", "1:13: expected a length in px, found 1lh"),
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
            ("box-shadow: 0 0 var(--red)", "1:17: var is not supported: write the colour out"),
            ("filter: blur(2lh)", "1:1: expected a length in px, found 2lh"),
            ("}{", "1:1: expected box-shadow, text-shadow, filter or backdrop-filter"),
            ("* 2px", "1:1: expected a length, a colour or inset, found *"),
            ("a:b; *", "1:6: expected a property, found *"),
        ] {
            let error = read(css).err().map(|error| error.to_string());
            assert!(error.as_deref().is_some_and(|error| error.starts_with(message)), "{css}: {error:?}");
        }
    }
}
