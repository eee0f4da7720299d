//! The best of the stacks that were drawn, and how far they are off.

use super::side::FoundSide;
use crate::solve::error::SolveError;
use crate::solve::shadow::Shadow;
use crate::syntax::round_to;

/// The best stack of those that were drawn.
#[derive(Debug, Clone, Default)]
pub struct Best {
    pub stack: Counted,
    pub found: Option<FoundSide>,
    pub cost: Option<f64>,
    is_rounded: bool,
}

/// How much more a rounded stack may cost, in shares and in 255ths: numbers as people type them are worth a little.
const ROUNDER: f64 = 1.1;
pub const NEARLY: f64 = 0.02;
/// What a stack costs that draws the picture itself.
pub const EXACT: f64 = 0.01;

impl Best {
    pub fn take(&mut self, found: &FoundSide, stack: Counted, is_rounded: bool) {
        let now = cost(&error(stack.1.iter()));
        let most = match self.cost {
            None => f64::INFINITY,
            Some(least) if is_rounded && !self.is_rounded => least * ROUNDER + NEARLY,
            // Of two rounded ones the first has the rounder numbers.
            Some(least) if is_rounded => least - NEARLY,
            Some(least) if self.is_rounded => (least - NEARLY) / ROUNDER,
            Some(least) => least,
        };
        if now < most {
            *self = Self { stack, found: Some(found.clone()), cost: Some(now), is_rounded };
        }
    }

    /// Takes numbers as people type them where they are as near in the mean.
    pub fn take_typed(&mut self, found: &FoundSide, stack: Counted) {
        let now = cost(&error(stack.1.iter()));
        let is_near = self.cost.is_none_or(|cost| now <= cost * ROUNDER + NEARLY);
        if is_near || root_mean_square(&stack.1) <= root_mean_square(&self.stack.1) {
            *self = Self { stack, found: Some(found.clone()), cost: Some(now), is_rounded: true };
        }
    }

    pub fn is_exact(&self) -> bool {
        self.is_rounded && self.cost.is_some_and(|cost| cost < EXACT)
    }
}

/// How bad an error is: its mean, and its worst places a little.
pub fn cost(error: &SolveError) -> f64 {
    error.mean + error.p99 / 6.0
}

/// Shadows in CSS px, and how far they are off.
pub type Counted = (Vec<Shadow>, Vec<(f64, f64)>);

/// The error of differences, of which each stands for so many pixels.
pub fn error<'o>(offs: impl Iterator<Item = &'o (f64, f64)>) -> SolveError {
    let mut all: Vec<(f64, f64)> = offs.map(|(off, weight)| (off * 255.0, *weight)).collect();
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    let whole: f64 = all.iter().map(|off| off.1).sum();
    let Some((worst, _)) = all.last() else { return SolveError::default() };
    let mean = all.iter().map(|(off, weight)| off * weight).sum::<f64>() / whole.max(1e-9);
    let mut sum = 0.0;
    let p99 = all.iter().find(|(_, weight)| {
        sum += weight;
        sum >= 0.99 * whole
    });
    let p99 = p99.map_or(*worst, |off| off.0);
    SolveError { mean: round_to(mean, 3), p99: round_to(p99, 2), worst: round_to(*worst, 2) }
}

/// Of differences from 0 to 1, of which each stands for so many pixels.
pub fn root_mean_square(offs: &[(f64, f64)]) -> f64 {
    let whole: f64 = offs.iter().map(|(_, weight)| weight).sum();
    let squares: f64 = offs.iter().map(|(off, weight)| off * off * weight).sum();
    (squares / whole.max(1e-9)).sqrt()
}
