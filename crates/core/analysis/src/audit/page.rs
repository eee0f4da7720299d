//! Findings about pages: texts of elements on what is behind them, and how much all their shadows cost.

use super::auditor::Auditor;
use super::finding::{Finding, FindingKind, Severity};
use super::stacks::PieceIndex;
use super::visibility::FAINT_TEXT;
use crate::model::{Fitting, Piece};
use crate::resolve::{self, PaintOp, Scene};

impl Auditor<'_> {
    /// Text in an element of a page that is hard to read on what its coats make of it.
    pub(super) fn faint_text_in(&self, index: PieceIndex, scene: &Scene, below: usize) -> Option<Finding> {
        let model = &self.project.scenes[index.scene].pieces[index.piece];
        let fitting = model.fitting.as_ref().filter(|_| self.is_wanted(FindingKind::FaintText))?;
        let (text, found, needed) = self.observer().text_in(scene, below, fitting)?;
        (found.contrast < needed).then(|| Finding {
            key: format!("faint_text/{}/{}", self.project.scenes[index.scene].id, model.id),
            kind: FindingKind::FaintText,
            severity: Severity::Error,
            place: self.piece_place(index.scene, model, Some(found.place)),
            message: format!(
                "\u{201c}{}\u{201d}: text contrast {:.2} : 1 in its worst place, needs {needed} : 1.",
                text.name, found.contrast
            ),
            why: FAINT_TEXT.to_owned(),
            fix: None,
            accepted: None,
        })
    }

    /// Pages on which all elements together have more shadow layers than should be painted.
    pub(super) fn pages(&mut self) {
        let scenes = 0..self.project.scenes.len();
        let found: Vec<Finding> = scenes.filter_map(|at| self.page_budget(at)).collect();
        found.into_iter().for_each(|finding| self.report(finding));
    }

    fn page_budget(&self, at: usize) -> Option<Finding> {
        let scene = &self.project.scenes[at];
        let layers = |piece: &Piece, fitting: &Fitting| {
            let drawn = self.scenes[at].pieces.iter().find(|drawn| drawn.id == piece.id);
            drawn.map_or(0, shadow_layers) * fitting.count as usize
        };
        let fitted = scene.pieces.iter().filter_map(|piece| Some((piece, piece.fitting.as_ref()?)));
        let costs: Vec<(&Piece, usize)> =
            fitted.map(|(piece, fitting)| (piece, layers(piece, fitting))).collect();
        let all: usize = costs.iter().map(|(_, layers)| layers).sum();
        let most = self.limits.page_layers;
        let (dearest, cost) = costs.into_iter().max_by_key(|(_, layers)| *layers)?;
        (all > most).then(|| Finding {
            key: format!("page_budget/{}", scene.id),
            kind: FindingKind::PaintBudget,
            severity: Severity::Hint,
            place: self.piece_place(at, dearest, None),
            message: format!(
                "{all} shadow layers on the page, where {most} are allowed; {cost} of them are those of {}.",
                dearest.name
            ),
            why: "A browser paints every one of them anew when the page scrolls or something in it moves."
                .to_owned(),
            fix: None,
            accepted: None,
        })
    }
}

/// The shadow layers that a piece is painted with.
pub(super) fn shadow_layers(piece: &resolve::Piece) -> usize {
    piece.coats.iter().filter(|coat| matches!(coat.op, PaintOp::Shadow(_))).count()
}
