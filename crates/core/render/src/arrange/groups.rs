//! Pieces become a group, and pieces again.

use json_patch::Patch;

use super::changes::{Arranged, Gathered, coats_in, insert, own_coats, pointer, released};
use crate::asset::Assets;
use crate::limits;
use crate::model::{GroupShape, Id, Piece, Project, Px, Scene, Shape, with_unique_ids};
use crate::patch::remove;
use crate::resolve::separated;
use crate::syntax::UniqueNames;

/// Puts pieces into a group in the place of the highest of them. They keep their ids, and lie where they did.
/// Pieces beside them that were clipped to one of them are clipped to the group.
pub fn group(scene: &Scene, pieces: &[Id], mut taken: UniqueNames) -> Option<Arranged> {
    let gathered = Gathered::new(scene, pieces)?;
    let Gathered { main, x, y, .. } = gathered;
    let id = Id::new(taken.unique("group", '-')).ok()?;
    let stays_in = |to: &Option<Id>| to.clone().filter(|id| gathered.parts.iter().any(|part| part.id == *id));
    let inside = |part: &&Piece| Piece {
        x: Px::clamped(part.x.get() - x),
        y: Px::clamped(part.y.get() - y),
        clip_to: stays_in(&part.clip_to),
        alternative_of: stays_in(&part.alternative_of),
        ..(*part).clone()
    };
    let group = Piece {
        name: format!("{} group", main.name).chars().take(limits::NAME_CHARACTERS).collect(),
        shape: Shape::Group(GroupShape { parts: gathered.parts.iter().map(inside).collect() }),
        x: Px::clamped(x),
        y: Px::clamped(y),
        ..Piece::new(id)
    };
    Some(gathered.replaced_by(scene, group))
}

/// Puts the parts of a group in its place, where they lie. Properties of the group as a whole are lost: its opacity,
/// its blend mode and its clipping.
pub fn separate(project: &Project, scene: &Scene, group: &Id, assets: &Assets) -> Option<Arranged> {
    let at = scene.pieces.iter().position(|piece| piece.id == *group)?;
    let whole = &scene.pieces[at];
    let Shape::Group(_) = &whole.shape else { return None };
    let coats = coats_in(project.coats_of(whole, &scene.theme), |_| true);
    let mut parts = separated(whole, assets);
    if let Some(lowest) = parts.first_mut().filter(|_| !coats.is_empty()) {
        let own = project.coats_of(lowest, &scene.theme).to_vec();
        lowest.wear = own_coats(with_unique_ids(own.into_iter().chain(coats).collect()));
    }
    let mut changes = released(scene, std::slice::from_ref(group), None);
    changes.push(remove(pointer(at, &[])));
    changes.extend(parts.iter().enumerate().map(|(number, part)| insert(at + number, part)));
    Some(Arranged { patch: Patch(changes), chosen: parts.into_iter().map(|part| part.id).collect() })
}
