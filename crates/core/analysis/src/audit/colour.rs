//! Colours that want to be one, that follow nothing, or that come out muddy; grounds that leave no room.

use serde_json::json;

use super::auditor::Auditor;
use super::finding::{Finding, FindingKind, Location, Severity};
use super::fix::Fix;
use super::stack_findings::Statement;
use crate::blend::BlendMode;
use crate::budget;
use crate::colour::{Rgba, colour_text};
use crate::model::{Swatch, Theme};
use crate::patch::{pointer, remove, set};
use crate::resolve::{Coat, Paint, PaintOp, bearing_of};

impl Auditor<'_> {
    pub(super) fn colours(&mut self) {
        self.near_swatches();
        self.loose_colours();
        self.muddy();
        self.pure_grounds();
    }

    fn near_swatches(&mut self) {
        let project = self.project;
        for (at, one) in project.swatches.iter().enumerate() {
            for (other_at, other) in project.swatches.iter().enumerate().skip(at + 1) {
                let Some(apart) = farthest(one, other, &project.themes) else { continue };
                if apart >= self.limits.near_colour {
                    continue;
                }
                let mut changes = self.use_instead(&other.id, &one.id);
                changes.push(remove(pointer!["swatches", other_at]));
                self.report(Finding {
                    key: format!("near_colours/{}/{}", one.id, other.id),
                    kind: FindingKind::NearColours,
                    severity: Severity::Hint,
                    place: Location {
                        name: format!("{} and {}", one.name, other.name),
                        ..Location::default()
                    },
                    message: format!(
                        "The swatches {} and {} are {apart:.3} apart in OKLab.",
                        one.name, other.name
                    ),
                    why: "Colours that nobody can tell apart have to be kept in step twice.".to_owned(),
                    fix: Some(Fix::new(format!("Use {} for both", one.name), changes)),
                    accepted: None,
                });
            }
        }
    }

    /// Literal colours of coats and fills that are a swatch's.
    fn loose_colours(&mut self) {
        let project = self.project;
        let Some(theme) = project.themes.first() else { return };
        for swatch in &project.swatches {
            let Some(value) = value_in(swatch, theme) else { continue };
            let alike = |colour: Rgba| {
                f64::from(colour.distance(value)) < SAME && (colour.a - value.a).abs() < SAME_ALPHA
            };
            let literals = self.references.literals.iter().filter(|literal| alike(literal.colour));
            let to = json!({"swatch": swatch.id});
            let changes: Vec<_> = literals.map(|literal| set(literal.pointer.clone(), to.clone())).collect();
            if changes.is_empty() {
                continue;
            }
            let count = changes.len();
            let times = if count == 1 { "once".to_owned() } else { format!("{count} times") };
            self.report(Finding {
                key: format!("loose_value/{}", swatch.id),
                kind: FindingKind::LooseValue,
                severity: Severity::Hint,
                place: Location { name: swatch.name.clone(), ..Location::default() },
                message: format!("The colour of {} is written out {times}.", swatch.name),
                why: "A colour that is written out does not change when its swatch does.".to_owned(),
                fix: Some(Fix::new(format!("Use the swatch {}", swatch.name), changes)),
                accepted: None,
            });
        }
    }

    fn muddy(&mut self) {
        for at in 0..self.stacks.len() {
            if budget::is_stopped() {
                break;
            }
            let stack = &self.stacks[at];
            let Some(worn) = self.resolve_stack(stack) else { continue };
            let mut found = Vec::new();
            for (coat_at, coat) in stack.coats.iter().enumerate().filter(|(_, coat)| coat.on) {
                let drawn = worn.piece.coats.iter().find(|drawn| drawn.id == coat.id);
                let Some(PaintOp::Shadow(shadow)) = drawn.map(|drawn| &drawn.op) else { continue };
                let chroma = shadow.colour().oklch()[1];
                if coat.blend != BlendMode::Multiply || chroma < CHROMA {
                    continue;
                }
                let pointer = stack.field_pointer(coat_at, "blend");
                found.push(self.finding(
                    stack,
                    Some(coat),
                    Statement {
                        kind: FindingKind::Muddy,
                        severity: Severity::Warning,
                        message: format!("A colour (chroma {chroma:.2}) is laid in multiply."),
                        why: "In multiply a coloured shadow comes out darker and duller than its colour.",
                    },
                    Some(Fix::set("Lay it in normal", pointer, "normal")),
                ));
            }
            found.into_iter().for_each(|finding| self.report(finding));
        }
    }

    /// Soft relief needs room above and below the ground.
    fn pure_grounds(&mut self) {
        for (at, scene) in self.project.scenes.iter().enumerate() {
            let Paint::Solid(ground) = &self.scenes[at].ground else { continue };
            let lightness = f64::from(ground.lightness());
            let (bound, better) = match lightness {
                l if l > 0.985 => ("white", 0.92),
                l if l < 0.06 => ("black", 0.24),
                _ => continue,
            };
            let reliefs = self.scenes[at].pieces.iter().filter(|piece| is_relief(&piece.coats, *ground));
            let names: Vec<&str> = reliefs.map(|piece| piece.name.as_str()).collect();
            if names.is_empty() {
                continue;
            }
            let to = ground.lightened(better - lightness);
            self.report(Finding {
                key: format!("pure_ground/{}", scene.id),
                kind: FindingKind::PureGround,
                severity: Severity::Warning,
                place: Location {
                    name: scene.name.clone(),
                    scene: Some(scene.id.clone()),
                    ..Location::default()
                },
                message: format!("{} in soft relief on a ground of pure {bound}.", names.join(", ")),
                why: format!("On pure {bound} one of the two sides of soft relief has nowhere to go."),
                fix: Some(Fix::set(
                    "Move the ground a little from it",
                    pointer!["scenes", at, "ground"],
                    json!({"kind": "solid", "colour": colour_text(to)}),
                )),
                accepted: None,
            });
        }
    }
}

/// Two colours this close in OKLab are written the same in 8 bits.
const SAME: f64 = 0.002;

/// Two opacities this close are written the same in 8 bits.
const SAME_ALPHA: f32 = 0.002;

/// OKLCH chroma from which on a shadow is coloured.
const CHROMA: f32 = 0.04;

/// The distance of two swatches in the theme where they are farthest apart.
fn farthest(one: &Swatch, other: &Swatch, themes: &[Theme]) -> Option<f64> {
    let mut farthest: f64 = 0.0;
    for theme in themes {
        let (a, b) = (value_in(one, theme)?, value_in(other, theme)?);
        farthest = farthest.max(f64::from(a.distance(b)).max(f64::from((a.a - b.a).abs())));
    }
    Some(farthest)
}

fn value_in(swatch: &Swatch, theme: &Theme) -> Option<Rgba> {
    swatch.values.get(&theme.id).map(|colour| colour.rgba())
}

/// A light and a dark shadow on opposite sides.
fn is_relief(coats: &[Coat], ground: Rgba) -> bool {
    let falls = |light: bool| {
        coats.iter().filter_map(move |coat| {
            let shadow =
                coat.op.shadow().filter(|shadow| crate::maths::hypot(shadow.dx, shadow.dy) >= 1.0)?;
            let lighter = shadow.colour().lightness() >= ground.lightness().max(0.5);
            (!coat.op.is_on_surface() && lighter == light).then(|| bearing_of(shadow.dx, shadow.dy))
        })
    };
    falls(true).any(|light| falls(false).any(|dark| super::light::angle_between(light, dark) > 150.0))
}
