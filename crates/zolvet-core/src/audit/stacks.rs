//! Every stack of a project once: those of finishes, and those that pieces have of their own.

use std::collections::BTreeSet;

use jsonptr::{PointerBuf, Token};

use crate::model::{Coat, Finish, Id, Project, Wear};
use crate::patch::pointer;
use crate::resolve::{self, Scene};

/// A stack, its place in the document, and the finish or piece that has it.
pub(super) struct Stack<'a> {
    pub finish: Option<&'a Finish>,
    /// Where its coats are.
    pub pointer: PointerBuf,
    pub coats: &'a [Coat],
    /// The numbers of scenes and of the pieces in them.
    pub wearers: Vec<(usize, usize)>,
    /// Coats that change a pixel somewhere, as far as that was looked at.
    pub visible: BTreeSet<Id>,
}

impl<'a> Stack<'a> {
    /// Where one of its coats is.
    pub fn coat_pointer(&self, coat: usize) -> PointerBuf {
        self.pointer.with_trailing_token(Token::from(coat))
    }

    /// Where a field of one of its coats is.
    pub fn field_pointer(&self, coat: usize, field: &str) -> PointerBuf {
        self.coat_pointer(coat).with_trailing_token(field)
    }

    /// Coats that are on and have not been seen yet.
    pub fn unseen(&self) -> impl Iterator<Item = &'a Id> + use<'a, '_> {
        self.coats.iter().filter(|coat| coat.on && !self.visible.contains(&coat.id)).map(|coat| &coat.id)
    }
}

pub(super) fn stacks(project: &Project) -> Vec<Stack<'_>> {
    let mut stacks: Vec<Stack<'_>> = project
        .finishes
        .iter()
        .enumerate()
        .map(|(at, finish)| Stack {
            finish: Some(finish),
            pointer: pointer!["finishes", at, "coats"],
            coats: &finish.coats,
            wearers: Vec::new(),
            visible: BTreeSet::new(),
        })
        .collect();
    for (scene_at, scene) in project.scenes.iter().enumerate() {
        for (piece_at, piece) in
            scene.pieces.iter().enumerate().filter(|(_, piece)| !piece.hidden && piece.coats_on)
        {
            match &piece.wear {
                Wear::Finish(worn) => {
                    let found = project.finishes.iter().position(|finish| finish.id == worn.finish);
                    if let Some(stack) = found.and_then(|at| stacks.get_mut(at)) {
                        stack.wearers.push((scene_at, piece_at));
                    }
                }
                Wear::Coats(own) if own.coats.is_empty() => {}
                Wear::Coats(own) => stacks.push(Stack {
                    finish: None,
                    pointer: pointer!["scenes", scene_at, "pieces", piece_at, "wear", "coats"],
                    coats: &own.coats,
                    wearers: vec![(scene_at, piece_at)],
                    visible: BTreeSet::new(),
                }),
            }
        }
    }
    stacks
}

/// A piece that has a stack, resolved with what it lies on.
pub(super) struct Worn {
    pub scene: Scene,
    pub piece: resolve::Piece,
}
