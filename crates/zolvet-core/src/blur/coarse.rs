//! Wide blurs in cells of several pixels, read back a row at a time.

use std::ops::Range;

use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect};
use crate::simd::widest;

/// Pixels read at a time.
const LANES: i32 = 8;

/// A value of each of them.
type Eight = [f32; LANES as usize];

/// Coverage of cells of several pixels each, read through a cubic B-spline.
#[derive(Debug, Clone, PartialEq)]
pub struct Coarse {
    /// The pixels it stands for.
    pub rect: Rect,
    cells: Mask,
    cell: i32,
}

/// What a coarse blur is read through: it may be moved by parts of a pixel, so that a shadow that moves is not blurred anew.
#[derive(Debug, Clone, PartialEq)]
pub struct Spline {
    /// For each phase of a row: the first of four cells counted from its own, and their weights.
    down: Vec<(i32, [f32; 4])>,
    across: Across,
}

/// Room to work out a row in.
#[derive(Debug, Default)]
pub struct Room {
    cells: Vec<f32>,
    pixels: Vec<f32>,
}

/// Weights along a row, for eight pixels at a time.
#[derive(Debug, Clone, PartialEq)]
struct Across {
    /// Pixels after which the weights recur: a cell, or several small ones.
    block: i32,
    /// Cells that eight pixels are read from.
    taps: usize,
    /// For each eight pixels of a block, the first of those cells, counted from two before the block's own.
    first: Vec<usize>,
    /// For each eight pixels of a block, the weights of each tap.
    weights: Vec<Eight>,
}

impl Coarse {
    pub(super) fn new(rect: Rect, cells: Mask, cell: i32) -> Self {
        Self { rect, cells, cell }
    }

    /// What it is read through when it is moved right and down by parts of a pixel, each from 0 up to 1.
    #[must_use]
    pub fn spline(&self, (right, down): (f64, f64)) -> Spline {
        let weights = |moved: f64| {
            (0..self.cell).map(|phase| spline_weights(phase, moved, self.cell)).collect::<Vec<_>>()
        };
        Spline { down: weights(down), across: Across::new(&weights(right), self.cell) }
    }

    /// The coverage of a row of `width` pixels from `x0` on, all of them within [`Self::rect`], read through one of its splines.
    pub fn read<'a>(
        &self,
        spline: &Spline,
        (y, x0): (i32, i32),
        width: usize,
        room: &'a mut Room,
    ) -> &'a [f32] {
        let (x1, across) = (x0 + width as i32, &spline.across);
        // Blocks and cells are powers of two pixels wide.
        let shift = across.block.trailing_zeros();
        let (first, last) = (x0 >> shift, (x1 - 1) >> shift);
        let per_block = across.block >> self.cell.trailing_zeros();
        room.pixels.resize((((last - first) + 1) << shift) as usize, 0.0);
        widest(
            #[inline(always)]
            || {
                let cells = first * per_block - 2..(last + 1) * per_block + 2;
                self.gather(&spline.down, y, cells, &mut room.cells);
                across.read(&room.cells, per_block as usize, &mut room.pixels);
            },
        );
        let start = (x0 - (first << shift)) as usize;
        &room.pixels[start..start + width]
    }

    /// These cells at a row of pixels; 0 where there are none.
    #[inline(always)]
    fn gather(&self, down: &[(i32, [f32; 4])], y: i32, wanted: Range<i32>, line: &mut Vec<f32>) {
        let (first, weights) = &down[y.rem_euclid(self.cell) as usize];
        let top = y.div_euclid(self.cell) + first;
        line.clear();
        line.resize(wanted.len(), 0.0);
        let (rect, from) = (self.cells.rect, wanted.start);
        let (left, right) = (from.max(rect.x0), wanted.end.min(rect.x1));
        if left >= right {
            return;
        }
        let part = (left - rect.x0) as usize..(right - rect.x0) as usize;
        let out = &mut line[(left - from) as usize..(right - from) as usize];
        for (i, weight) in weights.iter().enumerate() {
            let row = &self.cells.row(top + i as i32)[part.clone()];
            for (out, cell) in out.iter_mut().zip(row) {
                *out += cell * weight;
            }
        }
    }

    /// Every pixel.
    #[must_use]
    pub fn all(&self) -> Mask {
        let (mut mask, spline) = (Mask::empty(self.rect), self.spline((0.0, 0.0)));
        for_each_row(&mut mask.data, self.rect.width(), |row, out| {
            let at = (self.rect.y0 + row, self.rect.x0);
            out.copy_from_slice(self.read(&spline, at, out.len(), &mut Room::default()));
        });
        mask
    }

    pub(super) fn bytes(&self) -> usize {
        size_of_val(self.cells.data.as_slice())
    }
}

impl Across {
    fn new(phases: &[(i32, [f32; 4])], cell: i32) -> Self {
        let block = cell.max(LANES);
        let tap = |x: i32| x / cell + phases[x.rem_euclid(cell) as usize].0 + 2;
        let starts = || (0..block).step_by(LANES as usize);
        // Eight pixels of one half of a cell share four cells; others are spread over more.
        let taps = starts().map(|x| tap(x + LANES - 1) - tap(x) + 4).max().unwrap_or(4) as usize;
        let taps = if taps > 6 { 8 } else { taps };
        let last = (block / cell + 4) as usize;
        let first: Vec<usize> = starts().map(|x| (tap(x) as usize).min(last - taps)).collect();
        let mut weights = Vec::new();
        for (start, first) in starts().zip(&first) {
            let mut eight = vec![[0.0; LANES as usize]; taps];
            for lane in 0..LANES {
                let x = start + lane;
                let (_, own) = &phases[x.rem_euclid(cell) as usize];
                for (i, weight) in own.iter().enumerate() {
                    eight[tap(x) as usize + i - first][lane as usize] = *weight;
                }
            }
            weights.extend(eight);
        }
        Self { block, taps, first, weights }
    }

    /// Whole blocks of pixels from the cells around them.
    #[inline(always)]
    fn read(&self, cells: &[f32], per_block: usize, pixels: &mut [f32]) {
        for (number, (first, weights)) in self.first.iter().zip(self.weights.chunks(self.taps)).enumerate() {
            let blocks = (&cells[*first..], per_block, self.block as usize);
            let pixels = &mut pixels[number * LANES as usize..];
            match self.taps {
                4 => read_eights::<4>(weights, blocks, pixels),
                5 => read_eights::<5>(weights, blocks, pixels),
                6 => read_eights::<6>(weights, blocks, pixels),
                _ => read_eights::<8>(weights, blocks, pixels),
            }
        }
    }
}

/// Eight pixels of every block, each from `TAPS` cells.
#[inline(always)]
fn read_eights<const TAPS: usize>(
    weights: &[Eight],
    (cells, per_block, block): (&[f32], usize, usize),
    pixels: &mut [f32],
) {
    let Some(weights) = weights.first_chunk::<TAPS>() else { return };
    for (pixels, cells) in pixels.chunks_mut(block).zip(cells.windows(TAPS).step_by(per_block)) {
        let (Some(pixels), Some(cells)) = (pixels.first_chunk_mut(), cells.first_chunk::<TAPS>()) else {
            return;
        };
        let mut sum: Eight = [0.0; LANES as usize];
        for (cell, weights) in cells.iter().zip(weights) {
            sum = std::array::from_fn(|lane| sum[lane] + cell * weights[lane]);
        }
        *pixels = sum;
    }
}

/// The first of four cells, relative to the pixel's own, and the uniform cubic B-spline's weights on them, for what is moved by
/// a part of a pixel. Cells are two pixels at least, so that the first is one or two before the pixel's own.
fn spline_weights(phase: i32, moved: f64, cell: i32) -> (i32, [f32; 4]) {
    let at = (f64::from(phase) + 0.5 - moved) / f64::from(cell) - 0.5;
    let base = at.floor();
    let (t, rest) = (at - base, 1.0 - at + base);
    let weights = [
        rest * rest * rest / 6.0,
        (3.0 * t * t * t - 6.0 * t * t + 4.0) / 6.0,
        (-3.0 * t * t * t + 3.0 * t * t + 3.0 * t + 1.0) / 6.0,
        t * t * t / 6.0,
    ];
    (base as i32 - 1, weights.map(|weight| weight as f32))
}
