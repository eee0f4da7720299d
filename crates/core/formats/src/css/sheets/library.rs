//! The elements that style sheets give depth to, with the computed style of each in every state and theme.

use std::cell::Cell;
use std::collections::{BTreeMap, BTreeSet, HashMap, HashSet};

use super::cascade::Cascade;
use super::conditions::Window;
use super::depth::{Depth, Property, Reading, is_depth, read, transition};
use super::element::Page;
use super::parse::{Condition, Place, Sheet};
use super::sample::{Sample, SampleError, Siblings, ways};
use super::settings::Settings;
use super::style::{Expansions, Style};
use super::theme::{Marker, Markers};
use crate::budget;
use crate::model::{State, Transition};

/// A theme that style sheets know besides the light one.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct SheetTheme {
    pub name: String,
    /// Whether another of the same name says how pages choose it, and this one is that which readers prefer.
    pub is_twin: bool,
    markers: Vec<Marker>,
    window: Window,
}

/// An element that something is said about.
pub(super) struct Subject {
    /// Without its state and theme.
    pub selector: String,
    pub sample: Sample,
    /// How many elements it needs around it to be matched.
    siblings: Siblings,
    /// The rules that are about its depth.
    pub rules: BTreeSet<usize>,
    states: BTreeMap<State, Sample>,
    /// Between the states that a finish has, by rules whose places are known.
    between: Vec<(Place, Sample)>,
}

/// Everything that was found.
pub(super) struct Library<'s> {
    pub cascade: Cascade<'s>,
    pub subjects: Vec<Subject>,
    /// The first is the theme of a page that sets none.
    pub themes: Vec<SheetTheme>,
    /// Rules about depth that no element was found for.
    pub without: Vec<(Place, SampleError)>,
    /// Rules about depth whose conditions hold in no window of ours, with the condition.
    pub elsewhere: Vec<(Place, String)>,
    /// Rules that set a custom property on elements of another class than those whose depth depends on it, with its name.
    pub unpaired: Vec<(Place, String)>,
    /// Elements beyond those that are tried.
    pub left_out: usize,
}

/// The computed style of an element in one state and theme.
pub(super) struct ComputedDepth {
    pub readings: BTreeMap<Property, Reading>,
    pub transition: Option<Transition>,
    /// Custom properties that were asked for, and that nothing sets on it.
    pub unset: BTreeSet<String>,
    /// Everything it depends on: custom properties, and `color`, `font-size` and `color-scheme`.
    pub asked: BTreeSet<String>,
    /// The page it was looked at on, and which of its elements it is.
    pub page: Page,
    pub at: usize,
}

impl ComputedDepth {
    /// Why it is not held.
    pub const BETWEEN: &str = "two states at once, or the focus that a click leaves";

    /// Whether it has the same depth as another.
    pub fn is_like(&self, other: &Self) -> bool {
        self.readings.iter().all(|(property, reading)| reading.is_like(other.readings.get(property)))
    }

    /// Says of every property that is not as in another, which is held in its place, that it is not read.
    pub fn hold_as(&mut self, other: &Self) {
        for (property, reading) in &mut self.readings {
            if !reading.is_like(other.readings.get(property)) {
                reading.depth = Depth::Construct(Self::BETWEEN.to_owned());
            }
        }
    }
}

/// Themes that are told apart.
const MAX_THEMES: usize = 8;

/// A selector of a rule, read.
pub(super) struct Read {
    pub rule: usize,
    selector: usize,
    pub sample: Sample,
}

impl<'s> Library<'s> {
    /// Elements that are tried.
    pub const MAX_SUBJECTS: usize = 10_000;

    pub fn new(sheet: &'s Sheet, settings: &Settings) -> Self {
        let cascade = Cascade::new(sheet);
        let mut library = Self {
            cascade,
            subjects: Vec::new(),
            themes: Vec::new(),
            without: Vec::new(),
            elsewhere: Vec::new(),
            unpaired: Vec::new(),
            left_out: 0,
        };
        let read = library.read_selectors();
        library.themes = themes(sheet, &read);
        library.collect(&read);
        library.add_states(&read, 0);
        library.add_variants(&read, settings);
        library
    }

    /// Every selector of a rule that can change something, in each way it can be read.
    fn read_selectors(&mut self) -> Vec<Read> {
        let mut all = Vec::new();
        for (rule, one) in self.cascade.sheet.rules.iter().enumerate() {
            if budget::is_stopped() {
                break;
            }
            let about_depth = one.declarations.iter().any(is_depth);
            let windows = [false, true].map(|dark| self.cascade.holds(rule, Window { dark }));
            if windows == [false, false] {
                if let Some(condition) = one.conditions.iter().find(|_| about_depth) {
                    self.elsewhere.push((one.place, condition_text(condition)));
                }
                continue;
            }
            for (selector, text) in one.selectors.slice().iter().enumerate() {
                let chains = ways(text);
                if chains.is_empty() && about_depth {
                    self.without.push((one.place, SampleError::Shadow));
                }
                all.extend(chains.into_iter().map(|chain| (rule, selector, chain)));
            }
        }
        let markers = Markers::new(self.cascade.sheet, all.iter().map(|(rule, _, chain)| (*rule, chain)));
        let read =
            |(rule, selector, chain)| Read { rule, selector, sample: Sample::from_chain(chain, &markers) };
        all.into_iter().map(read).collect()
    }

    /// The elements whose depth rules are about.
    fn collect(&mut self, all: &[Read]) {
        let mut known: HashMap<String, usize> = HashMap::new();
        for one in all {
            let rule = &self.cascade.sheet.rules[one.rule];
            if !rule.declarations.iter().any(is_depth) || budget::is_stopped() {
                continue;
            }
            if one.sample.is_in_childless() {
                self.without.push((rule.place, SampleError::Childless));
                continue;
            }
            let mut selector = one.sample.selector();
            let Some(siblings) = self.found_on(one) else {
                self.without.push((rule.place, SampleError::NotFound));
                continue;
            };
            // The same state of another element around it is told apart.
            if let Some((state, place)) = one.sample.state {
                let subject = known.get(&selector).map(|at| &self.subjects[*at]);
                let held =
                    subject.and_then(|subject| subject.states.get(&state)).and_then(|sample| sample.state);
                if held.is_some_and(|(_, held)| held != place) {
                    selector = format!("{selector} {place}");
                }
            }
            let at = known.get(&selector).copied().unwrap_or(self.subjects.len());
            if at >= Self::MAX_SUBJECTS {
                self.left_out += usize::from(known.insert(selector, Self::MAX_SUBJECTS).is_none());
                continue;
            }
            if at == self.subjects.len() {
                known.insert(selector.clone(), at);
                self.subjects.push(Subject {
                    selector,
                    sample: one.sample.clone(),
                    siblings,
                    rules: BTreeSet::new(),
                    states: BTreeMap::new(),
                    between: Vec::new(),
                });
            }
            let subject = &mut self.subjects[at];
            subject.rules.insert(one.rule);
            if one.sample.is_between() {
                subject.between.push((rule.place, one.sample.clone()));
            } else if let Some((state, _)) = one.sample.state {
                subject.states.entry(state).or_insert_with(|| one.sample.clone());
            }
        }
    }

    /// How much has to lie around a sample for its selector to match it; `None` where it never does.
    fn found_on(&self, one: &Read) -> Option<Siblings> {
        let tried = [(0, 0), (1, 0), (0, 1), (1, 1), (2, 1), (2, 2), (3, 3)];
        let tried = tried.map(|(before, after)| Siblings { before, after });
        let selector = self.cascade.selector((one.rule, one.selector));
        let own = one.sample.themes.first().map(Marker::theme);
        let theme = own.and_then(|name| self.themes.iter().find(|theme| theme.name == name));
        let mut ways: Vec<&[Marker]> = theme.iter().map(|theme| theme.markers.as_slice()).collect();
        // Where a theme is not one of those told apart, or there are conditions against it.
        ways.push(&one.sample.themes);
        ways.extend(self.themes.iter().map(|theme| theme.markers.as_slice()));
        ways.push(&[]);
        let state = one.sample.state.map(|(state, _)| state);
        let page = |markers: &[Marker], siblings| one.sample.page(state, markers, siblings);
        let matches = |markers: &[Marker], siblings| {
            let (page, at) = page(markers, siblings);
            page.matches(selector, at)
        };
        let mut tries = tried.into_iter().flat_map(|siblings| ways.iter().map(move |way| (*way, siblings)));
        let (markers, siblings) = tries.find(|(markers, siblings)| matches(markers, *siblings))?;
        if one.sample.asks_for_place() {
            return Some(siblings);
        }
        // Neither the first nor the last of its siblings, where rules tell them apart.
        let is_any = |siblings: &Siblings| {
            let (page, at) = page(markers, *siblings);
            page.matches(selector, at) && !self.cascade.depends_on_place(&page, at, Window { dark: false })
        };
        Some(tried.into_iter().skip_while(|other| *other != siblings).find(is_any).unwrap_or(siblings))
    }

    /// States that rules know for elements of the same kind, for the elements from one on.
    pub(super) fn add_states(&mut self, all: &[Read], from: usize) {
        let mut by_handle: HashMap<String, Vec<(&Sample, State)>> = HashMap::new();
        let mut seen: HashSet<(String, &str)> = HashSet::new();
        for one in all {
            let Some((state, _)) = one.sample.state.filter(|_| !one.sample.is_between()) else {
                continue;
            };
            if !seen.insert((one.sample.selector(), state.name())) {
                continue;
            }
            for handle in one.sample.handles() {
                by_handle.entry(handle).or_default().push((&one.sample, state));
            }
        }
        for subject in self.subjects.iter_mut().skip(from) {
            let own = subject.sample.clone();
            for handle in own.handles() {
                for (sample, state) in by_handle.get(&handle).into_iter().flatten() {
                    if own.is_kind_of(sample) {
                        subject.states.entry(*state).or_insert_with(|| own.clone());
                    }
                }
            }
            subject.hold_between();
        }
    }

    /// Looks at an element.
    pub fn look(
        &self,
        subject: &Subject,
        state: Option<State>,
        theme: &SheetTheme,
        settings: &Settings,
        room: &Cell<Expansions>,
    ) -> ComputedDepth {
        let sample = state.and_then(|state| subject.states.get(&state)).unwrap_or(&subject.sample);
        self.look_at(sample.page(state, &theme.markers, subject.siblings), theme, settings, room)
    }

    /// Looks at an element between the states that a finish has: each time with the state that it shows instead.
    pub fn look_between(
        &self,
        subject: &Subject,
        theme: &SheetTheme,
        settings: &Settings,
        room: &Cell<Expansions>,
    ) -> Vec<(Place, Option<State>, ComputedDepth)> {
        let look = |(place, sample): &(Place, Sample)| {
            let (state, _) = sample.state?;
            let page = sample.page(Some(state), &theme.markers, subject.siblings);
            Some((*place, sample.shown_as(), self.look_at(page, theme, settings, room)))
        };
        subject.between.iter().filter_map(look).collect()
    }

    fn look_at(
        &self,
        (page, at): (Page, usize),
        theme: &SheetTheme,
        settings: &Settings,
        room: &Cell<Expansions>,
    ) -> ComputedDepth {
        let style = Style::new(&self.cascade, &page, theme.window, settings, room);
        let readings =
            Property::ALL.into_iter().map(|property| (property, read(&style, at, property))).collect();
        let transition = transition(&style, at);
        let unset = style.unset.take();
        let asked = style.asked.take();
        ComputedDepth { readings, transition, unset, asked, page, at }
    }

    /// The styles of an otherwise empty page in a theme, at its root.
    pub fn at_root<T>(
        &self,
        theme: &SheetTheme,
        settings: &Settings,
        room: &Cell<Expansions>,
        ask: impl FnOnce(&Style<'_, '_>) -> T,
    ) -> T {
        let mut page = Page::empty();
        for marker in &theme.markers {
            marker.set_on(page.element_mut(Page::ROOT));
        }
        ask(&Style::new(&self.cascade, &page, theme.window, settings, room))
    }
}

impl SheetTheme {
    /// Whether a reader in it prefers dark schemes.
    pub fn is_dark(&self) -> bool {
        self.window.dark
    }
}

impl Subject {
    /// The same with another sample, at rest and in its states.
    pub fn as_sample(&self, sample: Sample, rule: usize) -> Self {
        let states = self.states.iter().map(|(state, own)| (*state, sample.in_state_of(own))).collect();
        let mut rules = self.rules.clone();
        rules.insert(rule);
        let selector = sample.selector();
        Self { selector, sample, siblings: self.siblings, rules, states, between: Vec::new() }
    }

    /// The states that something is said about.
    pub fn states(&self) -> impl Iterator<Item = State> {
        self.states.keys().copied()
    }

    /// Two states at once stand for the stronger one where no rule speaks of that alone.
    fn hold_between(&mut self) {
        let Self { states, between, .. } = self;
        between.retain(|(_, sample)| match sample.shown_as() {
            Some(state) if !states.contains_key(&state) => {
                states.insert(state, sample.clone());
                false
            }
            _ => true,
        });
    }

    /// The pseudo-element that it is, if it is one.
    pub fn pseudo(&self) -> Option<&str> {
        self.sample.pseudo()
    }

    /// The name of a finish of it: `.card > .lid` is "card > lid".
    pub fn name(&self) -> String {
        self.sample.name()
    }
}

fn condition_text(condition: &Condition) -> String {
    match condition {
        Condition::Media(query) => format!("@media {query}"),
        Condition::Supports(text) => format!("@supports {text}"),
        Condition::Container => "@container".to_owned(),
        Condition::StartingStyle => "@starting-style".to_owned(),
    }
}

/// The themes that rules know: by the markers they ask for, and by the reader's preference.
fn themes(sheet: &Sheet, all: &[Read]) -> Vec<SheetTheme> {
    let mut named: Vec<(String, BTreeSet<Marker>)> = Vec::new();
    for marker in all.iter().flat_map(|one| &one.sample.themes) {
        let name = marker.theme();
        match named.iter_mut().find(|(known, _)| *known == name) {
            Some((_, markers)) => drop(markers.insert(marker.clone())),
            None => named.push((name.to_owned(), BTreeSet::from([marker.clone()]))),
        }
    }
    let has_light = named.iter().any(|(name, _)| name == "light");
    let light = named.iter().position(|(name, _)| name == "light").map(|at| named.remove(at).1);
    let prefers_dark = |condition: &Condition| {
        condition.holds(Window { dark: true }) && !condition.holds(Window { dark: false })
    };
    let by_preference = sheet.rules.iter().flat_map(|rule| &rule.conditions).any(prefers_dark);
    let has_dark = named.iter().any(|(name, _)| name == "dark");
    if by_preference && !has_dark {
        named.push(("dark".to_owned(), BTreeSet::new()));
    }
    let twin = |name: &str, dark| SheetTheme {
        name: name.to_owned(),
        is_twin: true,
        markers: Vec::new(),
        window: Window { dark },
    };
    let twins =
        [has_light.then(|| twin("light", false)), (has_dark && by_preference).then(|| twin("dark", true))];
    let first = SheetTheme {
        name: "light".to_owned(),
        is_twin: false,
        markers: light.unwrap_or_default().into_iter().collect(),
        window: Window { dark: false },
    };
    let others = named.into_iter().map(|(name, markers)| SheetTheme {
        window: Window { dark: name == "dark" },
        markers: markers.into_iter().collect(),
        is_twin: false,
        name,
    });
    std::iter::once(first).chain(others).take(MAX_THEMES).chain(twins.into_iter().flatten()).collect()
}
