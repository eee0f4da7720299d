//! Wide blurs in cells of several pixels, read back a row at a time.

use std::ops::Range;

use kurbo::Vec2;

use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect, RowStart};
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

/// The sampling kernel of a coarse blur: it may be moved by parts of a pixel, so that a shadow that moves is not
/// blurred anew.
#[derive(Debug, Clone, PartialEq)]
pub struct Spline {
    /// For each phase of a row: the first of four cells counted from its own, and their weights.
    down: Vec<(i32, [f32; 4])>,
    across: RowWeights,
}

/// Memory to work out a row in.
#[derive(Debug, Default)]
pub struct Scratch {
    cells: Vec<f32>,
    pixels: Vec<f32>,
}

/// How much goes through each pixel of a row, from 0 to 1.
#[derive(Debug, Default)]
pub struct Transmittance {
    /// With a margin on either side.
    values: Vec<f32>,
}

impl Transmittance {
    /// Pixels in the same eight as one of the row's.
    const MARGIN: usize = LANES as usize;

    /// All of it goes through `width` pixels.
    pub fn clear(&mut self, width: usize) {
        self.values.clear();
        self.values.resize(width + 2 * Self::MARGIN, 1.0);
    }

    /// The pixels of the row.
    pub fn pixels(&mut self) -> &mut [f32] {
        let end = self.values.len().saturating_sub(Self::MARGIN);
        self.values.get_mut(Self::MARGIN..end).unwrap_or_default()
    }
}

/// Weights along a row, for eight pixels at a time.
#[derive(Debug, Clone, PartialEq)]
struct RowWeights {
    /// Pixels after which the weights recur: a cell, or several small ones.
    block: i32,
    /// As cells.
    per_block: usize,
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

    /// The pixels it is read at: whole eights of them.
    #[must_use]
    pub fn read_at(&self) -> Rect {
        eights_around(self.rect)
    }

    /// The sampling kernel for a move right and down by parts of a pixel, each from 0 up to 1.
    #[must_use]
    pub fn spline(&self, moved: Vec2) -> Spline {
        let weights = |moved: f64| {
            (0..self.cell).map(|phase| spline_weights(phase, moved, self.cell)).collect::<Vec<_>>()
        };
        Spline { down: weights(moved.y), across: RowWeights::new(&weights(moved.x), self.cell) }
    }

    /// The coverage of a row of `width` pixels from `x0` on, all of them within [`Self::read_at`], read through one of its splines.
    pub fn read<'a>(
        &self,
        spline: &Spline,
        RowStart { y, x0 }: RowStart,
        width: usize,
        room: &'a mut Scratch,
    ) -> &'a [f32] {
        let Scratch { cells, pixels } = room;
        let before = x0.rem_euclid(LANES);
        pixels.clear();
        pixels.resize(whole_eights(before as usize + width), 0.0);
        self.along(spline, RowStart { y, x0: x0 - before }, (pixels, cells), |_, covered| covered);
        &pixels[before as usize..before as usize + width]
    }

    /// Takes off what goes through pixels of a row what an opacity of its coverage holds back. The first of `columns` of them
    /// lies at `x0` here. Up to seven to either side take part where that is within the same eight pixels.
    pub fn fade(
        &self,
        spline: &Spline,
        RowStart { y, x0 }: RowStart,
        (through, columns): (&mut Transmittance, Range<usize>),
        alpha: f32,
        room: &mut Scratch,
    ) {
        let before = x0.rem_euclid(LANES);
        let start = Transmittance::MARGIN + columns.start - before as usize;
        let length = whole_eights(before as usize + columns.len());
        self.along(
            spline,
            RowStart { y, x0: x0 - before },
            (&mut through.values[start..start + length], &mut room.cells),
            #[inline(always)]
            |through, covered| through * (1.0 - alpha * covered),
        );
    }

    /// Mixes the coverage of a row into whole eights of pixels; those that nothing covers stay as they are.
    #[inline(always)]
    fn along(
        &self,
        spline: &Spline,
        RowStart { y, x0 }: RowStart,
        (pixels, line): (&mut [f32], &mut Vec<f32>),
        mix: impl Fn(f32, f32) -> f32,
    ) {
        let (across, x1) = (&spline.across, x0 + pixels.len() as i32);
        // Blocks and cells are powers of two pixels wide.
        let shift = across.block.trailing_zeros();
        let (first, last) = (x0 >> shift, (x1 - 1) >> shift);
        let per_block = across.per_block as i32;
        let left = first * per_block - 2;
        widest(
            #[inline(always)]
            || {
                self.gather(&spline.down, y, left..(last + 1) * per_block + 2, line);
                let is_some = |cell: &f32| *cell != 0.0;
                let (Some(start), Some(end)) =
                    (line.iter().position(is_some), line.iter().rposition(is_some))
                else {
                    return;
                };
                // Pixels are read from two cells before their own at the most, and two past it.
                let from = ((left + start as i32 - 2) * self.cell).max(x0) & -LANES;
                let to = ((left + end as i32 + 3) * self.cell).min(x1);
                if from >= to {
                    return;
                }
                let block = from >> shift;
                let cells = &line[((block - first) * per_block) as usize..];
                let covered = (from - x0) as usize..whole_eights((to - x0) as usize);
                across.read(cells, (from - (block << shift)) / LANES, &mut pixels[covered], mix);
            },
        );
    }

    /// These cells at a row of pixels; 0 where there are none.
    #[inline(always)]
    fn gather(&self, down: &[(i32, [f32; 4])], y: i32, wanted: Range<i32>, line: &mut Vec<f32>) {
        let (first, [a, b, c, d]) = down[y.rem_euclid(self.cell) as usize];
        let top = y.div_euclid(self.cell) + first;
        line.clear();
        line.resize(whole_eights(wanted.len()), 0.0);
        // A few cells more, so that none is left for the slow end of a loop.
        let (rect, from) = (self.cells.rect, wanted.start);
        let (left, right) = (from.max(rect.x0), (from + line.len() as i32).min(rect.x1));
        if left >= right {
            return;
        }
        let part = (left - rect.x0) as usize..(right - rect.x0) as usize;
        let row = |down: i32| &self.cells.row(top + down)[part.clone()];
        let out = &mut line[(left - from) as usize..(right - from) as usize];
        if (1..4).all(|down| self.cells.is_like_above(top + down)) {
            return out.copy_from_slice(row(0));
        }
        let above = row(0).iter().zip(row(1));
        let below = row(2).iter().zip(row(3));
        for (out, ((first, second), (third, fourth))) in out.iter_mut().zip(above.zip(below)) {
            *out = first * a + second * b + third * c + fourth * d;
        }
    }

    /// Whether a row is known to be like the one above it, however it is moved.
    pub(super) fn is_like_above(&self, y: i32) -> bool {
        // Moved by parts of a pixel, either is read from cells two before its own at the most, and two past it.
        let (first, last) = ((y - 1).div_euclid(self.cell) - 2, y.div_euclid(self.cell) + 2);
        (first + 1..=last).all(|cell| self.cells.is_like_above(cell))
    }

    /// Whether the pixels of a rectangle are read from cells that are alike in another: moved by the same parts of a pixel, they are
    /// alike.
    #[must_use]
    pub fn is_like(&self, other: &Self, pixels: Rect) -> bool {
        let cell = |at: i32| at.div_euclid(self.cell);
        let (first, last) = (cell(pixels.x0) - 2, cell(pixels.x1 - 1) + 2);
        let mut rows = cell(pixels.y0) - 2..=cell(pixels.y1 - 1) + 2;
        let width = (last - first + 1) as usize;
        self.cell == other.cell
            && rows.all(|y| self.cells.span(y, first, width) == other.cells.span(y, first, width))
    }

    /// Every pixel.
    #[must_use]
    pub fn all(&self) -> Mask {
        let (mut mask, spline) = (Mask::empty(self.rect), self.spline(Vec2::ZERO));
        for_each_row(mask.values_mut(), self.rect.width(), |row, out| {
            let at = RowStart { y: self.rect.y0 + row, x0: self.rect.x0 };
            out.copy_from_slice(self.read(&spline, at, out.len(), &mut Scratch::default()));
        });
        mask
    }

    pub(super) fn bytes(&self) -> usize {
        self.cells.bytes()
    }
}

impl RowWeights {
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
        Self { block, per_block: (block / cell) as usize, taps, first, weights }
    }

    /// Eights of pixels from the cells around them; the first is the block's `start`th.
    #[inline(always)]
    fn read(&self, cells: &[f32], start: i32, pixels: &mut [f32], mix: impl Fn(f32, f32) -> f32) {
        match self.taps {
            4 => self.read_eights::<4>(cells, start as usize, pixels, mix),
            5 => self.read_eights::<5>(cells, start as usize, pixels, mix),
            6 => self.read_eights::<6>(cells, start as usize, pixels, mix),
            _ => self.read_eights::<8>(cells, start as usize, pixels, mix),
        }
    }

    /// Each from `TAPS` cells.
    #[inline(always)]
    fn read_eights<const TAPS: usize>(
        &self,
        cells: &[f32],
        start: usize,
        pixels: &mut [f32],
        mix: impl Fn(f32, f32) -> f32,
    ) {
        let eights = pixels.as_chunks_mut::<{ LANES as usize }>().0.iter_mut();
        let mix = |out: &mut Eight, covered: Eight| {
            *out = std::array::from_fn(|lane| mix(out[lane], covered[lane]));
        };
        if let (&[first], Some(weights)) = (self.first.as_slice(), self.weights.first_chunk::<TAPS>()) {
            // The same weights for all of them.
            for (out, cells) in eights.zip(cells[first..].windows(TAPS).step_by(self.per_block)) {
                mix(out, eight::<TAPS>(cells, weights));
            }
            return;
        }
        let (mut own, mut block) = (start, 0);
        for out in eights {
            mix(out, eight::<TAPS>(&cells[block + self.first[own]..], &self.weights[own * TAPS..]));
            own += 1;
            if own == self.first.len() {
                (own, block) = (0, block + self.per_block);
            }
        }
    }
}

/// Grown to the left and right to whole eights of pixels.
pub fn eights_around(rect: Rect) -> Rect {
    let down = |x: i32| x.div_euclid(LANES) * LANES;
    Rect { x0: down(rect.x0), x1: down(rect.x1.saturating_add(LANES - 1)), ..rect }
}

fn whole_eights(pixels: usize) -> usize {
    pixels.next_multiple_of(LANES as usize)
}

/// The coverage of eight pixels from so many cells.
#[inline(always)]
fn eight<const TAPS: usize>(cells: &[f32], weights: &[Eight]) -> Eight {
    let mut sum: Eight = [0.0; LANES as usize];
    if let (Some(cells), Some(weights)) = (cells.first_chunk::<TAPS>(), weights.first_chunk::<TAPS>()) {
        for (cell, weights) in cells.iter().zip(weights) {
            sum = std::array::from_fn(|lane| sum[lane] + cell * weights[lane]);
        }
    }
    sum
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
