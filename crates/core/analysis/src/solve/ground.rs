//! A ground whose colour is fitted along with the stack on it.
//!
//! What is seen is linear in the ground's colour, so the best one follows from each stack, and the normal equations of
//! the stack's numbers have it eliminated (variable projection: Golub and Pereyra 1973, with Kaufman's Jacobian).

use super::forward::{JacobianRow, Model, PremultipliedLayer};

/// By how much the ground's colour is moved, the same at all places.
pub struct GroundShift {
    by: [f64; 3],
    /// Channels that do not end up at 0 or 1.
    is_inside: [bool; 3],
}

impl GroundShift {
    /// The one that brings what is seen nearest to the target.
    pub fn nearest(model: &Model<'_>, target: &[PremultipliedLayer], seen: &[PremultipliedLayer]) -> Self {
        let (mut rest, mut shown) = ([0.0; 3], 0.0);
        for ((seen, wanted), weight) in seen.iter().zip(target).zip(model.field.weights()) {
            for (rest, channel) in rest.iter_mut().zip(0..3) {
                *rest += weight * seen[3] * (wanted[channel] - seen[channel]);
            }
            shown += weight * seen[3] * seen[3];
        }
        let ground = model.ground.and_then(<[_]>::first).copied().unwrap_or_default();
        let free = rest.map(|rest| if shown > LEAST_SHOWN { rest / shown } else { 0.0 });
        let by = std::array::from_fn(|at| free[at].clamp(-ground[at], 1.0 - ground[at]));
        Self { by, is_inside: std::array::from_fn(|at| by[at] == free[at]) }
    }

    /// What is seen over the moved ground.
    pub fn apply(&self, seen: &mut PremultipliedLayer) {
        for channel in 0..3 {
            seen[channel] += seen[3] * self.by[channel];
        }
    }

    /// The slopes over the moved ground.
    pub fn slope(&self, slopes: &mut JacobianRow) {
        let [r, g, b, by_shown] = &mut slopes.of;
        for (slopes, by) in [r, g, b].into_iter().zip(self.by) {
            slopes.iter_mut().zip(&*by_shown).for_each(|(slope, shown)| *slope += by * shown);
        }
    }
}

/// A ground of which less is seen, summed over all places, is not moved.
const LEAST_SHOWN: f64 = 1e-6;

/// The products of the ground's slopes with those of a stack's numbers and with themselves.
pub struct WithGround {
    of_numbers: [Vec<f64>; 3],
    own: f64,
}

impl WithGround {
    /// Of so many numbers.
    pub fn new(count: usize) -> Self {
        Self { of_numbers: std::array::from_fn(|_| vec![0.0; count]), own: 0.0 }
    }

    /// Adds a place, at which `shown` of the ground is seen.
    pub fn add(&mut self, slopes: &JacobianRow, shown: f64, weight: f64) {
        for (sums, slopes) in self.of_numbers.iter_mut().zip(&slopes.of) {
            sums.iter_mut().zip(slopes).for_each(|(sum, slope)| *sum += weight * shown * slope);
        }
        self.own += weight * shown * shown;
    }

    /// Takes from the normal equations what the ground makes up for.
    pub fn eliminate(&self, shift: &GroundShift, matrix: &mut [f64]) {
        if self.own <= LEAST_SHOWN {
            return;
        }
        for (sums, _) in self.of_numbers.iter().zip(shift.is_inside).filter(|(_, is_inside)| *is_inside) {
            let size = sums.len();
            for row in 0..size {
                for column in 0..=row {
                    matrix[row * size + column] -= sums[row] * sums[column] / self.own;
                }
            }
        }
    }
}
