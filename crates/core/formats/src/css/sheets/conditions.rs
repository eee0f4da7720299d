//! Whether conditions hold (Media Queries 4 and 5; CSS Conditional Rules 4): in a window of 1280 by 800 px with a mouse, at one
//! device pixel a px, for someone without special preferences, in a browser like Chromium.

use cssparser::{Parser, Token};

use super::super::computed::{Plain, length_in};
use super::parse::Condition;
use super::selector;
use super::text::without_comments;

/// The features that conditions test.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Window {
    /// Whether the reader prefers a dark scheme.
    pub dark: bool,
}

/// Width and height of the window in px.
pub(super) const VIEWPORT: (f64, f64) = (1280.0, 800.0);

impl Condition {
    pub fn holds(&self, window: Window) -> bool {
        match self {
            Self::Media(query) => media(query, window),
            Self::Supports(text) => boolean(text, &supports, 0).unwrap_or(false),
            Self::Container | Self::StartingStyle => false,
        }
    }
}

fn media(list: &str, window: Window) -> bool {
    let queries = super::super::sheet::split_at_commas(list);
    queries.iter().any(|query| one_query(query.trim(), window).unwrap_or(false))
}

/// `None` is that browsers do not know it.
fn one_query(query: &str, window: Window) -> Option<bool> {
    let feature = |text: &str| media_feature(text, window);
    let mut words = query.splitn(2, char::is_whitespace);
    let first = words.next().unwrap_or("").to_ascii_lowercase();
    let rest = words.next().unwrap_or("").trim();
    match first.as_str() {
        "" => Some(true),
        "only" => one_query(rest, window),
        "not" if !rest.starts_with('(') => one_query(rest, window).map(|holds| !holds),
        _ if first.starts_with('(') || first == "not" => boolean(query, &feature, 0),
        kind => {
            let of_kind = matches!(kind, "all" | "screen");
            let Some(more) = rest.strip_prefix("and").filter(|_| !rest.is_empty()) else {
                return Some(of_kind && rest.is_empty());
            };
            Some(boolean(more.trim(), &feature, 0)? && of_kind)
        }
    }
}

/// Conditions within conditions.
const MAX_DEPTH: usize = 32;

/// A combination with `not`, `and` and `or` of features that `leaf` decides.
fn boolean(text: &str, leaf: &dyn Fn(&str) -> Option<bool>, depth: usize) -> Option<bool> {
    if depth > MAX_DEPTH {
        return None;
    }
    let mut parser = Parser::new(text);
    let mut found: Option<bool> = None;
    let (mut is_first, mut is_and, mut negated) = (true, false, false);
    loop {
        let Ok(token) = parser.next().cloned() else { break };
        let value = match token {
            Token::Ident(word) => {
                match word.to_ascii_lowercase().as_str() {
                    "not" => negated = !negated,
                    "and" => is_and = true,
                    "or" => is_and = false,
                    _ => return None,
                }
                continue;
            }
            Token::ParenthesisBlock => {
                let inner = inner(&mut parser);
                let nested = inner.starts_with('(') || inner.to_ascii_lowercase().starts_with("not");
                if nested { boolean(&inner, leaf, depth + 1) } else { leaf(&inner) }
            }
            Token::Function(name) => {
                let arguments = inner(&mut parser);
                leaf(&format!("{name}({arguments})"))
            }
            _ => return None,
        };
        let value = if std::mem::take(&mut negated) { value.map(|holds| !holds) } else { value };
        found = match (found, is_and) {
            _ if std::mem::take(&mut is_first) => value,
            (before, true) => both(before, value),
            (before, false) => either(before, value),
        };
    }
    found
}

fn both(one: Option<bool>, other: Option<bool>) -> Option<bool> {
    match (one, other) {
        (Some(false), _) | (_, Some(false)) => Some(false),
        (Some(true), Some(true)) => Some(true),
        _ => None,
    }
}

fn either(one: Option<bool>, other: Option<bool>) -> Option<bool> {
    both(one.map(|holds| !holds), other.map(|holds| !holds)).map(|none| !none)
}

fn inner(parser: &mut Parser<'_>) -> String {
    let found = parser.parse_nested_block(|inner| -> Result<String, cssparser::ParseError<()>> {
        let start = inner.position();
        while inner.next().is_ok() {}
        Ok(without_comments(inner.slice_from(start)))
    });
    found.unwrap_or_default()
}

/// A feature such as `min-width: 40em`, `hover` or `400px <= width < 60em`.
fn media_feature(text: &str, window: Window) -> Option<bool> {
    let lower = text.to_ascii_lowercase();
    if let Some((name, value)) = lower.split_once(':') {
        return named_feature(name.trim(), value.trim(), window);
    }
    if lower.contains(['<', '>', '=']) {
        return range(&lower);
    }
    let name = lower.trim();
    match discrete(name, window) {
        Some(values) => Some(!values.iter().all(|value| ["none", "no-preference", "0"].contains(value))),
        None => number_of(name).map(|number| number != 0.0),
    }
}

fn named_feature(name: &str, value: &str, window: Window) -> Option<bool> {
    if let Some(values) = discrete(name, window) {
        return Some(values.contains(&value));
    }
    let name = name.replace("-webkit-min-", "min--webkit-").replace("-webkit-max-", "max--webkit-");
    let value = value_of(value)?;
    if let Some(name) = name.strip_prefix("min-") {
        return Some(number_of(name)? >= value);
    }
    if let Some(name) = name.strip_prefix("max-") {
        return Some(number_of(name)? <= value);
    }
    Some(number_of(&name)? == value)
}

/// Features that have words for values, with those that hold.
fn discrete(name: &str, window: Window) -> Option<&'static [&'static str]> {
    Some(match name {
        "prefers-color-scheme" => {
            if window.dark {
                &["dark"]
            } else {
                &["light"]
            }
        }
        "prefers-reduced-motion" | "prefers-contrast" | "prefers-reduced-transparency" => &["no-preference"],
        "forced-colors" => &["none"],
        "hover" | "any-hover" => &["hover"],
        "pointer" | "any-pointer" => &["fine"],
        "orientation" => &["landscape"],
        "display-mode" => &["browser"],
        "scripting" => &["enabled"],
        "update" => &["fast"],
        "overflow-block" | "overflow-inline" => &["scroll"],
        "color-gamut" => &["srgb"],
        "dynamic-range" | "video-dynamic-range" => &["standard"],
        "-webkit-transform-3d" => &["1"],
        "grid" => &["0"],
        _ => return None,
    })
}

/// The value of a feature with numbers: px, device pixels a px, or a ratio.
fn number_of(name: &str) -> Option<f64> {
    let (width, height) = VIEWPORT;
    Some(match name {
        "width" | "device-width" => width,
        "height" | "device-height" => height,
        "aspect-ratio" | "device-aspect-ratio" => width / height,
        "resolution" | "-webkit-device-pixel-ratio" => 1.0,
        "color" => 8.0,
        "monochrome" | "color-index" => 0.0,
        "horizontal-viewport-segments" | "vertical-viewport-segments" => 1.0,
        _ => return None,
    })
}

/// A length in px, a resolution in `dppx`, a ratio or a plain number.
fn value_of(text: &str) -> Option<f64> {
    let text = text.trim();
    let with = |unit: &str, factor: f64| {
        text.strip_suffix(unit)
            .and_then(|number| number.trim().parse::<f64>().ok())
            .map(|number| number * factor)
    };
    if let Some((one, other)) = text.split_once('/') {
        return Some(one.trim().parse::<f64>().ok()? / other.trim().parse::<f64>().ok()?);
    }
    let plain = text.parse().ok();
    let resolution =
        || with("dppx", 1.0).or_else(|| with("dpi", 1.0 / 96.0)).or_else(|| with("dpcm", 2.54 / 96.0));
    plain.or_else(resolution).or_else(|| length_in(text, &Plain))
}

/// `width >= 40em`, or with a value on both sides.
fn range(text: &str) -> Option<bool> {
    let spaced = text
        .replace("<=", " ≤ ")
        .replace(">=", " ≥ ")
        .replace('<', " < ")
        .replace('>', " > ")
        .replace('=', " = ");
    let parts: Vec<&str> = spaced.split_whitespace().collect();
    let is_sign = |part: &&str| ["<", ">", "≤", "≥", "="].contains(part);
    let signs: Vec<usize> = (0..parts.len()).filter(|at| is_sign(&parts[*at])).collect();
    let side = |parts: &[&str]| {
        let text = parts.join(" ");
        number_of(&text).or_else(|| value_of(&text))
    };
    let holds = |left: f64, sign: &str, right: f64| match sign {
        "<" => left < right,
        ">" => left > right,
        "≤" => left <= right,
        "≥" => left >= right,
        _ => left == right,
    };
    match signs.as_slice() {
        [at] => Some(holds(side(&parts[..*at])?, parts[*at], side(&parts[at + 1..])?)),
        [one, two] => {
            let middle = side(&parts[one + 1..*two])?;
            let first = holds(side(&parts[..*one])?, parts[*one], middle);
            Some(first && holds(middle, parts[*two], side(&parts[two + 1..])?))
        }
        _ => None,
    }
}

/// Whether Chromium has a property or a selector.
fn supports(text: &str) -> Option<bool> {
    let lower = text.to_ascii_lowercase();
    if let Some(inner) = lower.strip_prefix("selector(") {
        return Some(selector::parse(inner.strip_suffix(')').unwrap_or(inner), None).is_some());
    }
    if lower.starts_with("font-tech(") || lower.starts_with("font-format(") {
        return Some(true);
    }
    let (name, value) = lower.split_once(':')?;
    let (name, value) = (name.trim(), value.trim());
    let others = ["-moz-", "-ms-", "-o-", "-khtml-", "-apple-"];
    let unknown = others.iter().any(|prefix| name.starts_with(prefix) || value.contains(prefix));
    Some(!unknown && !NOT_IN_CHROMIUM.contains(&name))
}

/// Properties of other browsers that style sheets ask about (measured with `CSS.supports()` in Chromium 156).
const NOT_IN_CHROMIUM: [&str; 6] = [
    "-webkit-hyphens",
    "-webkit-backdrop-filter",
    "-webkit-touch-callout",
    "-webkit-overflow-scrolling",
    "margin-trim",
    "hanging-punctuation",
];

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn queries_are_answered_as_chromium_answers_them() {
        let light = Window { dark: false };
        for (query, expected) in [
            ("print", false),
            ("screen and (min-width: 40em)", true),
            ("(max-width: 575.98px)", false),
            ("(400px <= width < 80rem)", false),
            ("(width >= 1280px)", true),
            ("only screen and (min-width: 64em) and (max-width: 74.99em)", false),
            ("not all and (monochrome)", true),
            ("(prefers-color-scheme: dark)", false),
            ("not (unknown-feature)", false),
            ("(prefers-reduced-motion)", false),
            ("print, (hover: hover)", true),
            ("(-webkit-min-device-pixel-ratio: 2), (min-resolution: 192dpi)", false),
            ("((hover) and (pointer: fine)) or (grid)", true),
            ("screen and (min--moz-device-pixel-ratio: 0)", false),
        ] {
            assert_eq!(Condition::Media(query.into()).holds(light), expected, "{query}");
        }
        for (query, expected) in [
            ("(backdrop-filter: blur(1px))", true),
            ("not (backdrop-filter: blur(1px))", false),
            ("((-webkit-hyphens: none) and (not (margin-trim: inline))) or ((-moz-orient: inline))", false),
            ("selector(:focus-visible)", true),
            ("selector(:-moz-focusring)", false),
        ] {
            assert_eq!(Condition::Supports(query.into()).holds(light), expected, "{query}");
        }
    }
}
