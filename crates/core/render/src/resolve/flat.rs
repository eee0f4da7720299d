//! Scenes without the groups that only arrange their parts.

use super::level::separated;
use super::scene::Context;
use crate::asset::Assets;
use crate::model::{Piece, Project, Scene};

/// A scene in which groups that only arrange have given way to their parts, where those lie.
pub struct FlatScene {
    /// The scene; its picture is the same.
    pub scene: Scene,
    /// The place of each of its pieces in the document: numbers in the lists from the scene's own inward.
    pub places: Vec<Vec<usize>>,
}

/// Takes the groups of a scene that only arrange their parts out of it, at any depth.
#[must_use]
pub fn flattened(project: &Project, scene: &Scene, assets: &Assets) -> FlatScene {
    let context = Context { project, theme: &scene.theme, assets };
    let mut flat = FlatScene { scene: Scene { pieces: Vec::new(), ..scene.clone() }, places: Vec::new() };
    for (at, piece) in scene.pieces.iter().enumerate() {
        context.flatten(piece.clone(), vec![at], &mut flat);
    }
    flat
}

impl Context<'_> {
    fn flatten(&self, piece: Piece, place: Vec<usize>, flat: &mut FlatScene) {
        if !self.only_arranges(&piece, piece.shown_in(None)) {
            flat.scene.pieces.push(piece);
            flat.places.push(place);
            return;
        }
        for (at, mut part) in separated(&piece, self.assets).into_iter().enumerate() {
            part.hidden |= piece.hidden;
            part.shows = part.shown_in(piece.shows);
            let place = place.iter().copied().chain([at]).collect();
            self.flatten(part, place, flat);
        }
    }
}
