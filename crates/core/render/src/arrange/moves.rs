//! Pieces move into a group, out of one, or to another place in a list, and lie on the scene where they did.

use json_patch::{MoveOperation, Patch, PatchOperation};
use jsonptr::{PointerBuf, Token};
use kurbo::{Affine, Point};
use serde_json::{Value, json};

use super::changes::Arranged;
use crate::asset::Assets;
use crate::limits;
use crate::model::{Degrees, GroupShape, Id, Piece, Px, Scene, Shape, piece_tokens};
use crate::patch::{remove, set};
use crate::resolve::{box_size, part_place};
use crate::syntax::tidy;

/// Moves pieces before the item at `before` of a list, the scene's or that of a group, or to its end. A group that is left
/// without parts goes. `None` where a piece would come into itself, or too deep.
pub fn moved(
    scene: &Scene,
    ids: &[Id],
    into: Option<&Id>,
    before: Option<&Id>,
    assets: &Assets,
) -> Option<Arranged> {
    let around = into.map_or_else(Vec::new, |into| scene.path_to(into));
    let is_there = into.is_none() || matches!(around.last()?.shape, Shape::Group(_));
    if !is_there || around.iter().any(|group| ids.contains(&group.id)) {
        return None;
    }
    let target = Frame::new(&around, assets);
    let taken: Vec<Piece> =
        scene.all_pieces().into_iter().filter(|piece| is_taken(scene, piece, ids)).cloned().collect();
    let deepest = taken.iter().map(depth).max()?;
    if around.len() + deepest > limits::PART_DEPTH + 1 {
        return None;
    }
    let placed: Vec<Piece> = taken.iter().map(|piece| placed_in(scene, piece, target, assets)).collect();
    let mut lists = Lists { ids, into, before, placed: Some(placed), assets };
    let after = lists.without_and_with(&scene.pieces, None);
    let order: Vec<&Id> = taken.iter().map(|piece| &piece.id).collect();
    let mut changes = transfers(&scene.pieces, &after, &order);
    changes.extend(corrections(scene, &after));
    Some(Arranged { patch: Patch(changes), chosen: ids.to_vec() })
}

/// Moves of the pieces as they stand in the document, unknown fields included, and the removal of groups that are left empty.
fn transfers(before: &[Piece], after: &[Piece], moved: &[&Id]) -> Vec<PatchOperation> {
    let mut tree = Tree::new(before);
    let wanted = Tree::new(after);
    let mut changes = Vec::new();
    // The last one first: those after it in its list are there already.
    for id in moved.iter().rev() {
        let (Some(mut from), Some(goal)) = (tree.place_of(id), wanted.place_of(id)) else { continue };
        let (list, next) = (wanted.list_id(&goal), wanted.following(&goal));
        let mut to = tree.transfer(&from, list.as_ref(), next.as_ref());
        if to.starts_with(&from) {
            // A place that begins with where it is (RFC 6902, section 4.4): by way of the end of the scene's list.
            let end = tree.transfer(&to, None, None);
            changes.push(move_operation(&from, &end));
            from = end;
            to = tree.transfer(&from, list.as_ref(), next.as_ref());
        }
        changes.push(move_operation(&from, &to));
    }
    while let Some(empty) = tree.empty_group() {
        tree.take(&empty);
        changes.push(remove(pointer_to(&empty)));
    }
    changes
}

fn move_operation(from: &[usize], to: &[usize]) -> PatchOperation {
    PatchOperation::Move(MoveOperation { from: pointer_to(from), path: pointer_to(to) })
}

/// The fields that differ from the document after the moves.
fn corrections(scene: &Scene, after: &[Piece]) -> Vec<PatchOperation> {
    let mut changes = Vec::new();
    for (place, piece) in placed(after) {
        let Some(old) = scene.piece(piece.id.as_str()) else { continue };
        let mut set_to = |field: &str, value: Value| {
            let mut at = pointer_to(&place);
            at.push_back(field);
            changes.push(set(at, value));
        };
        if old.x != piece.x {
            set_to("x", json!(piece.x));
        }
        if old.y != piece.y {
            set_to("y", json!(piece.y));
        }
        if old.rotation != piece.rotation {
            set_to("rotation", json!(piece.rotation));
        }
        if old.clip_to != piece.clip_to {
            set_to("clip_to", Value::Null);
        }
        if old.alternative_of != piece.alternative_of {
            set_to("alternative_of", Value::Null);
        }
    }
    changes
}

/// Every piece with its place: numbers in the lists from the scene's own inward.
fn placed(pieces: &[Piece]) -> Vec<(Vec<usize>, &Piece)> {
    let mut all = Vec::new();
    for (at, piece) in pieces.iter().enumerate() {
        all.push((vec![at], piece));
        if let Shape::Group(group) = &piece.shape {
            let inner = placed(&group.parts).into_iter();
            all.extend(inner.map(|(place, piece)| ([&[at], place.as_slice()].concat(), piece)));
        }
    }
    all
}

fn pointer_to(place: &[usize]) -> PointerBuf {
    PointerBuf::from_tokens(piece_tokens(place).into_iter().map(Token::from))
}

/// The order of pieces in lists, by their ids.
#[derive(Clone)]
struct Tree {
    id: Option<Id>,
    is_group: bool,
    parts: Vec<Tree>,
}

impl Tree {
    fn new(pieces: &[Piece]) -> Self {
        let node = |piece: &Piece| match &piece.shape {
            Shape::Group(group) => {
                Self { id: Some(piece.id.clone()), is_group: true, ..Self::new(&group.parts) }
            }
            Shape::Box(_)
            | Shape::Ellipse(_)
            | Shape::Path(_)
            | Shape::Text(_)
            | Shape::Picture(_)
            | Shape::Drawing(_)
            | Shape::Join(_) => Self { id: Some(piece.id.clone()), is_group: false, parts: Vec::new() },
        };
        Self { id: None, is_group: true, parts: pieces.iter().map(node).collect() }
    }

    fn place_of(&self, id: &Id) -> Option<Vec<usize>> {
        self.parts.iter().enumerate().find_map(|(at, part)| {
            if part.id.as_ref() == Some(id) {
                return Some(vec![at]);
            }
            part.place_of(id).map(|inner| [&[at], inner.as_slice()].concat())
        })
    }

    fn at(&self, place: &[usize]) -> &Self {
        place.iter().fold(self, |list, at| &list.parts[*at])
    }

    fn at_mut(&mut self, place: &[usize]) -> &mut Self {
        place.iter().fold(self, |list, at| &mut list.parts[*at])
    }

    /// The group that the piece at a place is in; `None` for the scene.
    fn list_id(&self, place: &[usize]) -> Option<Id> {
        let (_, list) = place.split_last()?;
        self.at(list).id.clone()
    }

    /// The piece after the one at a place, in its list.
    fn following(&self, place: &[usize]) -> Option<Id> {
        let (at, list) = place.split_last()?;
        self.at(list).parts.get(at + 1)?.id.clone()
    }

    /// The place in a list before a piece of it; its end where that is not there.
    fn place_before(&self, list: Option<&Id>, next: Option<&Id>) -> Vec<usize> {
        let mut place = list.and_then(|list| self.place_of(list)).unwrap_or_default();
        let parts = &self.at(&place).parts;
        let at = next.and_then(|next| parts.iter().position(|part| part.id.as_ref() == Some(next)));
        place.push(at.unwrap_or(parts.len()));
        place
    }

    /// Moves the piece at a place into a list, before a piece of it or to its end; answers with its new place.
    fn transfer(&mut self, from: &[usize], list: Option<&Id>, next: Option<&Id>) -> Vec<usize> {
        let node = self.take(from);
        let to = self.place_before(list, next);
        self.put(&to, node);
        to
    }

    fn take(&mut self, place: &[usize]) -> Option<Self> {
        let (at, list) = place.split_last()?;
        Some(self.at_mut(list).parts.remove(*at))
    }

    fn put(&mut self, place: &[usize], node: Option<Self>) {
        if let (Some((at, list)), Some(node)) = (place.split_last(), node) {
            self.at_mut(list).parts.insert(*at, node);
        }
    }

    /// The place of a group without parts.
    fn empty_group(&self) -> Option<Vec<usize>> {
        self.parts.iter().enumerate().find_map(|(at, part)| {
            if part.is_group && part.parts.is_empty() {
                return Some(vec![at]);
            }
            part.empty_group().map(|inner| [&[at], inner.as_slice()].concat())
        })
    }
}

/// A piece that is moved by itself, and not with a group around it.
fn is_taken(scene: &Scene, piece: &Piece, ids: &[Id]) -> bool {
    let path = scene.path_to(&piece.id);
    let outer = path.split_last().map_or(&[][..], |(_, groups)| groups);
    ids.contains(&piece.id) && !outer.iter().any(|group| ids.contains(&group.id))
}

/// Lists in one another with a piece: 1 for one without parts.
fn depth(piece: &Piece) -> usize {
    1 + match &piece.shape {
        Shape::Group(group) => group.parts.iter().map(depth).max().unwrap_or_default(),
        Shape::Box(_)
        | Shape::Ellipse(_)
        | Shape::Path(_)
        | Shape::Text(_)
        | Shape::Picture(_)
        | Shape::Drawing(_)
        | Shape::Join(_) => 0,
    }
}

/// The way from the px of a list to those of the scene.
#[derive(Clone, Copy)]
struct Frame {
    place: Affine,
    rotation: f64,
}

impl Frame {
    /// The list of the last of some groups in one another; the scene's without any.
    fn new(groups: &[&Piece], assets: &Assets) -> Self {
        let scene = Self { place: Affine::IDENTITY, rotation: 0.0 };
        groups.iter().fold(scene, |frame, group| Self {
            place: frame.place * part_place(group, box_size(group, assets)),
            rotation: frame.rotation + group.rotation.get(),
        })
    }
}

fn placed_in(scene: &Scene, piece: &Piece, target: Frame, assets: &Assets) -> Piece {
    let path = scene.path_to(&piece.id);
    let source = Frame::new(path.split_last().map_or(&[][..], |(_, groups)| groups), assets);
    let (width, height) = box_size(piece, assets);
    let middle = Point::new(piece.x.get() + width / 2.0, piece.y.get() + height / 2.0);
    let there = target.place.inverse() * source.place * middle;
    let rotation = piece.rotation.get() + source.rotation - target.rotation;
    Piece {
        x: Px::clamped(tidy(there.x - width / 2.0)),
        y: Px::clamped(tidy(there.y - height / 2.0)),
        rotation: Degrees::clamped(tidy(rotation)),
        ..piece.clone()
    }
}

struct Lists<'a> {
    ids: &'a [Id],
    into: Option<&'a Id>,
    before: Option<&'a Id>,
    /// The moved pieces, until they are in their list.
    placed: Option<Vec<Piece>>,
    assets: &'a Assets,
}

impl Lists<'_> {
    /// A list, of the scene or of a group, as it is after the move.
    fn without_and_with(&mut self, pieces: &[Piece], of: Option<&Id>) -> Vec<Piece> {
        let is_target = self.into == of;
        let mut list = Vec::new();
        for piece in pieces {
            if is_target && self.before == Some(&piece.id) {
                list.extend(self.placed.take().into_iter().flatten());
            }
            if self.ids.contains(&piece.id) {
                continue;
            }
            let Shape::Group(group) = &piece.shape else {
                list.push(piece.clone());
                continue;
            };
            let parts = self.without_and_with(&group.parts, Some(&piece.id));
            if !parts.is_empty() {
                list.push(with_parts(piece, parts, self.assets));
            }
        }
        if is_target {
            list.extend(self.placed.take().into_iter().flatten());
        }
        released(&mut list);
        list
    }
}

/// A group with other parts, which begins where they do and whose parts stay where they are: it is turned about the
/// middle of its box.
fn with_parts(group: &Piece, parts: Vec<Piece>, assets: &Assets) -> Piece {
    let Shape::Group(GroupShape { parts: before }) = &group.shape else { return group.clone() };
    if *before == parts {
        return group.clone();
    }
    let frame = part_place(group, box_size(group, assets));
    let least = |at: fn(&Piece) -> f64| {
        parts.iter().filter(|part| !part.hidden).map(at).reduce(f64::min).unwrap_or_default()
    };
    let (left, top) = (least(|part| part.x.get()), least(|part| part.y.get()));
    let shifted = |part: Piece| Piece {
        x: Px::clamped(tidy(part.x.get() - left)),
        y: Px::clamped(tidy(part.y.get() - top)),
        ..part
    };
    let shape = Shape::Group(GroupShape { parts: parts.into_iter().map(shifted).collect() });
    let mut whole = Piece { shape, x: Px::default(), y: Px::default(), ..group.clone() };
    let own = part_place(&whole, box_size(&whole, assets)).translation();
    let wanted = (frame * Affine::translate((left, top))).translation();
    (whole.x, whole.y) = (Px::clamped(tidy(wanted.x - own.x)), Px::clamped(tidy(wanted.y - own.y)));
    whole
}

/// References to pieces that are no longer beside one.
fn released(list: &mut [Piece]) {
    let ids: Vec<Id> = list.iter().map(|piece| piece.id.clone()).collect();
    for piece in list {
        let is_gone = |to: &Option<Id>| to.as_ref().is_some_and(|id| !ids.contains(id));
        if is_gone(&piece.clip_to) {
            piece.clip_to = None;
        }
        if is_gone(&piece.alternative_of) {
            piece.alternative_of = None;
        }
    }
}
