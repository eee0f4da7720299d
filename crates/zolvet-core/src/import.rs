//! The content of a file, before it is put into a project.

use std::collections::{HashMap, HashSet};

use serde::Serialize;

use crate::model::{ColourSource, Finish, Id, Light, Project, SharedReference, Swatch};
use crate::syntax::UniqueNames;

/// The content of a file, ready to be put into a project as a whole.
#[derive(Debug, Clone, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Incoming {
    /// Named stacks.
    pub finishes: Vec<Finish>,
    /// Shared colours.
    pub swatches: Vec<Swatch>,
    /// Shared lights that finishes follow.
    pub lights: Vec<Light>,
    /// What was approximated or dropped.
    pub diagnostics: Vec<Diagnostic>,
}

/// Something that was approximated or dropped.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Diagnostic {
    /// Where: `line:column`, or a JSON pointer.
    pub place: String,
    /// Which of the two.
    pub kind: DiagnosticKind,
    /// In words.
    pub message: String,
}

/// What happened to something in a file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
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
    /// The message about what goes beyond it.
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
const MAX_DIAGNOSTICS: usize = 5_000;
/// Characters of a remark.
const MAX_MESSAGE: usize = 500;

impl Incoming {
    pub(crate) fn diagnostic(
        &mut self,
        place: impl Into<String>,
        kind: DiagnosticKind,
        message: impl Into<String>,
    ) {
        if self.diagnostics.len() < MAX_DIAGNOSTICS {
            let message = message.into().chars().take(MAX_MESSAGE).collect();
            return self.diagnostics.push(Diagnostic { place: place.into(), kind, message });
        }
        if self.diagnostics.len() == MAX_DIAGNOSTICS {
            let message = format!("more than {MAX_DIAGNOSTICS} remarks: the rest is not listed");
            self.diagnostics.push(Diagnostic { place: place.into(), kind, message });
        }
    }

    /// Leaves out the lights that no finish follows.
    pub(crate) fn keep_lights_in_use(&mut self) {
        let used = used_by(&self.finishes);
        self.lights.retain(|light| used.lights.contains(&light.id));
    }

    /// Gives everything ids and names that the project has not taken yet. What is there already and just the same is
    /// left out, so that reading a file twice brings nothing new.
    #[must_use]
    pub fn fitted_to(mut self, project: &Project) -> Self {
        leave_out(&mut self.swatches, &project.swatches, |swatch| &swatch.id);
        leave_out(&mut self.lights, &project.lights, |light| &light.id);
        leave_out(&mut self.finishes, &project.finishes, |finish| &finish.id);
        let mut renamed = Renamed::default();
        let mut taken = UniqueNames::of(project.swatches.iter().map(|swatch| swatch.id.as_str()));
        for swatch in &mut self.swatches {
            let fresh = free_id(&mut taken, &swatch.id);
            let old = std::mem::replace(&mut swatch.id, fresh.clone());
            renamed.swatches.entry(old).or_insert(fresh);
            let some = swatch.values.values().next().cloned();
            for theme in &project.themes {
                if let Some(some) = &some {
                    swatch.values.entry(theme.id.clone()).or_insert_with(|| some.clone());
                }
            }
            swatch.values.retain(|id, _| project.theme(id).is_some());
        }
        let mut taken = UniqueNames::of(project.lights.iter().map(|light| light.id.as_str()));
        for light in &mut self.lights {
            let fresh = free_id(&mut taken, &light.id);
            let old = std::mem::replace(&mut light.id, fresh.clone());
            renamed.lights.entry(old).or_insert(fresh);
            light.themes.retain(|id, _| project.theme(id).is_some());
        }
        let mut taken = UniqueNames::of(project.finishes.iter().map(|finish| finish.id.as_str()));
        let mut names = UniqueNames::of(project.finishes.iter().map(|finish| finish.name.as_str()));
        for finish in &mut self.finishes {
            finish.id = free_id(&mut taken, &finish.id);
            finish.name = names.unique(&finish.name, ' ');
            finish.themes.retain(|id, _| project.theme(id).is_some());
            renamed.apply(finish);
        }
        self
    }

    /// Puts everything into a project document, of which nothing else changes: fields that are not understood stay.
    pub fn put_into(self, document: &mut serde_json::Value) {
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
        diagnostics: Vec::new(),
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

/// Drops entries that the project already has unchanged.
fn leave_out<T: PartialEq>(new: &mut Vec<T>, there: &[T], id: impl Fn(&T) -> &Id) {
    let by_id: HashMap<&Id, &T> = there.iter().map(|one| (id(one), one)).collect();
    new.retain(|one| by_id.get(id(one)).is_none_or(|same| *same != one));
}

fn free_id(taken: &mut UniqueNames, id: &Id) -> Id {
    Id::new(taken.unique(id.as_str(), '.')).unwrap_or_else(|_| id.clone())
}
