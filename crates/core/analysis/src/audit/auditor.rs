//! The state of an audit: its inputs, and its findings so far.

use json_patch::PatchOperation;

use super::finding::{Audit, Finding, FindingKind, Limits};
use super::flat::FlatPlaces;
use super::references::References;
use super::stacks::Stack;
use crate::asset::Assets;
use crate::compose::MaskCache;
use crate::model::{Id, Project};
use crate::patch::set;
use crate::resolve::Scene;

/// The inputs of an audit, and its findings so far.
pub(super) struct Auditor<'a> {
    pub project: &'a Project,
    /// Where its pieces are in the document.
    pub places: FlatPlaces,
    pub assets: &'a Assets,
    pub limits: &'a Limits,
    pub cache: &'a MaskCache,
    pub scenes: Vec<Scene>,
    pub stacks: Vec<Stack<'a>>,
    pub references: References,
    pub findings: Vec<Finding>,
}

impl Auditor<'_> {
    /// Makes the wearers of one finish wear another.
    pub fn wear_instead(&self, from: &Id, to: &Id) -> Vec<PatchOperation> {
        let places = self.references.finishes.get(from).into_iter().flatten();
        places.map(|at| set(at.clone(), to.as_str())).collect()
    }

    /// Makes the users of one swatch use another.
    pub fn use_instead(&self, from: &Id, to: &Id) -> Vec<PatchOperation> {
        let places = self.references.swatches.get(from).into_iter().flatten();
        places.map(|at| set(at.clone(), to.as_str())).collect()
    }

    pub fn report(&mut self, mut finding: Finding) {
        if self.is_wanted(finding.kind) {
            if let Some(fix) = &mut finding.fix {
                self.places.restore(&mut fix.patch);
            }
            let accepted = self.project.accepted.iter().find(|accepted| accepted.finding == finding.key);
            finding.accepted = accepted.map(|accepted| accepted.note.clone());
            self.findings.push(finding);
        }
    }

    pub fn is_wanted(&self, kind: FindingKind) -> bool {
        !self.limits.without.contains(&kind)
    }

    pub fn finish(self) -> Audit {
        let mut findings = self.findings;
        findings.sort_by_key(|finding| (finding.accepted.is_some(), finding.severity, finding.kind));
        findings.dedup_by(|a, b| a.key == b.key);
        Audit { findings }
    }
}
