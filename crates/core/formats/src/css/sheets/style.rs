//! Computed values of a page: custom properties, font sizes, colours, and depth (CSS Custom Properties 1; CSS Values 4;
//! CSS Color 4).

use std::cell::{Cell, RefCell};
use std::collections::{BTreeSet, HashMap};
use std::rc::Rc;

use super::super::computed::{ValueContext, ValueError, colour, computed, length_in};
use super::cascade::{Applied, Cascade, Match};
use super::conditions::{VIEWPORT, Window};
use super::element::Page;
use super::settings::Settings;
use super::user_agent::{own_colour, own_scale};
use crate::colour::Rgba;

/// The computed style of one page.
pub(super) struct Style<'p, 's> {
    cascade: &'p Cascade<'s>,
    page: &'p Page,
    window: Window,
    settings: &'p Settings,
    /// The room that is left for the whole sheet.
    room: &'p Cell<Expansions>,
    matches: RefCell<HashMap<usize, Rc<Vec<Match>>>>,
    variables: RefCell<HashMap<(usize, String), Variable>>,
    font_sizes: RefCell<HashMap<usize, f64>>,
    /// Custom properties that were asked for, and that nothing sets here.
    pub unset: RefCell<BTreeSet<String>>,
    /// Everything that was asked for: custom properties, `font-size`, `color-scheme` and, by those who ask for it, `color`.
    pub asked: RefCell<BTreeSet<String>>,
}

#[derive(Clone)]
enum Variable {
    /// It is being computed: asking for it again is a cycle.
    Pending,
    Known(Option<Rc<str>>),
}

/// Substitutions of `var()` and characters they bring, as far as they are still allowed.
#[derive(Debug, Clone, Copy)]
pub(super) struct Expansions {
    substitutions: usize,
    characters: usize,
}

impl Default for Expansions {
    fn default() -> Self {
        Self { substitutions: 4_000_000, characters: 128 << 20 }
    }
}

/// Why a value with `var()` is none.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum NoValue {
    /// Something it refers to is not set, or leads back to itself.
    Unset(String),
    /// It is more than is followed.
    TooLong,
}

/// Characters a value may grow to.
const MAX_LENGTH: usize = 100_000;
/// Values that lead to one another.
const MAX_DEPTH: usize = 64;

/// The cascade's verdict on a declaration, before its value is parsed.
pub(super) enum DeclaredValue {
    Value(String),
    /// `inherit`, or `unset` of a property that is inherited.
    Inherit,
    /// `initial`, or `unset` of one that is not.
    Initial,
}

impl<'p, 's> Style<'p, 's> {
    pub fn new(
        cascade: &'p Cascade<'s>,
        page: &'p Page,
        window: Window,
        settings: &'p Settings,
        room: &'p Cell<Expansions>,
    ) -> Self {
        Self {
            cascade,
            page,
            window,
            settings,
            room,
            matches: RefCell::default(),
            variables: RefCell::default(),
            font_sizes: RefCell::default(),
            unset: RefCell::default(),
            asked: RefCell::default(),
        }
    }

    fn matches(&self, at: usize) -> Rc<Vec<Match>> {
        if let Some(known) = self.matches.borrow().get(&at) {
            return Rc::clone(known);
        }
        let found = Rc::new(self.cascade.matches(self.page, at, self.window));
        self.matches.borrow_mut().insert(at, Rc::clone(&found));
        found
    }

    /// The declarations of these properties on an element, the strongest first.
    pub fn declared(&self, at: usize, names: &[&str]) -> impl Iterator<Item = Applied<'s>> + use<'s> {
        self.cascade.declared(&self.matches(at), names)
    }

    pub fn parent(&self, at: usize) -> Option<usize> {
        self.page.element(at).parent
    }

    /// The meaning of a declared value; `inherits` tells whether its property inherits. `None` where it gives way to
    /// weaker ones.
    pub fn declared_value(
        &self,
        at: usize,
        one: &Applied<'_>,
        inherits: bool,
    ) -> Option<Result<DeclaredValue, NoValue>> {
        let value = &one.declaration.value;
        Some(Ok(match value.to_ascii_lowercase().as_str() {
            "inherit" => DeclaredValue::Inherit,
            "initial" => DeclaredValue::Initial,
            "unset" if inherits => DeclaredValue::Inherit,
            "unset" => DeclaredValue::Initial,
            "revert" | "revert-layer" => return None,
            _ => return Some(self.substituted(at, value).map(DeclaredValue::Value)),
        }))
    }

    /// A value with every `var()` replaced by its value on an element.
    pub fn substituted(&self, at: usize, value: &str) -> Result<String, NoValue> {
        self.substituted_within(at, value, 0)
    }

    fn substituted_within(&self, at: usize, value: &str, depth: usize) -> Result<String, NoValue> {
        let (mut result, mut rest) = (String::new(), value);
        while let Some(start) = next_var(rest) {
            push_apart(&mut result, &rest[..start]);
            let inside = &rest[start + 4..];
            let close = closing(inside).unwrap_or(inside.len());
            let (name, fallback) = match inside[..close].split_once(',') {
                Some((name, fallback)) => (name.trim(), Some(fallback.trim())),
                None => (inside[..close].trim(), None),
            };
            if depth >= MAX_DEPTH {
                return Err(NoValue::TooLong);
            }
            let found = match (self.variable_within(at, name, depth + 1), fallback) {
                (Some(found), _) => found.to_string(),
                (None, Some(fallback)) => self.substituted_within(at, fallback, depth + 1)?,
                (None, None) => return Err(NoValue::Unset(name.to_owned())),
            };
            self.take(found.len())?;
            push_apart(&mut result, &found);
            if result.len() > MAX_LENGTH {
                return Err(NoValue::TooLong);
            }
            rest = inside.get(close + 1..).unwrap_or("");
        }
        push_apart(&mut result, rest);
        if result.len() > MAX_LENGTH { Err(NoValue::TooLong) } else { Ok(result) }
    }

    fn take(&self, characters: usize) -> Result<(), NoValue> {
        let room = self.room.get();
        let left = room.substitutions.checked_sub(1).zip(room.characters.checked_sub(characters));
        let (substitutions, characters) = left.ok_or(NoValue::TooLong)?;
        self.room.set(Expansions { substitutions, characters });
        Ok(())
    }

    /// Notes that something depends on a property.
    pub fn depends_on(&self, name: &str) {
        if !self.asked.borrow().contains(name) {
            self.asked.borrow_mut().insert(name.to_owned());
        }
    }

    /// The computed value of a custom property; `None` is the guaranteed-invalid one.
    pub fn variable(&self, at: usize, name: &str) -> Option<Rc<str>> {
        self.variable_within(at, name, 0)
    }

    fn variable_within(&self, at: usize, name: &str, depth: usize) -> Option<Rc<str>> {
        self.depends_on(name);
        let key = (at, name.to_owned());
        match self.variables.borrow().get(&key) {
            Some(Variable::Pending) => return None,
            Some(Variable::Known(found)) => return found.clone(),
            None => {}
        }
        self.variables.borrow_mut().insert(key.clone(), Variable::Pending);
        let found = self.compute_variable(at, name, depth);
        self.variables.borrow_mut().insert(key, Variable::Known(found.clone()));
        found
    }

    fn compute_variable(&self, at: usize, name: &str, depth: usize) -> Option<Rc<str>> {
        let registered = self.cascade.sheet.registered.get(name);
        let inherits = registered.is_none_or(|one| one.inherits);
        let initial = || registered.and_then(|one| one.initial.as_deref()).map(Rc::from);
        let inherited = || match self.parent(at) {
            Some(parent) if depth < MAX_DEPTH => self.variable_within(parent, name, depth + 1),
            _ => initial().or_else(|| self.custom_property(name)),
        };
        for one in self.declared(at, &[name]) {
            let said = match one.declaration.value.to_ascii_lowercase().as_str() {
                "initial" => return initial(),
                "inherit" => return inherited(),
                "unset" => return if inherits { inherited() } else { initial() },
                "revert" | "revert-layer" => continue,
                _ => self.substituted_within(at, &one.declaration.value, depth + 1),
            };
            let typed = said.ok().map(|value| match registered {
                Some(registered) => self.typed(at, &registered.syntax, &value),
                None => Some(value),
            });
            return match typed {
                Some(Some(value)) => Some(Rc::from(value.as_str())),
                // Registered properties are unset by what they do not take.
                Some(None) if inherits => inherited(),
                Some(None) => initial(),
                None if registered.is_some() => initial(),
                None => None,
            };
        }
        if inherits { inherited() } else { initial() }
    }

    /// A value that was set by hand for a property that nothing else sets.
    fn custom_property(&self, name: &str) -> Option<Rc<str>> {
        let given = self.settings.set.get(name).map(|value| Rc::from(value.as_str()));
        if given.is_none() {
            self.unset.borrow_mut().insert(name.to_owned());
        }
        given
    }

    /// A value of a registered property, computed where its syntax is one that is computed here.
    fn typed(&self, at: usize, syntax: &str, value: &str) -> Option<String> {
        let around = self.around(at);
        match syntax {
            "<length>" => length_in(value, &around).map(|px| format!("{px}px")),
            "<color>" => colour(value, &around).ok().map(crate::colour::colour_text),
            _ => Some(value.to_owned()),
        }
    }

    /// The surroundings that values of an element are computed in.
    pub fn around(&self, at: usize) -> ElementContext<'_, 'p, 's> {
        ElementContext { style: self, at, whole: None }
    }

    /// The font size of an element in px.
    pub fn font_size(&self, at: usize) -> f64 {
        if let Some(known) = self.font_sizes.borrow().get(&at) {
            return *known;
        }
        // Whoever asks on the way gets that of the surroundings.
        let outer = self.parent(at).map_or(self.settings.font_size(), |parent| self.font_size(parent));
        self.font_sizes.borrow_mut().insert(at, outer);
        let found = self.compute_font_size(at, outer).clamp(0.0, 10_000.0);
        self.font_sizes.borrow_mut().insert(at, found);
        found
    }

    fn compute_font_size(&self, at: usize, outer: f64) -> f64 {
        for one in self.declared(at, &["font-size", "font", "all"]) {
            let said = self.declared_value(at, &one, true);
            match said {
                Some(Ok(DeclaredValue::Inherit) | Err(_)) => return outer,
                Some(Ok(DeclaredValue::Initial)) => return self.settings.font_size(),
                Some(Ok(DeclaredValue::Value(value))) => {
                    let value = if one.declaration.name == "font" { size_in_font(&value) } else { value };
                    if let Some(size) = self.size(at, value.trim(), outer) {
                        return size;
                    }
                }
                None => {}
            }
        }
        outer * own_scale(&self.page.element(at).tag, outer, self.settings.font_size())
    }

    /// A font size (CSS Fonts 4, section 2.5).
    fn size(&self, at: usize, value: &str, outer: f64) -> Option<f64> {
        const WORDS: [(&str, f64); 8] = [
            ("xx-small", 9.0),
            ("x-small", 10.0),
            ("small", 13.0),
            ("medium", 16.0),
            ("large", 18.0),
            ("x-large", 24.0),
            ("xx-large", 32.0),
            ("xxx-large", 48.0),
        ];
        let lower = value.to_ascii_lowercase();
        let by_word = WORDS.iter().find(|(word, _)| *word == lower);
        if let Some((_, size)) = by_word {
            return Some(size / 16.0 * self.settings.font_size());
        }
        match lower.as_str() {
            "smaller" => return Some(outer / 1.2),
            "larger" => return Some(outer * 1.2),
            _ => {}
        }
        // While it is computed, the element has the size of its surroundings.
        let around = ElementContext { whole: Some(outer), ..self.around(at) };
        length_in(&lower, &around).filter(|size| *size >= 0.0)
    }

    /// The colour of an element's text; `None` where it is not understood.
    pub fn current_colour(&self, at: usize, depth: usize) -> Option<Rgba> {
        let inherited = || match self.parent(at) {
            Some(parent) => self.current_colour(parent, depth),
            None => Some(Rgba::new(0.0, 0.0, 0.0, 1.0)).map(|black| self.text_colour(at, black)),
        };
        if depth > 4 {
            return None;
        }
        for one in self.declared(at, &["color", "all"]) {
            match self.declared_value(at, &one, true) {
                Some(Ok(DeclaredValue::Inherit) | Err(_)) => return inherited(),
                Some(Ok(DeclaredValue::Initial)) => {
                    return Some(self.text_colour(at, Rgba::new(0.0, 0.0, 0.0, 1.0)));
                }
                Some(Ok(DeclaredValue::Value(value))) if value.eq_ignore_ascii_case("currentcolor") => {
                    return inherited();
                }
                Some(Ok(DeclaredValue::Value(value))) => {
                    match colour(&value, &ParentContext(self.around(at), depth + 1)) {
                        Ok(found) => return Some(found),
                        Err(ValueError::Construct(_)) => return None,
                        Err(ValueError::Invalid(_)) if one.declaration.value.contains("var(") => {
                            return inherited();
                        }
                        Err(ValueError::Invalid(_)) => {}
                    }
                }
                None => {}
            }
        }
        own_colour(&self.page.element(at).tag)
            .map_or_else(inherited, |name| colour(name, &self.around(at)).ok())
    }

    fn text_colour(&self, at: usize, black: Rgba) -> Rgba {
        if self.is_dark(at) { Rgba::new(1.0, 1.0, 1.0, 1.0) } else { black }
    }

    /// Whether an element is drawn in a dark scheme (CSS Color Adjustment 1, section 2).
    pub fn is_dark(&self, at: usize) -> bool {
        let inherited = || self.parent(at).is_some_and(|parent| self.is_dark(parent));
        for one in self.declared(at, &["color-scheme"]) {
            match self.declared_value(at, &one, true) {
                Some(Ok(DeclaredValue::Inherit) | Err(_)) => return inherited(),
                Some(Ok(DeclaredValue::Initial)) => return false,
                Some(Ok(DeclaredValue::Value(value))) => {
                    let lower = value.to_ascii_lowercase();
                    let has = |scheme| lower.split_whitespace().any(|word| word == scheme);
                    return has("dark") && (self.window.dark || !has("light"));
                }
                None => {}
            }
        }
        inherited()
    }

    /// A value of an element with everything in px and plain colours.
    pub fn computed(&self, at: usize, value: &str) -> Result<String, ValueError> {
        computed(value, &self.around(at))
    }
}

/// An element as the context of its values.
pub(super) struct ElementContext<'y, 'p, 's> {
    style: &'y Style<'p, 's>,
    at: usize,
    whole: Option<f64>,
}

impl ValueContext for ElementContext<'_, '_, '_> {
    fn font_size(&self) -> f64 {
        self.style.depends_on("font-size");
        self.style.font_size(self.at)
    }

    fn root_font_size(&self) -> f64 {
        self.style.font_size(Page::ROOT)
    }

    fn viewport(&self) -> (f64, f64) {
        VIEWPORT
    }

    fn whole(&self) -> Option<f64> {
        self.whole
    }

    fn current_colour(&self) -> Option<Rgba> {
        self.style.depends_on("color");
        self.style.current_colour(self.at, 0)
    }

    fn is_dark(&self) -> bool {
        self.style.depends_on("color-scheme");
        self.style.is_dark(self.at)
    }
}

/// An element whose own text colour is being computed: `currentColor` is that around it.
struct ParentContext<'y, 'p, 's>(ElementContext<'y, 'p, 's>, usize);

impl ValueContext for ParentContext<'_, '_, '_> {
    fn font_size(&self) -> f64 {
        self.0.font_size()
    }

    fn root_font_size(&self) -> f64 {
        self.0.root_font_size()
    }

    fn current_colour(&self) -> Option<Rgba> {
        let ElementContext { style, at, .. } = self.0;
        style
            .parent(at)
            .map_or(Some(Rgba::new(0.0, 0.0, 0.0, 1.0)), |parent| style.current_colour(parent, self.1))
    }

    fn is_dark(&self) -> bool {
        self.0.is_dark()
    }
}

/// Adds a text to another; tokens at their ends do not grow into one (CSS Custom Properties 1, section 3).
fn push_apart(text: &mut String, more: &str) {
    let is_name = |letter: char| letter.is_alphanumeric() || !letter.is_ascii() || "-_.%\\".contains(letter);
    let ends = text.chars().next_back().is_some_and(|last| is_name(last) || "#@+".contains(last));
    let begins = more.chars().next().is_some_and(|first| is_name(first) || first == '(');
    if ends && begins {
        text.push(' ');
    }
    text.push_str(more);
}

/// Where the next `var(` begins.
fn next_var(text: &str) -> Option<usize> {
    let bytes = text.as_bytes();
    let is_name = |byte: u8| byte.is_ascii_alphanumeric() || byte == b'-' || byte == b'_' || !byte.is_ascii();
    (0..bytes.len().saturating_sub(3)).find(|at| {
        bytes[*at..*at + 4].eq_ignore_ascii_case(b"var(") && (*at == 0 || !is_name(bytes[*at - 1]))
    })
}

/// Where the bracket that was opened before a text is closed in it.
fn closing(inside: &str) -> Option<usize> {
    let mut open = 1_usize;
    inside.bytes().position(|letter| {
        match letter {
            b'(' => open += 1,
            b')' => open -= 1,
            _ => {}
        }
        open == 0
    })
}

/// The size in a `font` shorthand: its first length, percentage or size by word (CSS Fonts 4, section 2.7).
fn size_in_font(value: &str) -> String {
    let is_size = |word: &&str| {
        let word = word.to_ascii_lowercase();
        let number = word.starts_with(|letter: char| letter.is_ascii_digit() || letter == '.');
        let plain = word.parse::<f64>().is_ok_and(|number| number != 0.0);
        let named = word.ends_with("small")
            || word.ends_with("large")
            || ["medium", "smaller", "larger"].contains(&word.as_str());
        (number && !plain) || named || word.starts_with("calc(")
    };
    let words = value.split_whitespace().map(|word| word.split('/').next().unwrap_or(word));
    words.into_iter().find(is_size).unwrap_or_default().to_owned()
}
