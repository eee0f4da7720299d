//! Pieces are looked at one by one, whatever groups arrange them; what is changed is changed in the document.

use std::borrow::Cow;

use json_patch::{Patch, PatchOperation};
use jsonptr::{PointerBuf, Token};

use crate::asset::Assets;
use crate::model::{Project, Shape, piece_tokens};
use crate::resolve::flattened;

/// A project without groups that only arrange, and the places of its pieces in the document.
pub(super) struct FlatProject<'p> {
    pub project: Cow<'p, Project>,
    /// By scene and piece; none where nothing was changed.
    places: Vec<Vec<Vec<usize>>>,
}

impl<'p> FlatProject<'p> {
    pub fn new(project: &'p Project, assets: &Assets) -> Self {
        let mut pieces = project.scenes.iter().flat_map(|scene| &scene.pieces);
        if !pieces.any(|piece| matches!(piece.shape, Shape::Group(_))) {
            return Self { project: Cow::Borrowed(project), places: Vec::new() };
        }
        let flat = project.scenes.iter().map(|scene| flattened(project, scene, assets));
        let (scenes, places) = flat.map(|flat| (flat.scene, flat.places)).unzip();
        Self { project: Cow::Owned(Project { scenes, ..project.clone() }), places }
    }

    /// The places alone.
    pub fn places(&self) -> FlatPlaces {
        FlatPlaces(self.places.clone())
    }
}

/// The places of pieces in the document, by scene and piece.
#[derive(Default)]
pub(super) struct FlatPlaces(Vec<Vec<Vec<usize>>>);

impl FlatPlaces {
    /// Gives a patch of the flat project the places of the document.
    pub fn restore(&self, patch: &mut Patch) {
        for operation in &mut patch.0 {
            let path = match operation {
                PatchOperation::Add(one) => &mut one.path,
                PatchOperation::Replace(one) => &mut one.path,
                PatchOperation::Remove(one) => &mut one.path,
                PatchOperation::Move(_) | PatchOperation::Copy(_) | PatchOperation::Test(_) => continue,
            };
            if let Some(restored) = restored(&self.0, path) {
                *path = restored;
            }
        }
    }
}

fn restored(places: &[Vec<Vec<usize>>], path: &PointerBuf) -> Option<PointerBuf> {
    let tokens: Vec<String> = path.tokens().map(|token| token.decoded().into_owned()).collect();
    let [scenes, scene, pieces, piece, fields @ ..] = tokens.as_slice() else { return None };
    if scenes != "scenes" || pieces != "pieces" {
        return None;
    }
    let place = places.get(scene.parse::<usize>().ok()?)?.get(piece.parse::<usize>().ok()?)?;
    let scene = [scenes.clone(), scene.clone()].into_iter();
    let restored = scene.chain(piece_tokens(place)).chain(fields.iter().cloned());
    Some(PointerBuf::from_tokens(restored.map(Token::from)))
}
