//! Functions of CSS values that come to plain values without a page: arithmetic (CSS Values 4, "Mathematical Expressions"),
//! relative colours and mixes (CSS Color 5, "Relative Colors" and "Mixing Colors").

use super::variables::closing;
use crate::colour::{Rgba, colour_text, mix_oklab, parse_css_colour};
use crate::syntax::number_text;

/// A value with every function of these kinds replaced by what it comes to; what is not understood stays as it is.
pub(super) fn computed(value: &str) -> String {
    within(value, 0)
}

/// Functions within functions that are followed.
const MAX_DEPTH: usize = 32;

/// From the inside out, so that nothing is read twice however deep it lies.
fn within(value: &str, depth: usize) -> String {
    if depth >= MAX_DEPTH {
        return value.to_owned();
    }
    let (mut result, mut rest) = (String::new(), value);
    while let Some((start, name, inside, end)) = next_function(rest) {
        result.push_str(&rest[..start]);
        let inside = within(inside, depth + 1);
        let found = plain(name, &inside);
        result.push_str(&found.unwrap_or_else(|| format!("{name}({inside})")));
        rest = &rest[end..];
    }
    result.push_str(rest);
    result
}

/// The first function of a text: where it begins, its name, what it holds, where it ends.
fn next_function(text: &str) -> Option<(usize, &str, &str, usize)> {
    let open = text.find('(')?;
    let is_name = |letter: char| letter.is_ascii_alphanumeric() || letter == '-';
    let start = text[..open]
        .rfind(|letter| !is_name(letter))
        .map_or(0, |at| at + text[at..].chars().next().map_or(1, char::len_utf8));
    let inside = &text[open + 1..];
    let close = closing(inside)?;
    Some((start, &text[start..open], &inside[..close], open + close + 2))
}

fn plain(name: &str, inside: &str) -> Option<String> {
    let name = name.to_ascii_lowercase();
    match name.as_str() {
        "calc" | "min" | "max" | "clamp" | "abs" => {
            let found = Reader::new(&format!("{name}({inside})"), &[]).whole()?;
            match found.unit {
                Unit::Px => Some(format!("{}px", number_text(tidy(found.number)))),
                Unit::None => Some(number_text(tidy(found.number))),
                Unit::Angle => Some(format!("{}deg", number_text(tidy(found.number.to_degrees())))),
            }
        }
        "rgb" | "rgba" | "oklch" | "hsl" | "color" => relative(&name, inside.trim()).map(colour_text),
        "color-mix" => mixed(inside).map(colour_text),
        _ => None,
    }
}

/// Without the last digits that sines leave behind.
fn tidy(number: f64) -> f64 {
    (number * 1e9).round() / 1e9 + 0.0
}

/// A colour made of the parts of another.
fn relative(function: &str, inside: &str) -> Option<Rgba> {
    let rest = inside.strip_prefix("from")?.trim_start();
    let (origin, rest) = first_colour(rest)?;
    let [h, s, light] = origin.hsl();
    let [l, c, hue] = origin.oklch();
    let [r, g, b] = [origin.r, origin.g, origin.b].map(f64::from);
    let (rest, whole) = match function {
        "color" => (rest.trim_start().strip_prefix("srgb")?, 1.0),
        _ => (rest, 255.0),
    };
    let alpha = ("alpha", f64::from(origin.a));
    let parts: [(&str, f64); 4] = match function {
        "oklch" => [("l", f64::from(l)), ("c", f64::from(c)), ("h", f64::from(hue)), alpha],
        "hsl" => [("h", f64::from(h)), ("s", f64::from(s)), ("l", f64::from(light)), alpha],
        _ => [("r", r * whole), ("g", g * whole), ("b", b * whole), alpha],
    };
    let (channels, opacity) = match rest.split_once('/') {
        Some((channels, opacity)) => (channels, Reader::opacity(opacity, &parts).whole()?.number),
        None => (rest, f64::from(origin.a)),
    };
    let [x, y, z] = Reader::new(channels, &parts).three()?;
    let text = match function {
        "oklch" => format!("oklch({x} {y} {z} / {opacity})"),
        "hsl" => format!("hsl({x} {y}% {z}% / {opacity})"),
        _ => format!("color(srgb {} {} {} / {opacity})", x / whole, y / whole, z / whole),
    };
    let Rgba { r, g, b, a } = parse_css_colour(&text).ok()?;
    let clipped = [r, g, b].map(|part| part.clamp(0.0, 1.0));
    Some(Rgba::new(clipped[0], clipped[1], clipped[2], a))
}

/// The colour a text begins with, and what follows it.
fn first_colour(text: &str) -> Option<(Rgba, &str)> {
    let word = text.find(char::is_whitespace).unwrap_or(text.len());
    let end = match text.find('(') {
        Some(open) if open < word => next_function(text)?.3,
        _ => word,
    };
    let colour = parse_css_colour(&text[..end]).ok()?;
    Some((colour, &text[end..]))
}

/// Two colours mixed in sRGB or OKLab.
fn mixed(inside: &str) -> Option<Rgba> {
    let parts = super::sheet::split_at_commas(inside);
    let [space, first, second] = parts.as_slice() else { return None };
    let (first, p) = weighted(first.trim())?;
    let (second, q) = weighted(second.trim())?;
    let (p, q) = match (p, q) {
        (None, None) => (0.5, 0.5),
        (Some(p), None) => (p, 1.0 - p),
        (None, Some(q)) => (1.0 - q, q),
        (Some(p), Some(q)) => (p, q),
    };
    let (sum, faded) = (p + q, (p + q).min(1.0));
    if sum <= 0.0 {
        return None;
    }
    let share = (q / sum) as f32;
    let colour = match space.trim() {
        "in oklab" => mix_oklab(first, second, share),
        "in srgb" => {
            let (from, to) = (first.premultiplied(), second.premultiplied());
            Rgba::from_premultiplied(std::array::from_fn(|i| from[i] + (to[i] - from[i]) * share))
        }
        _ => return None,
    };
    Some(colour.faded(faded))
}

/// A colour of a mix, and its share where one is given.
fn weighted(text: &str) -> Option<(Rgba, Option<f64>)> {
    let (colour, rest) = first_colour(text)?;
    match rest.trim() {
        "" => Some((colour, None)),
        share => {
            let percent: f64 = share.strip_suffix('%')?.trim().parse().ok()?;
            Some((colour, Some(percent / 100.0)))
        }
    }
}

#[derive(Clone, Copy, PartialEq)]
enum Unit {
    None,
    Px,
    /// In radians.
    Angle,
}

#[derive(Clone, Copy)]
struct Quantity {
    number: f64,
    unit: Unit,
}

/// Reads an expression from left to right.
struct Reader<'a> {
    rest: &'a str,
    /// Names that stand for numbers.
    known: &'a [(&'a str, f64)],
    /// Whether percents are shares of one: of what they are elsewhere depends on where they stand.
    shares: bool,
    depth: usize,
}

impl<'a> Reader<'a> {
    fn new(text: &'a str, known: &'a [(&'a str, f64)]) -> Self {
        Self { rest: text.trim(), known, shares: false, depth: 0 }
    }

    fn opacity(text: &'a str, known: &'a [(&'a str, f64)]) -> Self {
        Self { shares: true, ..Self::new(text, known) }
    }

    /// The whole text as one expression.
    fn whole(mut self) -> Option<Quantity> {
        let found = self.sum()?;
        self.rest.trim().is_empty().then_some(found).filter(|found| found.number.is_finite())
    }

    /// Three values side by side.
    fn three(mut self) -> Option<[f64; 3]> {
        let mut next = || self.one().map(|found| found.number);
        let found = [next()?, next()?, next()?];
        self.rest.trim().is_empty().then_some(found)
    }

    fn sum(&mut self) -> Option<Quantity> {
        let mut left = self.product()?;
        loop {
            let sign = match self.peek() {
                Some('+') => 1.0,
                Some('-') => -1.0,
                _ => return Some(left),
            };
            self.skip(1);
            let right = self.product()?;
            if left.unit != right.unit {
                return None;
            }
            left.number += sign * right.number;
        }
    }

    fn product(&mut self) -> Option<Quantity> {
        let mut left = self.one()?;
        loop {
            match self.peek() {
                Some('*') => {
                    self.skip(1);
                    let right = self.one()?;
                    let unit = match (left.unit, right.unit) {
                        (unit, Unit::None) | (Unit::None, unit) => unit,
                        _ => return None,
                    };
                    left = Quantity { number: left.number * right.number, unit };
                }
                Some('/') => {
                    self.skip(1);
                    let right = self.one()?;
                    let unit = match (left.unit, right.unit) {
                        (unit, Unit::None) => unit,
                        (a, b) if a == b => Unit::None,
                        _ => return None,
                    };
                    left = Quantity { number: left.number / right.number, unit };
                }
                _ => return Some(left),
            }
        }
    }

    /// A number, a name, or what stands in brackets.
    fn one(&mut self) -> Option<Quantity> {
        let letter = self.peek()?;
        if letter == '(' {
            return self.bracket().map(|found| found.first().copied())?;
        }
        if letter.is_ascii_digit() || matches!(letter, '.' | '+' | '-') && self.starts_number() {
            return self.number();
        }
        let name: String =
            self.rest.chars().take_while(|letter| letter.is_ascii_alphanumeric() || *letter == '-').collect();
        self.skip(name.len());
        if self.rest.starts_with('(') {
            let arguments = self.bracket()?;
            return function(&name.to_ascii_lowercase(), &arguments);
        }
        let known = self.known.iter().find(|(known, _)| *known == name).map(|(_, number)| *number);
        let number = known.or(match name.as_str() {
            "pi" => Some(std::f64::consts::PI),
            "e" => Some(std::f64::consts::E),
            _ => None,
        })?;
        Some(Quantity { number, unit: Unit::None })
    }

    /// The expressions between brackets, at which the text stands.
    fn bracket(&mut self) -> Option<Vec<Quantity>> {
        self.depth += 1;
        if self.depth > MAX_DEPTH {
            return None;
        }
        self.skip(1);
        let mut found = vec![self.sum()?];
        while self.peek() == Some(',') {
            self.skip(1);
            found.push(self.sum()?);
        }
        (self.peek() == Some(')')).then(|| self.skip(1))?;
        self.depth -= 1;
        Some(found)
    }

    fn number(&mut self) -> Option<Quantity> {
        let is_digit = |(at, letter): (usize, char)| {
            letter.is_ascii_digit() || letter == '.' || at == 0 && matches!(letter, '+' | '-')
        };
        let end = self.rest.char_indices().find(|one| !is_digit(*one)).map_or(self.rest.len(), |(at, _)| at);
        let number: f64 = self.rest[..end].parse().ok()?;
        self.skip(end);
        let unit: String =
            self.rest.chars().take_while(|letter| letter.is_ascii_alphabetic() || *letter == '%').collect();
        self.skip(unit.len());
        let (factor, unit) = match unit.to_ascii_lowercase().as_str() {
            "" => (1.0, Unit::None),
            "%" if self.shares => (0.01, Unit::None),
            "px" => (1.0, Unit::Px),
            "in" => (96.0, Unit::Px),
            "cm" => (96.0 / 2.54, Unit::Px),
            "mm" => (9.6 / 2.54, Unit::Px),
            "q" => (2.4 / 2.54, Unit::Px),
            "pt" => (96.0 / 72.0, Unit::Px),
            "pc" => (16.0, Unit::Px),
            "deg" => (std::f64::consts::PI / 180.0, Unit::Angle),
            "grad" => (std::f64::consts::PI / 200.0, Unit::Angle),
            "turn" => (std::f64::consts::TAU, Unit::Angle),
            "rad" => (1.0, Unit::Angle),
            _ => return None,
        };
        Some(Quantity { number: number * factor, unit })
    }

    fn starts_number(&self) -> bool {
        self.rest.chars().nth(1).is_some_and(|next| next.is_ascii_digit() || next == '.')
            || self.rest.starts_with('.')
    }

    /// The next character that is not a space.
    fn peek(&mut self) -> Option<char> {
        self.rest = self.rest.trim_start();
        self.rest.chars().next()
    }

    fn skip(&mut self, bytes: usize) {
        self.rest = self.rest.get(bytes..).unwrap_or("");
    }
}

fn function(name: &str, arguments: &[Quantity]) -> Option<Quantity> {
    let [first, others @ ..] = arguments else { return None };
    let same = others.iter().all(|other| other.unit == first.unit);
    let of = |number: f64, unit: Unit| Some(Quantity { number, unit });
    let numbers = || arguments.iter().map(|one| one.number);
    let turned = first.unit != Unit::Px && others.is_empty();
    match (name, arguments) {
        ("calc", [one]) => Some(*one),
        ("min", _) if same => of(numbers().fold(f64::INFINITY, f64::min), first.unit),
        ("max", _) if same => of(numbers().fold(f64::NEG_INFINITY, f64::max), first.unit),
        // CSS Values 4: clamp(MIN, VAL, MAX) is max(MIN, min(VAL, MAX)).
        ("clamp", [low, value, high]) if same => {
            of(low.number.max(value.number.min(high.number)), first.unit)
        }
        ("abs", [one]) => of(one.number.abs(), one.unit),
        ("sqrt", [one]) if one.unit == Unit::None => of(one.number.sqrt(), Unit::None),
        ("sin", [one]) if turned => of(one.number.sin(), Unit::None),
        ("cos", [one]) if turned => of(one.number.cos(), Unit::None),
        ("tan", [one]) if turned => of(one.number.tan(), Unit::None),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn arithmetic_comes_to_plain_values() {
        for (value, expected) in [
            ("calc(2px + 3px * 2) 0 red", "8px 0 red"),
            ("calc(-10px * sin(30deg)) calc(10px * cos(0deg))", "-5px 10px"),
            ("calc(1px * sin(0.25turn))", "1px"),
            // CSS Values 4, "Comparison Functions".
            ("max(4px, 1px) min(4px, 1px) clamp(2px, 9px, 5px)", "4px 1px 5px"),
            ("calc((1px + 2px) * -2)", "-6px"),
            ("calc(1in / 2)", "48px"),
            ("drop-shadow(calc(1px + 1px) 0 0 red)", "drop-shadow(2px 0 0 red)"),
        ] {
            assert_eq!(computed(value), expected);
        }
    }

    #[test]
    fn colours_are_made_of_others() {
        for (value, expected) in [
            ("rgb(from #3b2f22 r g b / 0.22)", "rgb(59 47 34 / 0.22)"),
            ("rgb(from rgb(10 20 30 / 0.5) r g b / calc(alpha * 0.5))", "rgb(10 20 30 / 0.25)"),
            ("rgb(from red calc(r - 55) 0 0)", "#c80000"),
            // CSS Color 5: a mix of red and white in sRGB.
            ("color-mix(in srgb, red, white)", "rgb(255 127.5 127.5)"),
            ("color-mix(in srgb, red 25%, transparent)", "rgb(255 0 0 / 0.25)"),
        ] {
            assert_eq!(computed(value), expected);
        }
        // Darker by as much as the document says it.
        let darker = computed("oklch(from #2f7d6b calc(l - 0.1) c h / 0.6)");
        let wanted = parse_css_colour("#2f7d6b").unwrap_or_default().lightened(-0.1);
        let found = parse_css_colour(&darker).unwrap_or_default();
        assert!((found.r - wanted.r).abs() < 2e-3 && (found.g - wanted.g).abs() < 2e-3, "{darker}");
    }

    /// Each level is read once, whether what it holds is understood or not.
    #[test]
    fn deep_nesting_takes_no_longer_than_it_is_long() {
        for (open, inside) in
            [("rgb(from ", "nothing"), ("calc(1px + ", "nothing"), ("color-mix(in srgb, ", "red")]
        {
            let deep = format!("{}{inside}{}", open.repeat(5_000), ")".repeat(5_000));
            assert_eq!(computed(&deep), deep);
        }
    }

    #[test]
    fn what_is_not_understood_stays() {
        for value in [
            "calc(1px + 1em)",
            "calc(1px + )",
            "rgb(1 2 3)",
            "calc(1px",
            "color-mix(in lch, red, blue)",
            "calc(1px * 1px)",
            "calc(50%)",
            "rgb(from red 50% g b)",
            "é(calc(1px + é)",
        ] {
            assert_eq!(computed(value), value);
        }
    }
}
