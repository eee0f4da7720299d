//! The normal distribution: what a straight edge looks like once it is blurred by a Gaussian.

use std::f64::consts::{FRAC_1_SQRT_2, PI};

/// Φ(z), the share of a normal distribution below `z`: ½·erfc(−z/√2) (NIST Digital Library of Mathematical
/// Functions, §7.17(i) and §7.2.1).
#[must_use]
pub fn cumulative(z: f64) -> f64 {
    // Past six σ less than a billionth is left.
    match z {
        z if z > 6.0 => 1.0,
        z if z < -6.0 => 0.0,
        z => 0.5 * libm::erfc(-z * FRAC_1_SQRT_2),
    }
}

/// φ(z), the density: exp(−z²/2)/√(2π).
#[must_use]
pub fn density(z: f64) -> f64 {
    if z.abs() > 8.0 { 0.0 } else { (-0.5 * z * z).exp() / (2.0 * PI).sqrt() }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Values of the error function from DLMF's definition, §7.2.1, with erf(1) = 0.8427007929 and
    /// erf(½) = 0.5204998778 (from memory of its published tables).
    #[test]
    fn it_is_the_error_function_moved_and_scaled() {
        let erf = |x: f64| 2.0 * cumulative(x * 2.0_f64.sqrt()) - 1.0;
        assert!((erf(1.0) - 0.842_700_792_9).abs() < 1e-9);
        assert!((erf(0.5) - 0.520_499_877_8).abs() < 1e-9);
        let slope = (cumulative(0.7 + 1e-5) - cumulative(0.7 - 1e-5)) / 2e-5;
        assert!((slope - density(0.7)).abs() < 1e-8);
    }
}
