//! Every stack of a project once: those of finishes, and those that pieces have of their own.

use std::collections::BTreeSet;

use super::{Auditor, Finding, FindingKind, Mend, Severity, Where};
use crate::handoff::{TrialPiece, trial};
use crate::model::{self, Coat, Finish, Id, OwnCoats, Project, Wear};
use crate::resolve::{self, Scene};

/// A stack, where it is in the document, and who has it.
pub(super) struct Stack<'a> {
    pub finish: Option<&'a Finish>,
    /// Where its coats are, as a JSON pointer.
    pub pointer: String,
    pub coats: &'a [Coat],
    /// The numbers of scenes and of the pieces in them.
    pub wearers: Vec<(usize, usize)>,
    /// Coats that change a pixel somewhere, as far as that was looked at.
    pub seen: BTreeSet<Id>,
}

impl<'a> Stack<'a> {
    /// Coats that are on and have not been seen yet.
    pub fn unseen(&self) -> impl Iterator<Item = &'a Id> + use<'a, '_> {
        self.coats.iter().filter(|coat| coat.on && !self.seen.contains(&coat.id)).map(|coat| &coat.id)
    }
}

pub(super) fn stacks(project: &Project) -> Vec<Stack<'_>> {
    let mut stacks: Vec<Stack<'_>> = project
        .finishes
        .iter()
        .enumerate()
        .map(|(at, finish)| Stack {
            finish: Some(finish),
            pointer: format!("/finishes/{at}/coats"),
            coats: &finish.coats,
            wearers: Vec::new(),
            seen: BTreeSet::new(),
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
                    pointer: format!("/scenes/{scene_at}/pieces/{piece_at}/wear/coats"),
                    coats: &own.coats,
                    wearers: vec![(scene_at, piece_at)],
                    seen: BTreeSet::new(),
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

impl Auditor<'_> {
    /// A piece that has the stack: the first of a scene, or else a box it is tried on.
    pub fn worn(&self, stack: &Stack<'_>) -> Option<Worn> {
        let first = stack.wearers.iter().find_map(|(scene_at, piece_at)| {
            let id = &self.project.scenes[*scene_at].pieces[*piece_at].id;
            let scene = &self.scenes[*scene_at];
            let piece = scene.pieces.iter().find(|piece| piece.id == *id)?;
            Some(Worn { scene: scene.clone(), piece: piece.clone() })
        });
        first.or_else(|| {
            let theme = &self.project.themes.first()?.id;
            let wear = Wear::Coats(OwnCoats { coats: stack.coats.to_vec() });
            let tried = trial(theme, &wear, TrialPiece::Box, false)?;
            let scene = resolve::scene(self.project, &tried, self.assets);
            let piece = scene.pieces.first()?.clone();
            Some(Worn { scene, piece })
        })
    }

    /// Where a stack, or a coat of it, is.
    pub fn place_of(&self, stack: &Stack<'_>, coat: Option<&Coat>) -> Where {
        let wearer = stack.wearers.first().map(|(scene, piece)| {
            let scene = &self.project.scenes[*scene];
            (scene, &scene.pieces[*piece])
        });
        let whose = match (stack.finish, wearer) {
            (Some(finish), _) => finish.name.clone(),
            (None, Some((scene, piece))) => format!("{}, {}", piece.name, scene.name),
            (None, None) => String::new(),
        };
        Where {
            name: coat.map_or_else(|| whose.clone(), |coat| format!("{}, {whose}", coat.name)),
            scene: wearer.map(|(scene, _)| scene.id.clone()),
            piece: wearer.map(|(_, piece)| piece.id.clone()),
            finish: stack.finish.map(|finish| finish.id.clone()),
            coat: coat.map(|coat| coat.id.clone()),
            ..Where::default()
        }
    }

    /// A finding about a stack, or about a coat of it.
    pub fn finding(
        &self,
        kind: (FindingKind, Severity),
        stack: &Stack<'_>,
        coat: Option<&Coat>,
        (message, why): (String, &str),
        mend: Option<Mend>,
    ) -> Finding {
        let name = serde_json::to_value(kind.0).unwrap_or_default();
        Finding {
            key: key(name.as_str().unwrap_or_default(), stack, self.project, coat.map(|coat| &coat.id)),
            kind: kind.0,
            severity: kind.1,
            place: self.place_of(stack, coat),
            message,
            why: why.to_owned(),
            mend,
            accepted: None,
        }
    }
}

/// What tells a finding from others of its kind.
fn key(kind: &str, stack: &Stack<'_>, project: &Project, coat: Option<&Id>) -> String {
    let whose = match (stack.finish, stack.wearers.first()) {
        (Some(finish), _) => finish.id.to_string(),
        (None, Some((scene, piece))) => {
            let scene: &model::Scene = &project.scenes[*scene];
            format!("{}/{}", scene.id, scene.pieces[*piece].id)
        }
        (None, None) => String::new(),
    };
    coat.map_or_else(|| format!("{kind}/{whose}"), |coat| format!("{kind}/{whose}/{coat}"))
}
