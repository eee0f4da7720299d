//! Constructs of style sheets that were not understood, each reported once, with its first places.

use std::collections::{BTreeMap, BTreeSet};

use super::file::StyleFile;
use super::library::Library;
use super::parse::{Place, Sheet, SkippedRule};
use super::sample::SampleError;
use super::schemes::schemes;
use crate::import::{Diagnostic, DiagnosticKind, Incoming};

/// Remarks by their text, with every place they are about.
pub(super) struct Remarks {
    names: Vec<String>,
    found: BTreeMap<(u8, String), (DiagnosticKind, BTreeSet<Place>)>,
}

impl Remarks {
    pub fn new(files: &[StyleFile<'_>]) -> Self {
        let names = files.iter().map(|file| file.name.to_owned()).collect();
        Self { names, found: BTreeMap::new() }
    }

    /// Remarks something about a place; the same about the same place counts once.
    pub fn add(&mut self, kind: DiagnosticKind, place: Place, what: impl Into<String>) {
        let order = u8::from(kind == DiagnosticKind::Approximated);
        let entry = self.found.entry((order, what.into()));
        entry.or_insert_with(|| (kind, BTreeSet::new())).1.insert(place);
    }

    pub fn dropped(&mut self, place: Place, what: impl Into<String>) {
        self.add(DiagnosticKind::Dropped, place, what);
    }

    /// Constructs skipped before any element was looked at.
    pub fn on_sheet(&mut self, sheet: &Sheet, files: &[StyleFile<'_>]) {
        for (file, _) in schemes(files).iter().enumerate().filter(|(_, condition)| condition.is_some()) {
            let what = "a file for one scheme, by its name: read as a theme";
            self.add(DiagnosticKind::Approximated, Place { file, line: 1, column: 1 }, what);
        }
        for (place, passed) in &sheet.passed_over {
            match passed {
                SkippedRule::Selector(selector) => {
                    self.dropped(*place, family(selector));
                }
                SkippedRule::Import(address) => {
                    let name = address.rsplit('/').next().unwrap_or(address);
                    if !files.iter().any(|file| !name.is_empty() && file.name.ends_with(name)) {
                        let what = format!("@import brings in another file: choose it too ({name})");
                        self.dropped(*place, what);
                    }
                }
                SkippedRule::Scope => self.dropped(*place, "rules in @scope"),
                SkippedRule::Depth => self.dropped(*place, "rules within more than 24 others"),
            }
        }
        for (place, name) in &sheet.keyframes {
            self.dropped(
                *place,
                format!("@keyframes {name} moves shadows or filters: a finish does not move"),
            );
        }
    }

    /// Selectors that no element was found for.
    pub fn on_library(&mut self, library: &Library<'_>) {
        for (place, why) in &library.without {
            let what = match why {
                SampleError::Shadow => "parts of other components: :host, ::part() and ::slotted()",
                SampleError::Childless => {
                    "elements in an input, a picture or another element that holds none"
                }
                SampleError::NotFound => "a selector for which no element was found",
            };
            self.dropped(*place, what);
        }
        for (place, condition) in &library.elsewhere {
            self.dropped(*place, format!("not in this window: {condition}"));
        }
        for (place, name) in &library.unpaired {
            let what = format!("{name} is set by other classes too: an element that has both is not read");
            self.dropped(*place, what);
        }
        if library.left_out > 0 {
            let place = Place { file: 0, line: 1, column: 1 };
            let (most, left) = (Library::MAX_SUBJECTS, library.left_out);
            self.dropped(place, format!("more than {most} elements: {left} are left out"));
        }
    }

    /// Lists them.
    pub fn put_into(self, incoming: &mut Incoming) {
        for ((_, message), (kind, places)) in self.found {
            let texts = places.iter().take(Diagnostic::FIRST_PLACES).map(|place| {
                let name = self.names.get(place.file).map_or("", String::as_str);
                let colon = if name.is_empty() { "" } else { ":" };
                format!("{name}{colon}{}:{}", place.line, place.column)
            });
            let places_shown: Vec<String> = texts.collect();
            incoming.diagnostics_at(kind, message, places.len(), places_shown);
        }
    }
}

/// The remark about a selector that browsers do not know.
fn family(selector: &str) -> String {
    if [":-moz-", ":-ms-", ":-o-"].iter().any(|prefix| selector.contains(prefix)) {
        return "selectors of other browsers: :-moz-, :-ms- and :-o-".to_owned();
    }
    format!("a selector that browsers pass over: {}", selector.chars().take(60).collect::<String>())
}
