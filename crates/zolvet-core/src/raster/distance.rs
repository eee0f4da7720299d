//! Spread of any silhouette: a true Euclidean offset of its outline, from a distance field.
//!
//! Pixels on the outline know the nearest of the lines that cross them. Two sweeps hand that line on from
//! neighbour to neighbour, each pixel keeping the one it is really nearest to, so the distances are those to the
//! outline itself and not to pixel centres.

use kurbo::{Affine, BezPath, Point};

use super::{Mask, Rect, flatten, rasterize};

/// No line is known yet.
const NONE: u32 = u32::MAX;

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
    let lines = flatten(outline, transform);
    let nearest = Field::new(&source.cropped(rect), &lines).settle();
    let mut mask = Mask::empty(rect);
    for (i, out) in mask.data.iter_mut().enumerate() {
        let (x, y) = nearest.place(i);
        let distance = nearest.distance(nearest.line[i], x, y);
        let inside = source.at(x, y) > 0.5;
        let signed = if inside { -distance } else { distance };
        *out = (0.5 + spread - signed).clamp(0.0, 1.0) as f32;
    }
    mask.cropped(rect.intersect(window))
}

struct Field<'a> {
    rect: Rect,
    lines: &'a [(Point, Point)],
    /// The nearest known line of each pixel.
    line: Vec<u32>,
    best: Vec<f64>,
}

impl<'a> Field<'a> {
    fn new(source: &Mask, lines: &'a [(Point, Point)]) -> Self {
        let count = source.data.len();
        let (line, best) = (vec![NONE; count], vec![f64::INFINITY; count]);
        let mut field = Self { rect: source.rect, lines, line, best };
        for (index, (from, to)) in lines.iter().enumerate() {
            field.seed(source, index as u32, *from, *to);
        }
        field
    }

    /// Gives a line to the pixels it crosses, unless it runs through the inside (where contours overlap).
    fn seed(&mut self, source: &Mask, index: u32, from: Point, to: Point) {
        let steps = ((to - from).length() * 2.0).ceil().clamp(1.0, 1e6) as u32;
        for step in 0..=steps {
            let point = from.lerp(to, f64::from(step) / f64::from(steps));
            let (x, y) = (point.x.floor() as i32, point.y.floor() as i32);
            if !is_deep_inside(source, x, y) {
                for (dx, dy) in [(0, 0), (-1, 0), (1, 0), (0, -1), (0, 1)] {
                    self.offer(index, x + dx, y + dy);
                }
            }
        }
    }

    /// Sweeps down and up until every pixel knows its line.
    fn settle(mut self) -> Self {
        let Rect { x0, y0, x1, y1 } = self.rect;
        for y in y0..y1 {
            for x in x0..x1 {
                self.take(x, y, &[(-1, 0), (0, -1), (-1, -1), (1, -1)]);
            }
            for x in (x0..x1).rev() {
                self.take(x, y, &[(1, 0)]);
            }
        }
        for y in (y0..y1).rev() {
            for x in (x0..x1).rev() {
                self.take(x, y, &[(1, 0), (0, 1), (-1, 1), (1, 1)]);
            }
            for x in x0..x1 {
                self.take(x, y, &[(-1, 0)]);
            }
        }
        self
    }

    fn take(&mut self, x: i32, y: i32, neighbours: &[(i32, i32)]) {
        for (dx, dy) in neighbours {
            if let Some(i) = self.index(x + dx, y + dy)
                && self.line[i] != NONE
            {
                self.offer(self.line[i], x, y);
            }
        }
    }

    fn offer(&mut self, line: u32, x: i32, y: i32) {
        let Some(i) = self.index(x, y) else { return };
        if self.line[i] == line {
            return;
        }
        let distance = self.distance(line, x, y);
        if distance < self.best[i] {
            (self.best[i], self.line[i]) = (distance, line);
        }
    }

    fn index(&self, x: i32, y: i32) -> Option<usize> {
        let Rect { x0, y0, x1, y1 } = self.rect;
        let inside = x0 <= x && x < x1 && y0 <= y && y < y1;
        inside.then(|| (y - y0) as usize * self.rect.width() + (x - x0) as usize)
    }

    fn place(&self, index: usize) -> (i32, i32) {
        let width = self.rect.width();
        (self.rect.x0 + (index % width) as i32, self.rect.y0 + (index / width) as i32)
    }

    /// From a pixel's centre to a line.
    fn distance(&self, line: u32, x: i32, y: i32) -> f64 {
        let Some((from, to)) = self.lines.get(line as usize) else {
            return f64::INFINITY;
        };
        let point = Point::new(f64::from(x) + 0.5, f64::from(y) + 0.5);
        let along = *to - *from;
        let t = ((point - *from).dot(along) / along.hypot2()).clamp(0.0, 1.0);
        (point - (*from + along * t)).hypot()
    }
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
        let lines = flatten(&outline, Affine::IDENTITY);
        let source = rasterize(&outline, Affine::IDENTITY, WINDOW);
        for spread in [9.0, 4.5] {
            let found = offset_coverage(&outline, Affine::IDENTITY, spread, WINDOW);
            let field = Field { rect: WINDOW, lines: &lines, line: vec![], best: vec![] };
            for y in -55..55 {
                for x in -55..55 {
                    let all = 0..lines.len() as u32;
                    let nearest = all.map(|i| field.distance(i, x, y)).fold(f64::MAX, f64::min);
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
