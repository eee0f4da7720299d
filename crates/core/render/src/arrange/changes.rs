//! Changes of a scene's list of pieces, and what they need.

use json_patch::{Patch, PatchOperation};
use jsonptr::{PointerBuf, Token};
use serde::Serialize;
use serde_json::{Value, json};

use crate::model::{Coat, CoatLayer, Id, OwnCoats, Piece, Scene, Wear};
use crate::patch::set;
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
