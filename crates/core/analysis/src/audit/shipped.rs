//! Findings about the CSS of a project: transitions that jump, and fallbacks where a browser takes something away.

use std::collections::BTreeSet;

use json_patch::PatchOperation;
use jsonptr::PointerBuf;
use serde_json::json;

use super::auditor::Auditor;
use super::finding::{Finding, FindingKind, Location, Severity};
use super::fix::Fix;
use crate::budget;
use crate::css::ends_in_shadows;
use crate::lower::TrialPiece;
use crate::model::{Coat, CoatKind, CoatLayer, Finish, Id, Opacity, RampShadow, State, Wear};
use crate::patch::{pointer, set};
use crate::resolve::{self, PaintOp};

impl Auditor<'_> {
    pub(super) fn shipped(&mut self) {
        let finishes = self.project.finishes.iter().enumerate();
        let mut found: Vec<Finding> = finishes.filter_map(|(at, finish)| self.jump(at, finish)).collect();
        found.extend(self.no_fallback());
        found.into_iter().for_each(|finding| self.report(finding));
    }

    /// A finish whose shadows in a state cannot be mixed with those at rest: a pair of an inner and an outer shadow makes
    /// the whole list change at once (CSS Backgrounds and Borders 3, "box-shadow", animation type; Web Animations 1,
    /// "Animating shadow lists").
    fn jump(&self, at: usize, finish: &Finish) -> Option<Finding> {
        let transition = finish.transition.as_ref().filter(|transition| transition.duration > 0)?;
        if budget::is_stopped() || !self.is_on_boxes(&finish.id) {
            return None;
        }
        let rests = || std::iter::once(&finish.coats).chain(finish.themes.values());
        let jumps = |coats: &[Coat]| rests().any(|rest| !is_mixed(rest, coats));
        let states: Vec<State> =
            finish.states.iter().filter(|(_, coats)| jumps(coats)).map(|(state, _)| *state).collect();
        let names: Vec<&str> = states.iter().map(|state| state.name()).collect();
        let fix = || Some(Fix::new("Let coats that come and go fade", matched(at, finish)?));
        (!states.is_empty()).then(|| Finding {
            key: format!("jumping_transition/{}", finish.id),
            kind: FindingKind::JumpingTransition,
            severity: Severity::Warning,
            place: Location {
                name: finish.name.clone(),
                finish: Some(finish.id.clone()),
                ..Location::default()
            },
            message: format!(
                "It jumps between rest and {} instead of changing in {} ms.",
                names.join(" and "),
                transition.duration
            ),
            why: "Browsers mix two lists of shadows in pairs, and never an inner shadow with an outer one."
                .to_owned(),
            fix: fix(),
            accepted: None,
        })
    }

    /// Whether boxes wear a finish, or nothing does yet: only lists of box shadows have inner ones among them.
    fn is_on_boxes(&self, finish: &Id) -> bool {
        let pieces = self.project.scenes.iter().flat_map(|scene| &scene.pieces);
        let mut wearing = pieces
            .filter(|piece| matches!(&piece.wear, Wear::Finish(worn) if worn.finish == *finish))
            .peekable();
        wearing.peek().is_none() || wearing.any(|piece| TrialPiece::new(&piece.shape) == TrialPiece::Box)
    }

    /// Frosted panes, and boxes that end in shadows only, in a project whose CSS says nothing for where these are missing.
    fn no_fallback(&self) -> Option<Finding> {
        if self.project.fallbacks {
            return None;
        }
        let pieces = || self.scenes.iter().flat_map(|scene| &scene.pieces);
        let is_frosted = |coat: &resolve::Coat| matches!(coat.op, PaintOp::Backdrop(_));
        let frosted = pieces().filter(|piece| piece.coats.iter().any(is_frosted)).count();
        let shadowed = pieces().filter(|piece| ends_in_shadows(piece)).count();
        let panes = (frosted > 0).then(|| {
            format!(
                "{} the page clear where a browser has no backdrop-filter",
                count_text(frosted, "frosted pane shows", "frosted panes show")
            )
        });
        let edges = (shadowed > 0).then(|| {
            format!(
                "{} where colours are forced",
                count_text(shadowed, "piece loses its edge", "pieces lose their edge")
            )
        });
        let said: Vec<String> = panes.into_iter().chain(edges).collect();
        (!said.is_empty()).then(|| Finding {
            key: "no_fallback".to_owned(),
            kind: FindingKind::NoFallback,
            severity: if frosted > 0 { Severity::Warning } else { Severity::Hint },
            place: Location { name: self.project.name.clone(), ..Location::default() },
            message: format!("{}.", said.join("; ")),
            why: "Text over a clear pane cannot be read, and a control without an edge is not found."
                .to_owned(),
            fix: Some(Fix::set("Write fallbacks into the CSS", pointer!["fallbacks"], true)),
            accepted: None,
        })
    }
}

fn count_text(count: usize, one: &str, several: &str) -> String {
    format!("{count} {}", if count == 1 { one } else { several })
}

/// Which shadows of a stack are inner ones, in the order of the CSS.
fn inner_ones(coats: &[Coat]) -> Vec<bool> {
    coats.iter().flat_map(|coat| vec![is_inner(coat); shadows(coat)]).collect()
}

/// As how many shadows a coat is written.
fn shadows(coat: &Coat) -> usize {
    match &coat.kind {
        _ if !coat.on => 0,
        CoatKind::Drop(_) | CoatKind::Inner(_) => 1,
        CoatKind::Ramp(ramp) => ramp.count as usize,
        CoatKind::Raised(raised) => raised.shadows.len(),
        CoatKind::Highlight(_)
        | CoatKind::Tint(_)
        | CoatKind::Stroke(_)
        | CoatKind::Blur(_)
        | CoatKind::Extrude(_)
        | CoatKind::Cast(_)
        | CoatKind::Backdrop(_) => 0,
    }
}

fn is_inner(coat: &Coat) -> bool {
    match &coat.kind {
        CoatKind::Inner(_) => true,
        CoatKind::Ramp(ramp) => ramp.shadow == RampShadow::Inner,
        CoatKind::Drop(_)
        | CoatKind::Raised(_)
        | CoatKind::Highlight(_)
        | CoatKind::Tint(_)
        | CoatKind::Stroke(_)
        | CoatKind::Blur(_)
        | CoatKind::Extrude(_)
        | CoatKind::Cast(_)
        | CoatKind::Backdrop(_) => false,
    }
}

/// Whether a browser mixes the shadows of two stacks.
fn is_mixed(one: &[Coat], other: &[Coat]) -> bool {
    inner_ones(one).iter().zip(&inner_ones(other)).all(|(one, other)| one == other)
}

/// The stacks of a finish with the same number of inner shadows before all others: a coat that one of them has not is there
/// with an opacity of 0, so that it fades. `None` where no coats come to the number that is missing.
fn matched(at: usize, finish: &Finish) -> Option<Vec<PatchOperation>> {
    let own = |name: &'static str, key: &str| pointer!["finishes", at, name, key];
    let mut stacks: Vec<(PointerBuf, Vec<Coat>)> =
        vec![(pointer!["finishes", at, "coats"], finish.coats.clone())];
    stacks.extend(finish.themes.iter().map(|(theme, coats)| (own("themes", theme.as_str()), coats.clone())));
    stacks.extend(finish.states.iter().map(|(state, coats)| (own("states", state.name()), coats.clone())));
    for (_, coats) in &mut stacks {
        // What lies on the surface and what lies under it do not cover one another.
        coats.sort_by_key(|coat| coat.kind.layer() != CoatLayer::On);
    }
    let inner = |coats: &[Coat]| coats.iter().filter(|coat| is_inner(coat)).map(shadows).sum::<usize>();
    let most = stacks.iter().map(|(_, coats)| coats.clone()).max_by_key(|coats| inner(coats))?;
    let fading: Vec<&Coat> = most.iter().filter(|coat| coat.on && is_inner(coat)).collect();
    for (_, coats) in &mut stacks {
        let missing = inner(&most) - inner(coats);
        let last = (0..=fading.len())
            .map(|from| &fading[from..])
            .find(|last| last.iter().map(|coat| shadows(coat)).sum::<usize>() == missing)?;
        let place = coats.iter().rposition(is_inner).map_or(0, |at| at + 1);
        for coat in last.iter().rev() {
            let mut taken: BTreeSet<&str> = coats.iter().map(|coat| coat.id.as_str()).collect();
            taken.extend(fading.iter().filter(|other| other.id != coat.id).map(|other| other.id.as_str()));
            let free = |id: &Id| !taken.contains(id.as_str());
            let id = std::iter::once(coat.id.clone())
                .chain((1..).map(|number| Id::numbered("fading", number)))
                .find(free)?;
            coats.insert(place, Coat { id, opacity: Opacity::clamped(0.0), ..(*coat).clone() });
        }
    }
    Some(stacks.into_iter().map(|(at, coats)| set(at, json!(coats))).collect())
}
