//! Outlines as plain polygons, and operations on sets of points.
//!
//! Boolean operations are those of `i_overlay`; what comes out neither crosses itself nor overlaps, which is what
//! coverage by area and distances to the outline ask for. They cannot be interrupted: what they would take is looked at
//! before they are begun.

use i_overlay::core::fill_rule::FillRule;
use i_overlay::core::overlay_rule::OverlayRule;
use i_overlay::float::simplify::SimplifyShape;
use i_overlay::float::single::SingleFloatOverlay;
use kurbo::{BezPath, PathEl, Point};

use super::contour::Contour;
use super::crossings::{self, TooComplex};
use crate::budget;
use crate::geometry::JoinOp;

/// How far a polygon may lie from the curve it stands for, in px.
const FLATNESS: f64 = 0.004;

/// Which points are inside an outline that crosses itself.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Rule {
    /// Where its lines wind around at all.
    NonZero,
    /// Where they wind around an odd number of times.
    EvenOdd,
}

/// Closed polygons that neither cross themselves nor one another.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Region {
    /// Outer lines one way round, holes the other.
    pub contours: Vec<Contour>,
}

impl Region {
    /// The area that a path encloses.
    ///
    /// # Errors
    /// [`TooComplex`] where its lines are too many or cross too often.
    pub fn from_path(path: &BezPath, rule: Rule) -> Result<Self, TooComplex> {
        Self::from_contours(contours(path)?, rule)
    }

    /// The area that closed lines enclose together.
    ///
    /// # Errors
    /// As [`Self::from_path`].
    pub fn from_contours(mut contours: Vec<Contour>, rule: Rule) -> Result<Self, TooComplex> {
        let rule = match rule {
            Rule::NonZero => FillRule::NonZero,
            Rule::EvenOdd => FillRule::EvenOdd,
        };
        contours.retain(|contour| contour.len() > 2);
        if contours.is_empty() || !may_begin(contours.iter())? {
            return Ok(Self::default());
        }
        Ok(Self { contours: contours.simplify_shape(rule).into_iter().flatten().collect() })
    }

    /// Several regions joined, all at once where the operation allows it.
    ///
    /// # Errors
    /// As [`Self::from_path`].
    pub fn joined(regions: Vec<Self>, op: JoinOp) -> Result<Self, TooComplex> {
        if op != JoinOp::Add {
            crossings::check_apart(regions.iter().flat_map(|region| &region.contours))?;
        }
        let mut regions = regions.into_iter();
        let together = |regions: &mut dyn Iterator<Item = Self>| -> Vec<Contour> {
            regions.flat_map(|one| one.contours).collect()
        };
        match op {
            // Regions wind one way only, so that none takes away what another adds.
            JoinOp::Add => Self::from_contours(together(&mut regions), Rule::NonZero),
            // What lies in an odd number of them.
            JoinOp::Exclude => Self::from_contours(together(&mut regions), Rule::EvenOdd),
            JoinOp::Subtract => {
                let first = regions.next().unwrap_or_default();
                let taken = Self::from_contours(together(&mut regions), Rule::NonZero)?;
                first.with(&taken, OverlayRule::Difference)
            }
            JoinOp::Intersect => {
                let first = regions.next().unwrap_or_default();
                regions.try_fold(first, |all, next| all.with(&next, OverlayRule::Intersect))
            }
        }
    }

    fn with(self, other: &Self, rule: OverlayRule) -> Result<Self, TooComplex> {
        if self.contours.is_empty() || (other.contours.is_empty() && rule == OverlayRule::Intersect) {
            return Ok(Self::default());
        }
        if other.contours.is_empty() {
            return Ok(self);
        }
        if !may_begin(self.contours.iter().chain(&other.contours))? {
            return Ok(Self::default());
        }
        let joined = self.contours.overlay(&other.contours, rule, FillRule::NonZero);
        Ok(Self { contours: joined.into_iter().flatten().collect() })
    }

    /// The region with no more points than it takes to stay within `tolerance` px.
    #[must_use]
    pub fn simplified(&self, tolerance: f64) -> Self {
        Self { contours: self.contours.iter().map(|contour| simplified(contour, tolerance)).collect() }
    }

    /// The region as a path of straight lines.
    #[must_use]
    pub fn path(&self) -> BezPath {
        let mut path = BezPath::new();
        for contour in &self.contours {
            let mut points = contour.iter().map(|[x, y]| Point::new(*x, *y));
            let Some(first) = points.next() else { continue };
            path.move_to(first);
            points.for_each(|point| path.line_to(point));
            path.close_path();
        }
        path
    }
}

/// Steps that boolean operations take for each line.
pub(super) const STEPS_A_LINE: u64 = 2_000;

/// Whether operations on so many lines may be begun.
pub(super) fn may_begin<'a>(contours: impl Iterator<Item = &'a Contour> + Clone) -> Result<bool, TooComplex> {
    let lines: usize = contours.clone().map(Vec::len).sum();
    if !budget::spend(lines as u64 * STEPS_A_LINE) {
        return Ok(false);
    }
    crossings::check(contours)?;
    Ok(true)
}

/// Lines are drawn on for as long as every point they leave out lies close enough.
fn simplified(contour: &Contour, tolerance: f64) -> Contour {
    let point = |i: usize| Point::from((contour[i][0], contour[i][1]));
    let far = |from: usize, to: usize, i: usize| {
        let (line, arm) = (point(to) - point(from), point(i) - point(from));
        let along = (arm.dot(line) / line.hypot2().max(1e-12)).clamp(0.0, 1.0);
        (arm - line * along).hypot2().sqrt() > tolerance
    };
    let mut kept: Contour = contour.first().copied().into_iter().collect();
    let mut from = 0;
    for to in 2..contour.len() {
        if (from + 1..to).any(|i| far(from, to, i)) {
            from = to - 1;
            kept.push(contour[from]);
        }
    }
    kept.extend(contour.last().filter(|_| contour.len() > 1));
    if kept.len() > 2 { kept } else { contour.clone() }
}

/// A path of straight lines no farther than `tolerance` px from another, with as few points as that takes.
///
/// # Errors
/// [`TooComplex`] where the lines of the other are too many.
pub fn simplified_path(path: &BezPath, tolerance: f64) -> Result<BezPath, TooComplex> {
    let region = Region { contours: contours(path)? };
    Ok(region.simplified(tolerance).path())
}

/// The closed lines of a path, curves flattened.
///
/// # Errors
/// [`TooComplex`] where they are too many.
pub fn contours(path: &BezPath) -> Result<Vec<Contour>, TooComplex> {
    let mut contours: Vec<Contour> = Vec::new();
    let mut lines = 0;
    // Curves are flattened one element after the other: the number of lines is known only then.
    kurbo::flatten(path, FLATNESS, |element| {
        lines += 1;
        if lines > crossings::MAX_LINES {
            return;
        }
        match element {
            PathEl::MoveTo(to) => contours.push(vec![[to.x, to.y]]),
            PathEl::LineTo(to) => {
                if let Some(contour) = contours.last_mut() {
                    contour.push([to.x, to.y]);
                }
            }
            PathEl::ClosePath => {
                // What follows without a move starts where this contour started.
                if let Some(start) = contours.last().and_then(|contour| contour.first().copied()) {
                    contours.push(vec![start]);
                }
            }
            // `kurbo::flatten` gives nothing but lines.
            PathEl::QuadTo(..) | PathEl::CurveTo(..) => {}
        }
    });
    if lines > crossings::MAX_LINES {
        return Err(TooComplex);
    }
    contours.retain(|contour| contour.len() > 2 && contour.iter().flatten().all(|part| part.is_finite()));
    Ok(contours)
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::Shape as _;

    fn square(x: f64) -> Region {
        Region::from_path(&kurbo::Rect::new(x, 0.0, x + 10.0, 10.0).to_path(0.1), Rule::NonZero)
            .expect("a square")
    }

    /// Areas of two squares that share half, known in closed form.
    #[test]
    fn joins_have_the_area_of_the_sets_they_stand_for() {
        let joined = |op| Region::joined(vec![square(0.0), square(5.0)], op).expect("few lines");
        let area = |op| joined(op).path().area().abs();
        assert_eq!(area(JoinOp::Add), 150.0);
        assert_eq!(area(JoinOp::Subtract), 50.0);
        assert_eq!(area(JoinOp::Intersect), 50.0);
        assert_eq!(area(JoinOp::Exclude), 100.0);
    }

    /// A five-pointed star drawn in one line: its middle is wound around twice (SVG 2, "fill-rule").
    #[test]
    fn the_fill_rules_differ_in_the_middle_of_a_star() {
        let star = BezPath::from_svg("M50 5 L79 95 L2 39 L98 39 L21 95 Z").expect("path data");
        let area = |rule| Region::from_path(&star, rule).expect("few lines").path().area().abs();
        assert!(area(Rule::NonZero) > area(Rule::EvenOdd) + 500.0);
    }
}
