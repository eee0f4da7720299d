//! The exact sweep of a region along a segment: every point it touches on the way.

use kurbo::Vec2;

use super::polygon::{Contour, Region, Rule};
use super::{Outline, Silhouette, kept};

impl Silhouette {
    /// The silhouette with everything it touches on its way to `by`.
    ///
    /// The sweep is the union of both ends with the parallelograms that the edges sweep, so it has no teeth at any
    /// length.
    #[must_use]
    pub fn swept(&self, by: Vec2) -> Self {
        let outline = self.outline();
        let key = (outline.fingerprint(), by.x.to_bits(), by.y.to_bits());
        Self::Outline(kept::outline(("sweep", key), || {
            let region = Region::of(&outline.path, Rule::NonZero).swept(by);
            Outline::new(region.path(), outline.width, outline.height)
        }))
    }
}

impl Region {
    /// Every point the region touches on its way to `by`.
    #[must_use]
    pub fn swept(&self, by: Vec2) -> Self {
        if by.hypot2() == 0.0 || self.contours.is_empty() {
            return self.clone();
        }
        let moved = |[x, y]: [f64; 2]| [x + by.x, y + by.y];
        let mut parts: Vec<Contour> = Vec::new();
        for contour in &self.contours {
            for (i, from) in contour.iter().enumerate() {
                let to = contour[(i + 1) % contour.len()];
                // All wind the same way, so that none takes away what another adds.
                let turn = (to[0] - from[0]) * by.y - (to[1] - from[1]) * by.x;
                if turn > 0.0 {
                    parts.push(vec![*from, to, moved(to), moved(*from)]);
                } else if turn < 0.0 {
                    parts.push(vec![*from, moved(*from), moved(to), to]);
                }
            }
        }
        let sides = Self::of_contours(&parts, Rule::NonZero);
        let end =
            Self { contours: self.contours.iter().map(|c| c.iter().map(|p| moved(*p)).collect()).collect() };
        self.joined(&sides, crate::model::JoinOp::Add).joined(&end, crate::model::JoinOp::Add)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::Shape as _;

    fn region(path: &kurbo::BezPath) -> Region {
        Region::of(path, Rule::NonZero)
    }

    /// The sweep of a convex shape has its area and its width across the sweep times the length (Cavalieri).
    #[test]
    fn a_circle_sweeps_a_stadium() {
        let circle = region(&kurbo::Circle::new((20.0, 20.0), 15.0).to_path(0.001));
        for by in [Vec2::new(40.0, 0.0), Vec2::new(-12.0, 9.0), Vec2::new(0.0, -0.5)] {
            let expected = std::f64::consts::PI * 225.0 + 30.0 * by.hypot();
            assert!((circle.swept(by).path().area().abs() - expected).abs() < 0.5, "{by:?}");
        }
    }

    #[test]
    fn a_ring_closes_once_the_sweep_is_wider_than_its_hole() {
        let mut ring = kurbo::Circle::new((0.0, 0.0), 20.0).to_path(0.001);
        ring.extend(kurbo::Circle::new((0.0, 0.0), 5.0).to_path(0.001).reverse_subpaths());
        let swept = region(&ring).swept(Vec2::new(10.5, 0.0));
        assert_eq!(swept.contours.len(), 1, "the hole is closed");
        assert_eq!(region(&ring).swept(Vec2::new(4.0, 0.0)).contours.len(), 2, "and open before");
    }
}
