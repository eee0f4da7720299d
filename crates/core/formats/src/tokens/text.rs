//! Shadows that token files have as CSS writes them.

use crate::blend::BlendMode;
use crate::model::{
    BlurRadius, CartesianOffset, Coat, CoatKind, ColourSource, CssColour, Id, Offset, OffsetPx, Opacity,
    Spread,
};

/// Shadows written as CSS has them, with lengths in px or rem.
///
/// # Errors
/// What was expected.
pub(super) fn shadow_of_text(text: &str) -> Result<Vec<Coat>, String> {
    let text = text.trim().trim_end_matches(';');
    if let Some((_, name)) = text.split_once("var(") {
        let name = name.split([')', ',']).next().unwrap_or_default().trim();
        return Err(format!("expected a shadow with its values, found the custom property {name}"));
    }
    if text.eq_ignore_ascii_case("none") {
        return Ok(Vec::new());
    }
    if text.to_ascii_lowercase().starts_with("drop-shadow(") {
        return filters(text);
    }
    let layers = parts(text, ',');
    layers.iter().enumerate().map(|(at, layer)| parse_layer(layer, at + 1)).collect()
}

/// Whether a text can be nothing but shadows: lengths, and a colour or `inset`.
pub(super) fn is_shadow(text: &str) -> bool {
    let begins = text
        .trim_start()
        .starts_with(|letter: char| letter.is_ascii_digit() || "-.irdRDI#hc".contains(letter));
    let told = |layer: &String| parts(layer, ' ').iter().any(|word| length(word).is_none());
    begins
        && text.contains(' ')
        && parts(text.trim_end_matches(';'), ',').iter().all(told)
        && shadow_of_text(text).is_ok_and(|coats| !coats.is_empty())
}

/// `drop-shadow()` of the property `filter`: the length of its blur is σ, half of a shadow's blur (Filter Effects 1, section 9).
fn filters(text: &str) -> Result<Vec<Coat>, String> {
    let inside = |(at, word): (usize, &String)| {
        let wrong = || "expected drop-shadow() and nothing else".to_owned();
        let start = word.get(..12).filter(|start| start.eq_ignore_ascii_case("drop-shadow("));
        let inside = start.and_then(|start| word.strip_prefix(start)?.strip_suffix(')')).ok_or_else(wrong)?;
        let mut coat = parse_layer(inside, at + 1)?;
        if let CoatKind::Drop(drop) = &mut coat.kind {
            drop.blur = BlurRadius::new(drop.blur.get() * 2.0).map_err(|error| error.to_string())?;
        }
        Ok(coat)
    };
    parts(text, ' ').iter().filter(|word| !word.is_empty()).enumerate().map(inside).collect()
}

fn parse_layer(layer: &str, number: usize) -> Result<Coat, String> {
    let (mut inset, mut colour, mut lengths) = (false, None, Vec::new());
    for word in parts(layer, ' ').iter().filter(|word| !word.is_empty()) {
        if word == "inset" {
            inset = true;
        } else if let Some(length) = length(word) {
            lengths.push(length);
        } else {
            colour = Some(CssColour::parse(word)?);
        }
    }
    let [x, y, rest @ ..] = lengths.as_slice() else {
        return Err("expected a shadow: two lengths at least, x and y".to_owned());
    };
    let out = |error: crate::model::OutOfRange| error.to_string();
    let offset = Offset::Cartesian(CartesianOffset {
        x: OffsetPx::new(*x).map_err(out)?,
        y: OffsetPx::new(*y).map_err(out)?,
    });
    let blur = BlurRadius::new(rest.first().copied().unwrap_or(0.0)).map_err(out)?;
    let spread = Spread::new(rest.get(1).copied().unwrap_or(0.0)).map_err(out)?;
    let colour = ColourSource::Literal(colour.unwrap_or_else(CssColour::black));
    let (what, kind) = if inset {
        ("Inner", CoatKind::inner(offset, blur, spread, colour))
    } else {
        ("Drop", CoatKind::drop(offset, blur, spread, colour))
    };
    let (id, name) = (Id::numbered("token", number), format!("{what} shadow {number}"));
    Ok(Coat { id, name, on: true, opacity: Opacity::solid(), blend: BlendMode::Normal, kind })
}

fn length(word: &str) -> Option<f64> {
    let number = |text: &str| text.parse::<f64>().ok().filter(|number| number.is_finite());
    if let Some(rem) = word.strip_suffix("rem") {
        return number(rem).map(|rem| rem * 16.0);
    }
    number(word.strip_suffix("px").unwrap_or(word))
}

/// Cut where a letter stands in no brackets.
fn parts(text: &str, at: char) -> Vec<String> {
    let (mut depth, mut parts) = (0_i32, vec![String::new()]);
    for letter in text.trim().chars() {
        match letter {
            '(' => depth += 1,
            ')' => depth -= 1,
            _ if letter == at && depth == 0 => {
                parts.push(String::new());
                continue;
            }
            _ => {}
        }
        if let Some(last) = parts.last_mut() {
            last.push(letter);
        }
    }
    parts.into_iter().map(|part| part.trim().to_owned()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn shadows_as_text() {
        let read = |text: &str| {
            shadow_of_text(text).map(|coats| coats.iter().map(|coat| coat.kind.clone()).collect())
        };
        let (x, y) = (OffsetPx::new(0.0), OffsetPx::new(2.0));
        let (Ok(x), Ok(y), Ok(blur)) = (x, y, BlurRadius::new(16.0)) else { unreachable!() };
        let offset = Offset::Cartesian(CartesianOffset { x, y });
        let (Ok(spread), Ok(red)) = (Spread::new(0.0), CssColour::parse("red")) else { unreachable!() };
        let drop = CoatKind::drop(offset, blur, spread, ColourSource::Literal(red));
        assert_eq!(read("0 0.125rem 16px red"), Ok(vec![drop.clone()]));
        assert_eq!(
            read("drop-shadow(0 2px 8px red) DROP-SHADOW(0 2px 8px red)"),
            Ok(vec![drop.clone(), drop])
        );
        assert_eq!(read("None"), Ok(Vec::new()));
        assert!(read("drop-shadow(0 2px 8px red) blur(2px)").is_err());
        assert!(read("0 red").is_err());
    }
}
