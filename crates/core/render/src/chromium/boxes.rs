//! The blur browsers draw: three running means for a Gaussian, each direction rounded to 8 bits.

use crate::blend::in_255ths;
use crate::blur::box_length;
use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect};

/// Chromium blurs with no σ above this, in pixels (measured in Chromium 156).
const SOFTEST: f64 = 532.0;

/// `source` blurred as Chromium's rasteriser does it, over the pixels of `window` it reaches: three means of
/// ⌊σ·3·√(2π)/4 + ½⌋ pixels in a row, the last of them one longer where that is even (Filter Effects 1,
/// "feGaussianBlur"), rounded to 8 bits after the rows and after the columns. A σ that comes to one pixel blurs
/// nothing. Chromium 156 drew a square blurred by σ 5 and 25 alike to the last bit, and by σ 100 within 1/255.
///
/// Coverage outside `source.rect` is taken as 0.
#[must_use]
pub fn boxes(source: &Mask, sigma: f64, window: Rect) -> Mask {
    let means = RunningMeans::new(sigma);
    let rect = source.rect.grown(means.border() as i32).intersect(window);
    if rect.is_empty() || source.rect.is_empty() {
        return Mask::empty(Rect::default());
    }
    let mut across = Mask::empty(Rect::new(rect.x0, source.rect.y0, rect.x1, source.rect.y1));
    let (width, left) = (rect.width(), rect.x0 - source.rect.x0);
    for_each_row(across.values_mut(), width, |row, out| {
        means.along(source.row(source.rect.y0 + row).iter().copied(), left, out);
    });
    // Columns are turned into rows and back: neighbours in memory are read and written together.
    let (across, mut down) = (across.into_values(), vec![0.0; width * rect.height()]);
    let top = rect.y0 - source.rect.y0;
    for_each_row(&mut down, rect.height(), |x, out| {
        means.along(across.iter().skip(x as usize).step_by(width).copied(), top, out);
    });
    let mut result = Mask::empty(rect);
    for_each_row(result.values_mut(), width, |row, out| {
        for (value, out) in down.iter().skip(row as usize).step_by(rect.height()).zip(out) {
            *out = *value;
        }
    });
    result
}

/// How far [`boxes`] of a σ reach, in pixels.
#[must_use]
pub(super) fn boxes_reach(sigma: f64) -> i32 {
    RunningMeans::new(sigma).border() as i32
}

/// Three running means, one after the other.
struct RunningMeans {
    lengths: [usize; 3],
}

impl RunningMeans {
    fn new(sigma: f64) -> Self {
        let length = box_length(sigma.min(SOFTEST));
        Self { lengths: [length, length, if length.is_multiple_of(2) { length + 1 } else { length }] }
    }

    /// How far they reach to either side.
    fn border(&self) -> usize {
        self.lengths.iter().map(|length| length - 1).sum::<usize>() / 2
    }

    /// The means of a line of 8-bit values as parts of 1, from the place `first` of the line on.
    fn along(&self, line: impl Iterator<Item = f32>, first: i32, out: &mut [f32]) {
        let mut sums: Vec<u64> = line.map(|value| u64::from(in_255ths(value))).collect();
        for length in self.lengths {
            sums = running(&sums, length);
        }
        let divide = Division::by(self.lengths.iter().map(|length| *length as u64).product());
        let start = i64::from(first) + self.border() as i64;
        for (i, out) in out.iter_mut().enumerate() {
            let sum =
                usize::try_from(start + i as i64).ok().and_then(|at| sums.get(at)).copied().unwrap_or(0);
            *out = divide.rounded(sum) as f32 / 255.0;
        }
    }
}

/// Division of sums of 8-bit values, to the nearest whole one.
enum Division {
    /// As Chromium does it for the blurs of shadows: a multiplication in 32 bits after the point.
    Weight(u64),
    /// For sums of so many values that such a weight is off by more than a hundredth of a value.
    Exact(u64),
}

impl Division {
    /// Values of which the weight still is as good as exact: 2²⁴, a blur of σ 136.
    const MAX_VALUES: u64 = 1 << 24;

    fn by(count: u64) -> Self {
        if count <= Self::MAX_VALUES {
            Self::Weight(((1_u64 << 32) + count / 2) / count)
        } else {
            Self::Exact(count)
        }
    }

    fn rounded(&self, sum: u64) -> u64 {
        let value = match self {
            Self::Weight(weight) => (sum * weight + (1 << 31)) >> 32,
            Self::Exact(count) => (sum + count / 2) / count,
        };
        value.min(255)
    }
}

/// The sums of `length` neighbours, of all that touch the line.
fn running(line: &[u64], length: usize) -> Vec<u64> {
    let mut sum = 0;
    (0..line.len() + length - 1)
        .map(|at| {
            sum += line.get(at).copied().unwrap_or(0);
            if at >= length {
                sum -= line.get(at - length).copied().unwrap_or(0);
            }
            sum
        })
        .collect()
}
