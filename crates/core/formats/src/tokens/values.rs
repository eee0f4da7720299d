//! The values of tokens: aliases followed, colours and lengths read.

use serde_json::Value;

use super::error::{TokenError, at};
use super::read::{DEEPEST, Reader};
use crate::colour::{Rgba, colour_text};
use crate::import::DiagnosticKind;
use crate::model::{ColourSource, CssColour, SwatchColour};
use crate::syntax::pointer::pointer;

/// Letters of a text once its aliases are filled in.
const MAX_TEXT: usize = 100_000;
/// Px in one `rem`, as browsers have it where nobody changed it.
const REM: f64 = 16.0;

/// Whether a colour space has colours that sRGB lacks, and is used for them.
fn is_wide(space: &str) -> bool {
    ["display-p3", "a98-rgb", "prophoto-rgb", "rec2020"].contains(&space)
}

impl<'a> Reader<'a> {
    /// The pointer that an alias `{a.b}` (§7.1) or a reference `{"$ref": "#/a/b"}` (§7.2) stands for.
    pub(super) fn target(&self, value: &Value) -> Option<String> {
        if let Some(pointer) = value.get("$ref").and_then(Value::as_str) {
            let deep = pointer.split('/').nth(2 * DEEPEST).is_some();
            return (!deep).then(|| pointer.trim_start_matches('#').to_owned());
        }
        let inside =
            value.as_str()?.strip_prefix('{')?.strip_suffix('}').filter(|inside| !inside.contains('{'))?;
        // Where tokens have a `value`, aliases end with it.
        let inside =
            inside.strip_suffix(".value").or_else(|| inside.strip_suffix(".$value")).unwrap_or(inside);
        // No token lies deeper than groups do.
        if inside.split('.').nth(DEEPEST + 1).is_some() {
            return None;
        }
        Some(pointer(inside.split('.').chain(["$value"])))
    }

    /// The value after following all aliases, and its place.
    pub(super) fn followed(&self, value: &'a Value, place: &str) -> Result<(&'a Value, String), TokenError> {
        let (mut value, mut place) = (value, place.to_owned());
        for _ in 0..DEEPEST {
            let Some(target) = self.target(value) else { return Ok((value, place)) };
            let found = self.file.pointer(&target);
            value = found.ok_or_else(|| {
                at(
                    &place,
                    "expected an alias to a token that is there: it may lie in a file that was not chosen",
                )
            })?;
            place = target;
        }
        Err(at(&place, "expected an alias that does not lead back to itself"))
    }

    /// A text with the values of the aliases in it.
    pub(super) fn expanded(&self, text: &str, place: &str) -> Result<String, TokenError> {
        let (mut out, mut rest) = (String::new(), text);
        while let Some((before, after)) = rest.split_once('{') {
            let (name, after) =
                after.split_once('}').ok_or_else(|| at(place, "expected an alias that is closed"))?;
            out.push_str(before);
            let target = self.target(&Value::String(format!("{{{name}}}"))).unwrap_or_default();
            let value = self.file.pointer(&target).ok_or_else(|| {
                at(place, &format!("expected an alias to a token that is there, found {{{name}}}"))
            })?;
            let (value, _) = self.followed(value, &target)?;
            match value {
                Value::String(text) => out.push_str(text),
                Value::Number(number) => out.push_str(&format!("{number}px")),
                other => match (
                    other.get("value").and_then(Value::as_f64),
                    other.get("unit").and_then(Value::as_str),
                ) {
                    (Some(number), Some(unit)) => out.push_str(&format!("{number}{unit}")),
                    _ => out.push_str(&colour_text(self.colour(other, &target)?.rgba())),
                },
            }
            if out.len() > MAX_TEXT {
                let expected = format!("expected a text of at most {MAX_TEXT} letters, aliases included");
                return Err(at(place, &expected));
            }
            rest = after;
        }
        out.push_str(rest);
        Ok(out)
    }

    /// A colour, as a swatch where it is an alias of one.
    pub(super) fn source(&self, value: &'a Value, place: &str) -> Result<ColourSource, TokenError> {
        if let Some(target) = self.target(value) {
            let target = if target.ends_with("/$value") { target } else { format!("{target}/$value") };
            if let Some(id) = self.swatches.get(&target) {
                return Ok(ColourSource::Swatch(SwatchColour { swatch: id.clone(), lightness: None }));
            }
        }
        Ok(ColourSource::Literal(self.colour(value, place)?))
    }

    /// Color Module, §4.1; a CSS colour as older files have it.
    pub(super) fn colour(&self, value: &'a Value, place: &str) -> Result<CssColour, TokenError> {
        self.colour_within(value, place, 0)
    }

    fn colour_within(&self, value: &'a Value, place: &str, depth: usize) -> Result<CssColour, TokenError> {
        let (value, place) = self.followed(value, place)?;
        if let Some(text) = value.as_str() {
            return CssColour::parse(text).map_err(|message| at(&place, &message));
        }
        if let Some(colour) = value.get("color") {
            return self.with_alpha(colour, value, &place, depth);
        }
        let space = value
            .get("colorSpace")
            .and_then(Value::as_str)
            .ok_or_else(|| at(&place, "expected a colorSpace"))?;
        let components = value.get("components").and_then(Value::as_array);
        let components = components
            .filter(|list| list.len() == 3)
            .ok_or_else(|| at(&place, "expected three components"))?;
        let number = |part: &Value| match (part.as_f64(), part.as_str()) {
            (Some(number), _) => Ok(number.to_string()),
            (None, Some("none")) => Ok("none".to_owned()),
            _ => Err(at(&place, "expected numbers as components")),
        };
        let parts = components.iter().map(number).collect::<Result<Vec<_>, _>>()?;
        let alpha = value.get("alpha").and_then(Value::as_f64).unwrap_or(1.0);
        if !(0.0..=1.0).contains(&alpha) {
            return Err(at(&format!("{place}/alpha"), "expected an alpha from 0 to 1"));
        }
        let [a, b, c] = [&parts[0], &parts[1], &parts[2]];
        let text = match space {
            "hsl" | "hwb" => format!("{space}({a} {b}% {c}% / {alpha})"),
            "lab" | "lch" | "oklab" | "oklch" => format!("{space}({a} {b} {c} / {alpha})"),
            _ => format!("color({space} {a} {b} {c} / {alpha})"),
        };
        let colour = CssColour::parse(&text).map_err(|message| at(&place, &message))?;
        if is_wide(space) {
            self.wide.borrow_mut().push(place.clone());
        }
        let Rgba { r, g, b, a } = colour.rgba();
        CssColour::parse(&colour_text(Rgba { r, g, b, a })).map_err(|message| at(&place, &message))
    }

    /// A colour with an alpha beside it, which is its own, or an opacity, which is a share of its own.
    fn with_alpha(
        &self,
        colour: &'a Value,
        fields: &'a Value,
        place: &str,
        depth: usize,
    ) -> Result<CssColour, TokenError> {
        if depth > DEEPEST {
            return Err(at(place, "expected a colour that does not lead back to itself"));
        }
        let Rgba { r, g, b, a } = self.colour_within(colour, &format!("{place}/color"), depth + 1)?.rgba();
        let share = |name: &str| {
            let value = self.followed(fields.get(name)?, place).ok()?.0;
            let text = value.as_str().map(str::trim);
            let percent =
                text.and_then(|text| text.strip_suffix('%')).and_then(|text| text.parse::<f64>().ok());
            let number = value.as_f64().or_else(|| text.and_then(|text| text.parse().ok()));
            percent.map(|percent| percent / 100.0).or(number)
        };
        let a = share("alpha").unwrap_or(f64::from(a)) * share("opacity").unwrap_or(1.0);
        if !(0.0..=1.0).contains(&a) {
            return Err(at(place, "expected an alpha from 0 to 1"));
        }
        CssColour::parse(&colour_text(Rgba { r, g, b, a: a as f32 })).map_err(|message| at(place, &message))
    }

    /// §8.2, "Dimension": px or rem; text as older files have it.
    pub(super) fn dimension(&mut self, value: &'a Value, place: &str) -> Result<f64, TokenError> {
        let (value, place) = self.followed(value, place)?;
        let (number, unit) = match value {
            Value::Number(number) => (number.as_f64(), "px"),
            Value::String(text) => {
                let split = text.find(|letter: char| letter.is_ascii_alphabetic()).unwrap_or(text.len());
                (text[..split].trim().parse().ok(), if split == text.len() { "px" } else { &text[split..] })
            }
            _ => (
                value.get("value").and_then(Value::as_f64),
                value.get("unit").and_then(Value::as_str).unwrap_or(""),
            ),
        };
        match (number, unit) {
            (Some(number), "px") => Ok(number),
            (Some(number), "rem") => {
                let message = "lengths in rem are taken as 16 px to the rem";
                self.incoming.diagnostic(place, DiagnosticKind::Approximated, message);
                Ok(number * REM)
            }
            _ => Err(at(&place, "expected a dimension in px or rem")),
        }
    }
}
