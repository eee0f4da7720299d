//! Finishes that want to be one, and steps that are none.

use std::collections::BTreeSet;

use json_patch::PatchOperation;
use serde_json::json;

use super::auditor::Auditor;
use super::finding::{Finding, FindingKind, Location, Severity};
use super::fix::Fix;
use crate::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use crate::lower::{TrialPiece, trial};
use crate::model::{Finish, Id, Project, Wear, WornFinish};
use crate::parallel::parallel_map;
use crate::patch::{pointer, remove, set};
use crate::report::finishes::{between, heights};
use crate::{budget, resolve};

impl Auditor<'_> {
    pub(super) fn library(&mut self) {
        if self.is_wanted(FindingKind::NearFinishes) {
            self.near_finishes();
        }
        self.flat_steps();
    }

    /// Finishes whose pictures on a box look the same, and whose coats in states and other themes are equal.
    fn near_finishes(&mut self) {
        let project = self.project;
        let pictures: Vec<Option<Vec<u8>>> =
            parallel_map(&project.finishes, |finish| self.tried(project, finish));
        let mut found = Vec::new();
        // A finish is reported as a copy of one other only.
        let mut merged = BTreeSet::new();
        for (at, one) in project.finishes.iter().enumerate() {
            if budget::is_stopped() {
                break;
            }
            if merged.contains(&at) {
                continue;
            }
            for (other_at, other) in project.finishes.iter().enumerate().skip(at + 1) {
                if merged.contains(&other_at) || one.states != other.states || one.themes != other.themes {
                    continue;
                }
                let (Some(a), Some(b)) = (&pictures[at], &pictures[other_at]) else { continue };
                let Some(near) = mean_apart(a, b, self.limits.near_finish) else { continue };
                let mut changes = self.wear_instead(&other.id, &one.id);
                changes.push(remove(pointer!["finishes", other_at]));
                changes.extend(self.off_the_scale(&other.id));
                merged.insert(other_at);
                found.push(Finding {
                    key: format!("near_finishes/{}/{}", one.id, other.id),
                    kind: FindingKind::NearFinishes,
                    severity: Severity::Hint,
                    place: Location {
                        name: format!("{} and {}", one.name, other.name),
                        finish: Some(other.id.clone()),
                        ..Location::default()
                    },
                    message: format!("{} and {} are {near:.2} of 255 apart on a box.", one.name, other.name),
                    why: "Finishes that nobody can tell apart drift from one another when one is changed."
                        .to_owned(),
                    fix: Some(Fix::new(format!("Wear {} for both", one.name), changes)),
                    accepted: None,
                });
            }
        }
        found.into_iter().for_each(|finding| self.report(finding));
    }

    /// The values of a finish's picture where a box and its surroundings lie.
    fn tried(&self, project: &Project, finish: &Finish) -> Option<Vec<u8>> {
        let theme = &project.themes.first()?.id;
        let wear = Wear::Finish(WornFinish { finish: finish.id.clone() });
        let scene = trial(theme, &wear, TrialPiece::Box, false);
        let resolved = resolve::scene(project, &scene, self.assets);
        // Nothing of these pictures is drawn twice.
        let cache = MaskCache::with_capacity(1 << 20);
        let viewport = Viewport::whole(&resolved, 0.5);
        Some(picture(&resolved, &viewport, &RenderOptions::default(), Rounding::Nearest, &cache).rgba)
    }

    fn flat_steps(&mut self) {
        let Some(theme) = self.project.themes.first().map(|theme| theme.id.clone()) else { return };
        let steps = heights(self.project, &theme, self.assets);
        let of = |id: &Id| self.project.finishes.iter().position(|finish| finish.id == *id);
        let scale: Vec<usize> = self.project.scale.iter().filter_map(of).collect();
        let mut found = Vec::new();
        for (at, step) in steps.iter().enumerate().take(scale.len()) {
            let Some(flat) = &step.flat else { continue };
            let finish = &self.project.finishes[scale[at]];
            let neighbours = at.checked_sub(1).and_then(|low| Some((scale[low], *scale.get(at + 1)?)));
            let put = neighbours.and_then(|(low, high)| self.put_between(&theme, (at, scale[at]), low, high));
            let off = || Some(Fix::new("Take it off the scale", vec![self.off_the_scale(&finish.id)?]));
            let fix = put.or_else(off);
            found.push(Finding {
                key: format!("flat_step/{}", finish.id),
                kind: FindingKind::FlatStep,
                severity: Severity::Warning,
                place: Location {
                    name: finish.name.clone(),
                    finish: Some(finish.id.clone()),
                    ..Location::default()
                },
                message: format!("{} {flat}.", finish.name),
                why: "A scale whose steps do not grow says nothing about what lies above what.".to_owned(),
                fix,
                accepted: None,
            });
        }
        found.into_iter().for_each(|finding| self.report(finding));
    }
}

impl Auditor<'_> {
    fn off_the_scale(&self, finish: &Id) -> Option<PatchOperation> {
        let step = self.project.scale.iter().position(|id| id == finish)?;
        Some(remove(pointer!["scale", step]))
    }

    /// A step, by its place on the scale and among the finishes, halfway between two others, where it is higher than the
    /// one below it then, and looks like neither.
    fn put_between(
        &self,
        theme: &Id,
        (step, finish): (usize, usize),
        low: usize,
        high: usize,
    ) -> Option<Fix> {
        let finishes = &self.project.finishes;
        let between = between(&finishes[low], &finishes[high], 1).into_iter().next()?;
        let mut tried = self.project.clone();
        tried.finishes[finish].coats.clone_from(&between.coats);
        tried.finishes[finish].themes.clone_from(&between.themes);
        let stands = heights(&tried, theme, self.assets);
        if stands.get(step).is_none_or(|step| step.flat.is_some()) {
            return None;
        }
        let looks = self.tried(&tried, &tried.finishes[finish])?;
        let is_like = |other: usize| {
            let other = self.tried(&tried, &tried.finishes[other]);
            other.is_none_or(|other| mean_apart(&looks, &other, self.limits.near_finish).is_some())
        };
        if is_like(low) || is_like(high) {
            return None;
        }
        let what = format!("Put it between {} and {}", finishes[low].name, finishes[high].name);
        let mut changes = vec![set(pointer!["finishes", finish, "coats"], json!(between.coats))];
        if between.themes != finishes[finish].themes {
            changes.push(set(pointer!["finishes", finish, "themes"], json!(between.themes)));
        }
        Some(Fix::new(what, changes))
    }
}

/// The mean difference of two pictures; nothing where it is `most` or more, which most pairs soon show.
fn mean_apart(a: &[u8], b: &[u8], most: f64) -> Option<f64> {
    // Three values of four are colours.
    let values = a.len() as f64 * 0.75;
    let mut total = 0;
    for (a, b) in a.chunks(1024).zip(b.chunks(1024)) {
        total += a.iter().zip(b).map(|(a, b)| u32::from(a.abs_diff(*b))).sum::<u32>();
        if f64::from(total) >= most * values {
            return None;
        }
    }
    Some(f64::from(total) / values)
}
