//! The names used in exported code, all different.

use std::cell::RefCell;
use std::collections::BTreeMap;

use crate::lower::TrialPiece;
use crate::model::{self, Finish, Id, Project, Theme, Wear};
use crate::syntax::{UniqueNames, slug};

/// The names of everything in a project.
pub(super) struct Names {
    /// The project's prefix with a hyphen; empty where it has none.
    pub prefix: String,
    /// Classes of finishes on the kind of piece they were made for, with the prefix.
    pub finishes: BTreeMap<Id, String>,
    pub themes: BTreeMap<Id, String>,
    pub swatches: BTreeMap<Id, String>,
    pub lights: BTreeMap<Id, String>,
    /// Classes by scene and piece, with the prefix.
    pub pieces: BTreeMap<(Id, Id), String>,
    inner: RefCell<InnerNames>,
}

/// Custom properties that a sheet uses for itself.
#[derive(Default)]
struct InnerNames {
    given: UniqueNames,
    by_key: BTreeMap<String, String>,
}

impl Names {
    pub fn new(project: &Project) -> Self {
        let prefix =
            if project.prefix.is_empty() { String::new() } else { format!("{}-", project.prefix.as_str()) };
        let (mut classes, mut themes, mut swatches) =
            (UniqueNames::default(), UniqueNames::default(), UniqueNames::default());
        let class = |taken: &mut UniqueNames, finish: &Finish| {
            let name = taken.unique_with(&slug(&finish.name), '-', &["-box", "-text", "-icon"]);
            format!("{prefix}{name}")
        };
        let finishes =
            project.finishes.iter().map(|finish| (finish.id.clone(), class(&mut classes, finish))).collect();
        let mut pieces = BTreeMap::new();
        for scene in &project.scenes {
            for piece in scene.all_pieces() {
                let name = format!("{prefix}{}", classes.unique(&slug(&piece.name), '-'));
                pieces.insert((scene.id.clone(), piece.id.clone()), name);
            }
        }
        let theme = |theme: &Theme| (theme.id.clone(), themes.unique(&slug(&theme.name), '-'));
        let themes = project.themes.iter().map(theme).collect();
        let swatch = |swatch: &model::Swatch| (swatch.id.clone(), swatches.unique(&slug(&swatch.name), '-'));
        let swatches = project.swatches.iter().map(swatch).collect();
        let mut lights = UniqueNames::default();
        let light = |light: &model::Light| (light.id.clone(), lights.unique(&slug(&light.name), '-'));
        let lights: BTreeMap<Id, String> = project.lights.iter().map(light).collect();
        let swatches: BTreeMap<Id, String> = swatches;
        let public = lights.values().map(|name| format!("light-{name}"));
        let public = public.chain(swatches.values().map(|name| format!("colour-{name}")));
        let public: Vec<String> = public.chain(["fill", "ground", "height"].map(str::to_owned)).collect();
        let given = UniqueNames::new(public.iter().map(String::as_str));
        let inner = RefCell::new(InnerNames { given, by_key: BTreeMap::new() });
        Self { prefix, finishes, themes, swatches, lights, pieces, inner }
    }

    /// The class of a finish on a kind of piece, without its dot.
    pub fn class(&self, finish: &Finish, on: TrialPiece) -> String {
        let ending = if on == TrialPiece::for_finish(finish) { "" } else { on.ending() };
        format!("{}{ending}", self.finishes[&finish.id])
    }

    /// A custom property of the sheet that pages may set.
    pub fn property(&self, name: &str) -> String {
        format!("--{}{name}", self.prefix)
    }

    /// A custom property that the sheet uses for itself. Two hyphens in its key stand between names of different
    /// things, and become one; properties of different keys have different names.
    pub fn inner(&self, key: &str) -> String {
        let mut inner = self.inner.borrow_mut();
        if let Some(name) = inner.by_key.get(key) {
            return name.clone();
        }
        let name = self.property(&inner.given.unique(&key.replace("--", "-"), '-'));
        inner.by_key.insert(key.to_owned(), name.clone());
        name
    }
}

/// The classes of every piece in the project's sheet, by scene and piece: that of its finish, if it wears one, then its own.
#[must_use]
pub fn classes(project: &Project) -> BTreeMap<(Id, Id), String> {
    let names = Names::new(project);
    let pieces = project
        .scenes
        .iter()
        .flat_map(|scene| scene.all_pieces().into_iter().map(move |piece| (scene, piece)));
    let all = pieces.filter_map(|(scene, piece)| {
        let key = (scene.id.clone(), piece.id.clone());
        let own = names.pieces.get(&key)?;
        let finish = match &piece.wear {
            Wear::Finish(worn) => project.finishes.iter().find(|finish| finish.id == worn.finish),
            Wear::Coats(_) => None,
        };
        let worn = finish.map(|finish| names.class(finish, TrialPiece::new(&piece.shape)) + " ");
        Some((key, worn.unwrap_or_default() + own))
    });
    all.collect()
}
