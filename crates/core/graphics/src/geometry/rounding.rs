//! Rounding of a region's corners: each sharp corner is replaced by the circular arc that touches both its sides.

use kurbo::{Point, Vec2};

use super::contour::Contour;
use super::polygon::Region;

/// Turns sharper than this are corners; flatter ones belong to a curve.
const CORNER: f64 = 0.3;
/// Length of the pieces an arc is drawn with, as an angle.
const ARC_STEP: f64 = 0.05;

impl Region {
    /// The region with its corners, inward and outward, rounded to `radius` px, or as far as their sides allow.
    #[must_use]
    pub fn rounded(&self, radius: f64) -> Self {
        if radius <= 0.0 {
            return self.clone();
        }
        Self { contours: self.contours.iter().map(|contour| rounded(contour, radius)).collect() }
    }
}

fn rounded(contour: &Contour, radius: f64) -> Contour {
    let line = Line::new(contour);
    let corners: Vec<usize> = (0..line.points.len()).filter(|i| line.turn(*i).abs() > CORNER).collect();
    if corners.is_empty() {
        return contour.clone();
    }
    let mut result = Contour::new();
    for (k, &corner) in corners.iter().enumerate() {
        let before = corners[(k + corners.len() - 1) % corners.len()];
        let after = corners[(k + 1) % corners.len()];
        let cut = |from: usize, to: usize| line.between(from, to) / 2.0;
        let turn = line.turn(corner);
        let wanted = radius * crate::maths::tan(turn.abs() / 2.0).min(1e3);
        let trim = wanted.min(cut(before, corner)).min(cut(corner, after));
        append_arc(&mut result, &line, corner, trim);
        // What lies between this corner's arc and the next one's.
        let (start, length) = (line.at[corner] + trim, line.between(corner, after));
        let turn = line.turn(after);
        let next = (radius * crate::maths::tan(turn.abs() / 2.0).min(1e3)).min(length / 2.0);
        let next = next.min(line.between(after, corners[(k + 2) % corners.len()]) / 2.0);
        line.copy(&mut result, start, line.at[corner] + length - next);
    }
    result
}

fn append_arc(result: &mut Contour, line: &Line, corner: usize, trim: f64) {
    let (from, back) = line.along(line.at[corner] - trim, false);
    let (to, ahead) = line.along(line.at[corner] + trim, true);
    let turn = crate::maths::atan2(back.cross(ahead), back.dot(ahead));
    if turn.abs() < 1e-6 || trim <= 1e-9 {
        let corner = line.points[corner];
        result.push([corner.x, corner.y]);
        return;
    }
    // A cubic with these handles follows the circle that touches both sides.
    let handle = 4.0 / 3.0 * crate::maths::tan(turn.abs() / 4.0) * trim / crate::maths::tan(turn.abs() / 2.0);
    let curve = kurbo::CubicBez::new(from, from + back * handle, to - ahead * handle, to);
    let steps = (turn.abs() / ARC_STEP).ceil().clamp(2.0, 64.0) as u32;
    for step in 0..=steps {
        let point = kurbo::ParamCurve::eval(&curve, f64::from(step) / f64::from(steps));
        result.push([point.x, point.y]);
    }
}

/// A closed line with its lengths.
struct Line {
    points: Vec<Point>,
    /// From the first point to each.
    at: Vec<f64>,
    length: f64,
}

impl Line {
    fn new(contour: &Contour) -> Self {
        let mut points: Vec<Point> = contour.iter().map(|[x, y]| Point::new(*x, *y)).collect();
        points.dedup_by(|a, b| (*a - *b).hypot2() < 1e-12);
        let mut at = Vec::with_capacity(points.len());
        let mut length = 0.0;
        for (i, point) in points.iter().enumerate() {
            at.push(length);
            length += (points[(i + 1) % points.len()] - *point).hypot2().sqrt();
        }
        Self { points, at, length }
    }

    /// How sharply the line turns at a point, in radians.
    fn turn(&self, i: usize) -> f64 {
        let n = self.points.len();
        let (a, b) =
            (self.points[i] - self.points[(i + n - 1) % n], self.points[(i + 1) % n] - self.points[i]);
        crate::maths::atan2(a.cross(b), a.dot(b))
    }

    /// The length from one point on to another; all the way round for one and the same.
    fn between(&self, from: usize, to: usize) -> f64 {
        let length = (self.at[to] - self.at[from]).rem_euclid(self.length);
        if length == 0.0 { self.length } else { length }
    }

    /// The point at a length, and which way the line runs there, after it or before it.
    fn along(&self, length: f64, after: bool) -> (Point, Vec2) {
        let length = length.rem_euclid(self.length);
        let n = self.points.len();
        let found = self.at.partition_point(|at| if after { *at <= length } else { *at < length });
        let i = (found + n - 1) % n;
        let (from, to) = (self.points[i], self.points[(i + 1) % n]);
        let direction = crate::maths::unit(to - from);
        let rest = (length - self.at[i]).rem_euclid(self.length);
        (from + direction * rest, direction)
    }

    /// Appends the points between two lengths.
    fn copy(&self, result: &mut Contour, from: f64, to: f64) {
        if to - from <= 1e-9 {
            return;
        }
        let n = self.points.len();
        let start = self.at.partition_point(|at| *at <= from.rem_euclid(self.length));
        for step in 0..n {
            let i = (start + step) % n;
            let ahead = (self.at[i] - from).rem_euclid(self.length);
            if ahead >= to - from {
                break;
            }
            result.push([self.points[i].x, self.points[i].y]);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::polygon::Rule;
    use super::*;
    use kurbo::Shape as _;

    /// A rounded square has a closed form: its area is w² − (4 − π)·r².
    #[test]
    fn a_rounded_square_has_the_area_of_one() {
        let square = Region::from_path(&kurbo::Rect::new(0.0, 0.0, 40.0, 40.0).to_path(0.1), Rule::NonZero)
            .expect("few lines");
        for radius in [3.0, 12.0, 20.0, 50.0_f64] {
            let fits = radius.min(20.0);
            let expected = 1600.0 - (4.0 - std::f64::consts::PI) * fits * fits;
            let area = square.rounded(radius).path().area().abs();
            assert!((area - expected).abs() < 0.5, "{radius}: {area} for {expected}");
        }
    }

    #[test]
    fn an_inward_corner_is_filled() {
        let path = kurbo::BezPath::from_svg("M0 0 H40 V20 H20 V40 H0 Z").expect("path data");
        let region = Region::from_path(&path, Rule::NonZero).expect("few lines");
        let corner = 1.0 - std::f64::consts::FRAC_PI_4;
        let expected = 1200.0 - 5.0 * corner * 16.0 + corner * 16.0;
        assert!((region.rounded(4.0).path().area().abs() - expected).abs() < 0.2);
    }
}
