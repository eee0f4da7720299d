//! Numbers as people type them, in CSS px, where what is seen does not get worse.

use crate::solve::forward::{Model, PremultipliedLayer};
use crate::solve::least_squares::{Objective, refine};
use crate::solve::shadow::{Parameter, Shadow};

/// How much farther off a stack may be for a rounder number.
#[derive(Debug, Clone, Copy)]
pub struct Tolerance {
    /// In shares of what it is off.
    share: f64,
    /// From 0 to 1.
    more: f64,
}

impl Tolerance {
    /// As much as no screen shows.
    pub const UNSEEN: Self = Self { share: 1.004, more: 0.02 / 255.0 };
    /// As much as whole 255ths make of it by chance: with these numbers a picture was drawn, or could have been.
    pub const BY_CHANCE: Self = Self { share: 1.0, more: 0.002 / 255.0 };
}

/// Steps in which the other numbers make up for a rounded one.
const STEPS: usize = 3;

/// What stacks are rounded by.
pub struct Rounding<'a> {
    pub model: &'a Model<'a>,
    pub target: &'a [PremultipliedLayer],
    pub density: f64,
    /// How far a stack is off.
    pub off: &'a dyn Fn(&[Shadow]) -> f64,
    pub tolerance: Tolerance,
}

impl Rounding<'_> {
    /// A stack with each number at the roundest that is no farther off.
    pub fn rounded(&self, shadows: &[Shadow]) -> Vec<Shadow> {
        let mut best = shadows.to_vec();
        let mut held = Vec::new();
        let most = (self.off)(&best) * self.tolerance.share + self.tolerance.more;
        for number in 0..best.len() {
            self.try_black(&mut best, number, &mut held, most);
        }
        let parameters = self.model.freedom.parameters();
        for rank in 0..4 {
            for number in 0..best.len() {
                for (which, parameter) in parameters.iter().enumerate() {
                    if order(*parameter) == rank && !held.contains(&(number, which)) {
                        self.round(&mut best, (number, which), *parameter, &mut held, most);
                    }
                }
            }
        }
        best
    }

    /// Black, where it does: what most shadows are.
    fn try_black(&self, best: &mut Vec<Shadow>, number: usize, held: &mut Vec<(usize, usize)>, most: f64) {
        let mut shadows = best.clone();
        shadows[number].colour = [0.0; 3];
        let channels = self.model.freedom.parameters().len() - 3;
        let before = held.len();
        held.extend((channels..channels + 3).map(|which| (number, which)));
        if !self.makes_up(shadows, best, held, most) {
            held.truncate(before);
        }
    }

    fn round(
        &self,
        best: &mut Vec<Shadow>,
        (number, which): (usize, usize),
        parameter: Parameter,
        held: &mut Vec<(usize, usize)>,
        most: f64,
    ) {
        let steps = self.steps(parameter);
        held.push((number, which));
        for step in &steps {
            let mut shadows = best.clone();
            let value = self.model.freedom.get(&shadows[number], parameter);
            self.model.freedom.set(&mut shadows[number], parameter, (value / step).round() * step);
            if self.makes_up(shadows.clone(), best, held, most) {
                return;
            }
            if step == steps.last().unwrap_or(step) {
                *best = shadows;
            }
        }
    }

    /// Whether a stack is near enough, or becomes so when its other numbers move; then it is the best.
    fn makes_up(
        &self,
        mut shadows: Vec<Shadow>,
        best: &mut Vec<Shadow>,
        held: &[(usize, usize)],
        most: f64,
    ) -> bool {
        if (self.off)(&shadows) > most {
            let goal = Objective {
                target: self.target,
                power: 1,
                scale: 1.0,
                prior: None,
                held,
                is_ground_free: false,
            };
            refine(self.model, &goal, &mut shadows, STEPS);
        }
        let does = (self.off)(&shadows) <= most;
        if does {
            *best = shadows;
        }
        does
    }

    fn steps(&self, parameter: Parameter) -> Vec<f64> {
        match parameter {
            Parameter::Opacity => vec![0.01, 0.005, 0.001, 0.0001],
            Parameter::Channel(_) => vec![1.0 / 255.0],
            Parameter::Distance | Parameter::X | Parameter::Y | Parameter::Blur | Parameter::Spread => {
                [1.0, 0.5, 0.1, 0.01].map(|step| step * self.density).to_vec()
            }
        }
    }
}

/// Offsets first, opacities last: those can make up for the most.
fn order(parameter: Parameter) -> usize {
    match parameter {
        Parameter::Distance | Parameter::X | Parameter::Y | Parameter::Spread => 0,
        Parameter::Blur => 1,
        Parameter::Channel(_) => 2,
        Parameter::Opacity => 3,
    }
}
