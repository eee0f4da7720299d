//! Reading `box-shadow` and `text-shadow` (CSS Backgrounds and Borders 3, "Drop Shadows"; CSS Text Decoration 3,
//! "Text Shadows") into coats.

use super::filters::{backdrop_filter, filter_list};
use super::tokens::{Kind, Part, bare_value, declarations, names_property};
use crate::blend::BlendMode;
use crate::model::{
    BlurRadius, CartesianOffset, Coat, CoatKind, ColourSource, CssColour, Id, Offset, OffsetPx, Opacity,
    Spread, limits,
};

/// CSS that was not understood, and where.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{line}:{column}: {message}")]
pub struct CssError {
    /// From 1.
    pub line: u32,
    /// From 1.
    pub column: u32,
    /// What was expected, in words.
    pub message: String,
}

/// What a piece of CSS says about depth.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadCss {
    /// First is nearest the eye, as in CSS.
    pub coats: Vec<Coat>,
    /// Those of them that come from a `filter`, which is done to the piece as it is painted.
    pub filters: Vec<Id>,
    /// What was taken otherwise than it stood, or passed over, in words with its place.
    pub remarks: Vec<String>,
}

/// Which property a shadow comes from.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Property {
    BoxShadow,
    TextShadow,
}

/// Reads declarations, rules with declarations, or the bare value of a `box-shadow`.
///
/// # Errors
/// [`CssError`] at the first part that is not understood; nothing is read in halves.
pub fn read(css: &str) -> Result<ReadCss, CssError> {
    let mut result = ReadCss { coats: Vec::new(), filters: Vec::new(), remarks: Vec::new() };
    if !names_property(css) {
        result.take(Property::BoxShadow, &bare_value(css)?)?;
        if result.coats.is_empty() {
            return Err(nothing());
        }
        return Ok(result);
    }
    let declarations = declarations(css)?;
    if declarations.is_empty() {
        return Err(nothing());
    }
    for declaration in declarations {
        match declaration.name.as_str() {
            "box-shadow" | "-webkit-box-shadow" => {
                result.take(Property::BoxShadow, &declaration.parts)?;
            }
            "text-shadow" => result.take(Property::TextShadow, &declaration.parts)?,
            name @ ("filter" | "backdrop-filter" | "-webkit-backdrop-filter") => {
                let (line, column) = (declaration.line, declaration.column);
                let value: Vec<String> = declaration.parts.iter().map(Part::text).collect();
                let mut said = Vec::new();
                let mut note = |what: &str| said.push(format!("{line}:{column}: {what}"));
                let read = match name {
                    "filter" => filter_list(&value.join(" "), &mut note),
                    _ => backdrop_filter(&value.join(" "), &mut note),
                };
                // The prefixed form usually says the same once more.
                if name != "-webkit-backdrop-filter" {
                    let first = result.coats.len();
                    result.coats.extend(read.map_err(|error| CssError { line, column, ..error })?);
                    for (number, coat) in result.coats.iter_mut().enumerate() {
                        coat.id = Id::numbered("css", number + 1);
                    }
                    if name == "filter" {
                        result.filters.extend(result.coats[first..].iter().map(|coat| coat.id.clone()));
                    }
                }
                result.remarks.append(&mut said);
            }
            other => result.remarks.push(format!(
                "{}:{}: {other} says nothing about shadows: passed over",
                declaration.line, declaration.column
            )),
        }
    }
    Ok(result)
}

fn nothing() -> CssError {
    CssError {
        line: 1,
        column: 1,
        message: "expected box-shadow, text-shadow, filter or backdrop-filter".to_owned(),
    }
}

/// The shadows of a value that stands alone.
///
/// # Errors
/// [`CssError`], counted from the start of the value.
pub(super) fn shadow_list(of_text: bool, value: &str) -> Result<Vec<Coat>, CssError> {
    let mut result = ReadCss { coats: Vec::new(), filters: Vec::new(), remarks: Vec::new() };
    let property = if of_text { Property::TextShadow } else { Property::BoxShadow };
    result.take(property, &bare_value(value)?)?;
    Ok(result.coats)
}

impl ReadCss {
    fn take(&mut self, property: Property, parts: &[Part]) -> Result<(), CssError> {
        if let [Part { kind: Kind::Word(word), .. }] = parts
            && word == "none"
        {
            return Ok(());
        }
        if parts.is_empty() {
            return Ok(());
        }
        for layer in parts.split(|part| part.kind == Kind::Comma) {
            if self.coats.len() > limits::COATS {
                // Whoever reads on says that there are more than a stack holds.
                break;
            }
            let layer = Layer::read(property, layer, parts)?;
            if layer.colour.is_none() {
                let at = parts.first().map_or((1, 1), |part| (part.line, part.column));
                self.remarks.push(format!("{}:{}: no colour given: taken as black", at.0, at.1));
            }
            let number = self.coats.len() + 1;
            self.coats.push(layer.coat(number));
        }
        Ok(())
    }
}

/// One shadow of a list.
struct Layer {
    inset: bool,
    offset: CartesianOffset,
    blur: BlurRadius,
    spread: Spread,
    colour: Option<CssColour>,
}

impl Layer {
    fn read(property: Property, parts: &[Part], all: &[Part]) -> Result<Self, CssError> {
        let (mut inset, mut colour) = (false, None);
        let mut lengths: Vec<(f64, &Part)> = Vec::new();
        let mut lengths_ended = false;
        for part in parts {
            match &part.kind {
                Kind::Number { value, px } => {
                    if !*px && *value != 0.0 {
                        return Err(part.error(format!("expected a unit after {value}: px")));
                    }
                    if lengths_ended {
                        return Err(part.error("expected the lengths side by side"));
                    }
                    lengths.push((*value, part));
                    continue;
                }
                Kind::OtherUnit(text) => {
                    return Err(part.error(format!("expected a length in px, found {text}")));
                }
                Kind::Word(word) if word == "inset" => {
                    if property == Property::TextShadow {
                        return Err(part.error("text-shadow takes no inset"));
                    }
                    if std::mem::replace(&mut inset, true) {
                        return Err(part.error("inset is given twice"));
                    }
                }
                _ => {
                    if colour.replace(read_colour(part)?).is_some() {
                        return Err(part.error(format!("a second colour: {}", part.text())));
                    }
                }
            }
            lengths_ended = !lengths.is_empty();
        }
        let at = parts.first().or(all.last());
        Self::from_parts(property, inset, colour, &lengths, at)
    }

    fn from_parts(
        property: Property,
        inset: bool,
        colour: Option<CssColour>,
        lengths: &[(f64, &Part)],
        at: Option<&Part>,
    ) -> Result<Self, CssError> {
        let most = if property == Property::BoxShadow { 4 } else { 3 };
        if let Some((_, extra)) = lengths.get(most) {
            let what = if property == Property::BoxShadow { "x, y, blur, spread" } else { "x, y, blur" };
            return Err(extra.error(format!("expected at most {most} lengths ({what})")));
        }
        let (Some(x), Some(y)) = (lengths.first(), lengths.get(1)) else {
            let (line, column) = at.map_or((1, 1), |part| (part.line, part.column));
            let message = "expected a shadow: two lengths at least, x and y".to_owned();
            return Err(CssError { line, column, message });
        };
        Ok(Self {
            inset,
            colour,
            offset: CartesianOffset { x: length(OffsetPx::new, x)?, y: length(OffsetPx::new, y)? },
            blur: lengths.get(2).map_or(Ok(BlurRadius::default()), |at| length(BlurRadius::new, at))?,
            spread: lengths.get(3).map_or(Ok(Spread::default()), |at| length(Spread::new, at))?,
        })
    }

    fn coat(self, number: usize) -> Coat {
        let offset = Offset::Cartesian(self.offset);
        let colour = ColourSource::Literal(self.colour.unwrap_or_else(CssColour::black));
        let (what, make): (_, fn(_, _, _, _) -> _) =
            if self.inset { ("Inner", CoatKind::inner) } else { ("Drop", CoatKind::drop) };
        let (name, kind) = (format!("{what} shadow {number}"), make(offset, self.blur, self.spread, colour));
        let id = Id::numbered("css", number);
        Coat { id, name, on: true, opacity: Opacity::solid(), blend: BlendMode::Normal, kind }
    }
}

fn length<T>(
    make: impl Fn(f64) -> Result<T, crate::model::OutOfRange>,
    (value, part): &(f64, &Part),
) -> Result<T, CssError> {
    make(*value).map_err(|error| part.error(error.to_string()))
}

fn read_colour(part: &Part) -> Result<CssColour, CssError> {
    match &part.kind {
        Kind::Word(_) | Kind::Hash(_) | Kind::Function { .. } => {
            CssColour::parse(&part.text()).map_err(|message| part.error(message))
        }
        _ => Err(part.error(format!("expected a length, a colour or inset, found {}", part.text()))),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

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
