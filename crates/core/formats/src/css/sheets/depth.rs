//! Depth of an element: the shadows and filters that a browser computes for it.

use super::super::computed::ValueError;
use super::super::error::CssError;
use super::super::filters::{backdrop_filter, filter_list};
use super::super::shadows::{self, shadow_list};
use super::cascade::Applied;
use super::parse::{Declaration, Place};
use super::style::{DeclaredValue, NoValue, Style};
use crate::limits;
use crate::model::{Coat, CoatKind, ColourSource, CssColour, Transition};

/// A property that says something about depth.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub(super) enum Property {
    BoxShadow,
    TextShadow,
    Filter,
    BackdropFilter,
}

impl Property {
    pub const ALL: [Self; 4] = [Self::BoxShadow, Self::TextShadow, Self::Filter, Self::BackdropFilter];

    /// Its names: prefixed ones are the same property in Chromium, as the Compatibility Standard has it.
    fn names(self) -> &'static [&'static str] {
        match self {
            Self::BoxShadow => &["box-shadow", "-webkit-box-shadow", "all"],
            Self::TextShadow => &["text-shadow", "all"],
            Self::Filter => &["filter", "-webkit-filter", "all"],
            Self::BackdropFilter => &["backdrop-filter", "all"],
        }
    }

    pub fn name(self) -> &'static str {
        self.names()[0]
    }
}

/// The declaration of one property.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Depth {
    /// No rule says anything.
    Silent,
    /// These coats, with each thing that was approximated or left out.
    Coats(Vec<Coat>, Vec<String>),
    /// It refers to a custom property that is set nowhere.
    Unset(String),
    /// Something that is not followed, or more than a finish holds: in words.
    Construct(String),
}

/// A property of an element, and the declaration that decided.
#[derive(Debug, Clone)]
pub(super) struct Reading {
    pub depth: Depth,
    pub place: Option<Place>,
    /// Declarations that browsers skip, with the reason.
    pub invalid: Vec<(Place, String)>,
}

impl Reading {
    /// Whether the same is drawn as by another: nothing, where nothing is said.
    pub fn is_like(&self, other: Option<&Self>) -> bool {
        let shown = |depth: &Depth| match depth {
            Depth::Silent => Some(Vec::new()),
            Depth::Coats(coats, _) => Some(coats.clone()),
            Depth::Unset(_) | Depth::Construct(_) => None,
        };
        other.is_some_and(|other| self.depth == other.depth || shown(&self.depth) == shown(&other.depth))
    }
}

/// Reads a property of an element.
pub(super) fn read(style: &Style<'_, '_>, at: usize, property: Property) -> Reading {
    let mut reading = Reading { depth: Depth::Silent, place: None, invalid: Vec::new() };
    for one in style.declared(at, property.names()) {
        let place = one.declaration.place;
        match decided(style, at, property, &one) {
            Decision::Passed => continue,
            Decision::Invalid(why) => {
                reading.invalid.push((place, format!("{}: {why}", one.declaration.name)));
                continue;
            }
            Decision::Is(depth) => reading.depth = depth,
        }
        reading.place = Some(place);
        return reading;
    }
    reading
}

enum Decision {
    /// It gives way to a weaker one.
    Passed,
    /// Browsers pass over it.
    Invalid(String),
    Is(Depth),
}

fn none() -> Depth {
    Depth::Coats(Vec::new(), Vec::new())
}

fn decided(style: &Style<'_, '_>, at: usize, property: Property, one: &Applied<'_>) -> Decision {
    let inherits = property == Property::TextShadow;
    let inherited = || match style.parent(at) {
        Some(parent) => match read(style, parent, property).depth {
            Depth::Silent => none(),
            depth => depth,
        },
        None => none(),
    };
    let value = match style.declared_value(at, one, inherits) {
        None => return Decision::Passed,
        Some(Ok(DeclaredValue::Inherit)) => return Decision::Is(inherited()),
        Some(Ok(DeclaredValue::Initial)) => return Decision::Is(none()),
        Some(Ok(DeclaredValue::Value(value))) => value,
        Some(Err(NoValue::TooLong)) => {
            return Decision::Is(Depth::Construct(
                "values of more than 100000 characters are left out".to_owned(),
            ));
        }
        Some(Err(NoValue::Unset(name))) => return Decision::Is(Depth::Unset(name)),
    };
    // A value with var() is valid as it stands; what comes of it may be none, which is then as if unset.
    let open = one.declaration.value.to_ascii_lowercase().contains("var(");
    match coats(style, at, property, &value) {
        Ok(depth) => Decision::Is(depth),
        Err(_) if open && inherits => Decision::Is(inherited()),
        Err(_) if open => Decision::Is(none()),
        Err(why) => Decision::Invalid(why),
    }
}

/// The coats of a value; an error where browsers do not take it.
fn coats(style: &Style<'_, '_>, at: usize, property: Property, value: &str) -> Result<Depth, String> {
    let computed = match style.computed(at, value) {
        Ok(computed) => computed,
        Err(ValueError::Invalid(why)) => return Err(why),
        Err(ValueError::Construct(what)) => return Ok(Depth::Construct(format!("{what} is not followed"))),
    };
    let own = style.current_colour(at, 0).map_or_else(CssColour::black, CssColour::from_rgba);
    let mut notes = Vec::new();
    let computed = within_reach(&computed, property, &mut notes);
    let mut note = |what: &str| notes.push(what.to_owned());
    let read = match property {
        Property::Filter => filter_list(&computed, &own, &mut note),
        Property::BackdropFilter => backdrop_filter(&computed, &mut note),
        _ if computed.trim().is_empty() => return Err("expected a shadow".to_owned()),
        Property::BoxShadow => shadow_list(shadows::Property::BoxShadow, &computed, &own),
        Property::TextShadow => shadow_list(shadows::Property::TextShadow, &computed, &own),
    };
    if read.as_ref().is_ok_and(|coats| coats.iter().any(|coat| is_of(coat, &own))) {
        style.depends_on("color");
    }
    match read {
        Ok(coats) if coats.len() > limits::COATS => {
            Ok(Depth::Construct(format!("more than {} shadows in one list: left out", limits::COATS)))
        }
        Ok(coats) => Ok(Depth::Coats(coats, notes)),
        Err(CssError { is_limit: true, message, .. }) => Ok(Depth::Construct(format!("{message}: left out"))),
        Err(CssError { message, .. }) => Err(message),
    }
}

/// Whether a coat may have the colour of the text for its own.
fn is_of(coat: &Coat, text: &CssColour) -> bool {
    match &coat.kind {
        CoatKind::Drop(drop) => matches!(&drop.colour, ColourSource::Literal(colour) if colour == text),
        CoatKind::Inner(inner) => matches!(&inner.colour, ColourSource::Literal(colour) if colour == text),
        CoatKind::Highlight(_)
        | CoatKind::Tint(_)
        | CoatKind::Stroke(_)
        | CoatKind::Blur(_)
        | CoatKind::Extrude(_)
        | CoatKind::Cast(_)
        | CoatKind::Backdrop(_)
        | CoatKind::Ramp(_)
        | CoatKind::Raised(_) => false,
    }
}

/// A value with spreads that cover everything as far as a finish goes: `inset 0 0 0 9999px` paints a whole element.
fn within_reach(value: &str, property: Property, notes: &mut Vec<String>) -> String {
    if property != Property::BoxShadow {
        return value.to_owned();
    }
    let most = limits::SPREAD;
    let layers = super::super::sheet::split_at_commas(value).into_iter().map(|layer| {
        let mut lengths = 0;
        let words = layer.split(' ').map(|word| {
            let length = word.strip_suffix("px").and_then(|number| number.parse::<f64>().ok());
            lengths += usize::from(length.is_some() || word == "0");
            match length.filter(|length| lengths == 4 && length.abs() > most) {
                Some(length) => {
                    notes.push(format!("a spread beyond {most} px is taken as {most} px"));
                    format!("{}px", most.copysign(length))
                }
                None => word.to_owned(),
            }
        });
        words.collect::<Vec<_>>().join(" ")
    });
    layers.collect::<Vec<_>>().join(",")
}

/// How an element changes its shadows or filters (CSS Transitions 1 and 2).
pub(super) fn transition(style: &Style<'_, '_>, at: usize) -> Option<Transition> {
    let list = |names: &[&str]| -> Option<(Applied<'_>, Vec<String>)> {
        let one = style.declared(at, names).next()?;
        match style.declared_value(at, &one, false)?.ok()? {
            DeclaredValue::Value(value) => {
                let computed = style.computed(at, &value).ok()?;
                Some((one, super::super::sheet::split_at_commas(&computed)))
            }
            _ => None,
        }
    };
    let whole = list(&["transition", "-webkit-transition"]);
    let stronger = |names: &[&str]| {
        list(names)
            .filter(|(one, _)| whole.as_ref().is_none_or(|(whole, _)| one.beats(whole)))
            .map(|(_, parts)| parts)
    };
    let parts = whole.as_ref().map(|(_, parts)| parts.clone()).unwrap_or_default();
    let mut moves: Vec<Move> = parts.iter().map(|part| Move::parse(part)).collect();
    if let Some(names) = stronger(&["transition-property"]) {
        let before = moves.clone();
        let like = |at: usize| before.get(at % before.len().max(1)).cloned().unwrap_or_default();
        let name = |(at, name): (usize, &String)| Move { property: name.trim().to_owned(), ..like(at) };
        moves = names.iter().enumerate().map(name).collect();
    }
    if moves.is_empty() {
        moves.push(Move::default());
    }
    for (at, one) in moves.iter_mut().enumerate() {
        if let Some(times) = stronger(&["transition-duration"]) {
            one.duration = milliseconds(times[at % times.len()].trim()).unwrap_or(0.0);
        }
        if let Some(curves) = stronger(&["transition-timing-function"]) {
            curves[at % curves.len()].trim().clone_into(&mut one.curve);
        }
    }
    let depth = |one: &&Move| {
        let names = ["all", "box-shadow", "text-shadow", "filter", "backdrop-filter", "-webkit-box-shadow"];
        names.contains(&one.property.as_str())
    };
    let one = moves.iter().rev().find(depth)?;
    let within = one.duration > 0.0 && one.duration <= 60_000.0;
    within.then(|| Transition { duration: one.duration.round() as u32, curve: one.curve.clone() })
}

/// One property that is moved.
#[derive(Debug, Clone)]
struct Move {
    property: String,
    /// In milliseconds.
    duration: f64,
    curve: String,
}

impl Default for Move {
    fn default() -> Self {
        Self { property: "all".to_owned(), duration: 0.0, curve: "ease".to_owned() }
    }
}

impl Move {
    /// One part of a `transition`; its first time is the duration.
    fn parse(part: &str) -> Self {
        let mut found = Self::default();
        if let Some(at) = ["cubic-bezier(", "linear(", "steps("].iter().find_map(|name| part.find(name)) {
            let end = part[at..].rfind(')').map_or(part.len(), |end| at + end + 1);
            part[at..end].clone_into(&mut found.curve);
        }
        let plain: String = part.split('(').next().unwrap_or(part).to_owned();
        let rest = part.rsplit_once(')').map_or("", |(_, rest)| rest);
        let words: Vec<&str> = plain.split_whitespace().chain(rest.split_whitespace()).collect();
        found.duration = words.iter().find_map(|word| milliseconds(word)).unwrap_or(0.0);
        for word in words {
            if CURVES.contains(&word) {
                word.clone_into(&mut found.curve);
            } else if milliseconds(word).is_none() && !["cubic-bezier", "linear", "steps"].contains(&word) {
                word.clone_into(&mut found.property);
            }
        }
        found
    }
}

const CURVES: [&str; 7] = ["ease", "linear", "ease-in", "ease-out", "ease-in-out", "step-start", "step-end"];

fn milliseconds(word: &str) -> Option<f64> {
    let thousandths = word.strip_suffix("ms").and_then(|number| number.parse::<f64>().ok());
    thousandths.or_else(|| {
        word.strip_suffix('s').and_then(|number| number.parse::<f64>().ok()).map(|number| number * 1000.0)
    })
}

/// Whether a declaration is about depth.
pub(super) fn is_depth(declaration: &Declaration) -> bool {
    super::parse::DEPTH.contains(&declaration.name.as_str())
}
