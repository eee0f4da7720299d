//! Heights of one scene that different lights cast, and heights that are not cast by the light they follow.

use serde_json::json;

use super::auditor::Auditor;
use super::finding::{Finding, FindingKind, Severity};
use super::fix::Fix;
use super::light::angle_between;
use super::stack_findings::Statement;
use super::stacks::Stack;
use crate::budget;
use crate::model::{Coat, Raised, Rig};
use crate::patch::set;
use crate::resolve::Context;
use crate::solve::shadows_under;
use crate::syntax::number_text;

const WHY: &str = "Heights can be compared where one light casts all of them.";

/// A height in a scene.
struct Cast<'a> {
    stack: usize,
    coat: usize,
    raised: &'a Raised,
    bearing: f64,
}

impl Auditor<'_> {
    pub(super) fn heights(&mut self) {
        let mut found = self.other_lights();
        for scene in 0..self.project.scenes.len() {
            found.extend(self.mixed_lights(scene));
        }
        found.into_iter().for_each(|finding| self.report(finding));
    }

    /// Heights whose shadows are those of another light than the one they follow.
    fn other_lights(&self) -> Vec<Finding> {
        let mut found = Vec::new();
        for stack in &self.stacks {
            for (at, coat, raised) in raised_in(stack) {
                let light = raised.follows.as_ref();
                let light = light.and_then(|id| self.project.lights.iter().find(|light| light.id == *id));
                let Some((light, rig)) = light.and_then(|light| Some((light, light.rig?))) else { continue };
                if rig == raised.rig || budget::is_stopped() {
                    continue;
                }
                let shadows = shadows_under(light.bearing.get(), &rig, raised.shadows.len());
                let changes = vec![
                    set(stack.field_pointer(at, "rig"), json!(rig)),
                    set(stack.field_pointer(at, "shadows"), json!(shadows)),
                ];
                let statement = Statement {
                    kind: FindingKind::HeightsDisagree,
                    severity: Severity::Warning,
                    message: format!(
                        "Its height is cast by a light {}; {} is {}.",
                        words(&raised.rig),
                        light.name,
                        words(&rig)
                    ),
                    why: WHY,
                };
                let fix = Fix::new(format!("Cast it by {}", light.name), changes);
                found.push(self.finding(stack, Some(coat), statement, Some(fix)));
            }
        }
        found
    }

    /// Heights of a scene that another light casts than most of them.
    fn mixed_lights(&self, scene: usize) -> Vec<Finding> {
        let casts = self.heights_of(scene);
        let like = |cast: &Cast<'_>| casts.iter().filter(|other| is_one_light(cast, other)).count();
        let Some(usual) = casts.iter().rev().max_by_key(|cast| like(cast)) else { return Vec::new() };
        let count = like(usual);
        let others = casts.iter().filter(|cast| !is_one_light(cast, usual));
        let finding = |cast: &Cast<'_>| {
            let stack = &self.stacks[cast.stack];
            let Raised { follows, bearing, rig, shadows, .. } = usual.raised;
            let field = |name: &str| stack.field_pointer(cast.coat, name);
            let changes = vec![
                set(field("follows"), json!(follows)),
                set(field("bearing"), json!(bearing)),
                set(field("rig"), json!(rig)),
                set(field("shadows"), json!(shadows)),
            ];
            let name = &self.project.scenes[scene].name;
            let message = format!(
                "Its height is cast by a light from {}° {}; {count} of {name} by one from {}° {}.",
                number_text(cast.bearing.round()),
                words(&cast.raised.rig),
                number_text(usual.bearing.round()),
                words(rig)
            );
            let statement = Statement {
                kind: FindingKind::HeightsDisagree,
                severity: Severity::Warning,
                message,
                why: WHY,
            };
            let fix = Fix::new("Cast it by the same light", changes);
            let mut finding = self.finding(stack, stack.coats.get(cast.coat), statement, Some(fix));
            finding.place.scene = Some(self.project.scenes[scene].id.clone());
            finding
        };
        others.map(finding).collect()
    }

    fn heights_of(&self, scene: usize) -> Vec<Cast<'_>> {
        let theme = &self.project.scenes[scene].theme;
        let context = Context { project: self.project, theme, assets: self.assets };
        let mut casts = Vec::new();
        for (number, stack) in self.stacks.iter().enumerate() {
            if !stack.wearers.iter().any(|one| one.scene == scene) {
                continue;
            }
            for (coat, _, raised) in raised_in(stack) {
                let own = raised.bearing.get();
                let bearing = raised.follows.as_ref().map_or(own, |light| context.bearing(light));
                casts.push(Cast { stack: number, coat, raised, bearing });
            }
        }
        casts
    }
}

/// The heights of a stack that are on, by their number.
fn raised_in<'s>(stack: &'s Stack<'_>) -> impl Iterator<Item = (usize, &'s Coat, &'s Raised)> {
    let on = stack.coats.iter().enumerate().filter(|(_, coat)| coat.on);
    on.filter_map(|(at, coat)| Some((at, coat, coat.kind.raised()?)))
}

fn is_one_light(a: &Cast<'_>, b: &Cast<'_>) -> bool {
    a.raised.rig == b.raised.rig && angle_between(a.bearing, b.bearing) < 1.0
}

fn words(rig: &Rig) -> String {
    let [elevation, size, ambient] = [rig.elevation.get(), rig.size.get(), rig.ambient.get() * 100.0]
        .map(|value| number_text(tenths(value)));
    format!("{elevation}° above the ground and {size}° wide with {ambient} % from all around")
}

fn tenths(value: f64) -> f64 {
    (value * 10.0).round() / 10.0
}
