//! Spread of any silhouette: a true Euclidean offset of its outline, from a distance field.
//!
//! Pixels on the outline know the nearest of the lines that cross them. Two sweeps hand that line on from
//! neighbour to neighbour, each pixel keeping the one it is really nearest to, so the distances are those to the
//! outline itself and not to pixel centres. Only what lies on the side that the outline moves to, and no farther than it
//! moves, takes part.

use kurbo::{Affine, BezPath, Point, Vec2};

use super::{Mask, Rect, flatten, rasterize};

/// No line is known yet.
const NONE: u32 = u32::MAX;
/// Pixels past the moved outline whose distances are known too, so that lines are handed on to all that count.
const MARGIN: f64 = 3.0;

/// Coverage of `outline` grown (or, negative, shrunk) by `spread` device pixels, corners rounded.
#[must_use]
pub fn offset_coverage(outline: &BezPath, transform: Affine, spread: f64, window: Rect) -> Mask {
    let reach = spread.abs().ceil() as i32 + 2;
    let source = rasterize(outline, transform, window.grown(reach));
    if spread == 0.0 || source.rect.is_empty() {
        return source.cropped(source.rect.intersect(window));
    }
    // Distances propagate only between the outline and the requested pixels.
    let rect = source.rect.grown(2).around_both(source.rect.grown(reach).intersect(window));
    let lines: Vec<Line> = flatten(outline, transform).into_iter().map(Line::from).collect();
    let source = source.cropped(rect);
    let nearest = Field::new(&source, &lines, spread).settle();
    let mut mask = Mask::empty(rect);
    let width = rect.width().max(1);
    for (row, (out, inside)) in mask.data.chunks_mut(width).zip(source.data.chunks(width)).enumerate() {
        let first = nearest.at(0, row);
        let distances = nearest.best[first..first + width].iter().zip(&nearest.line[first..]);
        for ((out, inside), (squared, line)) in out.iter_mut().zip(inside).zip(distances) {
            // What no line was handed to is as far away as matters.
            let distance = if *line == NONE { f64::INFINITY } else { squared.sqrt() };
            let signed = if *inside > 0.5 { -distance } else { distance };
            *out = (0.5 + spread - signed).clamp(0.0, 1.0) as f32;
        }
    }
    mask.cropped(rect.intersect(window))
}

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
    /// The square of its distance.
    best: Vec<f64>,
    /// What takes no part: wholly on the side that the outline moves away from.
    apart: Vec<bool>,
    /// The square of the largest distance that matters.
    limit: f64,
}

impl<'a> Field<'a> {
    fn new(source: &Mask, lines: &'a [Line], spread: f64) -> Self {
        let (rect, stride) = (source.rect, source.rect.width() + 2);
        let count = stride * (rect.height() + 2);
        let limit = (spread.abs() + MARGIN) * (spread.abs() + MARGIN);
        let (line, best) = (vec![NONE; count], vec![f64::INFINITY; count]);
        let mut field = Self { rect, stride, lines, line, best, apart: vec![true; count], limit };
        for (row, coverage) in source.data.chunks(rect.width().max(1)).enumerate() {
            let first = field.at(0, row);
            for (apart, coverage) in field.apart[first..].iter_mut().zip(coverage) {
                *apart = if spread > 0.0 { *coverage >= 1.0 } else { *coverage <= 0.0 };
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
                    self.offer(index, self.at((x - x0) as usize, (y - y0) as usize), middle(x, y));
                }
            }
        }
    }

    /// Sweeps down and up until every pixel that takes part knows its line.
    fn settle(mut self) -> Self {
        let (width, height, stride) = (self.rect.width(), self.rect.height(), self.stride);
        for y in 0..height {
            for x in 0..width {
                self.take(x, y, |i| [i - 1, i - stride, i - stride - 1, i - stride + 1]);
            }
            for x in (0..width).rev() {
                self.take(x, y, |i| [i + 1]);
            }
        }
        for y in (0..height).rev() {
            for x in (0..width).rev() {
                self.take(x, y, |i| [i + 1, i + stride, i + stride - 1, i + stride + 1]);
            }
            for x in 0..width {
                self.take(x, y, |i| [i - 1]);
            }
        }
        self
    }

    #[inline]
    fn take<const N: usize>(&mut self, x: usize, y: usize, neighbours: impl Fn(usize) -> [usize; N]) {
        let i = self.at(x, y);
        if self.apart[i] {
            return;
        }
        for neighbour in neighbours(i) {
            let line = self.line[neighbour];
            if line != NONE && line != self.line[i] {
                self.offer(line, i, middle(self.rect.x0 + x as i32, self.rect.y0 + y as i32));
            }
        }
    }

    #[inline]
    fn offer(&mut self, line: u32, i: usize, point: Point) {
        let squared = self.lines[line as usize].squared(point);
        if squared < self.best[i] && squared <= self.limit {
            (self.best[i], self.line[i]) = (squared, line);
        }
    }

    /// Where a pixel of the rectangle is, counted from its corner.
    #[inline]
    fn at(&self, x: usize, y: usize) -> usize {
        (y + 1) * self.stride + x + 1
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

    const WINDOW: Rect = Rect { x0: -60, y0: -60, x1: 60, y1: 60 };

    /// A circle's Euclidean offset is a circle: closed form, both ways.
    #[test]
    fn a_spread_circle_is_a_circle() {
        for (radius, spread) in [(20.0, 7.5), (20.0, 0.4), (20.0, -6.25), (3.0, 30.0)] {
            let circle = |r: f64| Circle::new((0.3, -0.2), r).to_path(0.001);
            let found = offset_coverage(&circle(radius), Affine::IDENTITY, spread, WINDOW);
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
            let found = offset_coverage(&outline, Affine::IDENTITY, spread, WINDOW);
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

    #[test]
    fn shrunk_past_its_middle_nothing_is_left() {
        let path = Circle::new((0.0, 0.0), 5.0).to_path(0.01);
        let mask = offset_coverage(&path, Affine::IDENTITY, -8.0, WINDOW);
        assert!(mask.data.iter().all(|coverage| *coverage == 0.0));
    }
}
