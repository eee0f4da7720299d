//! Findings about stacks: edges that disagree with shadows, cost, and shadows that targets cannot express.

use std::collections::BTreeSet;

use serde_json::json;

use super::auditor::Auditor;
use super::finding::{Finding, FindingKind, Severity};
use super::fix::Fix;
use super::page::shadow_layers;
use super::stack_findings::Statement;
use super::stacks::{PieceIndex, ResolvedStack, Stack};
use crate::budget;
use crate::lower::{LoweredFilter, Target, lower};
use crate::measure::{Line, whole_profile};
use crate::model::{Coat, CoatKind, Id, RampShadow, Spread};
use crate::patch::{replace, set};
use crate::resolve::{self, PaintOp, ShadowKind};
use crate::syntax::number_text;

impl Auditor<'_> {
    pub(super) fn depth(&mut self) {
        let mut found = Vec::new();
        for stack in &self.stacks {
            if budget::is_stopped() {
                break;
            }
            let Some(worn) = self.resolve_stack(stack) else { continue };
            found.extend(self.teeth(stack, &worn));
            found.extend(self.budget(stack, &worn));
            found.extend(self.doubled(stack, &worn));
            found.extend(self.edge_and_shadow(stack, &worn));
        }
        found.extend(self.side_bleeds());
        found.into_iter().for_each(|finding| self.report(finding));
    }

    /// A ramp of hard shadows whose steps lie farther apart than a pixel.
    fn teeth(&self, stack: &Stack<'_>, worn: &ResolvedStack) -> Vec<Finding> {
        let mut found = Vec::new();
        for (at, coat) in stack.coats.iter().enumerate().filter(|(_, coat)| coat.on) {
            let CoatKind::Ramp(ramp) = &coat.kind else { continue };
            let drawn = worn.piece.coats.iter().filter(|drawn| drawn.id == coat.id);
            let shadows = drawn.filter_map(|drawn| drawn.op.shadow());
            let ends: Vec<(f64, f64)> = shadows.map(|shadow| (shadow.dx, shadow.dy)).collect();
            let steps =
                ends.windows(2).map(|pair| crate::maths::hypot(pair[1].0 - pair[0].0, pair[1].1 - pair[0].1));
            let widest = steps.fold(0.0, f64::max);
            let hard = ramp.near.blur.get() < 1.0 && ramp.far.blur.get() < 1.0;
            if ramp.shadow != RampShadow::Drop || !hard || widest <= 1.0 {
                continue;
            }
            let extrude = json!({"id": coat.id, "name": coat.name, "on": true, "opacity": ramp.total,
                "blend": coat.blend, "kind": "extrude", "offset": ramp.far.offset, "near": ramp.near.colour, "far": ramp.far.colour});
            found.push(self.finding(
                stack,
                Some(coat),
                Statement {
                    kind: FindingKind::Teeth,
                    severity: Severity::Warning,
                    message: format!(
                        "{} hard shadows up to {} px apart.",
                        ramp.count,
                        number_text((widest * 100.0).round() / 100.0)
                    ),
                    why: "Copies more than a pixel apart show teeth along slanted edges.",
                },
                Some(Fix::new("Make it solid thickness", vec![replace(stack.coat_pointer(at), extrude)])),
            ));
        }
        found
    }

    /// Shadow layers that a browser has to paint.
    fn budget(&self, stack: &Stack<'_>, worn: &ResolvedStack) -> Option<Finding> {
        let layers = shadow_layers(&worn.piece);
        let most = self.limits.shadow_layers;
        if layers <= most {
            return None;
        }
        let shown = stack.coats.iter().enumerate().filter(|(_, coat)| coat.on);
        let ramps = shown.filter_map(|(at, coat)| Some((at, coat, coat.kind.ramp()?.count as usize)));
        let fix = ramps.max_by_key(|(.., count)| *count).and_then(|(at, coat, count)| {
            let left = most.checked_sub(layers - count).filter(|left| *left >= 2)?;
            let what = format!("Give {} {left} shadows instead of {count}", coat.name);
            Some(Fix::set(what, stack.field_pointer(at, "count"), left))
        });
        Some(self.finding(
            stack,
            None,
            Statement {
                kind: FindingKind::PaintBudget,
                severity: Severity::Hint,
                message: format!("{layers} shadow layers, where {most} are allowed."),
                why: "Every layer is painted anew in every frame that something moves in.",
            },
            fix,
        ))
    }

    /// Several shadows on something that a browser can only give a chain of them.
    fn doubled(&self, stack: &Stack<'_>, worn: &ResolvedStack) -> Option<Finding> {
        if worn.piece.silhouette.is_box() || stack.wearers.is_empty() {
            return None;
        }
        let PieceIndex { scene, piece } = stack.wearers.first()?;
        let shape = &self.project.scenes[*scene].pieces[*piece].shape;
        if matches!(shape, crate::model::Shape::Text(_)) {
            return None;
        }
        let lowered = lower(&worn.piece, Target::DropShadow);
        let Some(LoweredFilter::Functions(graph)) = &lowered.filter else { return None };
        let hard = graph
            .steps
            .iter()
            .filter(|step| matches!(step, crate::lower::Step::DropShadow { colour, .. } if colour.a > DENSE));
        let dense = hard.count();
        (dense >= 2).then(|| {
            let statement = Statement {
                kind: FindingKind::Doubled,
                severity: Severity::Hint,
                message: format!("{dense} dense shadows in a chain of drop-shadow()."),
                why: "In a chain each shadow is cast by those before it too, and comes out larger and darker.",
            };
            let weaker = stack
                .coats
                .iter()
                .enumerate()
                .filter(|(_, coat)| coat.on && matches!(coat.kind, CoatKind::Drop(_)));
            let keep = weaker.skip(1);
            let changes = keep.map(|(at, _)| set(stack.field_pointer(at, "on"), false)).collect();
            let fix = Fix::new("Keep only the nearest of its drop shadows", changes);
            self.finding(stack, None, statement, Some(fix))
        })
    }

    /// The lower edge and the shadow below it, measured against each other straight down from the middle: a dark edge over
    /// a pale shadow, or a lit one over a dark shadow.
    fn edge_and_shadow(&self, stack: &Stack<'_>, worn: &ResolvedStack) -> Option<Finding> {
        let edge = worn.piece.coats.iter().find(|coat| is_lower_edge(coat))?;
        let found = self.lower_edge(worn, &worn.piece.coats)?;
        let (lighter, why) = match found.disagrees()? {
            Disagreement::DarkEdge => (
                "darker",
                "A dark lower edge needs a shadow as dark below it, or the piece seems to float on light.",
            ),
            Disagreement::LitEdge => {
                ("lighter", "A lit lower edge over a dark shadow is lit from above and from below at once.")
            }
        };
        let coat = stack.coats.iter().find(|coat| coat.id == edge.id)?;
        let LowerEdge { inside, below } = found;
        let inside = inside.abs();
        let statement = Statement {
            kind: FindingKind::EdgeAndShadow,
            severity: Severity::Warning,
            message: format!(
                "The lower edge is {inside:.0} % {lighter}, the shadow right below it {below:.0} % darker."
            ),
            why,
        };
        Some(self.finding(stack, Some(coat), statement, self.fainter_edge(stack, worn)))
    }

    fn lower_edge(&self, worn: &ResolvedStack, coats: &[resolve::Coat]) -> Option<LowerEdge> {
        let mut scene = worn.scene.clone();
        let piece = scene.pieces.iter_mut().find(|piece| piece.id == worn.piece.id)?;
        *piece = piece.with_coats(coats.to_vec());
        let line = Line { x: 0.0, y: 0.0, bearing: 0.0 };
        let profile = whole_profile(&scene, &worn.piece.id, line, self.cache)?;
        let mean = |from: f64, to: f64| {
            let within = profile.samples.iter().filter(|sample| (from..=to).contains(&sample.at));
            let within: Vec<f64> = within.map(|sample| sample.darkness).collect();
            within.iter().sum::<f64>() / within.len().max(1) as f64
        };
        Some(LowerEdge { inside: mean(-3.0, -1.0), below: mean(1.0, 6.0) })
    }

    /// The coats of the lower edge at the largest share of their opacity that agrees with the shadow, measured with the
    /// opacities that are written, in whole per cent; nothing where that edge comes from elsewhere.
    fn fainter_edge(&self, stack: &Stack<'_>, worn: &ResolvedStack) -> Option<Fix> {
        let ids: BTreeSet<&Id> =
            worn.piece.coats.iter().filter(|coat| is_lower_edge(coat)).map(|coat| &coat.id).collect();
        let edges: Vec<(usize, &Coat)> =
            stack.coats.iter().enumerate().filter(|(_, coat)| ids.contains(&coat.id)).collect();
        let share = (0..20).rev().map(|step| f64::from(step) / 20.0).find(|share| {
            let fainter = |drawn: &resolve::Coat| {
                let edge = edges.iter().find(|(_, coat)| coat.id == drawn.id && coat.opacity.get() > 0.0);
                edge.map_or_else(
                    || drawn.clone(),
                    |(_, coat)| drawn.at_share(opacity_at(coat, *share) / coat.opacity.get()),
                )
            };
            let coats: Vec<resolve::Coat> = worn.piece.coats.iter().map(fainter).collect();
            self.lower_edge(worn, &coats).is_some_and(|edge| edge.disagrees().is_none())
        })?;
        let changes = edges.iter().map(|(at, coat)| match opacity_at(coat, share) {
            opacity if opacity > 0.0 => set(stack.field_pointer(*at, "opacity"), opacity),
            _ => set(stack.field_pointer(*at, "on"), false),
        });
        let title = if share > 0.0 {
            format!("Lay the edge at {} % of its opacity", number_text((share * 100.0).round()))
        } else {
            "Switch the edge off".to_owned()
        };
        Some(Fix::new(title, changes.collect()))
    }

    /// Shadows that come out at the sides of a box where those of most other boxes of its scene do not.
    fn side_bleeds(&self) -> Vec<Finding> {
        let mut found = Vec::new();
        for (scene_at, scene) in self.scenes.iter().enumerate() {
            let mut bleeds = Vec::new();
            for (stack_at, stack) in self.stacks.iter().enumerate() {
                if budget::is_stopped() {
                    break;
                }
                for PieceIndex { piece: piece_at, .. } in
                    stack.wearers.iter().filter(|one| one.scene == scene_at)
                {
                    let id = &self.project.scenes[scene_at].pieces[*piece_at].id;
                    let Some(piece) = scene.pieces.iter().find(|piece| piece.id == *id) else { continue };
                    if let Some((bleed, coat)) = side_bleed(piece) {
                        bleeds.push((stack_at, bleed, coat));
                    }
                }
            }
            let kept = bleeds.iter().filter(|(_, bleed, _)| *bleed <= 0.0).count();
            let out: Vec<_> = bleeds.iter().filter(|(_, bleed, _)| *bleed > 2.0).collect();
            if kept < 2 || kept < out.len() * 2 {
                continue;
            }
            for (stack_at, bleed, coat) in out {
                let stack = &self.stacks[*stack_at];
                let Some(at) = stack.coats.iter().position(|other| other.id == *coat) else { continue };
                let CoatKind::Drop(drop) = &stack.coats[at].kind else { continue };
                let Ok(spread) = Spread::new((drop.spread.get() - bleed).floor()) else { continue };
                let statement = Statement {
                    kind: FindingKind::SideBleed,
                    severity: Severity::Hint,
                    message: format!(
                        "It reaches {bleed:.0} px out at both sides, where {kept} others of its scene do not."
                    ),
                    why: "Siblings whose shadows keep to different widths do not line up.",
                };
                found.push(self.finding(
                    stack,
                    Some(&stack.coats[at]),
                    statement,
                    Some(Fix::set(
                        format!("Spread it by {} px", number_text(spread.get())),
                        stack.field_pointer(at, "spread"),
                        spread.get(),
                    )),
                ));
            }
        }
        found
    }
}

/// How much darker, in per cent, a piece is just inside its lower edge, and its ground right below that.
#[derive(Clone, Copy)]
struct LowerEdge {
    inside: f64,
    below: f64,
}

enum Disagreement {
    DarkEdge,
    LitEdge,
}

impl LowerEdge {
    fn disagrees(self) -> Option<Disagreement> {
        let Self { inside, below } = self;
        if inside >= TOLD && below * 4.0 <= inside {
            return Some(Disagreement::DarkEdge);
        }
        (inside <= -TOLD && below >= TOLD).then_some(Disagreement::LitEdge)
    }
}

/// The opacity of a coat at a share of it, rounded down to whole per cent.
fn opacity_at(coat: &Coat, share: f64) -> f64 {
    (coat.opacity.get() * share * 100.0).floor() / 100.0
}

fn is_lower_edge(coat: &resolve::Coat) -> bool {
    matches!(&coat.op, PaintOp::Shadow(shadow) if shadow.kind == ShadowKind::Inner && shadow.dy < 0.0)
}

/// An edge that is darker or lighter by less than this many per cent is none.
const TOLD: f64 = 8.0;
/// A shadow of a chain is dense from this opacity on: fainter ones double to next to nothing.
const DENSE: f32 = 0.25;

/// How far the shadows of a box that fall down reach out at the side they reach least, and which coat reaches farthest.
/// A shadow ends where a Gaussian has fallen to a fortieth: 2σ, its blur radius.
fn side_bleed(piece: &crate::resolve::Piece) -> Option<(f64, crate::model::Id)> {
    if !piece.silhouette.is_box() {
        return None;
    }
    let falling = piece.coats.iter().filter_map(|coat| {
        let shadow = coat.op.shadow().filter(|shadow| {
            matches!(shadow.kind, ShadowKind::Drop { .. }) && shadow.dy >= 4.0 && shadow.colour().a > 0.05
        })?;
        Some((shadow.spread + shadow.blur - shadow.dx.abs(), coat.id.clone()))
    });
    falling.max_by(|a, b| a.0.total_cmp(&b.0))
}
