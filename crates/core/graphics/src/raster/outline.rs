//! Exact-area coverage of an outline.
//!
//! Each edge adds its signed area to the pixels it crosses; a running sum along the row then gives every pixel
//! the share of it that lies inside. Overlapping contours that run the same way add up and are clipped, which
//! is the non-zero rule for the outlines that shapes and fonts have.

use kurbo::{Affine, BezPath, PathEl, Point, Vec2};

use super::{Mask, Rect};
use crate::parallel::for_each_row;
use crate::simd::widest;

/// How far a flattened curve may lie from the true one, in pixels.
const FLATNESS: f64 = 0.02;

/// Lines that a curve is made at the most; those of a curve as large as that are seen nowhere.
const MAX_STEPS: f64 = 65_536.0;

/// Coverage of `outline`, placed on the device by `transform`, over the pixels of `window` it touches.
#[must_use]
pub fn rasterize(outline: &BezPath, transform: Affine, window: Rect) -> Mask {
    cover(flatten(outline, transform), window)
}

/// Coverage of the area within closed contours of straight lines.
pub fn cover(lines: Vec<(Point, Point)>, window: Rect) -> Mask {
    let rect = bounds(&lines).intersect(window);
    if rect.is_empty() {
        return Mask::empty(Rect::default());
    }
    let mut cells = Cells::new(rect, &lines);
    widest(
        #[inline(always)]
        || {
            for (from, to) in &lines {
                cells.add_line(*from, *to);
            }
        },
    );
    cells.into_mask()
}

/// The outline as straight lines in device pixels; every contour is closed.
pub fn flatten(outline: &BezPath, transform: Affine) -> Vec<(Point, Point)> {
    let mut lines = Lines::default();
    for element in outline {
        match transform * element {
            PathEl::MoveTo(to) => {
                lines.close();
                (lines.start, lines.last) = (to, to);
            }
            PathEl::LineTo(to) => lines.add(to),
            PathEl::QuadTo(by, to) => lines.add_quadratic(by, to),
            PathEl::CurveTo(first, second, to) => lines.add_cubic(first, second, to),
            PathEl::ClosePath => lines.close(),
        }
    }
    lines.close();
    lines.all
}

#[derive(Default)]
struct Lines {
    all: Vec<(Point, Point)>,
    /// Where the contour starts.
    start: Point,
    /// Where the last line ends.
    last: Point,
}

impl Lines {
    fn add(&mut self, to: Point) {
        if self.last != to && self.last.is_finite() && to.is_finite() {
            self.all.push((self.last, to));
        }
        self.last = to;
    }

    fn close(&mut self) {
        self.add(self.start);
    }

    fn add_quadratic(&mut self, by: Point, to: Point) {
        let from = self.last;
        let (along, bend) = ((by - from) * 2.0, (to - by) - (by - from));
        self.add_curve(bend * 2.0, to, |t| from + (along + bend * t) * t);
    }

    fn add_cubic(&mut self, first: Point, second: Point, to: Point) {
        let from = self.last;
        let (start, end) = ((second - first) - (first - from), (to - second) - (second - first));
        let most = if start.hypot2() > end.hypot2() { start } else { end };
        let (along, turn) = ((first - from) * 3.0, end - start);
        self.add_curve(most * 6.0, to, |t| from + (along + (start * 3.0 + turn * t) * t) * t);
    }

    /// A curve by equal steps of its parameter: a chord of a step h is at most h²/8 of the second derivative off.
    fn add_curve(&mut self, second_derivative: Vec2, to: Point, at: impl Fn(f64) -> Point) {
        let steps = (second_derivative.hypot2().sqrt() / (8.0 * FLATNESS)).sqrt().ceil();
        let steps = steps.clamp(1.0, MAX_STEPS);
        for step in 1..steps as u32 {
            self.add(at(f64::from(step) / steps));
        }
        self.add(to);
    }
}

fn bounds(lines: &[(Point, Point)]) -> Rect {
    let mut points = lines.iter().flat_map(|(from, to)| [from, to]);
    let Some(first) = points.next() else {
        return Rect::default();
    };
    let (mut min, mut max) = (*first, *first);
    for point in points {
        min = Point::new(min.x.min(point.x), min.y.min(point.y));
        max = Point::new(max.x.max(point.x), max.y.max(point.y));
    }
    Rect::around(min.x, min.y, max.x, max.y)
}

/// Signed areas by pixel.
struct Cells {
    rect: Rect,
    rows: OwnRows,
    areas: Vec<f32>,
}

impl Cells {
    fn new(rect: Rect, lines: &[(Point, Point)]) -> Self {
        let rows = OwnRows::covering(rect, lines);
        Self { rect, areas: vec![0.0; rect.width() * rows.count], rows }
    }

    #[inline(always)]
    fn add_line(&mut self, from: Point, to: Point) {
        if from.y == to.y {
            return;
        }
        let (sign, top, bottom) = if from.y < to.y { (1.0, from, to) } else { (-1.0, to, from) };
        let slope = (bottom.x - top.x) / (bottom.y - top.y);
        let left = f64::from(self.rect.x0);
        let above = f64::from(self.rect.y0);
        let first = (top.y - above).max(0.0);
        let last = (bottom.y - above).min(self.rect.height() as f64);
        let x_at = |y: f64| top.x + (y + above - top.y) * slope - left;
        let (mut y, mut x) = (first, x_at(first));
        while y < last {
            let next = (y.floor() + 1.0).min(last);
            let next_x = x_at(next);
            if let Some(row) = self.rows.own(y as usize) {
                self.add_span(row, x, next_x, sign * (next - y));
            }
            (y, x) = (next, next_x);
        }
    }

    /// Adds an edge that crosses one row from `x0` to `x1`, covering the signed height `dy` of it.
    #[inline(always)]
    fn add_span(&mut self, row: usize, x0: f64, x1: f64, dy: f64) {
        let width = self.rect.width() as f64;
        let (x0, x1) = (x0.min(x1).clamp(0.0, width), x0.max(x1).clamp(0.0, width));
        let length = self.rect.width();
        let cells = &mut self.areas[row * length..(row + 1) * length];
        // What runs out at the right is dropped.
        let mut add = |column: usize, area: f64| {
            if let Some(cell) = cells.get_mut(column) {
                *cell += area as f32;
            }
        };
        let first = x0 as usize;
        if x1 <= first as f64 + 1.0 {
            // Within one pixel: what lies right of the edge's middle is inside.
            let inside = first as f64 + 1.0 - 0.5 * (x0 + x1);
            add(first, dy * inside);
            add(first + 1, dy * (1.0 - inside));
            return;
        }
        // Across several: the area to the right of the edge, up to each pixel's right side.
        let per_pixel = dy / (x1 - x0);
        let mut covered = 0.0;
        let mut column = first;
        let mut total = 0.0;
        while (column as f64) < x1 {
            let right = (column + 1) as f64;
            let reach = right.min(x1) - x0;
            let beyond = (right - x1).max(0.0);
            let area = per_pixel * (0.5 * reach * reach + beyond * (x1 - x0));
            let pixel = area - covered;
            covered = area;
            add(column, pixel - total);
            total = pixel;
            column += 1;
        }
        add(column, dy - total);
    }

    /// Sums along each row.
    fn into_mask(mut self) -> Mask {
        for_each_row(&mut self.areas, self.rect.width(), |_, row| sum_along(row));
        Mask::from_lines(self.rect, self.areas, self.rows.numbers)
    }
}

/// Which rows are like the one above: those that the same upright lines cross from top to bottom, and no others.
struct OwnRows {
    /// For each row, how many before it are not like the one above.
    numbers: Vec<u32>,
    count: usize,
}

impl OwnRows {
    fn covering(rect: Rect, lines: &[(Point, Point)]) -> Self {
        let height = rect.height();
        let mut is_new = vec![false; height];
        let mut mark = |from: usize, to: usize| is_new[from.min(height)..to.min(height)].fill(true);
        mark(0, 1);
        for (from, to) in lines {
            let row = |y: f64| (y - f64::from(rect.y0)).clamp(0.0, height as f64) as usize;
            let (first, last) = (row(from.y.min(to.y)), row(from.y.max(to.y)));
            if from.x == to.x {
                mark(first, first + 2);
                mark(last, last + 2);
            } else if from.y != to.y {
                mark(first, last + 2);
            }
        }
        let mut count = 0;
        let number = |is_new: bool| {
            count += u32::from(is_new);
            count - 1
        };
        let numbers = is_new.into_iter().map(number).collect();
        Self { numbers, count: count as usize }
    }

    /// The number of a row, unless it is like the one above.
    #[inline(always)]
    fn own(&self, row: usize) -> Option<usize> {
        let number = self.numbers[row];
        let is_new = row == 0 || self.numbers[row - 1] != number;
        is_new.then_some(number as usize)
    }
}

/// From signed areas to coverage.
fn sum_along(row: &mut [f32]) {
    let mut sum = 0.0_f32;
    widest(
        #[inline(always)]
        || {
            let (chunks, rest) = row.as_chunks_mut::<16>();
            for chunk in chunks {
                // Most of a row lies between edges.
                if chunk.iter().fold(0, |bits, area| bits | area.to_bits()) == 0 {
                    chunk.fill(covered(sum));
                } else {
                    add_up(chunk, &mut sum);
                }
            }
            add_up(rest, &mut sum);
        },
    );
}

#[inline(always)]
fn add_up(cells: &mut [f32], sum: &mut f32) {
    for cell in &mut *cells {
        *sum += *cell;
        *cell = *sum;
    }
    // By themselves, so that several are done at once.
    for cell in cells {
        *cell = covered(*cell);
    }
}

/// Sums of many small areas miss 0 and 1 by a few millionths.
#[inline(always)]
fn covered(sum: f32) -> f32 {
    let part = sum.abs();
    let but_little = if part < 1e-5 { 0.0 } else { part };
    if part > 1.0 - 1e-5 { 1.0 } else { but_little }
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::{Circle, Shape};

    const WINDOW: Rect = Rect { x0: -100, y0: -100, x1: 100, y1: 100 };

    #[test]
    fn a_rectangle_off_the_grid_covers_by_area() {
        let path = kurbo::Rect::new(1.25, 2.5, 3.5, 4.0).to_path(0.1);
        let mask = rasterize(&path, Affine::IDENTITY, WINDOW);
        assert_eq!(mask.rect, Rect::new(1, 2, 4, 4));
        let expected = [0.375, 0.5, 0.25, 0.75, 1.0, 0.5];
        for (found, expected) in mask.values().zip(expected) {
            assert!((found - expected).abs() < 1e-6, "{:?}", mask);
        }
    }

    #[test]
    fn a_slanted_edge_covers_by_area() {
        let mut path = BezPath::new();
        path.move_to((0.0, 0.0));
        path.line_to((4.0, 1.0));
        path.line_to((0.0, 1.0));
        path.close_path();
        let mask = rasterize(&path, Affine::IDENTITY, WINDOW);
        for (found, expected) in mask.values().zip([0.875, 0.625, 0.375, 0.125]) {
            assert!((found - expected).abs() < 1e-6, "{:?}", mask);
        }
    }

    #[test]
    fn a_circle_has_the_area_of_a_circle_wherever_it_lies() {
        for (x, y) in [(0.0, 0.0), (0.3, 0.7), (-20.45, 11.11)] {
            let mask = rasterize(&Circle::new((x, y), 30.0).to_path(0.01), Affine::IDENTITY, WINDOW);
            let area: f32 = mask.values().sum();
            assert!((area - 900.0 * std::f32::consts::PI).abs() < 3.0, "{area}");
        }
    }

    /// A line there and back again adds nothing, but makes every row one that is worked out.
    #[test]
    fn rows_that_are_kept_once_are_those_that_are_worked_out() {
        let mut there_and_back = BezPath::new();
        there_and_back.move_to((-120.0, -90.0));
        there_and_back.line_to((-119.0, 90.0));
        there_and_back.close_path();
        let steps = "M-40.5 -30.25 H10 V-12 H32.75 V40.5 L20 60 H-40.5 Z";
        let steps = BezPath::from_svg(steps).expect("a path");
        let rounded = kurbo::RoundedRect::new(-33.3, -41.6, 50.0, 39.0, 8.0).to_path(0.01);
        for shape in [steps, rounded] {
            let mask = rasterize(&shape, Affine::IDENTITY, WINDOW);
            assert!(mask.is_like_above(-20) && !mask.is_like_above(mask.rect.y0 + 1));
            let whole: BezPath = there_and_back.iter().chain(shape.iter()).collect();
            let worked_out = rasterize(&whole, Affine::IDENTITY, WINDOW);
            assert!((-80..80).all(|y| !worked_out.is_like_above(y)));
            assert!(worked_out.cropped(mask.rect) == mask);
        }
    }

    #[test]
    fn a_window_cuts_without_changing_what_is_left() {
        let path = Circle::new((3.0, 5.0), 40.0).to_path(0.01);
        let whole = rasterize(&path, Affine::IDENTITY, WINDOW);
        let window = Rect::new(-10, -7, 20, 30);
        let part = rasterize(&path, Affine::IDENTITY, window);
        for y in window.y0..window.y1 {
            for x in window.x0..window.x1 {
                assert!((part.at(x, y) - whole.at(x, y)).abs() < 1e-4, "{x} {y}");
            }
        }
    }
}
