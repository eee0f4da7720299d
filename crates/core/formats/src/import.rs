//! The content of a file, before it is put into a project.

use std::collections::{BTreeMap, HashMap, HashSet};

use serde::{Deserialize, Serialize};

use crate::model::{ColourSource, Finish, Id, Light, Project, SharedReference, Swatch, Theme};
use crate::syntax::{UniqueNames, slug};

/// The content of a file, ready to be put into a project as a whole.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Incoming {
    /// Named stacks.
    pub finishes: Vec<Finish>,
    /// Shared colours.
    pub swatches: Vec<Swatch>,
    /// Shared lights that finishes follow.
    pub lights: Vec<Light>,
    /// Themes that finishes or colours differ by. Once it is fitted to a project: those that the project does not have yet.
    pub themes: Vec<Theme>,
    /// How many rules of a style sheet lead to a finish.
    pub uses: BTreeMap<Id, usize>,
    /// Finishes that custom properties hold: their uses count the rules that refer to them.
    #[serde(skip)]
    pub held: HashSet<Id>,
    /// Custom properties that a style sheet refers to and does not set, with how many times it does.
    pub asked: BTreeMap<String, usize>,
    /// Each thing that was approximated or dropped.
    pub diagnostics: Vec<Diagnostic>,
}

/// Something that was approximated or dropped.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Diagnostic {
    /// Where first: `line:column`, or a JSON pointer.
    pub place: String,
    /// Which of the two.
    pub kind: DiagnosticKind,
    /// In words.
    pub message: String,
    /// In how many places.
    pub count: usize,
    /// The next of them, a few at most.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub places: Vec<String>,
}

impl Diagnostic {
    /// Places that are named.
    pub const FIRST_PLACES: usize = 4;
}

/// The outcome for one thing in a file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DiagnosticKind {
    /// Read in another form.
    Approximated,
    /// Left out.
    Dropped,
}

/// How much may still be read from one file.
#[derive(Debug, Clone, Copy)]
pub(crate) struct FileRoom {
    finishes: usize,
    coats: usize,
}

impl Default for FileRoom {
    fn default() -> Self {
        Self { finishes: 10_000, coats: 100_000 }
    }
}

impl FileRoom {
    /// The message about entries beyond it.
    pub const LIMIT: &str = "more than 10000 finishes or 100000 coats in one file: left out";

    /// Takes room for a finish, or the coats of one of its states; false when there is none left.
    pub fn take(&mut self, finishes: usize, coats: usize) -> bool {
        let left = self.finishes.checked_sub(finishes).zip(self.coats.checked_sub(coats));
        if let Some((finishes, coats)) = left {
            *self = Self { finishes, coats };
        }
        left.is_some()
    }
}

/// Remarks that are listed about one file.
const MAX_DIAGNOSTICS: usize = 1_000;
/// Characters of a remark.
const MAX_MESSAGE: usize = 500;

impl Incoming {
    /// Remarks something about a place. The same words at the same place are counted.
    pub(crate) fn diagnostic(
        &mut self,
        place: impl Into<String>,
        kind: DiagnosticKind,
        message: impl Into<String>,
    ) {
        self.diagnostics_at(kind, message, 1, vec![place.into()]);
    }

    /// Remarks something about so many places, the first of which are named.
    pub(crate) fn diagnostics_at(
        &mut self,
        kind: DiagnosticKind,
        message: impl Into<String>,
        count: usize,
        places: Vec<String>,
    ) {
        let message: String = message.into().chars().take(MAX_MESSAGE).collect();
        let same = |one: &&mut Diagnostic| one.kind == kind && one.message == message;
        if let Some(known) = self.diagnostics.iter_mut().find(same) {
            known.count += count;
            let room = Diagnostic::FIRST_PLACES.saturating_sub(1 + known.places.len());
            known.places.extend(places.into_iter().take(room));
            return;
        }
        if self.diagnostics.len() > MAX_DIAGNOSTICS {
            return;
        }
        let full = self.diagnostics.len() == MAX_DIAGNOSTICS;
        let message = if full {
            format!("more than {MAX_DIAGNOSTICS} remarks: the rest is not listed")
        } else {
            message
        };
        let mut places = places.into_iter().take(Diagnostic::FIRST_PLACES);
        let place = places.next().unwrap_or_default();
        self.diagnostics.push(Diagnostic { place, kind, message, count, places: places.collect() });
    }

    /// Notes that a custom property is missing.
    pub(crate) fn ask_for(&mut self, name: &str) {
        *self.asked.entry(name.to_owned()).or_default() += 1;
    }

    /// Adds the content of another file, its places under its name.
    pub fn join(&mut self, other: Self, name: &str) {
        for one in other.diagnostics {
            let places = std::iter::once(one.place).chain(one.places);
            let places = places.map(|place| format!("{name} {place}").trim().to_owned()).collect();
            self.diagnostics_at(one.kind, one.message, one.count, places);
        }
        // Ids are made unique when it is fitted to a project; within one list they have to differ as well.
        let mut taken = UniqueNames::new(self.finishes.iter().map(|finish| finish.id.as_str()));
        for mut finish in other.finishes {
            finish.id = free_id(&mut taken, &finish.id);
            self.finishes.push(finish);
        }
        self.swatches.extend(other.swatches);
        self.lights.extend(other.lights);
        self.themes.extend(other.themes);
    }

    /// Leaves out the lights that no finish follows.
    pub(crate) fn keep_lights_in_use(&mut self) {
        let used = used_by(&self.finishes);
        self.lights.retain(|light| used.lights.contains(&light.id));
    }

    /// Gives everything ids and names that the project has not taken yet. An item that is there already with the same
    /// content, under any id, is left out, so that reading a file twice brings nothing new.
    #[must_use]
    pub fn fitted_to(mut self, project: &Project) -> Self {
        let themes = self.fit_themes(project);
        let mut renamed = Renamed::default();
        self.fit_swatches(project, &themes, &mut renamed);
        self.fit_lights(project, &themes, &mut renamed);
        let mut taken = UniqueNames::new(project.finishes.iter().map(|finish| finish.id.as_str()));
        let mut names = UniqueNames::new(project.finishes.iter().map(|finish| finish.name.as_str()));
        let mut uses = BTreeMap::new();
        for mut finish in std::mem::take(&mut self.finishes) {
            finish.themes = renamed_keys(finish.themes, &themes);
            renamed.apply(&mut finish);
            if project.finishes.iter().any(|there| is_same(there, &finish)) {
                continue;
            }
            let fresh = free_id(&mut taken, &finish.id);
            if let Some(count) = self.uses.get(&finish.id) {
                uses.insert(fresh.clone(), *count);
            }
            finish.id = fresh;
            finish.name = names.unique(&finish.name, ' ');
            self.finishes.push(finish);
        }
        self.uses = uses;
        self.keep_themes_in_use();
        self
    }

    /// The project's name for each of its themes; those that the project lacks stay, under a free id.
    fn fit_themes(&mut self, project: &Project) -> HashMap<Id, Id> {
        let mut themes = HashMap::new();
        for theme in &project.themes {
            themes.insert(theme.id.clone(), theme.id.clone());
        }
        let mut taken = UniqueNames::new(project.themes.iter().map(|theme| theme.id.as_str()));
        let mut used = HashSet::new();
        for mut theme in std::mem::take(&mut self.themes) {
            let named = |there: &&Theme| there.id == theme.id || slug(&there.name) == slug(&theme.name);
            let of_scheme = |there: &&Theme| there.scheme == theme.scheme && !used.contains(&there.id);
            let found = project.themes.iter().find(named).or_else(|| project.themes.iter().find(of_scheme));
            if let Some(there) = found {
                used.insert(there.id.clone());
                themes.insert(theme.id, there.id.clone());
                continue;
            }
            let fresh = free_id(&mut taken, &theme.id);
            themes.insert(std::mem::replace(&mut theme.id, fresh.clone()), fresh);
            self.themes.push(theme);
        }
        themes
    }

    fn fit_swatches(&mut self, project: &Project, themes: &HashMap<Id, Id>, renamed: &mut Renamed) {
        let mut taken = UniqueNames::new(project.swatches.iter().map(|swatch| swatch.id.as_str()));
        for mut swatch in std::mem::take(&mut self.swatches) {
            // A value for a theme that nobody knows is one for all.
            let some = swatch.values.values().next().cloned();
            swatch.values = renamed_keys(swatch.values, themes);
            let all: Vec<&Theme> = project.themes.iter().chain(&self.themes).collect();
            if let Some(some) = swatch.values.values().next().cloned().or(some) {
                for theme in all {
                    swatch.values.entry(theme.id.clone()).or_insert_with(|| some.clone());
                }
            }
            let same = |there: &&Swatch| {
                there.name == swatch.name
                    && there.values.iter().all(|(theme, value)| swatch.values.get(theme) == Some(value))
            };
            if let Some(there) = project.swatches.iter().find(same) {
                renamed.swatches.entry(swatch.id).or_insert_with(|| there.id.clone());
                continue;
            }
            let fresh = free_id(&mut taken, &swatch.id);
            let old = std::mem::replace(&mut swatch.id, fresh.clone());
            renamed.swatches.entry(old).or_insert(fresh);
            self.swatches.push(swatch);
        }
    }

    fn fit_lights(&mut self, project: &Project, themes: &HashMap<Id, Id>, renamed: &mut Renamed) {
        let mut taken = UniqueNames::new(project.lights.iter().map(|light| light.id.as_str()));
        for mut light in std::mem::take(&mut self.lights) {
            light.themes = renamed_keys(light.themes, themes);
            let same = |there: &&Light| Light { id: light.id.clone(), ..(**there).clone() } == light;
            if let Some(there) = project.lights.iter().find(same) {
                renamed.lights.entry(light.id).or_insert_with(|| there.id.clone());
                continue;
            }
            let fresh = free_id(&mut taken, &light.id);
            let old = std::mem::replace(&mut light.id, fresh.clone());
            renamed.lights.entry(old).or_insert(fresh);
            self.lights.push(light);
        }
    }

    /// Leaves out new themes without differences, and their values.
    fn keep_themes_in_use(&mut self) {
        let finishes = &self.finishes;
        let differs = |swatch: &Swatch, id: &Id| {
            let own = swatch.values.get(id);
            swatch.values.values().any(|other| Some(other) != own)
        };
        let swatches = &self.swatches;
        let (used, unused) = std::mem::take(&mut self.themes).into_iter().partition(|theme: &Theme| {
            finishes.iter().any(|finish| finish.themes.contains_key(&theme.id))
                || swatches.iter().any(|swatch| differs(swatch, &theme.id))
        });
        self.themes = used;
        for theme in unused {
            for swatch in &mut self.swatches {
                swatch.values.remove(&theme.id);
            }
        }
    }

    /// One finish for each look: that which comes first has the rules of all of them.
    #[must_use]
    pub fn by_look(mut self) -> Self {
        let mut kept: Vec<Finish> = Vec::new();
        let mut first_of: HashMap<String, usize> = HashMap::new();
        let mut of_classes: BTreeMap<Id, usize> = BTreeMap::new();
        for finish in std::mem::take(&mut self.finishes) {
            let look = look(&finish);
            let (uses, held) = (self.uses.remove(&finish.id), self.held.contains(&finish.id));
            let at = *first_of.entry(look).or_insert_with(|| {
                kept.push(finish);
                kept.len() - 1
            });
            let Some(uses) = uses else { continue };
            let counts = if held { &mut self.uses } else { &mut of_classes };
            *counts.entry(kept[at].id.clone()).or_default() += uses;
        }
        // Rules that refer to a property that holds the look are among those that have it.
        for (id, uses) in of_classes {
            let all = self.uses.entry(id).or_default();
            *all = (*all).max(uses);
        }
        self.finishes = kept;
        self
    }

    /// Puts everything into a project document, of which nothing else changes: fields that are not understood stay.
    pub fn put_into(self, document: &mut serde_json::Value) {
        add_themes(document, &self.themes);
        let lists = [
            ("swatches", serde_json::to_value(self.swatches)),
            ("lights", serde_json::to_value(self.lights)),
            ("finishes", serde_json::to_value(self.finishes)),
        ];
        for (name, list) in lists {
            let (Ok(serde_json::Value::Array(new)), Some(fields)) = (list, document.as_object_mut()) else {
                continue;
            };
            let entry = fields.entry(name).or_insert_with(|| serde_json::Value::Array(Vec::new()));
            if let serde_json::Value::Array(there) = entry {
                there.extend(new);
            }
        }
    }
}

/// The finishes of another project, with the swatches and lights they refer to.
#[must_use]
pub fn from_project(project: &Project) -> Incoming {
    let used = used_by(&project.finishes);
    let mut incoming = Incoming {
        finishes: project.finishes.clone(),
        swatches: project
            .swatches
            .iter()
            .filter(|swatch| used.swatches.contains(&swatch.id))
            .cloned()
            .collect(),
        lights: project.lights.clone(),
        themes: project.themes.clone(),
        ..Incoming::default()
    };
    incoming.keep_lights_in_use();
    incoming
}

/// New ids by the old ones; the first thing of an old id counts.
#[derive(Default)]
struct Renamed {
    swatches: HashMap<Id, Id>,
    lights: HashMap<Id, Id>,
}

impl Renamed {
    /// Makes a finish refer to the new ids.
    fn apply(&self, finish: &mut Finish) {
        finish.visit_references(&mut |_, reference| {
            let (id, new) = match reference {
                SharedReference::Light(id) => (id, &self.lights),
                SharedReference::Colour(ColourSource::Swatch(colour)) => (&mut colour.swatch, &self.swatches),
                SharedReference::Colour(_) | SharedReference::Finish(_) => return,
            };
            if let Some(new) = new.get(id) {
                *id = new.clone();
            }
        });
    }
}

/// The swatches and lights that finishes use.
#[derive(Default)]
struct Used {
    swatches: HashSet<Id>,
    lights: HashSet<Id>,
}

fn used_by(finishes: &[Finish]) -> Used {
    let mut used = Used::default();
    for finish in finishes {
        finish.clone().visit_references(&mut |_, reference| match reference {
            SharedReference::Light(id) => {
                used.lights.insert(id.clone());
            }
            SharedReference::Colour(ColourSource::Swatch(colour)) => {
                used.swatches.insert(colour.swatch.clone());
            }
            SharedReference::Colour(_) | SharedReference::Finish(_) => {}
        });
    }
    used
}

/// Puts themes into a project document; colours that are there already have their first value in them.
fn add_themes(document: &mut serde_json::Value, themes: &[Theme]) {
    use serde_json::Value;
    let Some(fields) = document.as_object_mut() else { return };
    for theme in themes {
        let Ok(value) = serde_json::to_value(theme) else { continue };
        if let Value::Array(there) = fields.entry("themes").or_insert_with(|| Value::Array(Vec::new())) {
            there.push(value);
        }
        let swatches = fields.get_mut("swatches").and_then(Value::as_array_mut);
        for swatch in swatches.into_iter().flatten() {
            let Some(values) = swatch.get_mut("values").and_then(Value::as_object_mut) else { continue };
            if let Some(some) = values.values().next().cloned() {
                values.entry(theme.id.as_str()).or_insert(some);
            }
        }
    }
}

/// The appearance of a finish, without its name and those of its coats: equal for finishes that draw the same.
fn look(finish: &Finish) -> String {
    let mut plain = finish.clone();
    let Finish { coats, themes, states, .. } = &mut plain;
    for coat in std::iter::once(coats).chain(themes.values_mut()).chain(states.values_mut()).flatten() {
        coat.id = Id::numbered("coat", 1);
        coat.name = String::new();
    }
    let look = (plain.coats, plain.themes, plain.states, plain.made_with);
    serde_json::to_string(&look).unwrap_or_default()
}

/// Whether two finishes are the same but for their ids and the numbers that make their names unique.
fn is_same(there: &Finish, new: &Finish) -> bool {
    let named = there.name == new.name
        || there.name.strip_prefix(new.name.as_str()).is_some_and(|rest| {
            rest.strip_prefix(' ').is_some_and(|number| number.bytes().all(|byte| byte.is_ascii_digit()))
        });
    named && look(there) == look(new) && there.transition == new.transition && there.note == new.note
}

/// A map by theme, with the ids that the themes have now; entries of themes that the project lacks are left out.
fn renamed_keys<T>(map: BTreeMap<Id, T>, themes: &HashMap<Id, Id>) -> BTreeMap<Id, T> {
    map.into_iter().filter_map(|(theme, value)| Some((themes.get(&theme)?.clone(), value))).collect()
}

fn free_id(taken: &mut UniqueNames, id: &Id) -> Id {
    Id::new(taken.unique(id.as_str(), '.')).unwrap_or_else(|_| id.clone())
}
