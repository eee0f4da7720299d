//! Distances handed on: pixels on the outline know the nearest of the lines that cross them. That line is handed on from
//! neighbour to neighbour, each pixel keeping the one it is really nearest to. Only what lies on the side that the outline moves
//! to, and no farther than it moves, takes part.

use super::lines::{Line, is_apart, is_deep_inside, limit, middle, signed};
use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect};

/// No line is known yet.
const NONE: u32 = u32::MAX;
/// In the place of the square of a distance: none is asked for.
const APART: f32 = -1.0;

/// The distances of the pixels of a silhouette's coverage from its outline, up to those that matter for a spread.
pub fn distances(mut mask: Mask, lines: &[Line], spread: f64) -> Mask {
    let nearest = Field::new(&mask, lines, spread).settle();
    let (rect, width) = (mask.rect, mask.rect.width());
    for_each_row(mask.values_mut(), width, |row, out| {
        let first = nearest.at(rect.x0, rect.y0 + row);
        for (out, squared) in out.iter_mut().zip(&nearest.best[first..first + width]) {
            *out = signed(if *squared < 0.0 { f32::INFINITY } else { *squared }, *out);
        }
    });
    mask
}

/// The nearest edge point of each pixel of a rectangle, and of one more all around it.
struct Field<'a> {
    rect: Rect,
    stride: usize,
    lines: &'a [Line],
    /// The nearest known line of each pixel.
    line: Vec<u32>,
    /// The square of its distance; below 0 for pixels that take no part, wholly on the side that the outline moves away
    /// from.
    best: Vec<f32>,
    /// The square of the largest distance that matters.
    limit: f32,
    /// Pixels that a line was handed to last.
    front: Vec<(i32, i32)>,
}

impl<'a> Field<'a> {
    fn new(source: &Mask, lines: &'a [Line], spread: f64) -> Self {
        let (rect, stride) = (source.rect, source.rect.width() + 2);
        let count = stride * (rect.height() + 2);
        let limit = (limit(spread) * limit(spread)) as f32;
        let (line, best) = (vec![NONE; count], vec![APART; count]);
        let mut field = Self { rect, stride, lines, line, best, limit, front: Vec::new() };
        for y in rect.y0..rect.y1 {
            let first = field.at(rect.x0, y);
            for (best, coverage) in field.best[first..].iter_mut().zip(source.row(y)) {
                *best = if is_apart(*coverage, spread) { APART } else { f32::INFINITY };
            }
        }
        for index in 0..lines.len() {
            field.seed(source, index as u32);
        }
        field
    }

    /// Gives a line to the pixels it crosses, unless it runs through the inside (where contours overlap).
    fn seed(&mut self, source: &Mask, index: u32) {
        let Line { from, along, .. } = self.lines[index as usize];
        let steps = (along.hypot2().sqrt() * 2.0).ceil().clamp(1.0, 1e6) as u32;
        for step in 0..=steps {
            let point = from + along * (f64::from(step) / f64::from(steps));
            let (x, y) = (point.x.floor() as i32, point.y.floor() as i32);
            if is_deep_inside(source, x, y) {
                continue;
            }
            for (x, y) in [(x, y), (x - 1, y), (x + 1, y), (x, y - 1), (x, y + 1)] {
                let Rect { x0, y0, x1, y1 } = self.rect;
                if x0 <= x && x < x1 && y0 <= y && y < y1 {
                    self.offer(index, x, y);
                }
            }
        }
    }

    /// Hands lines on, from the pixels that got one last to their neighbours, until none gets a nearer one.
    fn settle(mut self) -> Self {
        let around = [(-1, -1), (0, -1), (1, -1), (-1, 0), (1, 0), (-1, 1), (0, 1), (1, 1)];
        while !self.front.is_empty() {
            for (x, y) in std::mem::take(&mut self.front) {
                let line = self.line[self.at(x, y)];
                for (dx, dy) in around {
                    if self.line[self.at(x + dx, y + dy)] != line {
                        self.offer(line, x + dx, y + dy);
                    }
                }
            }
        }
        self
    }

    #[inline]
    fn offer(&mut self, line: u32, x: i32, y: i32) {
        let i = self.at(x, y);
        if self.best[i] < 0.0 {
            return;
        }
        let squared = self.lines[line as usize].squared(middle(x, y)) as f32;
        if squared < self.best[i] && squared <= self.limit {
            (self.best[i], self.line[i]) = (squared, line);
            self.front.push((x, y));
        }
    }

    /// Where a pixel is, counted from the corner of the one around the rectangle.
    #[inline]
    fn at(&self, x: i32, y: i32) -> usize {
        (y - self.rect.y0 + 1) as usize * self.stride + (x - self.rect.x0 + 1) as usize
    }
}
