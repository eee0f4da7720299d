//! Every stack of a project once: those of finishes, and those that pieces have of their own.

use std::collections::BTreeSet;

use jsonptr::{PointerBuf, Token};

use crate::model::{Coat, Finish, Id, Project, Wear};
use crate::patch::pointer;
use crate::resolve::{self, Scene};

/// The place of a piece in a project.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct PieceIndex {
    pub scene: usize,
    pub piece: usize,
}

/// A stack, its place in the document, and the finish or piece that has it.
pub(super) struct Stack<'a> {
    pub finish: Option<&'a Finish>,
    /// A theme it is seen under.
    pub theme: Id,
    /// It is the finish's own stack for this theme alone.
    pub is_for_theme: bool,
    /// Where its coats are.
    pub pointer: PointerBuf,
    pub coats: &'a [Coat],
    /// The numbers of scenes and of the pieces in them.
    pub wearers: Vec<PieceIndex>,
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

/// Where the coats are that a finish, by its number, has under a theme.
pub(super) fn coats_place(project: &Project, finish: usize, theme: &Id) -> PointerBuf {
    let own = project.finishes.get(finish).is_some_and(|finish| finish.themes.contains_key(theme));
    if own {
        pointer!["finishes", finish, "themes", theme.as_str()]
    } else {
        pointer!["finishes", finish, "coats"]
    }
}

/// Stacks of finishes come first: the coats for most themes where there is such a theme, then those for single ones.
pub(super) fn stacks(project: &Project) -> Vec<Stack<'_>> {
    let mut stacks = Vec::new();
    for (at, finish) in project.finishes.iter().enumerate() {
        let (own, common): (Vec<&Id>, Vec<&Id>) =
            project.themes.iter().map(|theme| &theme.id).partition(|theme| finish.themes.contains_key(theme));
        for theme in common.into_iter().take(1).chain(own) {
            stacks.push(Stack {
                finish: Some(finish),
                theme: theme.clone(),
                is_for_theme: finish.themes.contains_key(theme),
                pointer: coats_place(project, at, theme),
                coats: finish.coats_in(theme),
                wearers: Vec::new(),
                visible: BTreeSet::new(),
            });
        }
    }
    for (scene_at, scene) in project.scenes.iter().enumerate() {
        for (piece_at, piece) in
            scene.pieces.iter().enumerate().filter(|(_, piece)| !piece.hidden && piece.coats_on)
        {
            match &piece.wear {
                Wear::Finish(worn) => {
                    let is_worn = |stack: &&mut Stack<'_>| {
                        stack.finish.is_some_and(|finish| {
                            let own = finish.themes.contains_key(&scene.theme);
                            let for_it = if own { stack.theme == scene.theme } else { !stack.is_for_theme };
                            finish.id == worn.finish && for_it
                        })
                    };
                    if let Some(stack) = stacks.iter_mut().find(is_worn) {
                        stack.wearers.push(PieceIndex { scene: scene_at, piece: piece_at });
                    }
                }
                Wear::Coats(own) if own.coats.is_empty() => {}
                Wear::Coats(own) => stacks.push(Stack {
                    finish: None,
                    theme: scene.theme.clone(),
                    is_for_theme: false,
                    pointer: pointer!["scenes", scene_at, "pieces", piece_at, "wear", "coats"],
                    coats: &own.coats,
                    wearers: vec![PieceIndex { scene: scene_at, piece: piece_at }],
                    visible: BTreeSet::new(),
                }),
            }
        }
    }
    stacks
}

/// A piece with a stack, resolved with the ground and the pieces under it.
pub(super) struct ResolvedStack {
    pub scene: Scene,
    pub piece: resolve::Piece,
}
