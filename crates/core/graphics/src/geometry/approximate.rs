//! Approximations of silhouettes that have fewer points: for lines that are only looked at.

use super::polygon::simplified_path;
use super::stroke::StrokeStyle;
use super::{Outline, PlacedSilhouette, Silhouette, outline_cache};

impl Silhouette {
    /// Nearly the outline of [`Self::spread`], within six times `tolerance` in px, with fewer points: quicker to make
    /// and to draw. A box has few points anyway.
    ///
    /// Moving an edge far at once lets most of its lines cross one another. It is moved by a power of two first, which many
    /// spreads share, and on from there: round edges moved twice are where they are moved to at once.
    #[must_use]
    pub fn approximate_spread(&self, by: f64, tolerance: f64) -> Option<PlacedSilhouette> {
        if by == 0.0 || self.is_box() {
            return self.spread(by);
        }
        let first = first_step(by);
        let near = match first {
            Some(first) => self.approximate_spread(first, tolerance / 2.0)?.silhouette,
            None => self.clone(),
        };
        let moved = StrokeStyle::spread(by).moved(&near, by - first.unwrap_or(0.0), tolerance)?;
        Some(PlacedSilhouette { silhouette: moved.silhouette.simplified(tolerance), ..moved })
    }

    /// With its edge no farther than `tolerance` px from where it is, and as few points as that takes: quicker to move and to be
    /// drawn. A box has few, and stays.
    #[must_use]
    pub fn simplified(&self, tolerance: f64) -> Self {
        if self.is_box() {
            return self.clone();
        }
        let outline = self.outline();
        let (key, size) = ((outline.fingerprint(), tolerance.to_bits()), (outline.width, outline.height));
        Self::Outline(outline_cache::outline(("simplified", key), kurbo::Size::from(size), || {
            let path = simplified_path(&outline.path, tolerance)?;
            Ok(Outline::new(path, outline.width, outline.height))
        }))
    }
}

/// An edge is moved so far at once, in px.
const AT_ONCE: f64 = 4.0;

/// The power of two below a spread that an edge is moved by first; none for a small one.
fn first_step(by: f64) -> Option<f64> {
    if by.abs() <= AT_ONCE {
        return None;
    }
    let mut first = AT_ONCE;
    while first * 2.0 < by.abs() {
        first *= 2.0;
    }
    Some(first.copysign(by))
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::{BezPath, ParamCurveNearest as _, Point};

    /// The farthest that a corner of one outline lies from the edge of another.
    fn farthest(from: &Silhouette, to: &Silhouette) -> f64 {
        let edge: Vec<_> = to.outline().path.segments().collect();
        let off = |corner: Point| {
            let distances = edge.iter().map(|line| line.nearest(corner, 1e-6).distance_sq);
            distances.fold(f64::INFINITY, f64::min).sqrt()
        };
        let corners = from
            .outline()
            .path
            .elements()
            .iter()
            .filter_map(kurbo::PathEl::end_point)
            .map(off)
            .collect::<Vec<_>>();
        corners.into_iter().fold(0.0, f64::max)
    }

    /// A star with a hole, and letters drawn over one another, moved out and in by more and less than a power of two.
    #[test]
    fn an_approximate_spread_lies_close_to_the_exact_one_and_has_fewer_points() {
        let star = "M50 0C52 30 60 45 100 50C60 55 52 70 50 100C48 70 40 55 0 50C40 45 48 30 50 0ZM50 45A5 5 0 0 0 50 55A5 5 0 0 0 50 45Z";
        let bars = "M0 0H90V20H0ZM35 0H55V100H35ZM5 60C30 40 60 40 85 60V80H5Z";
        for text in [star, bars] {
            let path = BezPath::from_svg(text).expect("path data");
            let shape = Silhouette::Outline(std::sync::Arc::new(Outline::new(path, 100.0, 100.0)));
            for by in [-9.0, -5.5, -2.0, 1.5, 4.0, 7.0, 16.0, 37.0] {
                let (exact, tolerance) = (shape.spread(by), 0.03);
                let near = shape.approximate_spread(by, tolerance);
                let (Some(exact), Some(near)) = (&exact, &near) else {
                    assert!(exact.is_none() && near.is_none(), "{by}: only one is left");
                    continue;
                };
                let (exact, near) = (&exact.silhouette, &near.silhouette);
                assert!(farthest(near, exact) < 5.0 * tolerance, "{by}: {}", farthest(near, exact));
                assert!(farthest(exact, near) < 5.0 * tolerance, "{by}: {}", farthest(exact, near));
                let points = |one: &Silhouette| one.outline().path.elements().len();
                assert!(points(near) < points(exact), "{by}: {} and {}", points(near), points(exact));
            }
        }
    }
}
