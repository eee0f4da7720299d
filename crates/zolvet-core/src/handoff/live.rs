//! What a live address of a scene gives: that scene, the finishes that are worn in it, and nothing else of its project.

use std::collections::BTreeSet;

use super::export::{Format, export};
use super::fittings::fittings_sheet;
use super::options::SheetOptions;
use crate::asset::Assets;
use crate::model::{Id, Project, Scene, Wear};

/// The sheet of a scene: that of its page, or that of its pieces and of the finishes they wear.
#[must_use]
pub fn live_sheet(project: &Project, assets: &Assets, scene: &Scene, wanted: &SheetOptions) -> String {
    if scene.page.is_some() {
        return fittings_sheet(project, assets, scene, wanted, None);
    }
    let wanted = SheetOptions { scenes: true, ..wanted.clone() };
    export(&of_scene(project, scene), assets, Format::Css, None, &wanted)
}

/// The tokens of the finishes that are worn in a scene, in the scene's theme.
#[must_use]
pub fn live_tokens(project: &Project, assets: &Assets, scene: &Scene) -> String {
    let wanted = SheetOptions { theme: Some(scene.theme.clone()), ..SheetOptions::default() };
    export(&of_scene(project, scene), assets, Format::Tokens, None, &wanted)
}

/// A project with one scene, and the finishes that are worn in it.
fn of_scene(project: &Project, scene: &Scene) -> Project {
    let worn: BTreeSet<&Id> = scene
        .all_pieces()
        .into_iter()
        .filter_map(|piece| match &piece.wear {
            Wear::Finish(worn) => Some(&worn.finish),
            Wear::Coats(_) => None,
        })
        .collect();
    let mut part = project.clone();
    part.scenes.retain(|other| other.id == scene.id);
    part.finishes.retain(|finish| worn.contains(&finish.id));
    part
}
