//! Distances measured: each line of the outline, from all pixels of a row that it is close enough to.

use std::ops::Range;

use kurbo::{Point, Vec2};

use super::lines::{Line, is_apart, is_deep_inside, limit, signed};
use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect};
use crate::simd::widest;

/// Times that a pixel is measured, on average, in about the time it takes to be handed a line.
const WORTH: f64 = 256.0;

/// Rows whose lines are looked up together.
const BAND: i32 = 4;

/// Whether lines are measured from the pixels of a rectangle faster than handed on.
pub fn is_fast(lines: &[Line], spread: f64, rect: Rect) -> bool {
    let around = 2.0 * limit(spread);
    let pixels = |line: &Line| (line.along.x.abs() + line.along.y.abs() + around) * around;
    let all: f64 = lines.iter().map(pixels).sum();
    all <= WORTH * rect.width() as f64 * rect.height() as f64
}

/// The distances of the pixels of a silhouette's coverage from its outline, up to those that matter for a spread.
pub fn distances(mut mask: Mask, lines: &[Line], spread: f64) -> Mask {
    let limit = limit(spread);
    let mut near = Vec::with_capacity(lines.len());
    lines.iter().for_each(|line| outside(line, &mask, |part| near.push(NearLine::new(part, limit))));
    let (rect, width) = (mask.rect, mask.rect.width());
    let bands = by_bands(&near, rect);
    let farthest = (limit * limit) as f32;
    for_each_row(mask.values_mut(), width, |row, out| {
        let y = f64::from(rect.y0 + row) + 0.5;
        let mut squares = vec![f32::INFINITY; width];
        widest(
            #[inline(always)]
            || {
                for at in &bands[(row / BAND) as usize] {
                    near[*at as usize].measure((f64::from(rect.x0) + 0.5, y), &mut squares);
                }
                for (out, squared) in out.iter_mut().zip(&squares) {
                    let is_known = (*squared <= farthest) & !is_apart(*out, spread);
                    *out = signed(if is_known { *squared } else { f32::INFINITY }, *out);
                }
            },
        );
    });
    mask
}

/// Calls `take` with the parts of a line that do not run through the inside.
fn outside(line: &Line, source: &Mask, mut take: impl FnMut(Line)) {
    let Line { from, along, .. } = *line;
    let steps = (along.hypot2().sqrt() * 2.0).ceil().clamp(1.0, 1e6) as u32;
    let at = |step: u32| from + along * (f64::from(step) / f64::from(steps));
    let mut first = None;
    for step in 0..=steps {
        let point = at(step);
        match (first, is_deep_inside(source, point.x.floor() as i32, point.y.floor() as i32)) {
            (None, false) => first = Some(step),
            (Some(start), true) => {
                take(Line::from((at(start), at(step - 1))));
                first = None;
            }
            _ => {}
        }
    }
    match first {
        Some(0) => take(*line),
        Some(start) => take(Line::from((at(start), at(steps)))),
        None => {}
    }
}

/// A line and where it is near.
struct NearLine {
    from: Point,
    along: Vec2,
    share: f32,
    limit: f64,
    /// The rows that it comes close to.
    rows: Range<f64>,
}

impl NearLine {
    fn new(Line { from, along, share }: Line, limit: f64) -> Self {
        let (top, bottom) = ordered(from.y, from.y + along.y);
        Self { from, along, share: share as f32, limit, rows: top - limit..bottom + limit }
    }

    /// Keeps the squares of its distances from the pixels of a row, the first of which has its middle at a point, where no other
    /// line was closer.
    #[inline(always)]
    fn measure(&self, (x0, y): (f64, f64), squares: &mut [f32]) {
        if !self.rows.contains(&y) {
            return;
        }
        let columns = self.columns((x0, y), squares.len());
        // Counted from where the line starts, so that no place is lost in the numbers.
        let away = Point::new(x0 + columns.start as f64, y) - self.from;
        let (left, down) = (away.x as f32, away.y as f32);
        let (along, share) = ((self.along.x as f32, self.along.y as f32), self.share);
        for (i, square) in squares[columns].iter_mut().enumerate() {
            let x = left + i as i32 as f32;
            let t = ((x * along.0 + down * along.1) * share).clamp(0.0, 1.0);
            let (x, y) = (x - along.0 * t, down - along.1 * t);
            // `f32::min` minds NaN as well, for which WebAssembly has no instruction for four values at a time.
            let near = x * x + y * y;
            *square = if near < *square { near } else { *square };
        }
    }

    /// The pixels of a row that it may be close to.
    #[inline(always)]
    fn columns(&self, (x0, y): (f64, f64), width: usize) -> Range<usize> {
        let Self { from, along, limit, .. } = self;
        let at = |edge: f64| ((edge - from.y) / along.y).clamp(0.0, 1.0);
        // Of a level line all of it counts.
        let (start, end) = if along.y == 0.0 { (0.0, 1.0) } else { (at(y - limit), at(y + limit)) };
        let (left, right) = ordered(from.x + along.x * start, from.x + along.x * end);
        let column = |x: f64| (x - x0).clamp(0.0, width as f64) as usize;
        let (first, last) = (column(left - limit), column(right + limit + 1.0));
        first..last.max(first)
    }
}

/// For each band of rows of a rectangle, which lines come close to it.
fn by_bands(lines: &[NearLine], rect: Rect) -> Vec<Vec<u32>> {
    let mut bands = vec![Vec::new(); (rect.height() + 1).div_ceil(BAND as usize)];
    for (index, line) in lines.iter().enumerate() {
        let band = |y: f64| ((y - f64::from(rect.y0)) / f64::from(BAND)).floor();
        let (first, last) = (band(line.rows.start).max(0.0), band(line.rows.end));
        if last >= 0.0 {
            let near = bands.iter_mut().take(last as usize + 1).skip(first as usize);
            near.for_each(|band| band.push(index as u32));
        }
    }
    bands
}

fn ordered(a: f64, b: f64) -> (f64, f64) {
    (a.min(b), a.max(b))
}
