//! Sharp steps of a picture between neighbouring pixels.
//!
//! A step counts by how much it is greater than those beside it: shadows are smooth, and what belongs to an edge is not.

use super::pixels::{Colour, Pixels};

/// The steps along one axis, summed from the picture's edge on, so that those of a line are told at once.
pub struct Steps {
    /// How many lines between pixels, and how long each is.
    pub lines: usize,
    pub length: usize,
    sums: Vec<Colour>,
}

impl Steps {
    /// Between columns.
    pub fn across(pixels: &Pixels) -> Self {
        Self::new(pixels.width, pixels.height, |line, along| pixels.at(line, along))
    }

    /// Between rows.
    pub fn down(pixels: &Pixels) -> Self {
        Self::new(pixels.height, pixels.width, |line, along| pixels.at(along, line))
    }

    fn new(lines: usize, length: usize, at: impl Fn(i64, i64) -> Colour) -> Self {
        let mut sums = vec![[0.0; 3]; lines * (length + 1)];
        let mut steps = vec![[0.0; 3]; lines];
        for along in 0..length {
            for (line, step) in steps.iter_mut().enumerate() {
                let pixels = [-3, -2, -1, 0, 1, 2].map(|by| at(line as i64 + by, along as i64));
                *step = sharp_step(&pixels);
            }
            for line in 1..lines {
                let own = squared(steps[line]);
                let beside = line.saturating_sub(2)..(line + 3).min(lines);
                let is_peak =
                    own > 0.0 && beside.map(|other| squared(steps[other])).all(|other| other <= own);
                let place = line * (length + 1) + along;
                let share = if is_peak { (MOST / own.sqrt()).min(1.0) } else { 0.0 };
                let sum = sums[place];
                sums[place + 1] = std::array::from_fn(|channel| sum[channel] + share * steps[line][channel]);
            }
        }
        Self { lines, length, sums }
    }

    /// The sum of a line's steps between two places.
    fn sum(&self, line: usize, from: usize, to: usize) -> Colour {
        let row = line * (self.length + 1);
        let (from, to) = (self.sums[row + from], self.sums[row + to]);
        std::array::from_fn(|channel| to[channel] - from[channel])
    }

    /// How much a part of a line is an edge: the square of its steps' sum, for each of its pixels.
    pub fn energy(&self, line: f64, from: f64, to: f64) -> f64 {
        let (from, to) = (from.round().max(0.0) as usize, (to.round().max(0.0) as usize).min(self.length));
        let line = line.round().max(0.0) as usize;
        if line >= self.lines || from >= to {
            return 0.0;
        }
        squared(self.sum(line, from, to)) / (to - from) as f64
    }

    /// The lines that are most like an edge somewhere along them, the best first.
    pub fn edges(&self, most: usize) -> Vec<usize> {
        let block = BLOCK.max(self.length / BLOCKS);
        let blocks = self.length.div_ceil(block);
        let end = |number: usize| (number * block).min(self.length);
        let best = |line: usize| {
            let mut best: f64 = 0.0;
            for from in 0..blocks {
                for to in from + 1..=blocks {
                    let (from, to) = (end(from), end(to));
                    best = best.max(squared(self.sum(line, from, to)) / (to - from) as f64);
                }
            }
            best
        };
        let energies: Vec<f64> = (0..self.lines).map(best).collect();
        let is_peak = |line: &usize| {
            let beside = [line.checked_sub(1), Some(line + 1)].into_iter().flatten();
            let beside = beside.filter_map(|other| energies.get(other)).copied().fold(0.0, f64::max);
            energies[*line] > 0.0 && energies[*line] >= beside
        };
        let mut peaks: Vec<usize> = (0..self.lines).filter(is_peak).collect();
        peaks.sort_by(|a, b| energies[*b].total_cmp(&energies[*a]));
        peaks.truncate(most);
        peaks
    }
}

/// What a step is told by, from pixels before and after it: it is 1 for a step of 1 between two of them, and 0.08 for one that
/// is blurred by one pixel (the steps d from pixel to pixel as d₀ − ⅔·(d₋₁ + d₁) + ⅙·(d₋₂ + d₂)).
const FILTER: [f64; 6] = [-1.0 / 6.0, 5.0 / 6.0, -5.0 / 3.0, 5.0 / 3.0, -5.0 / 6.0, 1.0 / 6.0];

/// A greater step counts no more than this: what matters is how long an edge is.
const MOST: f64 = 14.0 / 255.0;
/// The share of the difference between two pixels that is a step of an edge; less of it is a slope.
const SHARP: f64 = 0.35;

/// The step between the middle two of six pixels in a row, as far as it is none of a slope.
fn sharp_step(pixels: &[Colour; 6]) -> Colour {
    let step: Colour = std::array::from_fn(|channel| {
        FILTER.iter().zip(pixels).map(|(share, pixel)| share * pixel[channel]).sum()
    });
    let whole: Colour = std::array::from_fn(|channel| pixels[3][channel] - pixels[2][channel]);
    if squared(step) < SHARP * SHARP * squared(whole) { [0.0; 3] } else { step }
}

/// Pixels of a line that are looked at together.
const BLOCK: usize = 6;
/// About the most of them on a line.
const BLOCKS: usize = 120;

fn squared(colour: Colour) -> f64 {
    colour.into_iter().map(|channel| channel * channel).sum()
}
