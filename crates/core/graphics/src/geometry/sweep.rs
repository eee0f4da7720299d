//! The exact sweep of a region along a segment: every point it touches on the way.

use kurbo::{Size, Vec2};

use super::contour::Contour;
use super::crossings::TooComplex;
use super::polygon::{Region, Rule};
use super::{Outline, Silhouette, outline_cache};

impl Silhouette {
    /// The silhouette with everything it touches on its way to `by`.
    ///
    /// The sweep is the union of both ends with the areas that the sides between them sweep, so it has no teeth at any
    /// length.
    #[must_use]
    pub fn swept(&self, by: Vec2) -> Self {
        let outline = self.outline();
        let key = (outline.fingerprint(), by.x.to_bits(), by.y.to_bits());
        let size = (outline.width, outline.height);
        Self::Outline(outline_cache::outline(("sweep", key), Size::from(size), || {
            let region = Region::from_path(&outline.path, Rule::NonZero)?.swept(by)?;
            Ok(Outline::new(region.path(), outline.width, outline.height))
        }))
    }
}

impl Region {
    /// Every point the region touches on its way to `by`.
    ///
    /// # Errors
    /// [`TooComplex`] where what the sides sweep crosses too often.
    pub fn swept(&self, by: Vec2) -> Result<Self, TooComplex> {
        if by.hypot2() == 0.0 || self.contours.is_empty() {
            return Ok(self.clone());
        }
        let moved = |[x, y]: [f64; 2]| [x + by.x, y + by.y];
        let region_winds_left = self.contours.iter().map(signed_area).sum::<f64>() > 0.0;
        let end = self.contours.iter().map(|contour| contour.iter().copied().map(moved).collect());
        let mut parts: Vec<Contour> = end.chain(self.contours.iter().cloned()).collect();
        for contour in &self.contours {
            for side in sides(contour, by) {
                // All wind the same way as the region, so that none takes away what another adds.
                let far = side.points.iter().rev().copied().map(moved);
                let mut swept: Contour = side.points.iter().copied().chain(far).collect();
                if side.turns_left != region_winds_left {
                    swept.reverse();
                }
                parts.push(swept);
            }
        }
        Self::from_contours(parts, Rule::NonZero)
    }
}

/// Twice the area a contour encloses; negative where it runs the other way round.
fn signed_area(contour: &Contour) -> f64 {
    let next = contour.iter().skip(1).chain(contour.first());
    contour.iter().zip(next).map(|([ax, ay], [bx, by])| ax * by - ay * bx).sum()
}

/// A part of a contour that lies to one side of the sweep: it and its end enclose the area that it sweeps, without
/// crossing.
struct Side {
    points: Contour,
    turns_left: bool,
}

/// The longest parts of a contour that run one way across the sweep.
fn sides(contour: &Contour, by: Vec2) -> Vec<Side> {
    let count = contour.len();
    let turn = |i: usize| {
        let (from, to) = (contour[i % count], contour[(i + 1) % count]);
        (to[0] - from[0]) * by.y - (to[1] - from[1]) * by.x
    };
    // Where the line changes its way, so that no part runs over the start of the contour.
    let start = (0..count).find(|i| (turn(*i) > 0.0) != (turn(*i + count - 1) > 0.0)).unwrap_or(0);
    let mut sides: Vec<Side> = Vec::new();
    for i in start..start + count {
        let (from, to) = (contour[i % count], contour[(i + 1) % count]);
        if turn(i) == 0.0 {
            // Along the sweep nothing is swept.
            sides.push(Side { points: Vec::new(), turns_left: false });
            continue;
        }
        let turns_left = turn(i) > 0.0;
        match sides.last_mut() {
            Some(last) if last.turns_left == turns_left && !last.points.is_empty() => last.points.push(to),
            _ => sides.push(Side { points: vec![from, to], turns_left }),
        }
    }
    sides.retain(|side| !side.points.is_empty());
    sides
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::Shape as _;

    fn region(path: &kurbo::BezPath) -> Region {
        Region::from_path(path, Rule::NonZero).expect("few lines")
    }

    fn swept(region: &Region, by: Vec2) -> Region {
        region.swept(by).expect("few lines")
    }

    /// The sweep of a convex shape has its area and its width across the sweep times the length (Cavalieri).
    #[test]
    fn a_circle_sweeps_a_stadium() {
        let circle = region(&kurbo::Circle::new((20.0, 20.0), 15.0).to_path(0.001));
        for by in [Vec2::new(40.0, 0.0), Vec2::new(-12.0, 9.0), Vec2::new(0.0, -0.5)] {
            let expected = std::f64::consts::PI * 225.0 + 30.0 * by.hypot2().sqrt();
            assert!((swept(&circle, by).path().area().abs() - expected).abs() < 0.5, "{by:?}");
        }
    }

    #[test]
    fn a_ring_closes_once_the_sweep_is_wider_than_its_hole() {
        let mut ring = kurbo::Circle::new((0.0, 0.0), 20.0).to_path(0.001);
        ring.extend(kurbo::Circle::new((0.0, 0.0), 5.0).to_path(0.001).reverse_subpaths());
        let closed = swept(&region(&ring), Vec2::new(10.5, 0.0));
        assert_eq!(closed.contours.len(), 1, "the hole is closed");
        assert_eq!(swept(&region(&ring), Vec2::new(4.0, 0.0)).contours.len(), 2, "and open before");
    }
}
