//! Strokes outside and across the edge of a box as rings of shadow: a border would make the box larger than it is.

use super::lowered::Lowering;
use super::notes::Fidelity;
use crate::blend::{BlendMode, mode_text};
use crate::geometry::{RoundedBox, Silhouette, StrokeJoin, StrokeSide, StrokeStyle};
use crate::resolve::{Coat, Paint, PaintOp, Shadow, ShadowKind, ShadowPaint};

impl Lowering<'_> {
    /// How far the strokes that are written as rings reach outside and inside the box: shadows begin at their edges.
    pub(super) fn ringed(&self) -> (f64, f64) {
        let Silhouette::Box(_) = &self.piece.silhouette else { return (0.0, 0.0) };
        let reach = |coat: &Coat| match coat.op.stroke() {
            Some((style, _)) if style.side != StrokeSide::Inside => style.reach(),
            _ => (0.0, 0.0),
        };
        let each = self.piece.coats.iter().map(reach);
        each.fold((0.0, 0.0), |(out, within), (further, deeper)| (out.max(further), within.max(deeper)))
    }

    /// The rings of a stroke; nothing where it lies inside, or not along a box.
    pub(super) fn rings(&mut self, coat: &Coat) -> Option<Vec<Coat>> {
        let PaintOp::Stroke { style, paint } = &coat.op else { return None };
        let Silhouette::Box(rounded) = &self.piece.silhouette else { return None };
        if style.side == StrokeSide::Inside {
            return None;
        }
        let Some(colour) = paint.mean() else { return Some(Vec::new()) };
        if coat.blend != BlendMode::Normal {
            let mode = mode_text(coat.blend);
            self.approximated(coat, &format!("a ring of shadow has no blend mode: normal instead of {mode}"));
        }
        if !matches!(paint, Paint::Solid(_)) {
            self.approximated(coat, "a ring of shadow has one colour: the mean of its fill");
        }
        if !is_exact(rounded, style) {
            self.approximated(coat, "corners of a ring of shadow are rounded less than the stroke's");
        }
        let below = self.piece.coats.iter().any(|other| match &other.op {
            PaintOp::Shadow(shadow) => shadow.kind != ShadowKind::Inner,
            PaintOp::Extrude(_) => true,
            PaintOp::Highlight(_)
            | PaintOp::Tint(_)
            | PaintOp::Stroke { .. }
            | PaintOp::Blur(_)
            | PaintOp::Backdrop(_)
            | PaintOp::Cast(_) => false,
        });
        let colour = colour.faded(coat.opacity).tidied();
        if colour.a < 1.0 && below {
            self.approximated(coat, "shadows show through a ring of shadow that is not solid");
        }
        if colour.a < 1.0 && self.blurs_behind() {
            self.approximated(
                coat,
                "what lies behind is blurred in the box, not under a ring of shadow around it",
            );
        }
        let ring = |spread: f64, kind: ShadowKind| {
            let (paint, tone, substitute) = (ShadowPaint::Colour(colour), Default::default(), None);
            let shadow = Shadow { dx: 0.0, dy: 0.0, blur: 0.0, spread, paint, kind, tone, substitute };
            Coat { op: PaintOp::Shadow(shadow), opacity: 1.0, blend: BlendMode::Normal, ..coat.clone() }
        };
        let (out, within) = style.reach();
        let outer = (out > 0.0).then(|| ring(out, ShadowKind::Drop { knock_out: true }));
        let inner = (within > 0.0).then(|| ring(within, ShadowKind::Inner));
        Some(inner.into_iter().chain(outer).collect())
    }

    fn blurs_behind(&self) -> bool {
        self.piece.coats.iter().any(|coat| matches!(coat.op, PaintOp::Backdrop(_)))
    }

    /// Says where a shadow cast by a ring has other corners than one cast by the box with its stroke.
    pub(super) fn grown_by_ring(&mut self, coat: &Coat, spread: f64) -> f64 {
        let (out, _) = self.ringed();
        if let (true, Silhouette::Box(rounded)) = (out > 0.0, &self.piece.silhouette)
            && !keeps_corners(rounded, spread + out)
        {
            self.notes.differs(
                coat,
                Fidelity::Approximated,
                "cast by a ring of shadow: its corners are rounded less than the stroke's",
            );
        }
        spread + out
    }
}

/// Whether a box-shadow has the corners of a stroke: sharp ones are sharp in both, and round ones grow by the spread where they
/// are at least as large as it (CSS Backgrounds and Borders 3, section 6.1.1 "Shadow Shape").
fn is_exact(rounded: &RoundedBox, style: &StrokeStyle) -> bool {
    let sharp = rounded.radii.iter().any(|(x, y)| *x <= 0.0 || *y <= 0.0);
    keeps_corners(rounded, style.reach().0) && !(sharp && style.join != StrokeJoin::Miter)
}

fn keeps_corners(rounded: &RoundedBox, spread: f64) -> bool {
    let keeps = |radius: f64| radius <= 0.0 || radius >= spread;
    rounded.radii.iter().all(|(x, y)| keeps(*x) && keeps(*y))
}
