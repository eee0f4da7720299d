//! Spread of any silhouette: a true Euclidean offset of its outline, from a distance field.
//!
//! Pixels on the outline know the nearest of the lines that cross them. That line is handed on from neighbour to
//! neighbour, each pixel keeping the one it is really nearest to, so the distances are those to the outline itself and
//! not to pixel centres. Only what lies on the side that the outline moves to, and no farther than it moves, takes part.

use kurbo::{Affine, BezPath, Point, Vec2};

use super::{Mask, Rect, flatten, rasterize};
use crate::parallel::for_each_row;
use crate::simd::widest;

/// No line is known yet.
const NONE: u32 = u32::MAX;
/// In the place of the square of a distance: none is asked for.
const APART: f32 = -1.0;
/// Pixels past the moved outline whose distances are known too, so that lines are handed on to all that count.
const MARGIN: f64 = 3.0;

/// How far pixels are from an outline, as [`distances`] has them up to `spread`, made coverage of the outline moved
/// outwards by that.
#[must_use]
pub fn moved_outline(distances: &Mask, spread: f64, window: Rect) -> Mask {
    let mut mask = distances.cropped(distances.rect.intersect(window));
    let (width, edge) = (mask.rect.width(), 0.5 + spread as f32);
    for_each_row(mask.values_mut(), width, |_, row| {
        widest(
            #[inline(always)]
            || row.iter_mut().for_each(|value| *value = (edge - *value).clamp(0.0, 1.0)),
        );
    });
    mask
}

/// How far the middles of pixels are from an outline, those inside negative, as far as matters for moving it by up to
/// `spread`; infinite beyond.
#[must_use]
pub fn distances(outline: &BezPath, transform: Affine, spread: f64, window: Rect) -> Mask {
    let reach = spread.abs().ceil() as i32 + 2;
    let source = rasterize(outline, transform, window.grown(reach));
    if source.rect.is_empty() {
        return source;
    }
    // Distances propagate only between the outline and the requested pixels.
    let rect = source.rect.grown(2).around_both(source.rect.grown(reach).intersect(window));
    let lines: Vec<Line> = flatten(outline, transform).into_iter().map(Line::from).collect();
    let mut mask = source.cropped(rect);
    let nearest = Field::new(&mask, &lines, spread).settle();
    let width = rect.width();
    for_each_row(mask.values_mut(), width, |row, out| {
        let first = nearest.at(rect.x0, rect.y0 + row);
        for (out, squared) in out.iter_mut().zip(&nearest.best[first..first + width]) {
            let distance = if *squared < 0.0 { f32::INFINITY } else { squared.sqrt() };
            *out = if *out > 0.5 { -distance } else { distance };
        }
    });
    mask
}

/// The next of the distances that are worked out together: what reaches less far shares them.
#[must_use]
pub fn shared_reach(spread: f64) -> f64 {
    let mut reach = LEAST_REACH;
    while reach < spread.abs() {
        reach *= 2.0;
    }
    let reach = if reach > LEAST_REACH && spread.abs() <= 0.75 * reach { 0.75 * reach } else { reach };
    reach.copysign(spread)
}

/// The smallest distance that is worked out for several outlines.
const LEAST_REACH: f64 = 4.0;

/// A line of the outline.
#[derive(Clone, Copy)]
struct Line {
    from: Point,
    along: Vec2,
    /// One by the square of its length; 0 for a point.
    share: f64,
}

impl From<(Point, Point)> for Line {
    fn from((from, to): (Point, Point)) -> Self {
        let along = to - from;
        let squared = along.hypot2();
        Self { from, along, share: if squared > 0.0 { 1.0 / squared } else { 0.0 } }
    }
}

impl Line {
    /// The square of its distance from a point.
    #[inline]
    fn squared(&self, point: Point) -> f64 {
        let away = point - self.from;
        let t = (away.dot(self.along) * self.share).clamp(0.0, 1.0);
        (away - self.along * t).hypot2()
    }
}

/// What is nearest to each pixel of a rectangle, and of one more all around it.
struct Field<'a> {
    rect: Rect,
    stride: usize,
    lines: &'a [Line],
    /// The nearest known line of each pixel.
    line: Vec<u32>,
    /// The square of its distance; below 0 what takes no part, wholly on the side that the outline moves away from.
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
        let limit = ((spread.abs() + MARGIN) * (spread.abs() + MARGIN)) as f32;
        let (line, best) = (vec![NONE; count], vec![APART; count]);
        let mut field = Self { rect, stride, lines, line, best, limit, front: Vec::new() };
        for y in rect.y0..rect.y1 {
            let first = field.at(rect.x0, y);
            for (best, coverage) in field.best[first..].iter_mut().zip(source.row(y)) {
                let is_apart = if spread > 0.0 { *coverage >= 1.0 } else { *coverage <= 0.0 };
                *best = if is_apart { APART } else { f32::INFINITY };
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

fn middle(x: i32, y: i32) -> Point {
    Point::new(f64::from(x) + 0.5, f64::from(y) + 0.5)
}

fn is_deep_inside(source: &Mask, x: i32, y: i32) -> bool {
    (-1..=1).all(|dy| (-1..=1).all(|dx| source.at(x + dx, y + dy) >= 0.999))
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::{Circle, Shape};

    /// Coverage of an outline grown (or, negative, shrunk) by `spread` device pixels.
    fn offset_coverage(outline: &BezPath, spread: f64) -> Mask {
        moved_outline(&distances(outline, Affine::IDENTITY, spread, WINDOW), spread, WINDOW)
    }

    const WINDOW: Rect = Rect { x0: -60, y0: -60, x1: 60, y1: 60 };

    /// A circle's Euclidean offset is a circle: closed form, both ways.
    #[test]
    fn a_spread_circle_is_a_circle() {
        for (radius, spread) in [(20.0, 7.5), (20.0, 0.4), (20.0, -6.25), (3.0, 30.0)] {
            let circle = |r: f64| Circle::new((0.3, -0.2), r).to_path(0.001);
            let found = offset_coverage(&circle(radius), spread);
            let exact = rasterize(&circle(radius + spread), Affine::IDENTITY, WINDOW);
            for y in WINDOW.y0..WINDOW.y1 {
                for x in WINDOW.x0..WINDOW.x1 {
                    let error = (found.at(x, y) - exact.at(x, y)).abs();
                    assert!(error < 0.12, "radius {radius} spread {spread} at {x},{y}: {error}");
                }
            }
        }
    }

    /// Brute force over every line, for an outline with a dent and overlapping contours.
    #[test]
    fn distances_equal_brute_force() {
        let mut outline = BezPath::from_svg("M-30-20 L0 0 L30-20 L30 20 L-30 20 Z").expect("path data");
        outline.extend(kurbo::Rect::new(-20.0, 5.0, 20.0, 40.0).to_path(0.1));
        let lines: Vec<Line> = flatten(&outline, Affine::IDENTITY).into_iter().map(Line::from).collect();
        let source = rasterize(&outline, Affine::IDENTITY, WINDOW);
        for spread in [9.0, 4.5] {
            let found = offset_coverage(&outline, spread);
            for y in -55..55 {
                for x in -55..55 {
                    let all = lines.iter().map(|line| line.squared(middle(x, y)).sqrt());
                    let nearest = all.fold(f64::MAX, f64::min);
                    let signed = if source.at(x, y) > 0.5 { -nearest } else { nearest };
                    let exact = (0.5 + spread - signed).clamp(0.0, 1.0) as f32;
                    assert!((found.at(x, y) - exact).abs() < 0.02, "{spread} at {x},{y}");
                }
            }
        }
    }

    /// Distances that reach farther than a spread give the same outline as those that reach as far.
    #[test]
    fn spreads_share_distances() {
        let outline = BezPath::from_svg("M-30-20 L0 0 L30-20 L24.5 22 L-30 20 Z").expect("path data");
        for spread in [0.3, 2.5, 4.0, 4.1, 6.0, 7.9, 11.5, -0.7, -3.0, -5.5] {
            let reach = shared_reach(spread);
            assert!(reach.abs() >= spread.abs() && reach.abs() <= (1.5 * spread.abs()).max(4.0));
            let shared = distances(&outline, Affine::IDENTITY, reach, WINDOW);
            let (shared, own) = (moved_outline(&shared, spread, WINDOW), offset_coverage(&outline, spread));
            for y in WINDOW.y0..WINDOW.y1 {
                for x in WINDOW.x0..WINDOW.x1 {
                    assert!((shared.at(x, y) - own.at(x, y)).abs() < 0.01, "{spread} at {x},{y}");
                }
            }
        }
    }

    #[test]
    fn shrunk_past_its_middle_nothing_is_left() {
        let path = Circle::new((0.0, 0.0), 5.0).to_path(0.01);
        let mask = offset_coverage(&path, -8.0);
        assert!(mask.values().all(|coverage| coverage == 0.0));
    }
}
