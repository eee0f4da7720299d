//! Which points lie inside an outline, for many points of one outline.

use std::ops::RangeInclusive;

use kurbo::Point;

use crate::budget;

/// The lines of closed contours, sorted into rows, so that a point is compared with those of its own row only.
pub(super) struct Inside {
    top: f64,
    /// Height of a row.
    step: f64,
    rows: Vec<Vec<(Point, Point)>>,
}

/// Rows at most.
const MAX_POINTS: usize = 1024;

impl Inside {
    /// Lines of closed contours; so many points are going to be asked about. `None` where that takes more than the budget has.
    pub fn new(lines: &[(Point, Point)], points: usize) -> Option<Self> {
        let ends = || lines.iter().flat_map(|(from, to)| [from.y, to.y]);
        let (top, bottom) = (ends().fold(f64::INFINITY, f64::min), ends().fold(f64::NEG_INFINITY, f64::max));
        // Rows no lower than lines are tall on average hold a line three times on average, at most.
        let tall: f64 = lines.iter().map(|(from, to)| (to.y - from.y).abs()).sum();
        let count = (lines.len() as f64 * (bottom - top) / tall) as usize;
        let count = count.clamp(1, MAX_POINTS);
        let mut inside = Self { top, step: (bottom - top) / count as f64, rows: Vec::new() };
        let mut lengths = vec![0_u64; count];
        lines
            .iter()
            .for_each(|line| lengths[inside.through(line, count)].iter_mut().for_each(|length| *length += 1));
        let longest = lengths.iter().copied().max().unwrap_or(0);
        if !budget::spend(lengths.iter().sum::<u64>() + points as u64 * longest) {
            return None;
        }
        inside.rows = lengths.into_iter().map(|length| Vec::with_capacity(length as usize)).collect();
        for line in lines {
            let rows = inside.through(line, count);
            inside.rows[rows].iter_mut().for_each(|row| row.push(*line));
        }
        Some(inside)
    }

    /// Whether the contours wind around a point (the non-zero rule).
    pub fn holds(&self, point: Point) -> bool {
        let row = self.rows.get(self.row(point.y, self.rows.len()));
        let winding: i32 = row.into_iter().flatten().map(|line| crossed(line, point)).sum();
        winding != 0
    }

    /// The rows that a line comes through.
    fn through(&self, (from, to): &(Point, Point), count: usize) -> RangeInclusive<usize> {
        self.row(from.y.min(to.y), count)..=self.row(from.y.max(to.y), count)
    }

    fn row(&self, y: f64, count: usize) -> usize {
        (((y - self.top) / self.step) as usize).min(count - 1)
    }
}

/// How a line that crosses the level of a point to the left of it winds around the point.
fn crossed((from, to): &(Point, Point), point: Point) -> i32 {
    let is_down = from.y <= point.y;
    if is_down == (to.y <= point.y) {
        return 0;
    }
    let x = from.x + (to.x - from.x) * ((point.y - from.y) / (to.y - from.y));
    match (x < point.x, is_down) {
        (false, _) => 0,
        (true, true) => 1,
        (true, false) => -1,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::raster::flatten;
    use kurbo::{Affine, BezPath, Shape as _};

    /// As kurbo's winding numbers say, for a ring, contours over one another and one that winds twice.
    #[test]
    fn a_point_is_inside_where_the_outline_winds_around_it() {
        let mut outline = BezPath::from_svg(
            "M0 0H60V40H0ZM10 10V30H50V10ZM40 20H90V70H40ZM5 50L30 50L20 75L8 55L30 55L15 80Z",
        )
        .expect("path data");
        outline.extend(kurbo::Circle::new((70.0, 20.0), 15.0).to_path(0.1));
        let lines = flatten(&outline, Affine::IDENTITY);
        let inside = Inside::new(&lines, 1).expect("a budget");
        for y in -20..180 {
            for x in -20..200 {
                let point = Point::new(f64::from(x) * 0.5 + 0.13, f64::from(y) * 0.5 + 0.17);
                assert_eq!(inside.holds(point), outline.winding(point) != 0, "{point:?}");
            }
        }
    }
}
