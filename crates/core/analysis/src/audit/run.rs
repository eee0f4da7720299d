//! A whole audit, one kind of finding after the other.

use super::auditor::Auditor;
use super::finding::{Audit, Finding, Limits};
use super::flat::FlatProject;
use super::references::References;
use super::stacks::stacks;
use crate::asset::Assets;
use crate::compose::MaskCache;
use crate::model::Project;
use crate::parallel::parallel_map;
use crate::resolve;

/// Audits a project. Fixes are patches of the project's document. `go_on` is called with the share of the work done, from
/// 0 to 1, and what was found since it was called last; it ends the audit by returning false.
pub fn audit(
    project: &Project,
    assets: &Assets,
    limits: &Limits,
    cache: &MaskCache,
    go_on: &mut dyn FnMut(f64, &[Finding]) -> bool,
) -> Option<Audit> {
    let flat = FlatProject::new(project, assets);
    let (project, places) = (flat.project.as_ref(), flat.places());
    let scenes = project.scenes.iter().map(|scene| resolve::scene(project, scene, assets)).collect();
    let stacks = stacks(project);
    let (references, findings) = (References::new(project), Vec::new());
    let mut auditor =
        Auditor { project, places, assets, limits, cache, scenes, stacks, references, findings };
    if !go_on(0.02, &[]) {
        return None;
    }
    auditor.library();
    auditor.colours();
    auditor.lights();
    auditor.heights();
    auditor.depth();
    auditor.shipped();
    auditor.pages();
    let scenes: Vec<usize> = (0..auditor.scenes.len()).collect();
    let mut told = 0;
    // So many are looked at side by side between two words about how far the work has come.
    let at_once = (scenes.len() / 16).clamp(2, 8);
    for (at, few) in scenes.chunks(at_once).enumerate() {
        let done = 0.1 + 0.9 * (at * at_once) as f64 / scenes.len() as f64;
        if !go_on(done, auditor.findings.get(told..).unwrap_or_default()) {
            return None;
        }
        told = auditor.findings.len();
        for visibility in parallel_map(few, |at| auditor.visibility(*at)) {
            visibility.findings.into_iter().for_each(|finding| auditor.report(finding));
            for (stack, coat) in visibility.changing {
                auditor.stacks[stack].visible.insert(coat);
            }
        }
    }
    auditor.never_seen();
    Some(auditor.finish())
}
