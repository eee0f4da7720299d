//! Files in, finishes out.

use std::cell::Cell;

use serde_json::Value;

use super::depth::{self, Depth, Property};
use super::file::StyleFile;
use super::library::{ComputedDepth, Library, SheetTheme, Subject};
use super::remarks::Remarks;
use super::schemes::schemes;
use super::settings::Settings;
use super::style::Expansions;
use super::{finishes, parse};
use crate::import::Incoming;
use crate::model::{Coat, State};

/// Reads a style sheet. Constructs that are not understood are left out and remarked, each once.
#[must_use]
pub fn import(css: &str) -> Incoming {
    import_files(&[StyleFile { name: "", css }], &Settings::default())
}

/// Reads style sheets as a page has them that links them in this order.
#[must_use]
pub fn import_files(files: &[StyleFile<'_>], settings: &Settings) -> Incoming {
    let sheet = sheet_of(files);
    let library = Library::new(&sheet, settings);
    let mut remarks = Remarks::new(files);
    remarks.on_sheet(&sheet, files);
    remarks.on_library(&library);
    finishes::incoming(&library, settings, remarks)
}

/// An element that style sheets are about, and its computed style: for comparisons with browsers.
#[derive(Debug, Clone, PartialEq)]
pub struct ElementReading {
    /// Its selector, without state and theme.
    pub selector: String,
    /// The state it is in.
    pub state: Option<State>,
    /// The name of the theme.
    pub theme: String,
    /// Whether a reader prefers dark schemes.
    pub dark: bool,
    /// The page it is on: elements with `tag`, `attributes`, `flags` (their pseudo-classes), `children`, and `this`.
    pub page: Value,
    /// The pseudo-element of that element that is meant.
    pub pseudo: Option<String>,
    /// Readers for the value of each property.
    pub properties: Vec<(&'static str, PropertyReading)>,
}

/// The value that is read of a property.
#[derive(Debug, Clone, PartialEq)]
pub enum PropertyReading {
    /// These coats.
    Coats(Vec<Coat>),
    /// A value that refers to a custom property that is set nowhere.
    Unset(String),
    /// A construct that is not followed.
    Construct(String),
}

/// Every element that style sheets are about, in every state and theme they know for it.
#[must_use]
pub fn elements(files: &[StyleFile<'_>], settings: &Settings) -> Vec<ElementReading> {
    let sheet = sheet_of(files);
    let library = Library::new(&sheet, settings);
    let room = Cell::new(Expansions::default());
    let mut readings = Vec::new();
    for subject in &library.subjects {
        for theme in &library.themes {
            let read = |state, looked| ElementReading::new(subject, theme, state, looked);
            for state in std::iter::once(None).chain(subject.states().map(Some)) {
                readings.push(read(state, library.look(subject, state, theme, settings, &room)));
            }
            for (_, state, mut both) in library.look_between(subject, theme, settings, &room) {
                both.hold_as(&library.look(subject, state, theme, settings, &room));
                readings.push(read(state, both));
            }
        }
    }
    readings
}

impl ElementReading {
    fn new(subject: &Subject, theme: &SheetTheme, state: Option<State>, looked: ComputedDepth) -> Self {
        let property = |(property, reading): (Property, depth::Reading)| {
            let read = match reading.depth {
                Depth::Silent => return None,
                Depth::Coats(coats, _) => PropertyReading::Coats(coats),
                Depth::Unset(name) => PropertyReading::Unset(name),
                Depth::Construct(what) => PropertyReading::Construct(what),
            };
            Some((property.name(), read))
        };
        Self {
            selector: subject.selector.clone(),
            state,
            theme: theme.name.clone(),
            dark: theme.is_dark(),
            page: looked.page.to_json(looked.at),
            pseudo: subject.pseudo().map(str::to_owned),
            properties: looked.readings.into_iter().filter_map(property).collect(),
        }
    }
}

/// The rules of files, in the order in which a page has them: a file that brings in another of them comes after it.
fn sheet_of(files: &[StyleFile<'_>]) -> parse::Sheet {
    let mut sheet = parse::Sheet::default();
    let mut order: Vec<usize> = (0..files.len()).collect();
    let brings_in = |one: &StyleFile<'_>, other: &StyleFile<'_>| {
        let name = other.name.rsplit('/').next().unwrap_or_default();
        !name.is_empty()
            && one.css.lines().any(|line| line.trim_start().starts_with("@import") && line.contains(name))
    };
    for at in 0..files.len() {
        let place = order.iter().position(|file| *file == at).unwrap_or(at);
        let last = (0..files.len())
            .filter(|other| *other != at && brings_in(&files[at], &files[*other]))
            .filter_map(|other| order.iter().position(|file| *file == other));
        if let Some(last) = last.max().filter(|last| *last > place) {
            let file = order.remove(place);
            order.insert(last, file);
        }
    }
    let mut conditions = schemes(files);
    for file in order {
        parse::add_file(&mut sheet, file, files[file].css, conditions[file].take());
    }
    sheet
}
