//! Findings about a stack or one of its coats, with the places they are in and the piece they were tried on.

use super::auditor::Auditor;
use super::finding::{Finding, FindingKind, Location, Severity};
use super::fix::Fix;
use super::stacks::{PieceIndex, ResolvedStack, Stack};
use crate::lower::{TrialPiece, trial};
use crate::model::{self, Coat, Id, OwnCoats, Project, Wear};
use crate::resolve;

impl Auditor<'_> {
    /// A piece that has the stack: the first of a scene, or else a box it is tried on.
    pub fn resolve_stack(&self, stack: &Stack<'_>) -> Option<ResolvedStack> {
        let first = stack.wearers.iter().find_map(|PieceIndex { scene: scene_at, piece: piece_at }| {
            let id = &self.project.scenes[*scene_at].pieces[*piece_at].id;
            let scene = &self.scenes[*scene_at];
            let piece = scene.pieces.iter().find(|piece| piece.id == *id)?;
            Some(ResolvedStack { scene: scene.clone(), piece: piece.clone() })
        });
        first.or_else(|| {
            let wear = Wear::Coats(OwnCoats { coats: stack.coats.to_vec() });
            let tried = trial(&stack.theme, &wear, TrialPiece::Box, false);
            let scene = resolve::scene(self.project, &tried, self.assets);
            let piece = scene.pieces.first()?.clone();
            Some(ResolvedStack { scene, piece })
        })
    }

    /// Where a stack, or a coat of it, is.
    pub fn place_of(&self, stack: &Stack<'_>, coat: Option<&Coat>) -> Location {
        let wearer = stack.wearers.first().map(|PieceIndex { scene, piece }| {
            let scene = &self.project.scenes[*scene];
            (scene, &scene.pieces[*piece])
        });
        let whose = match (stack.finish, wearer) {
            (Some(finish), _) if stack.is_for_theme => {
                let theme = self.project.theme(&stack.theme).map_or("", |theme| theme.name.as_str());
                format!("{} in {theme}", finish.name)
            }
            (Some(finish), _) => finish.name.clone(),
            (None, Some((scene, piece))) => format!("{}, {}", piece.name, scene.name),
            (None, None) => String::new(),
        };
        Location {
            name: coat.map_or_else(|| whose.clone(), |coat| format!("{}, {whose}", coat.name)),
            scene: wearer.map(|(scene, _)| scene.id.clone()),
            piece: wearer.map(|(_, piece)| piece.id.clone()),
            finish: stack.finish.map(|finish| finish.id.clone()),
            coat: coat.map(|coat| coat.id.clone()),
            ..Location::default()
        }
    }

    /// A finding about a stack, or about a coat of it.
    pub fn finding(
        &self,
        stack: &Stack<'_>,
        coat: Option<&Coat>,
        Statement { kind, severity, message, why }: Statement<'_>,
        fix: Option<Fix>,
    ) -> Finding {
        Finding {
            key: key(kind, stack, self.project, coat.map(|coat| &coat.id)),
            kind,
            severity,
            place: self.place_of(stack, coat),
            message,
            why: why.to_owned(),
            fix,
            accepted: None,
        }
    }
}

/// The text of a finding.
pub(super) struct Statement<'a> {
    pub kind: FindingKind,
    pub severity: Severity,
    /// The problem, in a sentence.
    pub message: String,
    /// Why that matters.
    pub why: &'a str,
}

/// The key of a finding, unique among findings of its kind.
pub(super) fn key(kind: FindingKind, stack: &Stack<'_>, project: &Project, coat: Option<&Id>) -> String {
    let kind = serde_json::to_value(kind).unwrap_or_default();
    let kind = kind.as_str().unwrap_or_default();
    let whose = match (stack.finish, stack.wearers.first()) {
        (Some(finish), _) if stack.is_for_theme => format!("{}/themes/{}", finish.id, stack.theme),
        (Some(finish), _) => finish.id.to_string(),
        (None, Some(PieceIndex { scene, piece })) => {
            let scene: &model::Scene = &project.scenes[*scene];
            format!("{}/{}", scene.id, scene.pieces[*piece].id)
        }
        (None, None) => String::new(),
    };
    coat.map_or_else(|| format!("{kind}/{whose}"), |coat| format!("{kind}/{whose}/{coat}"))
}
