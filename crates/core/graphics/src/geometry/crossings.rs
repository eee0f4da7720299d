//! How often lines cross, before boolean operations are begun on them: the time and memory of those depends on it.

use kurbo::{Point, Rect};

use super::contour::Contour;

/// Lines that boolean operations take at a time.
pub const MAX_LINES: usize = 400_000;
/// Crossings of them.
pub const MAX_CROSSINGS: usize = 400_000;

/// Lines that cross too often, or too many of them.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("expected an outline of at most 400000 lines and as many crossings, few of its lines on one another")]
pub struct TooComplex;

/// Lines that lie on one another, as pairs: where they are not quite alike, boolean operations cut them again and again.
const MAX_ALIKE: usize = 2_000;
/// How close to another a line lies that is on it, in px.
const ON: f64 = 0.01;

/// Pairs of lines that are looked at, at most.
const MAX_PAIRS: usize = 20_000_000;
/// Lines in a cell that are compared pairwise rather than split into smaller cells.
const FEW: usize = 24;
/// How often a cell is quartered.
const DEEPEST: usize = 14;
/// Lines so few that they cannot cross too often.
const HARMLESS: usize = 800;

/// Counts the crossings of closed contours, each joined to its own start.
///
/// # Errors
/// [`TooComplex`] above [`MAX_LINES`] or [`MAX_CROSSINGS`].
pub fn check<'a>(contours: impl Iterator<Item = &'a Contour> + Clone) -> Result<(), TooComplex> {
    let count: usize = contours.clone().map(Vec::len).sum();
    if count > MAX_LINES {
        return Err(TooComplex);
    }
    if count <= HARMLESS {
        return Ok(());
    }
    check_lines(lines_of(contours))
}

/// As [`check`], for outlines that are taken out of one another: their lines must not lie on one another too often.
///
/// # Errors
/// [`TooComplex`] where they do.
pub fn check_apart<'a>(contours: impl Iterator<Item = &'a Contour> + Clone) -> Result<(), TooComplex> {
    if contours.clone().map(Vec::len).sum::<usize>() <= HARMLESS {
        return Ok(());
    }
    count(lines_of(contours), MAX_ALIKE)
}

fn lines_of<'a>(contours: impl Iterator<Item = &'a Contour>) -> Vec<Line> {
    let point = |[x, y]: [f64; 2]| Point::new(x, y);
    let lines = contours.flat_map(|contour| {
        let next = contour.iter().skip(1).chain(contour.first());
        contour.iter().zip(next).map(|(from, to)| Line { from: point(*from), to: point(*to) })
    });
    lines.collect()
}

/// As [`check`], for lines that need not be joined.
pub(super) fn check_lines(lines: Vec<Line>) -> Result<(), TooComplex> {
    count(lines, usize::MAX)
}

fn count(lines: Vec<Line>, most_alike: usize) -> Result<(), TooComplex> {
    let Some(bounds) = lines.iter().map(Line::bounds).reduce(|a, b| a.union(b)) else { return Ok(()) };
    let all = (0..lines.len() as u32).collect();
    let mut count = Count { lines, most_alike, crossings: 0, alike: 0, pairs: 0, entries: 0 };
    // A line on the far edge lies in a cell too.
    count.cell(bounds.inflate(1e-9, 1e-9), all, 0)
}

/// A line from one point to another.
#[derive(Clone, Copy)]
pub(super) struct Line {
    pub from: Point,
    pub to: Point,
}

impl Line {
    fn bounds(&self) -> Rect {
        Rect::from_points(self.from, self.to)
    }

    /// Which side of the line a point lies on.
    fn side(&self, at: Point) -> f64 {
        (self.to - self.from).cross(at - self.from)
    }

    /// Whether it passes through a rectangle.
    fn touches(&self, cell: Rect) -> bool {
        let bounds = self.bounds();
        if bounds.x0 > cell.x1 || bounds.x1 < cell.x0 || bounds.y0 > cell.y1 || bounds.y1 < cell.y0 {
            return false;
        }
        let corners = [(cell.x0, cell.y0), (cell.x1, cell.y0), (cell.x0, cell.y1), (cell.x1, cell.y1)];
        let sides = corners.map(|corner| self.side(corner.into()));
        !(sides.iter().all(|side| *side > 0.0) || sides.iter().all(|side| *side < 0.0))
    }

    /// The middle of where another line lies on it; nothing where it does not, or is cut only.
    fn shared(&self, other: &Self) -> Option<Point> {
        let along = self.to - self.from;
        let length = along.hypot2().sqrt();
        if length <= ON || [other.from, other.to].iter().any(|end| self.side(*end).abs() > ON * length) {
            return None;
        }
        let place = |at: Point| (at - self.from).dot(along) / length;
        let (a, b) = (place(other.from), place(other.to));
        let (first, last) = (a.min(b).max(0.0), a.max(b).min(length));
        (last - first > ON).then(|| self.from.lerp(self.to, (first + last) / 2.0 / length))
    }

    /// Where it crosses another line, ends left out.
    fn crossing(&self, other: &Self) -> Option<Point> {
        let (a, b) = (self.side(other.from), self.side(other.to));
        let (c, d) = (other.side(self.from), other.side(self.to));
        (a * b < 0.0 && c * d < 0.0).then(|| other.from.lerp(other.to, a / (a - b)))
    }
}

struct Count {
    lines: Vec<Line>,
    most_alike: usize,
    crossings: usize,
    alike: usize,
    pairs: usize,
    entries: usize,
}

impl Count {
    fn cell(&mut self, cell: Rect, lines: Vec<u32>, depth: usize) -> Result<(), TooComplex> {
        self.entries += lines.len();
        if self.entries > MAX_PAIRS {
            return Err(TooComplex);
        }
        if lines.len() <= FEW || depth >= DEEPEST {
            return self.compare(cell, &lines);
        }
        let middle = cell.center();
        let quarters = [
            Rect::new(cell.x0, cell.y0, middle.x, middle.y),
            Rect::new(middle.x, cell.y0, cell.x1, middle.y),
            Rect::new(cell.x0, middle.y, middle.x, cell.y1),
            Rect::new(middle.x, middle.y, cell.x1, cell.y1),
        ];
        let within = quarters.map(|quarter| {
            let touches = |line: &&u32| self.lines[**line as usize].touches(quarter);
            lines.iter().filter(touches).copied().collect::<Vec<u32>>()
        });
        // Where lines meet in one point, smaller cells do not tell them apart.
        if within.iter().any(|within| within.len() == lines.len()) && depth > DEEPEST / 2 {
            return self.compare(cell, &lines);
        }
        drop(lines);
        for (quarter, within) in quarters.into_iter().zip(within) {
            self.cell(quarter, within, depth + 1)?;
        }
        Ok(())
    }

    fn compare(&mut self, cell: Rect, lines: &[u32]) -> Result<(), TooComplex> {
        self.pairs += lines.len() * lines.len() / 2;
        if self.pairs > MAX_PAIRS {
            return Err(TooComplex);
        }
        for (i, a) in lines.iter().enumerate() {
            for b in &lines[i + 1..] {
                let (a, b) = (self.lines[*a as usize], self.lines[*b as usize]);
                // What two lines share counts in the one cell it lies in.
                let here = |at: Option<Point>| usize::from(at.is_some_and(|at| cell.contains(at)));
                self.crossings += here(a.crossing(&b));
                self.alike += here(a.shared(&b));
            }
        }
        let too_many = self.crossings > MAX_CROSSINGS || self.alike > self.most_alike;
        if too_many { Err(TooComplex) } else { Ok(()) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn point_count(contours: &[Contour]) -> usize {
        let lines = lines_of(contours.iter());
        let bounds = lines.iter().map(Line::bounds).reduce(|a, b| a.union(b)).expect("lines");
        let all = (0..lines.len() as u32).collect();
        let mut count = Count { lines, most_alike: usize::MAX, crossings: 0, alike: 0, pairs: 0, entries: 0 };
        count.cell(bounds.inflate(1e-9, 1e-9), all, 0).expect("few enough");
        count.crossings
    }

    /// Bars across bars: each pair crosses four times.
    #[test]
    fn crossings_are_counted_once_each() {
        let bar = |x: f64, y: f64, w: f64, h: f64| vec![[x, y], [x + w, y], [x + w, y + h], [x, y + h]];
        let grid = |n: usize| -> Vec<Contour> {
            let step = |i: usize| i as f64 * 2.1 + 0.37;
            let across = (0..n).map(|i| bar(-1.0, step(i), 1000.0, 1.0));
            across.chain((0..n).map(|i| bar(step(i) + 0.013, -1.0, 1.0, 1000.0))).collect()
        };
        assert_eq!(point_count(&grid(40)), 4 * 40 * 40);
        assert_eq!(check(grid(250).iter()), Ok(()));
        assert_eq!(check(grid(330).iter()), Err(TooComplex), "435600 crossings");
    }

    /// Circles of many lines, each a hair beside the one before.
    #[test]
    fn lines_on_one_another_are_counted() {
        let circle = |i: usize| -> Contour {
            let at = |k: usize| (k as f64 + i as f64 * 0.4) / 400.0 * std::f64::consts::TAU;
            (0..400).map(|k| [100.0 * at(k).cos(), 100.0 * at(k).sin()]).collect()
        };
        let circles = |n: usize| (0..n).map(circle).collect::<Vec<Contour>>();
        assert_eq!(check_apart(circles(3).iter()), Ok(()));
        assert_eq!(check_apart(circles(6).iter()), Err(TooComplex));
        assert_eq!(check(circles(6).iter()), Ok(()), "what is only added up may lie on itself");
    }

    /// A fan of lines that meet in one point crosses nowhere.
    #[test]
    fn lines_that_meet_do_not_cross() {
        let fan: Vec<Contour> = (0..500)
            .map(|i| {
                let at = |k: f64| {
                    let angle = (f64::from(i) + k) / 500.0 * std::f64::consts::TAU;
                    [angle.cos() * 100.0, angle.sin() * 100.0]
                };
                vec![[0.0, 0.0], at(0.0), at(0.7)]
            })
            .collect();
        assert_eq!(check(fan.iter()), Ok(()));
    }
}
