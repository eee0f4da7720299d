//! Themes in a sheet: properties that elements inherit and that are either empty or not there, so that the nearest element that
//! begins a theme decides, in any nesting and through shadow roots (CSS Custom Properties 1, "Using Cascading Variables").
//!
//! `--in-dusk` is empty within the theme Dusk and not set elsewhere. `--x: var(--in-dusk) DARK` is DARK there, and not set
//! elsewhere; `var(--x, LIGHT)` chooses. Where no element begins a theme, the reader's preference does: in its media query the
//! roles change.

use super::light_dark::one_value;
use super::names::Names;
use super::options::SheetOptions;
use crate::css::{Declaration, Rule};
use crate::model::{Project, Scheme, Theme};

/// The themes of a sheet, the first of which is that of pages which begin none.
pub(super) struct Themes<'a> {
    pub all: Vec<&'a Theme>,
    names: &'a Names,
    /// A light and a dark colour are written as one value.
    light_dark: bool,
    /// Where classes are local to a module, selectors of themes are not.
    is_module: bool,
}

/// A value that depends on the theme.
pub(super) struct Choice {
    /// Declarations that belong on the same element.
    pub helpers: Vec<Declaration>,
    /// The value.
    pub value: String,
}

impl<'a> Themes<'a> {
    /// The themes that are wanted.
    pub fn new(project: &'a Project, wanted: &SheetOptions, names: &'a Names) -> Self {
        let (light_dark, is_module) = (wanted.light_dark, wanted.module);
        Self { all: wanted.themes(project), names, light_dark, is_module }
    }

    /// The light and the dark theme by number, where there is one of each and colours are to be written as one value for both.
    pub fn light_and_dark(&self) -> Option<(usize, usize)> {
        let at = |scheme| self.all.iter().position(|theme| theme.scheme == scheme);
        let both = at(Scheme::Light).zip(at(Scheme::Dark));
        both.filter(|_| self.light_dark && self.all.len() == 2)
    }

    /// The theme of pages that begin none, by number, for each preference of a reader which changes it, with its media query.
    pub fn preferred(&self) -> Vec<(&'static str, usize)> {
        let Some(first) = self.all.first() else { return Vec::new() };
        let other = if first.scheme == Scheme::Light { Scheme::Dark } else { Scheme::Light };
        let media = match other {
            Scheme::Dark => "(prefers-color-scheme: dark)",
            Scheme::Light => "(prefers-color-scheme: light)",
        };
        let at = self.all.iter().position(|theme| theme.scheme == other);
        at.map(|at| (media, at)).into_iter().collect()
    }

    /// The property that says whether an element is within a theme.
    fn toggle(&self, theme: usize) -> String {
        self.names.inner(&format!("in--{}", self.name(theme)))
    }

    /// The name of a theme.
    pub fn name(&self, theme: usize) -> &str {
        self.all.get(theme).map_or("", |theme| &self.names.themes[&theme.id])
    }

    /// One of the values, one for each theme, where `base` is that of pages that begin no theme. Helpers are named after `key`.
    pub fn choose(&self, key: &str, values: &[String], base: usize) -> Choice {
        let both = self.light_and_dark().and_then(|(light, dark)| values.get(light).zip(values.get(dark)));
        if let Some(value) = both.and_then(|(light, dark)| one_value(light, dark)) {
            return Choice { helpers: Vec::new(), value };
        }
        let fallback = values.get(base).cloned().unwrap_or_default();
        let mut choice = Choice { helpers: Vec::new(), value: fallback.clone() };
        for (at, value) in values.iter().enumerate().filter(|(at, value)| *at != base && **value != fallback)
        {
            let helper = self.names.inner(&format!("{key}--{}", self.name(at)));
            choice
                .helpers
                .push(Declaration::one(helper.clone(), format!("var({}) {value}", self.toggle(at))));
            choice.value = format!("var({helper}, {})", choice.value);
        }
        choice
    }

    /// The rules that begin a theme on the elements of its selectors, as far as `body` asks for it.
    pub fn rules(&self, body: &str) -> Vec<Rule> {
        let used = |at: &usize| body.contains(&format!("var({})", self.toggle(*at)));
        let asked: Vec<usize> = (0..self.all.len()).filter(used).collect();
        if asked.is_empty() {
            return Vec::new();
        }
        let rule = |at: usize| {
            let line = |other: &usize| {
                let value = if *other == at { "" } else { "initial" };
                Declaration::one(self.toggle(*other), value)
            };
            Rule { selector: self.written_selectors(at).join(",\n"), lines: asked.iter().map(line).collect() }
        };
        (0..self.all.len()).map(rule).collect()
    }

    /// The selectors as they are written: in a shadow root also for its host.
    fn written_selectors(&self, at: usize) -> Vec<String> {
        let selectors = self.selectors(at);
        if self.is_module {
            return selectors.iter().map(|selector| format!(":global({selector})")).collect();
        }
        // What stands in a compound with more than it can be asked of a host too.
        let is_plain = |selector: &&String| !selector.contains([' ', '>', '+', '~', ':']);
        let hosts: Vec<String> =
            selectors.iter().filter(is_plain).map(|selector| format!(":host({selector})")).collect();
        selectors.into_iter().chain(hosts).collect()
    }

    /// The selectors of the elements that begin a theme: its own, or its `data-theme`; and common selectors of the
    /// first theme of its scheme.
    fn selectors(&self, at: usize) -> Vec<String> {
        let Some(theme) = self.all.get(at) else { return Vec::new() };
        if !theme.selectors.is_empty() {
            return theme.selectors.clone();
        }
        let scheme = if theme.scheme == Scheme::Dark { "dark" } else { "light" };
        let mut selectors = vec![format!("[data-theme=\"{}\"]", self.name(at))];
        let taken = self.all.iter().any(|other| self.names.themes[&other.id] == scheme);
        if self.all.iter().position(|other| other.scheme == theme.scheme) == Some(at) {
            if !taken {
                selectors.push(format!("[data-theme=\"{scheme}\"]"));
            }
            selectors.push(format!(".{scheme}"));
        }
        selectors
    }
}
