//! Colours that are made of others (CSS Color 5, sections 2 to 5).

use color::{ColorSpaceTag, DynamicColor, HueDirection, Srgb};
use cssparser::{Parser, Token};

use super::around::{ValueContext, ValueError};
use super::brackets::{MAX_DEPTH, inside as inside_of};
use super::maths::{Quantity, Unit, quantity};
use super::system::system_colour;
use crate::colour::{Rgba, parse_absolute};

/// Functions that come to a colour.
pub(super) const FUNCTIONS: [&str; 14] = [
    "rgb",
    "rgba",
    "hsl",
    "hsla",
    "hwb",
    "lab",
    "lch",
    "oklab",
    "oklch",
    "color",
    "color-mix",
    "light-dark",
    "contrast-color",
    "device-cmyk",
];

/// A colour, clipped to sRGB channel by channel as browsers show it.
pub(super) fn colour(text: &str, around: &dyn ValueContext) -> Result<Rgba, ValueError> {
    let found = dynamic(text, around, 0)?;
    let [r, g, b, a] = found.to_alpha_color::<Srgb>().components;
    if [r, g, b, a].iter().all(|part| part.is_finite()) {
        Ok(Rgba::new(r, g, b, a))
    } else {
        Err(ValueError::invalid(format!("not a colour: {text}")))
    }
}

/// A colour in the space it is written in.
fn dynamic(text: &str, around: &dyn ValueContext, depth: usize) -> Result<DynamicColor, ValueError> {
    let text = text.trim();
    if depth > MAX_DEPTH {
        return Err(ValueError::Construct("colours within more than 32 others".to_owned()));
    }
    let mut parser = Parser::new(text);
    let found = match parser.next().cloned() {
        Ok(Token::Ident(word)) => return named(&word, around),
        Ok(Token::Function(name)) => {
            let inside = inside_of(&mut parser)?;
            (name.to_ascii_lowercase(), inside)
        }
        _ => return parsed(text),
    };
    let (name, inside) = found;
    match name.as_str() {
        "light-dark" => match super::super::sheet::split_at_commas(&inside).as_slice() {
            [light, dark] => dynamic(if around.is_dark() { dark } else { light }, around, depth + 1),
            _ => Err(ValueError::invalid("expected two colours in light-dark()")),
        },
        "color-mix" => mixed(&inside, around, depth),
        "contrast-color" => Err(ValueError::Construct(format!("{name}()"))),
        "device-cmyk" => Err(ValueError::invalid("device-cmyk()")),
        _ => match words(&inside).split_first() {
            Some((from, rest)) if from.eq_ignore_ascii_case("from") => relative(&name, rest, around, depth),
            _ => absolute(&name, &inside, around),
        },
    }
}

fn named(word: &str, around: &dyn ValueContext) -> Result<DynamicColor, ValueError> {
    let lower = word.to_ascii_lowercase();
    if lower == "currentcolor" {
        let current = around.current_colour();
        return current.map(to_dynamic).ok_or_else(|| ValueError::Construct("currentColor".to_owned()));
    }
    if let Some(system) = system_colour(&lower, around.is_dark()) {
        return Ok(to_dynamic(system));
    }
    parsed(&lower)
}

fn to_dynamic(colour: Rgba) -> DynamicColor {
    DynamicColor::from_alpha_color(color::AlphaColor::<Srgb>::new(colour.parts()))
}

fn parsed(text: &str) -> Result<DynamicColor, ValueError> {
    parse_absolute(text).ok_or_else(|| ValueError::invalid(format!("not a colour: {text}")))
}

/// A colour of numbers, some of which may be calculated.
fn absolute(name: &str, inside: &str, around: &dyn ValueContext) -> Result<DynamicColor, ValueError> {
    let mut text = String::new();
    let mut parser = Parser::new(inside);
    loop {
        let start = parser.position();
        let Ok(token) = parser.next_including_whitespace().cloned() else { break };
        match token {
            Token::Function(function) => {
                let arguments = inside_of(&mut parser)?;
                text.push_str(&super::maths::value(&format!("{function}({arguments})"), around)?);
            }
            _ => text.push_str(parser.slice_from(start)),
        }
    }
    let legacy = text.contains(',');
    // CSS Color 4, section 4.1: commas all through, or none.
    let parts = if legacy { text.split(',').count() } else { 3 };
    if legacy && (!(3..=4).contains(&parts) || text.contains('/')) {
        return Err(ValueError::invalid(format!("not a colour: {name}({inside})")));
    }
    parsed(&format!("{name}({text})"))
}

/// The parts of a text between white space that lies in no brackets; a slash is a part of its own.
fn words(text: &str) -> Vec<String> {
    let (mut parts, mut depth) = (vec![String::new()], 0_usize);
    for letter in text.chars() {
        match letter {
            '(' => depth += 1,
            ')' => depth = depth.saturating_sub(1),
            letter if depth == 0 && letter.is_whitespace() => {
                parts.push(String::new());
                continue;
            }
            '/' if depth == 0 => {
                parts.extend(["/".to_owned(), String::new()]);
                continue;
            }
            _ => {}
        }
        if let Some(last) = parts.last_mut() {
            last.push(letter);
        }
    }
    parts.retain(|part| !part.is_empty());
    parts
}

/// The channels of a space: their names, and the value of 100 % of each.
fn channels(space: ColorSpaceTag) -> [(&'static str, f64); 3] {
    match space {
        ColorSpaceTag::Hsl => [("h", 360.0), ("s", 100.0), ("l", 100.0)],
        ColorSpaceTag::Hwb => [("h", 360.0), ("w", 100.0), ("b", 100.0)],
        ColorSpaceTag::Lab => [("l", 100.0), ("a", 125.0), ("b", 125.0)],
        ColorSpaceTag::Lch => [("l", 100.0), ("c", 150.0), ("h", 360.0)],
        ColorSpaceTag::Oklab => [("l", 1.0), ("a", 0.4), ("b", 0.4)],
        ColorSpaceTag::Oklch => [("l", 1.0), ("c", 0.4), ("h", 360.0)],
        ColorSpaceTag::XyzD50 | ColorSpaceTag::XyzD65 => [("x", 1.0), ("y", 1.0), ("z", 1.0)],
        _ => [("r", 1.0), ("g", 1.0), ("b", 1.0)],
    }
}

fn space_of(name: &str) -> Option<ColorSpaceTag> {
    match name.to_ascii_lowercase().as_str() {
        "rgb" | "rgba" => Some(ColorSpaceTag::Srgb),
        "hsl" | "hsla" => Some(ColorSpaceTag::Hsl),
        "hwb" => Some(ColorSpaceTag::Hwb),
        "rec2020" => Some(ColorSpaceTag::Rec2020),
        name => name.parse().ok(),
    }
}

/// A colour made of the channels of another: `rest` follows the word `from`.
fn relative(
    name: &str,
    rest: &[String],
    around: &dyn ValueContext,
    depth: usize,
) -> Result<DynamicColor, ValueError> {
    let wrong = || ValueError::invalid(format!("not a colour: {name}(from {})", rest.join(" ")));
    let (origin, rest) = rest.split_first().ok_or_else(wrong)?;
    let origin = dynamic(origin, around, depth + 1)?;
    let (space, rest) = match rest.split_first() {
        Some((space, rest)) if name == "color" => (space_of(space).ok_or_else(wrong)?, rest),
        _ => (space_of(name).ok_or_else(wrong)?, rest),
    };
    // `rgb()` counts to 255.
    let whole = if name.starts_with("rgb") { 255.0 } else { 1.0 };
    let found = origin.convert(space).components.map(f64::from);
    let names = channels(space);
    let mut known: Vec<(&str, f64)> =
        names.iter().zip(found).map(|((name, _), is)| (*name, is * whole)).collect();
    known.push(("alpha", found[3]));
    let channel = |text: &str, full: f64| -> Result<f64, ValueError> {
        let Quantity { number, unit } = quantity(text, around, &known)?;
        match unit {
            Unit::None => Ok(number),
            Unit::Percent => Ok(number / 100.0 * full),
            Unit::Angle => Ok(number.to_degrees()),
            _ => Err(wrong()),
        }
    };
    let (parts, alpha) = match rest {
        [x, y, z] => ([x, y, z], found[3]),
        [x, y, z, slash, alpha] if slash == "/" => ([x, y, z], channel(alpha, 1.0)?.clamp(0.0, 1.0)),
        _ => return Err(wrong()),
    };
    let mut components = [0.0, 0.0, 0.0, alpha as f32];
    for (at, text) in parts.iter().enumerate() {
        components[at] = (channel(text, names[at].1 * whole)? / whole) as f32;
    }
    Ok(DynamicColor { cs: space, components, ..to_dynamic(Rgba::default()) })
}

/// `color-mix()` of two colours.
fn mixed(inside: &str, around: &dyn ValueContext, depth: usize) -> Result<DynamicColor, ValueError> {
    let wrong = || ValueError::invalid(format!("not a colour: color-mix({inside})"));
    let parts = super::super::sheet::split_at_commas(inside);
    let (method, first, second) = match parts.as_slice() {
        [method, first, second] => (words(method), first, second),
        [first, second] => (vec!["in".to_owned(), "oklab".to_owned()], first, second),
        _ => return Err(wrong()),
    };
    let space = method.get(1).and_then(|name| space_of(name)).ok_or_else(wrong)?;
    let direction = match method.get(2).map(|word| word.to_ascii_lowercase()).as_deref() {
        None | Some("shorter") => HueDirection::Shorter,
        Some("longer") => HueDirection::Longer,
        Some("increasing") => HueDirection::Increasing,
        Some("decreasing") => HueDirection::Decreasing,
        Some(_) => return Err(wrong()),
    };
    let (first, p) = weighted(first, around, depth)?;
    let (second, q) = weighted(second, around, depth)?;
    let (p, q) = match (p, q) {
        (None, None) => (0.5, 0.5),
        (Some(p), None) => (p, 1.0 - p),
        (None, Some(q)) => (1.0 - q, q),
        (Some(p), Some(q)) => (p, q),
    };
    if p + q <= 0.0 || p < 0.0 || q < 0.0 {
        return Err(wrong());
    }
    let (first, second) = with_hues(first, second, space);
    let mut mix = first.interpolate(second, space, direction).eval((q / (p + q)) as f32);
    mix.components[3] *= (p + q).min(1.0) as f32;
    Ok(mix)
}

/// Two colours in the space they are mixed in. One that has next to no chroma there takes the hue of the other (CSS Color 4,
/// section 12.2, *powerless* components); Chromium draws that line at 0.02, as was measured.
fn with_hues(
    first: DynamicColor,
    second: DynamicColor,
    space: ColorSpaceTag,
) -> (DynamicColor, DynamicColor) {
    let (mut one, mut other) = (first.convert(space), second.convert(space));
    if !matches!(space, ColorSpaceTag::Oklch | ColorSpaceTag::Lch) {
        return (one, other);
    }
    let powerless =
        |before: DynamicColor, colour: DynamicColor| before.cs != space && colour.components[1] <= 0.02;
    match (powerless(first, one), powerless(second, other)) {
        (true, true) => (one.components[2], other.components[2]) = (0.0, 0.0),
        (true, false) => one.components[2] = other.components[2],
        (false, true) => other.components[2] = one.components[2],
        (false, false) => {}
    }
    (one, other)
}

/// A colour of a mix, and its share where one is given, before or after it.
fn weighted(
    text: &str,
    around: &dyn ValueContext,
    depth: usize,
) -> Result<(DynamicColor, Option<f64>), ValueError> {
    let words = words(text);
    let share = |text: &String| {
        let found = quantity(text, around, &[]).ok()?;
        (found.unit == Unit::Percent).then_some(found.number / 100.0)
    };
    let (colour, share) = match words.as_slice() {
        [colour] => (colour, None),
        [first, second] => match (share(first), share(second)) {
            (Some(share), None) => (second, Some(share)),
            (None, Some(share)) => (first, Some(share)),
            _ => return Err(ValueError::invalid(format!("not a share of a mix: {text}"))),
        },
        _ => return Err(ValueError::invalid(format!("not a share of a mix: {text}"))),
    };
    Ok((dynamic(colour, around, depth + 1)?, share))
}
