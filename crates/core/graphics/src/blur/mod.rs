//! Gaussian blur of coverage, at a cost per pixel that does not grow with σ.
//!
//! A narrow blur is a plain separable convolution. For a wide one the coverage is first halved again and again
//! with the binomial filter 1-3-3-1 until σ lies between 1½ and 3 cells, convolved there, and read back through a
//! cubic B-spline. Filter and spline add variance of their own (¼·(k²−1) and ⅓·k² for k pixels a cell), which is
//! taken off the Gaussian's, so that what comes out has variance σ² again; what is left of the difference in
//! shape is some hundredths of 1/255.

mod coarse;
mod mirrored;

use crate::raster::{Changes, Mask, Rect, covered};
use crate::simd::widest;

pub use coarse::eights_around;
pub use coarse::{Coarse, Scratch, Spline, Transmittance};
pub use mirrored::mirrored;

/// Widest blur done without halving, in pixels of σ. With 2.5 a source moved by some pixels blurs up to 0.75 of 255
/// otherwise, as the cells do not move along; with 3 up to 0.4.
const NARROW: f64 = 3.0;

/// Whether a blur may be made at whole pixels and read between them: one that is kept in cells. Where in its pixel an edge lies
/// shows in either way, and by as much, up to 8.7/σ² of 255 at a corner: a pixel holds how much of it is covered, but not where.
#[must_use]
pub fn moves_freely(sigma: f64) -> bool {
    sigma > NARROW
}

/// How far a blur of σ reaches, in whole pixels: 4σ, past which less than 1/25 of 1/255 is left.
#[must_use]
pub fn reach(sigma: f64) -> i32 {
    (sigma * 4.0).ceil() as i32 + 1
}

/// How far past a shape of opacity `alpha` a blur of σ can be seen, in whole pixels: where even beside a long straight edge less
/// than 1/25 of 1/255 is left. The share t·σ past such an edge is the normal distribution's tail, which is less than φ(t)/t.
#[must_use]
pub fn visible_reach(sigma: f64, alpha: f64) -> i32 {
    let least = alpha * 25.0 * 255.0;
    // Each step brings t about t² times closer. Up to one σ anything is taken as seen.
    let mut t = 1.0_f64;
    for _ in 0..8 {
        let above = least / (t * (2.0 * std::f64::consts::PI).sqrt());
        t = (2.0 * crate::maths::ln(above.max(1.0))).sqrt().max(1.0);
    }
    ((sigma * t).ceil() as i32 + 1).min(reach(sigma))
}

/// Pixels in a row that a box blur takes the mean of, three times over, for a Gaussian of `sigma` pixels:
/// ⌊σ·3·√(2π)/4 + ½⌋, at least one (Filter Effects 1, "feGaussianBlur").
#[must_use]
pub fn box_length(sigma: f64) -> usize {
    let length = sigma * 3.0 * (2.0 * std::f64::consts::PI).sqrt() / 4.0;
    ((length + 0.5).floor() as usize).max(1)
}

/// Whether box blurs of a σ change anything.
#[must_use]
pub fn blurs(sigma: f64) -> bool {
    box_length(sigma) > 1
}

/// Blurred coverage: of every pixel, or of cells that are read back as smoothly as they have to be.
#[derive(Debug, Clone, PartialEq)]
pub enum Blurred {
    /// Every pixel.
    Fine(Mask),
    /// Cells of several pixels, read through a cubic B-spline.
    Coarse(Coarse),
}

/// `source` blurred by a Gaussian of `sigma` pixels, over the pixels of `window` it reaches.
///
/// Coverage outside `source.rect` is taken as 0.
#[must_use]
pub fn gaussian(source: &Mask, sigma: f64, window: Rect) -> Mask {
    match blurred(source, sigma, window) {
        Blurred::Fine(mask) => mask,
        Blurred::Coarse(coarse) => coarse.all(),
    }
}

/// As [`gaussian`], but a wide blur stays in cells.
#[must_use]
pub fn blurred(source: &Mask, sigma: f64, window: Rect) -> Blurred {
    let rect = source.rect.grown(reach(sigma)).intersect(window);
    if rect.is_empty() || source.rect.is_empty() {
        return Blurred::Fine(Mask::empty(Rect::default()));
    }
    if !moves_freely(sigma) {
        return Blurred::Fine(convolve(source, &kernel(sigma), rect));
    }
    let needed = source.rect.intersect(rect.grown(reach(sigma)));
    let half = if needed == source.rect { halved(source) } else { halved(&source.cropped(needed)) };
    in_cells(&half, 2, sigma, rect)
}

/// Coverage at a quarter of its size, from which several wide blurs of it can start.
#[must_use]
pub fn quartered(source: &Mask) -> Mask {
    halved(&halved(source))
}

/// As [`quartered`], of an outline moved outwards by `spread`, from the distances of all pixels from it.
#[must_use]
pub fn quartered_outline(distances: &Mask, spread: f64) -> Mask {
    let spread = spread as f32;
    halved(&halved_from(
        distances,
        |from, to| (from + 1..=to).any(|y| !distances.is_like_above(y)),
        #[inline(always)]
        |distance| covered(distance, spread),
    ))
}

/// Whether a blur is wide enough to start from [`quartered`] coverage.
#[must_use]
pub fn takes_quarters(sigma: f64) -> bool {
    sigma > 2.0 * NARROW
}

/// As [`blurred`], from [`quartered`] coverage of `source`, for a σ that takes it.
#[must_use]
pub fn blurred_quarters(quarters: &Mask, source: Rect, sigma: f64, window: Rect) -> Blurred {
    let rect = source.grown(reach(sigma)).intersect(window);
    if rect.is_empty() || source.is_empty() {
        return Blurred::Fine(Mask::empty(Rect::default()));
    }
    in_cells(quarters, 4, sigma, rect)
}

fn in_cells(start: &Mask, mut cell: i32, sigma: f64, rect: Rect) -> Blurred {
    let mut smaller: Option<Mask> = None;
    while sigma / f64::from(cell) > NARROW {
        smaller = Some(halved(smaller.as_ref().unwrap_or(start)));
        cell *= 2;
    }
    let level = smaller.as_ref().unwrap_or(start);
    let k = f64::from(cell);
    let own_variance = 0.25 * (k * k - 1.0) + k * k / 3.0;
    let rest = ((sigma * sigma - own_variance) / (k * k)).sqrt();
    let cells = Rect::new(
        rect.x0.div_euclid(cell) - 2,
        rect.y0.div_euclid(cell) - 2,
        rect.x1.div_euclid(cell) + 3,
        rect.y1.div_euclid(cell) + 3,
    );
    Blurred::Coarse(Coarse::new(rect, convolve(level, &kernel(rest), cells), cell))
}

/// The middle and right half of a sampled, normalised Gaussian.
fn kernel(sigma: f64) -> Vec<f32> {
    let radius = (sigma * 4.0).ceil() as i32;
    let weight = |i: i32| crate::maths::exp(-f64::from(i * i) / (2.0 * sigma * sigma));
    let sum: f64 = (-radius..=radius).map(weight).sum();
    if sigma <= 0.0 || !sum.is_finite() {
        return vec![1.0];
    }
    (0..=radius).map(|i| (weight(i) / sum) as f32).collect()
}

/// Each row of the result is summed from the source's rows, then along itself: only one row is buffered between.
pub fn convolve(source: &Mask, kernel: &[f32], rect: Rect) -> Mask {
    let radius = kernel.len() as i32 - 1;
    let (width, middle) = (rect.width(), kernel.len() - 1);
    // Where the source lies in a row that is padded by the kernel on either side.
    let padded = rect.x0 - radius..rect.x1 + radius;
    let left = source.rect.x0.max(padded.start);
    let right = source.rect.x1.min(padded.end);
    if left >= right || width == 0 {
        return Mask::empty(rect);
    }
    let place = (left - padded.start) as usize..(right - padded.start) as usize;
    let part = (left - source.rect.x0) as usize..(right - source.rect.x0) as usize;
    let (changes, nothing) = (Changes::from_mask(source), vec![0.0; part.len()]);
    new_rows(
        rect,
        |y| changes.are_between(y - 1 - radius, y + radius),
        #[inline(always)]
        |y, out| {
            let row = |y: i32| {
                let within = (source.rect.y0..source.rect.y1).contains(&y);
                if within { &source.row(y)[part.clone()] } else { &nothing[..] }
            };
            let mut line = vec![0.0; width + 2 * middle];
            add_scaled(&mut line[place.clone()], row(y), kernel[0]);
            add_taps(&mut line[place.clone()], &kernel[1..], |i| (row(y - i as i32), row(y + i as i32)));
            scale_into(out, &line[middle..], kernel[0]);
            add_taps(out, &kernel[1..], |i| (&line[middle - i..], &line[middle + i..]));
        },
    )
}

/// A mask of which the rows are worked out that are made from anything new.
fn new_rows(rect: Rect, is_new: impl Fn(i32) -> bool, work: impl Fn(i32, &mut [f32]) + Sync) -> Mask {
    Mask::from_rows(rect, is_new, |y, out| {
        widest(
            #[inline(always)]
            || work(y, out),
        );
    })
}

#[inline(always)]
fn scale_into(out: &mut [f32], from: &[f32], weight: f32) {
    for (out, from) in out.iter_mut().zip(from) {
        *out = from * weight;
    }
}

/// Adds pairs of lines, from those one away on, each pair weighted.
#[inline(always)]
fn add_taps<'a>(out: &mut [f32], weights: &[f32], pair: impl Fn(usize) -> (&'a [f32], &'a [f32])) {
    // Several at a time, so that sums are read and written less often.
    let (fours, rest) = weights.as_chunks::<4>();
    for (at, weights) in fours.iter().enumerate() {
        add_pairs(out, std::array::from_fn(|i| pair(at * 4 + i + 1)), *weights);
    }
    for (at, weight) in rest.iter().enumerate() {
        add_pairs(out, [pair(fours.len() * 4 + at + 1)], [*weight]);
    }
}

#[inline(always)]
fn add_pairs<const N: usize>(out: &mut [f32], pairs: [(&[f32], &[f32]); N], weights: [f32; N]) {
    let length = out.len();
    let pairs = pairs.map(|(left, right)| (&left[..length], &right[..length]));
    for (i, out) in out.iter_mut().enumerate() {
        let mut sum = *out;
        for ((left, right), weight) in pairs.iter().zip(weights) {
            sum += (left[i] + right[i]) * weight;
        }
        *out = sum;
    }
}

#[inline(always)]
fn add_scaled(out: &mut [f32], from: &[f32], weight: f32) {
    for (out, from) in out.iter_mut().zip(from) {
        *out += from * weight;
    }
}

/// Half the size in both directions: each cell is the 1-3-3-1 mean around the two pixels it stands for.
fn halved(source: &Mask) -> Mask {
    let changes = Changes::from_mask(source);
    halved_from(
        source,
        |from, to| changes.are_between(from, to),
        #[inline(always)]
        |value| value,
    )
}

/// As [`halved`], of a function of every value. The mean of equal rows is taken once.
fn halved_from(
    source: &Mask,
    is_new: impl Fn(i32, i32) -> bool,
    made: impl Fn(f32) -> f32 + Copy + Sync,
) -> Mask {
    let rect = Rect::new(
        source.rect.x0.div_euclid(2) - 1,
        source.rect.y0.div_euclid(2) - 1,
        source.rect.x1.div_euclid(2) + 2,
        source.rect.y1.div_euclid(2) + 2,
    );
    let width = rect.width();
    // Where the source's columns lie among those that are read: one more than two for each cell at either side.
    let left = (source.rect.x0 - (rect.x0 * 2 - 1)) as usize;
    let place = left..left + source.rect.width();
    new_rows(
        rect,
        |y| is_new(y * 2 - 3, y * 2 + 2),
        #[inline(always)]
        |y, out| {
            let top = y * 2 - 1;
            let mut column = vec![0.0; width * 2 + 2];
            for (i, weight) in [0.125, 0.375, 0.375, 0.125].into_iter().enumerate() {
                let y = top + i as i32;
                if (source.rect.y0..source.rect.y1).contains(&y) {
                    let sums = column[place.clone()].iter_mut().zip(source.row(y));
                    sums.for_each(
                        #[inline(always)]
                        |(sum, value)| *sum += made(*value) * weight,
                    );
                }
            }
            let pairs = column.as_chunks::<2>().0;
            for (out, ([a, b], [c, d])) in out.iter_mut().zip(pairs.iter().zip(&pairs[1..])) {
                *out = (a + d + 3.0 * (b + c)) * 0.125;
            }
        },
    )
}

impl Blurred {
    /// The pixels it stands for.
    #[must_use]
    pub fn rect(&self) -> Rect {
        match self {
            Self::Fine(mask) => mask.rect,
            Self::Coarse(coarse) => coarse.rect,
        }
    }

    /// Whether a row is known to be like the one above it.
    #[must_use]
    pub fn is_like_above(&self, y: i32) -> bool {
        match self {
            Self::Fine(mask) => mask.is_like_above(y),
            Self::Coarse(coarse) => coarse.is_like_above(y),
        }
    }

    /// Bytes of memory it takes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        match self {
            Self::Fine(mask) => mask.bytes(),
            Self::Coarse(coarse) => coarse.bytes(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Rows that are copied, because nothing new comes into them, have the bits of rows that are worked out: a stripe far to
    /// the right, which differs from row to row, leaves nothing to be copied.
    #[test]
    fn copied_rows_are_those_that_are_worked_out() {
        let rect = Rect::new(-3, 2, 77, 62);
        let mut plain = Mask::empty(rect);
        for (i, value) in plain.values_mut().iter_mut().enumerate() {
            let (x, y) = (i % rect.width(), i / rect.width());
            let edge = if y < 9 { y } else { 9 };
            *value = if x > 4 + edge && x < 40 && y != 50 { 0.1 + 0.01 * x as f32 } else { 0.0 };
        }
        let mut striped = plain.clone();
        for (y, row) in striped.values_mut().chunks_mut(rect.width()).enumerate() {
            row[rect.width() - 1] = 0.5 + 0.001 * y as f32;
        }
        let window = Rect::new(-20, -20, 50, 90);
        for sigma in [0.7, 2.0, 3.0] {
            let (a, b) = (gaussian(&plain, sigma, window), gaussian(&striped, sigma, window));
            assert!(a.values().any(|value| value > 0.0) && a == b.cropped(a.rect), "sigma {sigma}");
        }
        let (a, b) = (halved(&plain), halved(&striped));
        for y in a.rect.y0..a.rect.y1 {
            assert_eq!(a.row(y)[..36], b.row(y)[..36], "row {y}");
        }
    }
}
