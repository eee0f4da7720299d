//! Blur of a rectangle whose surroundings are itself, mirrored at its edges again and again.
//!
//! Mirrored at half a pixel beyond its ends, a line is a sum of cosines (its discrete cosine transform, type 2), each of
//! which a Gaussian only makes smaller: by exp(−½·(σπk/n)²) for the k-th of n. So the wider the blur, the fewer cosines
//! are left to be computed, and the surroundings are never materialised.

use crate::parallel::for_each_row;
use crate::raster::Mask;

/// Cosines that are left with less than this share add nothing that is seen.
const LEAST: f64 = 1e-5;

/// `source` blurred by a Gaussian of `sigma` pixels.
#[must_use]
pub fn mirrored(source: &Mask, sigma: f64) -> Mask {
    let (width, height) = (source.rect.width(), source.rect.height());
    if sigma <= 0.0 || source.rect.is_empty() {
        return source.clone();
    }
    let (across, down) = (Cosines::new(width, sigma), Cosines::new(height, sigma));
    // Shares of the cosines across, row by row; then turned, so that columns are rows.
    let shares = across.shares_of(&source.clone().into_values(), height);
    let columns = turned(&shares, across.count, height);
    let blurred = down.sums_of(&down.shares_of(&columns, across.count), across.count);
    let data = across.sums_of(&turned(&blurred, height, across.count), height);
    Mask::new(source.rect, data)
}

/// Rows of `width` values as columns.
fn turned(values: &[f32], width: usize, height: usize) -> Vec<f32> {
    let mut turned = vec![0.0; values.len()];
    for (y, row) in values.chunks(width.max(1)).enumerate() {
        for (x, value) in row.iter().enumerate() {
            turned[x * height + y] = *value;
        }
    }
    turned
}

/// The cosines that are left of a line of so many pixels.
struct Cosines {
    length: usize,
    count: usize,
    /// Each cosine at each pixel, one after the other.
    values: Vec<f32>,
    /// The remaining share of each, divided by its weight.
    kept: Vec<f32>,
}

impl Cosines {
    fn new(length: usize, sigma: f64) -> Self {
        let n = length as f64;
        let widest = (2.0 * crate::maths::ln(1.0 / LEAST)).sqrt() / std::f64::consts::PI / sigma;
        let count = ((n * widest).ceil() as usize + 1).min(length);
        // They all are values of one, at multiples of its step.
        let step = std::f64::consts::PI / (2.0 * n);
        let one: Vec<f32> = (0..4 * length).map(|i| crate::maths::cos(i as f64 * step) as f32).collect();
        let mut values = vec![0.0; count * length];
        for_each_row(&mut values, length, |k, row| {
            for (i, value) in row.iter_mut().enumerate() {
                *value = one[(2 * i + 1) * k as usize % (4 * length)];
            }
        });
        let kept = |k: usize| {
            let left = crate::maths::exp(-0.5 * (sigma * std::f64::consts::PI * k as f64 / n).powi(2));
            (left * if k == 0 { 1.0 } else { 2.0 } / n) as f32
        };
        Self { length, count, values, kept: (0..count).map(kept).collect() }
    }

    /// How much of each cosine is in each line.
    fn shares_of(&self, lines: &[f32], count: usize) -> Vec<f32> {
        let mut shares = vec![0.0; count * self.count];
        for_each_row(&mut shares, self.count, |y, shares| {
            let line = &lines[y as usize * self.length..][..self.length];
            for (share, cosine) in shares.iter_mut().zip(self.values.chunks(self.length)) {
                *share = dot(line, cosine);
            }
        });
        shares
    }

    /// The lines that so much of each cosine sums up to, once blurred.
    fn sums_of(&self, shares: &[f32], count: usize) -> Vec<f32> {
        let mut lines = vec![0.0; count * self.length];
        for_each_row(&mut lines, self.length, |y, line| {
            let shares = &shares[y as usize * self.count..][..self.count];
            for ((share, kept), cosine) in shares.iter().zip(&self.kept).zip(self.values.chunks(self.length))
            {
                let share = share * kept;
                line.iter_mut().zip(cosine).for_each(|(sum, cosine)| *sum += share * cosine);
            }
        });
        lines
    }
}

/// In eight sums side by side, which processors do at once.
fn dot(a: &[f32], b: &[f32]) -> f32 {
    let mut sums = [0.0_f32; 8];
    let (a, b) = (a.as_chunks::<8>(), b.as_chunks::<8>());
    for (a, b) in a.0.iter().zip(b.0) {
        (0..8).for_each(|i| sums[i] += a[i] * b[i]);
    }
    let rest: f32 = a.1.iter().zip(b.1).map(|(a, b)| a * b).sum();
    sums.iter().sum::<f32>() + rest
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::blur::{gaussian, reach};
    use crate::raster::Rect;

    /// Against the same blur with the mirrored surroundings written out.
    #[test]
    fn it_equals_the_blur_of_the_mirrored_surroundings() {
        let rect = Rect::new(3, -5, 60, 26);
        let (width, height) = (rect.width() as i32, rect.height() as i32);
        let value = |x: i32, y: i32| ((x * 7 + y * 13) % 11) as f32 / 11.0 + if x > 40 { 0.4 } else { 0.0 };
        let data = (0..height).flat_map(|y| (0..width).map(move |x| value(x, y))).collect();
        let source = Mask::new(rect, data);
        let fold = |at: i32, size: i32| {
            let at = at.rem_euclid(2 * size);
            if at < size { at } else { 2 * size - 1 - at }
        };
        for sigma in [1.5, 4.0, 11.0, 40.0] {
            let wide = rect.grown(reach(sigma));
            let mut around = Mask::empty(wide);
            for (i, out) in around.values_mut().iter_mut().enumerate() {
                let (x, y) = ((i % wide.width()) as i32 + wide.x0, (i / wide.width()) as i32 + wide.y0);
                *out = value(fold(x - rect.x0, width), fold(y - rect.y0, height));
            }
            let expected = gaussian(&around, sigma, rect).cropped(rect);
            let found = mirrored(&source, sigma);
            let errors = found.values().zip(expected.values()).map(|(a, b)| (a - b).abs());
            let worst = errors.fold(0.0, f32::max);
            assert!(worst < 2.0 / 255.0, "σ {sigma}: {worst}");
        }
    }
}
