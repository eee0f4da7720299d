//! Finishes of computed styles.

use std::cell::Cell;
use std::collections::{BTreeMap, BTreeSet, HashMap};

use super::depth::{Depth, Property, Reading};
use super::library::{ComputedDepth, Library, SheetTheme, Subject};
use super::parse::Place;
use super::remarks::Remarks;
use super::settings::Settings;
use super::style::Expansions;
use super::variables::shadow_variables;
use crate::budget;
use crate::import::{DiagnosticKind, FileRoom, Incoming};
use crate::model::{
    Coat, CoatKind, ColourSource, CssColour, DepthProperty, Finish, Id, State, Swatch, SwatchColour, Theme,
    Transition,
};

/// The finishes of a library, with everything that was remarked.
pub(super) fn incoming(library: &Library<'_>, settings: &Settings, remarks: Remarks) -> Incoming {
    let mut writer = Writer {
        library,
        settings,
        remarks,
        incoming: Incoming::default(),
        room: Cell::default(),
        left: FileRoom::default(),
        with_depth: Vec::new(),
        bare: Vec::new(),
    };
    writer.incoming.themes = writer.themes().map(|theme| Theme::named(&theme.name)).collect();
    writer.variables();
    for subject in &library.subjects {
        if budget::is_stopped() {
            break;
        }
        writer.subject(subject);
    }
    writer.remark_bare();
    let mut incoming = writer.incoming;
    writer.remarks.put_into(&mut incoming);
    incoming
}

fn id_of(theme: &SheetTheme) -> Id {
    Theme::named(&theme.name).id
}

struct Writer<'l, 's> {
    library: &'l Library<'s>,
    settings: &'l Settings,
    remarks: Remarks,
    incoming: Incoming,
    room: Cell<Expansions>,
    left: FileRoom,
    /// Elements with depth, and those that rules say have none, with where.
    with_depth: Vec<&'l Subject>,
    bare: Vec<(&'l Subject, Place)>,
}

/// Which of an element's properties a finish holds: letters have a list of their own.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Part {
    Body,
    Letters,
}

impl Part {
    fn properties(self) -> &'static [Property] {
        match self {
            Self::Body => &[Property::BoxShadow, Property::Filter, Property::BackdropFilter],
            Self::Letters => &[Property::TextShadow],
        }
    }
}

/// An element in one theme: at rest and in its states.
type DepthByState = BTreeMap<Option<State>, ComputedDepth>;

impl<'l> Writer<'l, '_> {
    /// The themes that a finish tells apart.
    fn themes(&self) -> impl Iterator<Item = &'l SheetTheme> + use<'l> {
        self.library.themes.iter().filter(|theme| !theme.is_twin)
    }

    /// Custom properties that hold shadows.
    fn variables(&mut self) {
        for held in shadow_variables(self.library, self.settings, &self.room) {
            let name = held.name.trim_start_matches('-').to_owned();
            let Some(first) = held.coats.first() else { continue };
            let mut finish = finish(&name, first.clone());
            for (theme, coats) in self.themes().zip(&held.coats).skip(1) {
                if coats != first {
                    finish.themes.insert(id_of(theme), coats.clone());
                }
            }
            self.put(finish, held.uses);
            if let Some(put) = self.incoming.finishes.last() {
                self.incoming.held.insert(put.id.clone());
            }
        }
    }

    fn subject(&mut self, subject: &'l Subject) {
        let look =
            |theme: &SheetTheme, state| self.library.look(subject, state, theme, self.settings, &self.room);
        let states: Vec<Option<State>> = std::iter::once(None).chain(subject.states().map(Some)).collect();
        let table: Vec<DepthByState> = self
            .themes()
            .map(|theme| states.iter().map(|state| (*state, look(theme, *state))).collect())
            .collect();
        self.remark(&table);
        self.remark_between(subject);
        let name = subject.name();
        let body = self.finish_of(&name, &table, Part::Body);
        let letters = self.finish_of(&name, &table, Part::Letters);
        let transition =
            table.first().and_then(|theme| theme.get(&None)).and_then(|looked| looked.transition.clone());
        let both = body.is_some() && letters.is_some();
        if body.is_some() || letters.is_some() {
            self.with_depth.push(subject);
        } else if let Some(place) = table.first().and_then(|theme| theme.get(&None)).and_then(taken_away_at) {
            self.bare.push((subject, place));
        }
        if let Some(mut finish) = body {
            finish.made_with = is_filter(&table).then_some(DepthProperty::Filter);
            self.put_moving(finish, transition.clone(), subject.rules.len());
        }
        if let Some(mut finish) = letters {
            finish.made_with = Some(DepthProperty::TextShadow);
            if both {
                finish.name.push_str(" text");
            }
            self.put_moving(finish, transition, subject.rules.len());
        }
    }

    /// Remarks elements without depth where others of their kind have it.
    fn remark_bare(&mut self) {
        let mut by_handle: HashMap<String, Vec<&Subject>> = HashMap::new();
        for subject in &self.with_depth {
            for handle in subject.sample.handles() {
                by_handle.entry(handle).or_default().push(subject);
            }
        }
        for (subject, place) in std::mem::take(&mut self.bare) {
            let handles = subject.sample.handles();
            let mut others = handles.iter().flat_map(|handle| by_handle.get(handle).into_iter().flatten());
            if others.any(|other| subject.sample.is_kind_of(&other.sample)) {
                self.remarks
                    .dropped(place, "takes away what others of its kind have: such an element has no finish");
            }
        }
    }

    /// Remarks a value that an element computes to in two states at once, where it is not the value of the stronger
    /// state.
    fn remark_between(&mut self, subject: &Subject) {
        for theme in self.themes() {
            let both = self.library.look_between(subject, theme, self.settings, &self.room);
            for (place, state, looked) in both {
                let alone = self.library.look(subject, state, theme, self.settings, &self.room);
                if !alone.is_like(&looked) {
                    self.remarks.dropped(place, ComputedDepth::BETWEEN);
                }
            }
        }
    }

    fn put_moving(&mut self, finish: Finish, transition: Option<Transition>, uses: usize) {
        let transition = transition.filter(|_| !finish.states.is_empty());
        self.put(Finish { transition, ..finish }, uses);
    }

    /// The finish of one part of an element; `None` where it has no depth anywhere.
    fn finish_of(&mut self, name: &str, table: &[DepthByState], part: Part) -> Option<Finish> {
        let coats = |theme: &DepthByState, state| {
            theme.get(&state).map(|looked| coats_of(looked, part)).unwrap_or_default()
        };
        let first = table.first()?;
        let rest = coats(first, None);
        let mut finish = finish(name, rest.clone());
        for (theme, looked) in self.themes().zip(table).skip(1) {
            let own = coats(looked, None);
            if !look_alike(&own, &rest) {
                finish.themes.insert(id_of(theme), own);
            }
        }
        for state in first.keys().copied().flatten() {
            let each: Vec<Vec<Coat>> = table.iter().map(|theme| coats(theme, Some(state))).collect();
            let differs = table.iter().zip(&each).any(|(theme, own)| !look_alike(own, &coats(theme, None)));
            if !differs {
                continue;
            }
            let held = self.in_all_themes(name, state, &each).unwrap_or_else(|| {
                self.remark_state(first, state, part);
                each.first().cloned().unwrap_or_default()
            });
            // What is left of it may be nothing else than at rest.
            if !table.iter().all(|theme| look_alike(&held, &coats(theme, None))) {
                finish.states.insert(state, held);
            }
        }
        let all = std::iter::once(&finish.coats).chain(finish.themes.values()).chain(finish.states.values());
        all.into_iter().any(|coats| !coats.is_empty()).then_some(finish)
    }

    /// The coats of a state as one list for all themes: where only colours differ, they become swatches.
    fn in_all_themes(&mut self, name: &str, state: State, each: &[Vec<Coat>]) -> Option<Vec<Coat>> {
        let (first, others) = each.split_first()?;
        if others.iter().all(|other| other == first) {
            return Some(first.clone());
        }
        let mut coats = first.clone();
        let mut swatches = Vec::new();
        for (at, coat) in coats.iter_mut().enumerate() {
            let mut values = Vec::new();
            for other in each {
                let mut other = other.get(at)?.clone();
                let colour = literal(&mut other.kind)?.clone();
                literal(&mut other.kind)?.clone_from(literal(&mut coat.kind.clone())?);
                if other.kind != coat.kind {
                    return None;
                }
                values.push(colour);
            }
            if values.iter().any(|value| *value != values[0]) {
                swatches.push((at, values));
            }
        }
        if each.iter().any(|other| other.len() != first.len()) {
            return None;
        }
        for (at, values) in swatches {
            let swatch = self.swatch(&format!("{name} {}", state.name()), &values);
            if let Some(source) = source(&mut coats[at].kind) {
                *source = ColourSource::Swatch(SwatchColour { swatch, lightness: None });
            }
        }
        Some(coats)
    }

    /// A swatch with these values in the themes.
    fn swatch(&mut self, name: &str, values: &[CssColour]) -> Id {
        let values: BTreeMap<Id, CssColour> = self.themes().map(id_of).zip(values.iter().cloned()).collect();
        if let Some(same) = self.incoming.swatches.iter().find(|swatch| swatch.values == values) {
            return same.id.clone();
        }
        let id = Id::numbered("swatch-css", self.incoming.swatches.len() + 1);
        let extensions = serde_json::Map::new();
        self.incoming.swatches.push(Swatch { id: id.clone(), name: name.to_owned(), values, extensions });
        id
    }

    fn remark_state(&mut self, first: &DepthByState, state: State, part: Part) {
        let place = first.get(&Some(state)).and_then(|looked| {
            part.properties().iter().find_map(|property| looked.readings.get(property)?.place)
        });
        if let Some(place) = place {
            self.remarks.dropped(
                place,
                "other shadows for a state in another theme: those of the first theme are kept",
            );
        }
    }

    /// Everything that was not understood about an element.
    fn remark(&mut self, table: &[DepthByState]) {
        for looked in table.iter().flat_map(BTreeMap::values) {
            for (property, reading) in &looked.readings {
                for (place, why) in &reading.invalid {
                    self.remarks.dropped(*place, format!("browsers pass over it: {why}"));
                }
                let Some(place) = reading.place else { continue };
                match &reading.depth {
                    Depth::Coats(_, notes) => {
                        for note in notes {
                            self.remarks.add(
                                DiagnosticKind::Approximated,
                                place,
                                format!("{}: {note}", property.name()),
                            );
                        }
                    }
                    Depth::Unset(name) => {
                        self.unset(place, name, &looked.unset);
                    }
                    Depth::Construct(what) => self.remarks.dropped(place, what.as_str()),
                    Depth::Silent => {}
                }
            }
        }
    }

    /// Remarks a value that refers to a custom property without a value.
    fn unset(&mut self, place: Place, name: &str, unset: &BTreeSet<String>) {
        let nowhere: Vec<&String> = unset.iter().filter(|name| !self.library.cascade.sets(name)).collect();
        for name in &nowhere {
            self.incoming.ask_for(name);
            self.remarks.dropped(place, format!("{name} is set nowhere: give it a value"));
        }
        if nowhere.is_empty() {
            self.remarks.dropped(
                place,
                format!("{name} has no value where only this class is: see it together with others"),
            );
        }
    }

    fn put(&mut self, mut finish: Finish, uses: usize) {
        let lists = 1 + finish.themes.len() + finish.states.len();
        if !self.left.take(1, lists.max(finish.coats.len())) {
            let place = Place { file: 0, line: 1, column: 1 };
            return self.remarks.dropped(place, FileRoom::LIMIT);
        }
        finish.id = Id::numbered("finish-css", self.incoming.finishes.len() + 1);
        let lists = std::iter::once(&mut finish.coats)
            .chain(finish.themes.values_mut())
            .chain(finish.states.values_mut());
        for coats in lists {
            for (at, coat) in coats.iter_mut().enumerate() {
                coat.id = Id::numbered("css", at + 1);
            }
        }
        self.incoming.uses.insert(finish.id.clone(), uses);
        self.incoming.finishes.push(finish);
    }
}

/// Whether all the depth of an element is in its filter.
fn is_filter(table: &[DepthByState]) -> bool {
    let has = |looked: &ComputedDepth, property| {
        let depth = looked.readings.get(&property).map(|reading| &reading.depth);
        matches!(depth, Some(Depth::Coats(coats, _)) if !coats.is_empty())
    };
    let mut each = table.iter().flat_map(BTreeMap::values);
    each.clone().any(|looked| has(looked, Property::Filter))
        && !each.any(|looked| has(looked, Property::BoxShadow) || has(looked, Property::BackdropFilter))
}

/// Where it is said of an element that it has no depth.
fn taken_away_at(looked: &ComputedDepth) -> Option<Place> {
    let bare = |reading: &&Reading| matches!(&reading.depth, Depth::Coats(coats, _) if coats.is_empty());
    looked.readings.values().find(bare).and_then(|reading| reading.place)
}

fn coats_of(looked: &ComputedDepth, part: Part) -> Vec<Coat> {
    let mut all = Vec::new();
    for property in part.properties() {
        if let Some(Depth::Coats(coats, _)) = looked.readings.get(property).map(|reading| &reading.depth) {
            all.extend(coats.iter().cloned());
        }
    }
    all.truncate(crate::limits::COATS);
    all
}

/// Whether coats are the same, in however many ways a colour is spelled.
fn look_alike(one: &[Coat], other: &[Coat]) -> bool {
    let same = |(one, other): (&Coat, &Coat)| {
        let (mut one, mut other) = (one.kind.clone(), other.kind.clone());
        if let (Some(colour), Some(theirs)) = (literal(&mut one), literal(&mut other))
            && colour.rgba() == theirs.rgba()
        {
            theirs.clone_from(colour);
        }
        one == other
    };
    one.len() == other.len() && one.iter().zip(other).all(same)
}

fn finish(name: &str, coats: Vec<Coat>) -> Finish {
    Finish {
        id: Id::numbered("finish-css", 1),
        name: if name.trim().is_empty() { "unnamed".to_owned() } else { name.chars().take(80).collect() },
        note: String::new(),
        coats,
        themes: BTreeMap::new(),
        states: BTreeMap::new(),
        transition: None,
        made_with: None,
        extensions: serde_json::Map::new(),
    }
}

fn source(kind: &mut CoatKind) -> Option<&mut ColourSource> {
    match kind {
        CoatKind::Drop(drop) => Some(&mut drop.colour),
        CoatKind::Inner(inner) => Some(&mut inner.colour),
        CoatKind::Highlight(_)
        | CoatKind::Tint(_)
        | CoatKind::Stroke(_)
        | CoatKind::Blur(_)
        | CoatKind::Extrude(_)
        | CoatKind::Cast(_)
        | CoatKind::Backdrop(_)
        | CoatKind::Ramp(_)
        | CoatKind::Raised(_) => None,
    }
}

fn literal(kind: &mut CoatKind) -> Option<&mut CssColour> {
    match source(kind)? {
        ColourSource::Literal(colour) => Some(colour),
        ColourSource::Swatch(_) | ColourSource::From(_) => None,
    }
}
