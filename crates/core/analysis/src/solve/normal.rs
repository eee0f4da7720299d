//! The normal distribution: the profile of a straight edge after a Gaussian blur.
//!
//! A search asks for it some millions of times, so it is read from a table, by cubics through values and slopes.

use std::f64::consts::{FRAC_1_SQRT_2, PI};
use std::sync::LazyLock;

/// Past six σ less than a billionth is left.
const END: f64 = 6.0;
/// Steps of the table for one σ: cubics between them are exact to a billionth.
const STEPS: usize = 64;

/// Φ(z), the share of a normal distribution below `z`, and its density φ(z) = exp(−z²/2)/√(2π).
#[must_use]
pub fn normal(z: f64) -> (f64, f64) {
    if z >= END {
        return (1.0, 0.0);
    }
    if z <= -END {
        return (0.0, 0.0);
    }
    let place = (z + END) * STEPS as f64;
    let number = place as usize;
    let share = place - number as f64;
    let (before, after) = (&TABLE[number], &TABLE[number + 1]);
    let width = 1.0 / STEPS as f64;
    let below = hermite(share, (before.below, before.density * width), (after.below, after.density * width));
    let slope = |at: &Entry| -at.z * at.density * width;
    (below, hermite(share, (before.density, slope(before)), (after.density, slope(after))))
}

/// A cubic through two values with their slopes.
fn hermite(t: f64, (from, from_slope): (f64, f64), (to, to_slope): (f64, f64)) -> f64 {
    let rest = to - from;
    from + t
        * (from_slope
            + t * (3.0 * rest - 2.0 * from_slope - to_slope + t * (from_slope + to_slope - 2.0 * rest)))
}

struct Entry {
    z: f64,
    below: f64,
    density: f64,
}

/// Φ(z) = ½·erfc(−z/√2) (NIST Digital Library of Mathematical Functions, §7.17(i) with §7.2.1).
static TABLE: LazyLock<Vec<Entry>> = LazyLock::new(|| {
    let last = 2 * END as usize * STEPS + 1;
    let entry = |number: usize| {
        let z = number as f64 / STEPS as f64 - END;
        let below = 0.5 * libm::erfc(-z * FRAC_1_SQRT_2);
        Entry { z, below, density: crate::maths::exp(-0.5 * z * z) / (2.0 * PI).sqrt() }
    };
    (0..=last).map(entry).collect()
});

#[cfg(test)]
mod tests {
    use super::*;

    /// NIST Digital Library of Mathematical Functions, 7.2.1: erf(x) = 2/√π ∫ exp(−t²) dt from 0 to x.
    #[test]
    fn it_is_the_error_function_moved_and_scaled() {
        const STEPS: u32 = 20_000;
        let erf = |x: f64| 2.0 * normal(x * 2.0_f64.sqrt()).0 - 1.0;
        for x in [0.5, 1.0, 2.0] {
            let at = |k: u32| x * (f64::from(k) + 0.5) / f64::from(STEPS);
            let sum: f64 = (0..STEPS).map(|k| (-at(k) * at(k)).exp()).sum();
            assert!((erf(x) - sum * 2.0 / PI.sqrt() * x / f64::from(STEPS)).abs() < 1e-9, "{x}");
        }
        for z in [-5.99, -2.345, -0.01, 0.0, 0.7, 1.234, 5.5] {
            let exact = (-0.5_f64 * z * z).exp() / (2.0 * PI).sqrt();
            assert!((normal(z).1 - exact).abs() < 1e-9, "{z}");
            let slope = (normal(z + 1e-4).0 - normal(z - 1e-4).0) / 2e-4;
            assert!((slope - exact).abs() < 1e-6, "{z}");
        }
    }
}
