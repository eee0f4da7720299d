//! The lines of an outline, and which of them and of the pixels around them count.

use kurbo::{Point, Vec2};

use crate::raster::Mask;

/// A line of the outline.
#[derive(Clone, Copy)]
pub struct Line {
    pub from: Point,
    pub along: Vec2,
    /// One by the square of its length; 0 for a point.
    pub share: f64,
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
    pub fn squared(&self, point: Point) -> f64 {
        let away = point - self.from;
        let t = (away.dot(self.along) * self.share).clamp(0.0, 1.0);
        (away - self.along * t).hypot2()
    }
}

/// The middle of a pixel.
pub fn middle(x: i32, y: i32) -> Point {
    Point::new(f64::from(x) + 0.5, f64::from(y) + 0.5)
}

/// Whether all around a pixel is covered: a line there runs through the inside, where contours overlap.
pub fn is_deep_inside(source: &Mask, x: i32, y: i32) -> bool {
    let covered = |dx: i32, dy: i32| source.at(x + dx, y + dy) >= 0.999;
    covered(0, 0) && (-1..=1).all(|dy| (-1..=1).all(|dx| covered(dx, dy)))
}

/// The distance of a pixel whose square and coverage are known; infinite on the side that the outline moves away from.
#[inline(always)]
pub fn signed(squared: f32, coverage: f32) -> f32 {
    let distance = squared.sqrt();
    if coverage > 0.5 { -distance } else { distance }
}

/// Whether a pixel lies wholly on the side that the outline moves away from.
#[inline(always)]
pub fn is_apart(coverage: f32, spread: f64) -> bool {
    if spread > 0.0 { coverage >= 1.0 } else { coverage <= 0.0 }
}

/// The largest distance that matters.
pub fn limit(spread: f64) -> f64 {
    spread.abs() + MARGIN
}

/// Pixels past the moved outline whose distances are known too.
const MARGIN: f64 = 3.0;
