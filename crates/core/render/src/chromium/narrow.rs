//! The blur browsers draw of shadows too narrow for running means.

use crate::blend::in_255ths;
use crate::blur::convolve;
use crate::raster::{Mask, Rect};

/// From this σ on, in pixels, shadows of CSS are running means (measured in Chromium 156).
pub(super) const NARROW: f64 = 2.0;

/// `source` blurred as Chromium's rasteriser blurs shadows of CSS with a σ below [`NARROW`]: by the discrete analogue of the
/// Gaussian, e^−t·Iₙ(t) with t = σ² and Iₙ the modified Bessel functions (NIST Digital Library of Mathematical
/// Functions, §10.25.2), over ⌈2σ⌉ pixels to either side, rounded to 8 bits after the rows and after the columns. With
/// 3σ ≤ 1 nothing is blurred.
pub(super) fn narrow(source: &Mask, sigma: f64, window: Rect) -> Mask {
    let rect = source.rect.grown(narrow_reach(sigma)).intersect(window);
    if 3.0 * sigma <= 1.0 || rect.is_empty() || source.rect.is_empty() {
        return source.cropped(source.rect.intersect(window));
    }
    let mut blurred = convolve(source, &discrete(sigma), rect);
    for value in blurred.values_mut() {
        *value = in_255ths(*value) as f32 / 255.0;
    }
    blurred
}

/// How far [`narrow`] reaches, in pixels.
pub(super) fn narrow_reach(sigma: f64) -> i32 {
    if 3.0 * sigma <= 1.0 { 0 } else { (2.0 * sigma).ceil() as i32 }
}

/// The middle and right half of the discrete Gaussian, which sums up to 1.
fn discrete(sigma: f64) -> Vec<f32> {
    let values: Vec<f64> = (0..=narrow_reach(sigma)).map(|n| bessel(n, sigma * sigma)).collect();
    let sum = values.iter().sum::<f64>() * 2.0 - values[0];
    values.iter().map(|value| (value / sum) as f32).collect()
}

/// Iₙ(t), by its series.
fn bessel(n: i32, t: f64) -> f64 {
    let half = t / 2.0;
    let mut term = (1..=n).fold(1.0, |term, i| term * half / f64::from(i));
    let mut sum = term;
    for k in 1..40 {
        term *= half * half / (f64::from(k) * f64::from(k + n));
        sum += term;
    }
    sum
}

#[cfg(test)]
mod tests {
    use super::*;

    /// NIST Digital Library of Mathematical Functions, 10.32.3: Iₙ(t) = 1/π ∫ exp(t·cos θ)·cos(n·θ) dθ from 0 to π.
    #[test]
    fn the_bessel_functions_are_their_integrals() {
        const STEPS: u32 = 400;
        for (n, t) in [(0, 1.0), (1, 1.0), (0, 0.1), (2, 4.0), (5, 9.0)] {
            let at = |k: u32| std::f64::consts::PI * (f64::from(k) + 0.5) / f64::from(STEPS);
            let value = |theta: f64| (t * theta.cos()).exp() * (f64::from(n) * theta).cos();
            let mean = (0..STEPS).map(|k| value(at(k))).sum::<f64>() / f64::from(STEPS);
            assert!((bessel(n, t) - mean).abs() < 1e-9 * mean, "{n} {t}: {mean}");
        }
    }

    /// The edge of a box as Chromium 156 drew its shadow with a σ of 1.
    #[test]
    fn an_edge_is_as_soft_as_chromium_draws_it() {
        let mut edge = Mask::empty(Rect::new(0, 0, 20, 20));
        edge.values_mut().fill(1.0);
        let blurred = narrow(&edge, 1.0, Rect::new(-3, 10, 3, 11));
        let found: Vec<f32> = blurred.values().map(|value| (value * 255.0).round()).collect();
        assert_eq!(found, [13.0, 67.0, 188.0, 242.0, 255.0]);
    }
}
