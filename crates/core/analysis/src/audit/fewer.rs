//! The fix for too many shadow layers: found when it is asked for, since it takes seconds.

use super::finding::{FindingKind, Limits};
use super::fix::Fix;
use super::flat::FlatProject;
use super::stack_findings::key;
use super::stacks::{PieceIndex, Stack, stacks};
use crate::asset::Assets;
use crate::lower::{TrialPiece, trial};
use crate::model::{OwnCoats, Project, Wear};
use crate::patch::set;
use crate::solve::{CannotReduce, FewerCoats, Holds, MAX_SHADOWS, Reduced, reduce};

/// Why there is no such fix.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum NoFewer {
    /// No stack has that finding.
    #[error("There is no stack that this was found in.")]
    NoStack,
    /// The stack has nothing that can be found anew.
    #[error(transparent)]
    Cannot(#[from] CannotReduce),
    /// No stack of so few shadows was found.
    #[error("No stack of so few shadows comes near.")]
    NoneFound,
}

/// A difference at the worst pixel, in 255ths, that hardly anybody sees.
const UNSEEN: f64 = 1.0;
/// Shadow counts that are tried first.
const FEW: usize = 4;

/// For a finding of [`FindingKind::PaintBudget`], the stack of fewest shadows that hardly anybody tells from the
/// original, or else the nearest within the limit.
///
/// # Errors
/// [`NoFewer`] when there is none.
pub fn fewer_shadows(
    project: &Project,
    assets: &Assets,
    limits: &Limits,
    finding: &str,
) -> Result<Fix, NoFewer> {
    let flat = FlatProject::new(project, assets);
    let project = flat.project.as_ref();
    let is_about = |stack: &Stack<'_>| key(FindingKind::PaintBudget, stack, project, None) == finding;
    let stack = stacks(project).into_iter().find(is_about).ok_or(NoFewer::NoStack)?;
    let wear = Wear::Coats(OwnCoats { coats: stack.coats.to_vec() });
    let tried;
    let (scene, piece) = if let Some(PieceIndex { scene, piece }) = stack.wearers.first() {
        let scene = &project.scenes[*scene];
        (scene, &scene.pieces[*piece])
    } else {
        tried = trial(&stack.theme, &wear, TrialPiece::Box, false);
        (&tried, tried.pieces.first().ok_or(NoFewer::NoStack)?)
    };
    let at_most = |count: usize| {
        let holds = Holds { coats: limits.shadow_layers.min(count), ..Holds::default() };
        reduce(project, scene, piece, assets, holds)
    };
    // More shadows take much longer to find, and mostly are not needed.
    let few = at_most(FEW)?;
    let is_near = few.by_count.iter().any(|fewer| fewer.error.worst <= UNSEEN);
    let found = if is_near { few } else { at_most(MAX_SHADOWS)? };
    let FewerCoats { shadows, coats, error } = nearest(&found).ok_or(NoFewer::NoneFound)?;
    let title = format!(
        "Use {shadows} shadows that differ by {} of 255 at worst, instead of {}",
        (error.worst * 10.0).round() / 10.0,
        found.shadows
    );
    let mut fix = Fix::new(title, vec![set(stack.pointer, serde_json::to_value(coats).unwrap_or_default())]);
    flat.places().restore(&mut fix.patch);
    Ok(fix)
}

fn nearest(found: &Reduced) -> Option<&FewerCoats> {
    let unseen = found.by_count.iter().find(|fewer| fewer.error.worst <= UNSEEN);
    unseen.or_else(|| found.by_count.last())
}
