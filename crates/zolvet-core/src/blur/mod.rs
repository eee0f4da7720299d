//! Gaussian blur of coverage, at a cost per pixel that does not grow with σ.
//!
//! A narrow blur is a plain separable convolution. For a wide one the coverage is first halved again and again
//! with the binomial filter 1-3-3-1 until σ lies between 2 and 4 cells, convolved there, and read back through a
//! cubic B-spline. Filter and spline add variance of their own (¼·(k²−1) and ⅓·k² for k pixels a cell), which is
//! taken off the Gaussian's, so that what comes out has variance σ² again; what is left of the difference in
//! shape is some hundredths of 1/255.

use crate::raster::{Mask, Rect};

/// Widest blur done without halving, in pixels of σ.
const NARROW: f64 = 4.0;

/// How far a blur of σ reaches, in whole pixels: 4σ, past which less than 1/25 of 1/255 is left.
#[must_use]
pub fn reach(sigma: f64) -> i32 {
    (sigma * 4.0).ceil() as i32 + 1
}

/// `source` blurred by a Gaussian of `sigma` pixels, over the pixels of `window` it reaches.
///
/// Coverage outside `source.rect` is taken as 0.
#[must_use]
pub fn gaussian(source: &Mask, sigma: f64, window: Rect) -> Mask {
    let rect = source.rect.grown(reach(sigma)).intersect(window);
    if rect.is_empty() || source.rect.is_empty() {
        return Mask::empty(Rect::default());
    }
    if sigma <= NARROW {
        return convolve(source, &kernel(sigma), rect);
    }
    let mut level = source.cropped(source.rect.intersect(rect.grown(reach(sigma))));
    let mut cell = 1;
    while sigma / f64::from(cell) > NARROW {
        level = halved(&level);
        cell *= 2;
    }
    let k = f64::from(cell);
    let own_variance = 0.25 * (k * k - 1.0) + k * k / 3.0;
    let rest = ((sigma * sigma - own_variance) / (k * k)).sqrt();
    let cells = Rect::new(
        rect.x0.div_euclid(cell) - 2,
        rect.y0.div_euclid(cell) - 2,
        rect.x1.div_euclid(cell) + 3,
        rect.y1.div_euclid(cell) + 3,
    );
    enlarged(&convolve(&level, &kernel(rest), cells), cell, rect)
}

/// The middle and right half of a sampled, normalised Gaussian.
fn kernel(sigma: f64) -> Vec<f32> {
    let radius = (sigma * 4.0).ceil() as i32;
    let weight = |i: i32| (-f64::from(i * i) / (2.0 * sigma * sigma)).exp();
    let sum: f64 = (-radius..=radius).map(weight).sum();
    if sigma <= 0.0 || !sum.is_finite() {
        return vec![1.0];
    }
    (0..=radius).map(|i| (weight(i) / sum) as f32).collect()
}

fn convolve(source: &Mask, kernel: &[f32], rect: Rect) -> Mask {
    let radius = kernel.len() as i32 - 1;
    // Rows first, only those the columns will need.
    let rows = Rect::new(
        rect.x0,
        source.rect.y0.max(rect.y0 - radius),
        rect.x1,
        source.rect.y1.min(rect.y1 + radius),
    );
    if rows.is_empty() {
        return Mask::empty(rect);
    }
    let mut across = Mask::empty(rows);
    let padded = Rect::new(rect.x0 - radius, rows.y0, rect.x1 + radius, rows.y1);
    let source = source.cropped(padded);
    let width = rect.width();
    for_each_row(&mut across.data, width, |row, out| {
        let line = source.row(rows.y0 + row as i32);
        let middle = kernel.len() - 1;
        scale_into(out, &line[middle..], kernel[0]);
        for (i, weight) in kernel.iter().enumerate().skip(1) {
            add_pair(out, &line[middle - i..], &line[middle + i..], *weight);
        }
    });
    let mut result = Mask::empty(rect);
    for_each_row(&mut result.data, width, |row, out| {
        let y = rect.y0 + row as i32;
        for (i, weight) in kernel.iter().enumerate() {
            let offsets: &[i32] = if i == 0 { &[0] } else { &[-(i as i32), i as i32] };
            for offset in offsets {
                if (rows.y0..rows.y1).contains(&(y + offset)) {
                    add_scaled(out, across.row(y + offset), *weight);
                }
            }
        }
    });
    result
}

fn scale_into(out: &mut [f32], from: &[f32], weight: f32) {
    for (out, from) in out.iter_mut().zip(from) {
        *out = from * weight;
    }
}

fn add_pair(out: &mut [f32], left: &[f32], right: &[f32], weight: f32) {
    for ((out, left), right) in out.iter_mut().zip(left).zip(right) {
        *out += (left + right) * weight;
    }
}

fn add_scaled(out: &mut [f32], from: &[f32], weight: f32) {
    for (out, from) in out.iter_mut().zip(from) {
        *out += from * weight;
    }
}

#[cfg(feature = "threads")]
fn for_each_row(data: &mut [f32], width: usize, work: impl Fn(usize, &mut [f32]) + Sync) {
    use rayon::prelude::*;
    data.par_chunks_mut(width).with_min_len(16).enumerate().for_each(|(row, out)| work(row, out));
}

#[cfg(not(feature = "threads"))]
fn for_each_row(data: &mut [f32], width: usize, work: impl Fn(usize, &mut [f32]) + Sync) {
    data.chunks_mut(width).enumerate().for_each(|(row, out)| work(row, out));
}

/// Half the size in both directions: each cell is the 1-3-3-1 mean around the two pixels it stands for.
fn halved(source: &Mask) -> Mask {
    let rect = Rect::new(
        source.rect.x0.div_euclid(2) - 1,
        source.rect.y0.div_euclid(2) - 1,
        source.rect.x1.div_euclid(2) + 2,
        source.rect.y1.div_euclid(2) + 2,
    );
    let padded =
        source.cropped(Rect::new(rect.x0 * 2 - 1, rect.y0 * 2 - 1, rect.x1 * 2 + 1, rect.y1 * 2 + 1));
    let mut result = Mask::empty(rect);
    let width = rect.width();
    for_each_row(&mut result.data, width, |row, out| {
        let top = (rect.y0 + row as i32) * 2 - 1;
        let [a, b, c, d] = [0, 1, 2, 3].map(|i| padded.row(top + i));
        let column: Vec<f32> = (0..a.len()).map(|i| (a[i] + d[i] + 3.0 * (b[i] + c[i])) * 0.125).collect();
        for (i, out) in out.iter_mut().enumerate() {
            let at = &column[i * 2..i * 2 + 4];
            *out = (at[0] + at[3] + 3.0 * (at[1] + at[2])) * 0.125;
        }
    });
    result
}

/// Reads cells of `cell` pixels back at every pixel of `rect`, through a cubic B-spline.
fn enlarged(cells: &Mask, cell: i32, rect: Rect) -> Mask {
    let mut result = Mask::empty(rect);
    let weights: Vec<(i32, [f32; 4])> = (0..cell).map(|phase| spline_weights(phase, cell)).collect();
    let taps = |at: i32| {
        let (first, weights) = &weights[at.rem_euclid(cell) as usize];
        (at.div_euclid(cell) + first, weights)
    };
    let width = rect.width();
    for_each_row(&mut result.data, width, |row, out| {
        let (first, down) = taps(rect.y0 + row as i32);
        let rows: [&[f32]; 4] = std::array::from_fn(|i| cells.row(first + i as i32));
        let line: Vec<f32> =
            (0..cells.rect.width()).map(|i| (0..4).map(|tap| rows[tap][i] * down[tap]).sum()).collect();
        for (i, out) in out.iter_mut().enumerate() {
            let (first, across) = taps(rect.x0 + i as i32);
            let at = &line[(first - cells.rect.x0) as usize..];
            *out = at[0] * across[0] + at[1] * across[1] + at[2] * across[2] + at[3] * across[3];
        }
    });
    result
}

/// The first of four cells, relative to the pixel's own, and the uniform cubic B-spline's weights on them.
fn spline_weights(phase: i32, cell: i32) -> (i32, [f32; 4]) {
    let at = (f64::from(phase) + 0.5) / f64::from(cell) - 0.5;
    let base = at.floor();
    let t = at - base;
    let weights = [
        (1.0 - t).powi(3) / 6.0,
        (3.0 * t.powi(3) - 6.0 * t * t + 4.0) / 6.0,
        (-3.0 * t.powi(3) + 3.0 * t * t + 3.0 * t + 1.0) / 6.0,
        t.powi(3) / 6.0,
    ];
    (base as i32 - 1, weights.map(|weight| weight as f32))
}
