//! The piece that a finish is written for: colours taken from the piece fall back to the commonest fill.

use super::trial::{TrialPiece, trial};
use crate::asset::Assets;
use crate::colour::Rgba;
use crate::model::{Finish, Id, OwnCoats, Piece, Project, Scene, Surface, Wear};
use crate::resolve;

/// The piece that a finish is written for: of those that wear it as it is the first in the fill that most of them have,
/// or a piece to try it on.
pub fn specimen(project: &Project, assets: &Assets, finish: &Finish, on: TrialPiece) -> (Scene, Piece) {
    let worn = wearers(project, assets, finish, on);
    let count = |fill: &Rgba| worn.iter().filter(|(.., other)| other == fill).count();
    let most = worn.iter().map(|(.., fill)| count(fill)).max().unwrap_or_default();
    let found = worn.iter().find(|(.., fill)| count(fill) == most);
    found.map(|(scene, piece, _)| ((*scene).clone(), (*piece).clone())).unwrap_or_else(|| {
        let theme = project.themes.first().map_or_else(|| Id::named("theme"), |theme| theme.id.clone());
        let scene = trial(&theme, &bare(), on, false);
        let piece = scene.pieces[0].clone();
        (scene, piece)
    })
}

/// The pieces that wear a finish as it is, with their fills.
pub fn wearers<'p>(
    project: &'p Project,
    assets: &Assets,
    finish: &Finish,
    on: TrialPiece,
) -> Vec<(&'p Scene, &'p Piece, Rgba)> {
    let wears = |piece: &Piece| {
        matches!(&piece.wear, Wear::Finish(worn) if worn.finish == finish.id)
            && TrialPiece::new(&piece.shape) == on
            && piece.rotation.get() == 0.0
            && piece.surface == Surface::Keep
    };
    let scenes = project.scenes.iter();
    let all = scenes.flat_map(|scene| scene.all_pieces().into_iter().map(move |piece| (scene, piece)));
    let fill = |scene: &Scene, piece: &Piece| {
        fill_of(&resolve::piece(project, scene, &piece.wearing(Vec::new()), assets).0)
    };
    all.filter(|(_, piece)| wears(piece)).map(|(scene, piece)| (scene, piece, fill(scene, piece))).collect()
}

fn bare() -> Wear {
    Wear::Coats(OwnCoats { coats: Vec::new() })
}

/// The fill of a piece as one colour: its mean.
pub fn fill_of(piece: &resolve::Piece) -> Rgba {
    piece.fill.mean().map(|mean| Rgba { a: 1.0, ..mean }).unwrap_or_default()
}
