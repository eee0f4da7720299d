//! Lights that disagree, and offsets that follow none.

use serde_json::json;

use super::auditor::Auditor;
use super::finding::{FindingKind, Severity};
use super::fix::Fix;
use super::stack_findings::Statement;
use super::stacks::PieceIndex;
use crate::budget;
use crate::model::{self, CoatKind, Id, Offset};
use crate::resolve::{Context, PaintOp, ShadowKind, bearing_of};
use crate::syntax::{number_text, tidy};

/// A shadow that says where the light is.
struct CastShadow {
    stack: usize,
    coat: usize,
    bearing: f64,
    distance: f64,
    weight: f64,
    /// It has a value of its own.
    loose: bool,
}

/// The angle between two bearings, from 0 to 180 degrees.
pub(super) fn angle_between(a: f64, b: f64) -> f64 {
    let turn = (a - b).rem_euclid(360.0);
    turn.min(360.0 - turn)
}

/// The mean of bearings and how well they agree, from 0 to 1 (directional statistics: the mean resultant vector).
fn mean_bearing(of: &[(f64, f64)]) -> (f64, f64) {
    let (mut x, mut y, mut sum) = (0.0, 0.0, 0.0);
    for (bearing, weight) in of {
        let (sin, cos) = crate::maths::sin_cos(bearing.to_radians());
        (x, y, sum) = (x + sin * weight, y + cos * weight, sum + weight);
    }
    (crate::maths::atan2(x, y).to_degrees().rem_euclid(360.0), (x * x + y * y).sqrt() / f64::max(sum, 1e-9))
}

impl Auditor<'_> {
    pub(super) fn lights(&mut self) {
        for at in 0..self.project.scenes.len() {
            self.lights_of(at);
        }
        self.loose_offsets();
    }

    /// Dark shadows of one scene that fall another way than the rest of them.
    fn lights_of(&mut self, scene: usize) {
        let casts = self.casts_of(scene);
        let mut found = Vec::new();
        for cast in casts.iter().filter(|cast| cast.loose) {
            let others: Vec<(f64, f64)> = casts
                .iter()
                .filter(|other| (other.stack, other.coat) != (cast.stack, cast.coat))
                .map(|other| (other.bearing, other.weight))
                .collect();
            let (mean, agreement) = mean_bearing(&others);
            let off = angle_between(cast.bearing, mean);
            if others.len() < 2 || agreement < 0.9 || off <= self.limits.light_degrees {
                continue;
            }
            let stack = &self.stacks[cast.stack];
            let coat = &stack.coats[cast.coat];
            let light = self.light_near(&self.project.scenes[scene].theme, mean, 10.0);
            let (what, to) = match light {
                Some(light) => (
                    format!("Follow {}", light.name),
                    json!({"distance": tidy(cast.distance), "follows": light.id}),
                ),
                None => (
                    format!("Turn it to {}°", number_text(mean.round())),
                    json!({"distance": tidy(cast.distance), "bearing": mean.round()}),
                ),
            };
            let said = format!(
                "Light from {:.0}°, where {} other shadows of {} have it from {mean:.0}° (agreeing by {:.0} %).",
                cast.bearing,
                others.len(),
                self.project.scenes[scene].name,
                agreement * 100.0
            );
            let fix = Fix::set(what, stack.field_pointer(cast.coat, "offset"), to);
            let mut finding = self.finding(
                stack,
                Some(coat),
                Statement {
                    kind: FindingKind::LightsDisagree,
                    severity: Severity::Warning,
                    message: said,
                    why: "One thing lit from elsewhere makes a whole surface look pasted together.",
                },
                Some(fix),
            );
            finding.place.scene = Some(self.project.scenes[scene].id.clone());
            found.push(finding);
        }
        found.into_iter().for_each(|finding| self.report(finding));
    }

    fn casts_of(&self, scene: usize) -> Vec<CastShadow> {
        let mut casts = Vec::new();
        for (stack_at, stack) in self.stacks.iter().enumerate() {
            if budget::is_stopped() {
                break;
            }
            for PieceIndex { piece: piece_at, .. } in stack.wearers.iter().filter(|one| one.scene == scene) {
                let id = &self.project.scenes[scene].pieces[*piece_at].id;
                let Some(piece) = self.scenes[scene].pieces.iter().find(|piece| piece.id == *id) else {
                    continue;
                };
                for (coat_at, coat) in stack.coats.iter().enumerate().filter(|(_, coat)| coat.on) {
                    let drawn = piece.coats.iter().find(|drawn| drawn.id == coat.id);
                    let Some(PaintOp::Shadow(shadow)) = drawn.map(|drawn| &drawn.op) else { continue };
                    let distance = crate::maths::hypot(shadow.dx, shadow.dy);
                    // A light shadow is the other half of soft relief: it falls towards the light.
                    let dark = shadow.colour().lightness() < 0.6;
                    if matches!(shadow.kind, ShadowKind::Drop { .. }) && distance >= 1.0 && dark {
                        casts.push(CastShadow {
                            stack: stack_at,
                            coat: coat_at,
                            bearing: bearing_of(shadow.dx, shadow.dy),
                            distance,
                            weight: f64::from(shadow.colour().a),
                            // Heights have findings of their own.
                            loose: coat.kind.raised().is_none()
                                && !matches!(coat.kind.offset(), Some(Offset::Following(_))),
                        });
                    }
                }
            }
        }
        casts
    }

    /// Offsets along the bearing of a light that do not follow it.
    fn loose_offsets(&mut self) {
        let mut found = Vec::new();
        for stack in &self.stacks {
            if budget::is_stopped() {
                break;
            }
            let theme = &stack.theme;
            let context = Context { project: self.project, theme, assets: self.assets };
            for (at, coat) in stack.coats.iter().enumerate().filter(|(_, coat)| coat.on) {
                let plain =
                    matches!(coat.kind, CoatKind::Drop(_) | CoatKind::Inner(_) | CoatKind::Extrude(_));
                let Some(offset) = coat.kind.offset().filter(|_| plain) else { continue };
                if matches!(offset, Offset::Following(_)) {
                    continue;
                }
                let resolved = context.offset(offset);
                let distance = crate::maths::hypot(resolved.x, resolved.y);
                let bearing = bearing_of(resolved.x, resolved.y);
                // Along the light, or straight against it.
                let along = self.light_near(theme, bearing, LOOSE).map(|light| (light, distance));
                let against =
                    || self.light_near(theme, bearing + 180.0, LOOSE).map(|light| (light, -distance));
                let Some((light, signed)) = along.or_else(against).filter(|_| distance >= 1.0) else {
                    continue;
                };
                let to = json!({"distance": tidy(signed), "follows": light.id});
                let pointer = stack.field_pointer(at, "offset");
                found.push(self.finding(
                    stack,
                    Some(coat),
                    Statement {
                        kind: FindingKind::LooseValue,
                        severity: Severity::Hint,
                        message: format!("It falls as if lit by {}, but does not follow it.", light.name),
                        why: "A coat with an offset of its own stays behind when its light is turned.",
                    },
                    Some(Fix::set(format!("Follow {}", light.name), pointer, to)),
                ));
            }
        }
        found.into_iter().for_each(|finding| self.report(finding));
    }

    fn light_near(&self, theme: &Id, bearing: f64, within: f64) -> Option<&model::Light> {
        let context = Context { project: self.project, theme, assets: self.assets };
        self.project.lights.iter().find(|light| angle_between(context.bearing(&light.id), bearing) <= within)
    }
}

/// Degrees within which an offset lies along a light.
const LOOSE: f64 = 1.0;

#[cfg(test)]
mod tests {
    use super::*;

    /// The mean of 350° and 10° is 0°, not 180°; opposite bearings agree in nothing.
    #[test]
    fn bearings_are_averaged_on_the_circle() {
        let (mean, agreement) = mean_bearing(&[(350.0, 1.0), (10.0, 1.0)]);
        assert!(angle_between(mean, 0.0) < 1e-9 && (agreement - 10_f64.to_radians().cos()).abs() < 1e-9);
        assert!(mean_bearing(&[(90.0, 1.0), (270.0, 1.0)]).1 < 1e-9);
        assert_eq!((angle_between(350.0, 10.0), angle_between(90.0, 270.0)), (20.0, 180.0));
    }
}
