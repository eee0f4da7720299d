//! The names used in exported code, all different.

use std::collections::BTreeMap;

use crate::lower::TrialPiece;
use crate::model::{self, Finish, Id, Project, Theme, Wear};
use crate::syntax::{UniqueNames, slug};

/// The names of everything in a project.
pub(super) struct Names {
    pub finishes: BTreeMap<Id, String>,
    pub themes: BTreeMap<Id, String>,
    pub swatches: BTreeMap<Id, String>,
    pub lights: BTreeMap<Id, String>,
    /// By scene and piece.
    pub pieces: BTreeMap<(Id, Id), String>,
}

impl Names {
    pub fn of(project: &Project) -> Self {
        let (mut classes, mut themes, mut swatches) =
            (UniqueNames::default(), UniqueNames::default(), UniqueNames::default());
        let class = |taken: &mut UniqueNames, finish: &Finish| {
            taken.unique_with(&slug(&finish.name), '-', &["-text", "-icon"])
        };
        let finishes =
            project.finishes.iter().map(|finish| (finish.id.clone(), class(&mut classes, finish))).collect();
        let mut pieces = BTreeMap::new();
        for scene in &project.scenes {
            for piece in &scene.pieces {
                let name = classes.unique(&slug(&piece.name), '-');
                pieces.insert((scene.id.clone(), piece.id.clone()), name);
            }
        }
        let theme = |theme: &Theme| (theme.id.clone(), themes.unique(&slug(&theme.name), '-'));
        let themes = project.themes.iter().map(theme).collect();
        let swatch = |swatch: &model::Swatch| (swatch.id.clone(), swatches.unique(&slug(&swatch.name), '-'));
        let swatches = project.swatches.iter().map(swatch).collect();
        let mut lights = UniqueNames::default();
        let light = |light: &model::Light| (light.id.clone(), lights.unique(&slug(&light.name), '-'));
        let lights = project.lights.iter().map(light).collect();
        Self { finishes, themes, swatches, lights, pieces }
    }

    /// The class of a finish on a kind of piece, without its dot.
    pub fn class(&self, finish: &Finish, on: TrialPiece) -> String {
        format!("{}{}", self.finishes[&finish.id], on.ending())
    }
}

/// The classes of every piece in the project's sheet, by scene and piece: that of its finish, if it wears one, then its own.
#[must_use]
pub fn classes(project: &Project) -> BTreeMap<(Id, Id), String> {
    let names = Names::of(project);
    let pieces = project.scenes.iter().flat_map(|scene| scene.pieces.iter().map(move |piece| (scene, piece)));
    let all = pieces.filter_map(|(scene, piece)| {
        let key = (scene.id.clone(), piece.id.clone());
        let own = names.pieces.get(&key)?;
        let finish = match &piece.wear {
            Wear::Finish(worn) => project.finishes.iter().find(|finish| finish.id == worn.finish),
            Wear::Coats(_) => None,
        };
        let worn = finish.map(|finish| names.class(finish, TrialPiece::of(&piece.shape)) + " ");
        Some((key, worn.unwrap_or_default() + own))
    });
    all.collect()
}
