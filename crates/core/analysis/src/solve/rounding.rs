//! Numbers as people type them, where the picture does not get worse.

use super::forward::{Model, PremultipliedLayer};
use super::least_squares::{Objective, refine};
use super::search::{Candidate, worst};
use super::shadow::{Parameter, Shadow};

/// How much farther off a stack may be for rounder numbers, in shares of 255. No screen shows it.
const MORE: f64 = 0.05 / 255.0;

/// Rounds a stack's numbers one after another, moving those that are left to make up for it: whole px and per cents
/// where that does, else halves, tenths and hundredths.
#[must_use]
pub fn rounded(model: &Model<'_>, target: &[PremultipliedLayer], candidate: &Candidate) -> Candidate {
    let most = candidate.worst * 1.02 + MORE;
    let parameters = model.freedom.parameters();
    let mut best = candidate.clone();
    let mut held = Vec::new();
    for which in order(&parameters) {
        for number in 0..best.shadows.len() {
            let steps = steps_of(parameters[which]);
            for (tried, step) in steps.iter().enumerate() {
                let mut shadows = best.shadows.clone();
                let value = model.freedom.get(&shadows[number], parameters[which]);
                model.freedom.set(&mut shadows[number], parameters[which], (value / step).round() * step);
                let plain = with(model, target, shadows);
                let is_last = tried + 1 == steps.len();
                held.push((number, which));
                if plain.worst <= most || is_last {
                    best = plain;
                    break;
                }
                let mut shadows = plain.shadows;
                let goal = Objective {
                    target,
                    power: POWER,
                    scale: candidate.worst.max(1e-9),
                    prior: None,
                    held: &held,
                    is_ground_free: false,
                };
                refine(model, &goal, &mut shadows, STEPS);
                let made_up = with(model, target, shadows);
                if made_up.worst <= most {
                    best = made_up;
                    break;
                }
                held.pop();
            }
        }
    }
    best
}

/// Steps in which the other numbers make up for a rounded one.
const STEPS: usize = 4;
/// The power that differences are raised to meanwhile.
const POWER: i32 = 4;

fn with(model: &Model<'_>, target: &[PremultipliedLayer], shadows: Vec<Shadow>) -> Candidate {
    Candidate { worst: worst(model, target, &shadows), shadows }
}

/// Offsets first, opacities last: those can make up for the most.
fn order(parameters: &[Parameter]) -> Vec<usize> {
    let rank = |parameter: &Parameter| match parameter {
        Parameter::Distance | Parameter::X | Parameter::Y => 0,
        Parameter::Spread => 1,
        Parameter::Blur => 2,
        Parameter::Channel(_) => 3,
        Parameter::Opacity => 4,
    };
    let mut order: Vec<usize> = (0..parameters.len()).collect();
    order.sort_by_key(|which| rank(&parameters[*which]));
    order
}

fn steps_of(parameter: Parameter) -> &'static [f64] {
    match parameter {
        Parameter::Opacity => &[0.01, 0.005, 0.001, 0.0001],
        // A channel of 8 bits.
        Parameter::Channel(_) => &[1.0 / 255.0],
        _ => &[1.0, 0.5, 0.1, 0.01],
    }
}
