//! Changes of a scene's list of pieces, and the values they need.

use json_patch::{Patch, PatchOperation};
use jsonptr::{PointerBuf, Token};
use serde::Serialize;
use serde_json::{Value, json};

use crate::model::{Coat, CoatLayer, Id, OwnCoats, Piece, Scene, Wear};
use crate::patch::{remove, set};
use crate::syntax::UniqueNames;

/// The change that arranges pieces.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Arranged {
    /// Changes of the scene (JSON Patch, RFC 6902), with pointers from the scene on.
    #[cfg_attr(feature = "schema", schema(value_type = Vec<crate::patch::PatchStep>))]
    pub patch: Patch,
    /// The pieces to be chosen then.
    pub chosen: Vec<Id>,
}

impl Arranged {
    /// The same change in another list than the scene's.
    pub fn inside(mut self, list: &[String]) -> Self {
        for operation in &mut self.patch.0 {
            let moved = |path: &PointerBuf| {
                let inner = path.tokens().skip(1).map(|token| token.decoded().into_owned());
                PointerBuf::from_tokens(list.iter().cloned().chain(inner).map(Token::from))
            };
            match operation {
                PatchOperation::Add(one) => one.path = moved(&one.path),
                PatchOperation::Replace(one) => one.path = moved(&one.path),
                PatchOperation::Remove(one) => one.path = moved(&one.path),
                PatchOperation::Move(_) | PatchOperation::Copy(_) | PatchOperation::Test(_) => {}
            }
        }
        self
    }
}

/// The smallest piece list that becomes one piece.
const MIN_PARTS: usize = 2;

/// Pieces of a scene that become one.
pub struct Gathered<'s> {
    /// The one that was chosen first.
    pub main: &'s Piece,
    /// All of them, lowest first.
    pub parts: Vec<&'s Piece>,
    /// The left of all their boxes.
    pub x: f64,
    /// The top of all their boxes.
    pub y: f64,
    places: Vec<usize>,
}

impl<'s> Gathered<'s> {
    /// The pieces of these ids, the first of which was chosen first. `None` where there are fewer than two.
    pub fn new(scene: &'s Scene, pieces: &[Id]) -> Option<Self> {
        let main = scene.pieces.iter().find(|piece| pieces.first() == Some(&piece.id))?;
        let places: Vec<usize> =
            (0..scene.pieces.len()).filter(|at| pieces.contains(&scene.pieces[*at].id)).collect();
        let parts: Vec<&Piece> = places.iter().map(|at| &scene.pieces[*at]).collect();
        let least = |at: fn(&Piece) -> f64| parts.iter().map(|part| at(part)).fold(f64::INFINITY, f64::min);
        let (x, y) = (least(|part| part.x.get()), least(|part| part.y.get()));
        (places.len() >= MIN_PARTS).then_some(Self { main, parts, x, y, places })
    }

    /// Puts one piece in the place of the highest of them.
    pub fn replaced_by(&self, scene: &Scene, whole: Piece) -> Arranged {
        let ids: Vec<Id> = self.parts.iter().map(|part| part.id.clone()).collect();
        let mut changes = released(scene, &ids, Some(&whole.id));
        let top = self.places.last().copied().unwrap_or_default();
        changes.push(insert(top + 1, &whole));
        changes.extend(self.places.iter().rev().map(|at| remove(pointer(*at, &[]))));
        Arranged { patch: Patch(changes), chosen: vec![whole.id] }
    }
}

/// The ids of all pieces of a scene, in groups or not.
pub fn taken_ids(scene: &Scene) -> UniqueNames {
    UniqueNames::new(scene.all_pieces().into_iter().map(|piece| piece.id.as_str()))
}

/// References to pieces that go lead to another, or to none.
pub fn released(scene: &Scene, gone: &[Id], instead: Option<&Id>) -> Vec<PatchOperation> {
    let mut changes = Vec::new();
    let stays = scene.pieces.iter().enumerate().filter(|(_, piece)| !gone.contains(&piece.id));
    for (number, piece) in stays {
        let refers = |to: &Option<Id>| to.as_ref().is_some_and(|id| gone.contains(id));
        if refers(&piece.clip_to) {
            changes.push(set(pointer(number, &["clip_to"]), json!(instead)));
        }
        if refers(&piece.alternative_of) {
            changes.push(set(pointer(number, &["alternative_of"]), Value::Null));
        }
    }
    changes
}

pub fn own_coats(coats: Vec<Coat>) -> Wear {
    Wear::Coats(OwnCoats { coats })
}

pub fn coats_in(coats: &[Coat], wanted: impl Fn(CoatLayer) -> bool) -> Vec<Coat> {
    coats.iter().filter(|coat| wanted(coat.kind.layer())).cloned().collect()
}

/// Where a piece, or a field of one, is in its scene.
pub fn pointer(piece: usize, fields: &[&str]) -> PointerBuf {
    let names = ["pieces".to_owned(), piece.to_string()].into_iter();
    PointerBuf::from_tokens(names.chain(fields.iter().map(|field| (*field).to_owned())).map(Token::from))
}

pub fn insert(at: usize, piece: &Piece) -> PatchOperation {
    set(pointer(at, &[]), json!(piece))
}
