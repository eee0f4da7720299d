//! Taking an element out of a drawing: it becomes a piece, and what lies below and above it stays there.

use json_patch::Patch;
use jsonptr::{PointerBuf, Token};
use serde_json::json;

use super::places::run_of;
use super::trial::{Trial, as_shape};
use crate::arrange::Arranged;
use crate::asset::Assets;
use crate::blend::BlendMode;
use crate::limits;
use crate::model::{
    Degrees, DrawingShape, DrawnFrom, ElementRun, GroupShape, Id, OwnCoats, Piece, Project, Px, Scene, Shape,
    Surface, Wear, piece_tokens,
};
use crate::patch::{remove, set};
use crate::syntax::{UniqueNames, slug};

/// Takes an element out of a drawing. A drawing on its own becomes a group of what is below the element, the element and what is
/// above it, and keeps all that it has; a plain one in a group is replaced by them there. The picture stays the same. `None` where
/// the piece shows no such element, or no other.
#[must_use]
pub fn take_out(
    project: &Project,
    scene: &Scene,
    piece: &Id,
    element: u32,
    assets: &Assets,
) -> Option<Arranged> {
    let around = scene.path_to(piece);
    let (drawn, groups) = around.split_last()?;
    let Shape::Drawing(shape) = &drawn.shape else { return None };
    let drawing = assets.drawing(&shape.asset)?.ok()?;
    let (run, element) = (run_of(shape, &drawing), element as usize);
    // Something of the whole size is left, so that a turned group keeps its middle.
    if run.len() < 2 || !run.contains(&element) {
        return None;
    }
    let mut taken = UniqueNames::new(scene.all_pieces().into_iter().map(|piece| piece.id.as_str()));
    let mut id = |name: &str| Id::new(taken.unique(name, '-')).ok();
    let called = |name: String| name.chars().take(limits::NAME_CHARACTERS).collect::<String>();
    let rest = |id: Id, place: &str, from: usize, to: usize| Piece {
        name: called(format!("{}, {place}", without_place(&drawn.name))),
        shape: Shape::Drawing(DrawingShape { elements: run_from(from, to), ..shape.clone() }),
        ..Piece::new(id)
    };
    let found = &drawing.elements[element];
    let named = slug(&found.name);
    let own = Piece {
        drawn_from: Some(DrawnFrom::new(shape.asset.clone(), element)?),
        name: called(found.name.clone()),
        ..rest(id(if named.is_empty() { "element" } else { &named })?, "", element, element + 1)
    };
    let size = (shape.w.get(), shape.h.get());
    let own = as_shape(&Trial { project, scene, size, assets }, own, (&drawing, shape), element);
    let chosen = vec![own.id.clone()];
    let mut parts = Vec::new();
    if run.start < element {
        parts.push(rest(id(piece.as_str())?, BELOW, run.start, element));
    }
    parts.push(own);
    if element + 1 < run.end {
        parts.push(rest(id(piece.as_str())?, ABOVE, element + 1, run.end));
    }
    let place = place_of(scene, &around)?;
    let at = |fields: &[&str]| {
        let tokens = piece_tokens(&place).into_iter().chain(fields.iter().map(|field| (*field).to_owned()));
        PointerBuf::from_tokens(tokens.map(Token::from))
    };
    let changes = if groups.is_empty() || !is_plain(drawn) {
        vec![set(at(&["shape"]), json!(Shape::Group(GroupShape { parts })))]
    } else {
        let moved = parts.into_iter().map(|part| Piece {
            x: Px::clamped(part.x.get() + drawn.x.get()),
            y: Px::clamped(part.y.get() + drawn.y.get()),
            ..part
        });
        let inserted = moved.rev().map(|part| set(at(&[]), json!(part)));
        std::iter::once(remove(at(&[]))).chain(inserted).collect()
    };
    Some(Arranged { patch: Patch(changes), chosen })
}

/// The names of what is left of a drawing end in its place.
const BELOW: &str = "below";
const ABOVE: &str = "above";

/// The name of a drawing, without the place of what is left of it.
fn without_place(name: &str) -> &str {
    let place = [BELOW, ABOVE].into_iter().find_map(|place| name.strip_suffix(&format!(", {place}")));
    place.unwrap_or(name)
}

fn run_from(from: usize, to: usize) -> Option<ElementRun> {
    Some(ElementRun { from: u32::try_from(from).ok()?, to: u32::try_from(to).ok()? })
}

/// Whether a drawing looks the same in pieces: it has nothing that holds for the whole of it.
fn is_plain(drawn: &Piece) -> bool {
    let has_coats = match &drawn.wear {
        Wear::Finish(_) => true,
        Wear::Coats(OwnCoats { coats }) => !coats.is_empty(),
    };
    let is_itself = drawn.states.is_empty() && !drawn.control && drawn.shows.is_none();
    let lies_straight = drawn.rotation == Degrees::default() && drawn.clip_to.is_none();
    let is_solid =
        drawn.opacity.get() >= 1.0 && drawn.blend == BlendMode::Normal && drawn.surface == Surface::Keep;
    !has_coats && is_itself && lies_straight && is_solid && !drawn.hidden
}

/// The places of a piece and the groups around it in their lists.
fn place_of(scene: &Scene, around: &[&Piece]) -> Option<Vec<usize>> {
    let mut list = scene.pieces.as_slice();
    let mut places = Vec::new();
    for piece in around {
        places.push(list.iter().position(|other| other.id == piece.id)?);
        list = piece.shape.parts();
    }
    Some(places)
}
