//! Strokes along an edge: the silhouette with them, and the silhouette inside them.

use i_overlay::mesh::float::outline::offset::OutlineOffset;
use i_overlay::mesh::float::style::{LineJoin, OutlineStyle};
use kurbo::{BezPath, Cap, Join, Point, Size, Stroke as Pen, Vec2};

use super::crossings::{Line, MAX_LINES, TooComplex, check_lines};
use super::polygon::{Region, Rule, STEPS_A_LINE};
use super::{Outline, PlacedSilhouette, Silhouette};
use crate::budget;
use crate::geometry::{StrokeCap, StrokeJoin, StrokeSide};

/// The sharpest corner that stays mitred, as SVG has it by default (SVG 2, "stroke-miterlimit").
const MITER_LIMIT: f64 = 4.0;
/// The longest piece of a rounded join, as an angle.
const ARC_STEP: f64 = 0.032;

/// A line along the edge of a silhouette.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StrokeStyle {
    /// In px.
    pub width: f64,
    /// Which side of the edge.
    pub side: StrokeSide,
    /// How corners are joined.
    pub join: StrokeJoin,
    /// How open ends are closed.
    pub cap: StrokeCap,
}

impl StrokeStyle {
    /// The style that moves an edge as a spread does: outward, or inward where it is negative, and round.
    pub(super) fn spread(by: f64) -> Self {
        let side = if by > 0.0 { StrokeSide::Outside } else { StrokeSide::Inside };
        Self { width: by.abs(), side, join: StrokeJoin::Round, cap: StrokeCap::Round }
    }

    /// How far it lies outside and inside the edge.
    #[must_use]
    pub fn reach(&self) -> (f64, f64) {
        match self.side {
            StrokeSide::Outside => (self.width, 0.0),
            StrokeSide::Centre => (self.width / 2.0, self.width / 2.0),
            StrokeSide::Inside => (0.0, self.width),
        }
    }

    /// The outline of an open or closed line of SVG path data drawn with it, filled by the non-zero rule.
    pub(super) fn stroke_path(&self, line: &BezPath, miter: f64) -> BezPath {
        let pen = self.pen(self.width).with_miter_limit(miter);
        crate::maths::stroked(line, &pen, 0.004)
    }

    /// The silhouette grown by strokes outside, and shrunk by strokes inside.
    #[must_use]
    pub fn around(&self, silhouette: &Silhouette) -> (PlacedSilhouette, Option<PlacedSilhouette>) {
        let (out, inward) = self.reach();
        let plain = || PlacedSilhouette::plain(silhouette.clone());
        let outer = if out > 0.0 { self.moved(silhouette, out, 0.0).unwrap_or_else(plain) } else { plain() };
        let inner = if inward > 0.0 { self.moved(silhouette, -inward, 0.0) } else { Some(plain()) };
        (outer, inner)
    }

    /// The silhouette with its edge moved by `by` px, within `tolerance` px of that where fewer points will do; nothing when
    /// nothing is left.
    pub(super) fn moved(&self, silhouette: &Silhouette, by: f64, tolerance: f64) -> Option<PlacedSilhouette> {
        if let Silhouette::Box(rounded) = silhouette
            && (by < 0.0 || self.join != StrokeJoin::Bevel)
        {
            // A border keeps its corners' style; only a sharp corner can be joined in another way.
            let sharp = by > 0.0 && self.join == StrokeJoin::Round;
            let grown = rounded.bordered(by, sharp)?;
            return Some(PlacedSilhouette { silhouette: Silhouette::Box(grown), x: -by, y: -by });
        }
        let outline = silhouette.outline();
        let precision = [by, tolerance].map(f64::to_bits);
        let key = (outline.fingerprint(), precision, self.join as u8, self.cap as u8);
        let size = (outline.width, outline.height);
        let moved = super::outline_cache::outline(("edge", key), Size::from(size), || {
            // The farther the edge is moved the less of its detail is left, and the more its lines cross.
            let region =
                Region::from_path(&outline.path, Rule::NonZero)?.simplified(tolerance.max(by.abs() * 1e-3));
            let style = OutlineStyle::new(by).line_join(match self.join {
                StrokeJoin::Miter => LineJoin::Miter(2.0 * crate::maths::asin(1.0 / MITER_LIMIT)),
                StrokeJoin::Round => LineJoin::Round(arc_step(by, tolerance)),
                StrokeJoin::Bevel => LineJoin::Bevel,
            });
            if !may_be_moved(&region, by, self.join)? {
                return Ok(Outline::new(BezPath::new(), outline.width, outline.height));
            }
            let moved = Region { contours: region.contours.outline(&style).into_iter().flatten().collect() };
            Ok(Outline::new(moved.path(), outline.width, outline.height))
        });
        // Where it is too intricate, nothing is drawn, and resolving says so.
        if moved.is_too_complex() {
            return Some(PlacedSilhouette::plain(Silhouette::Outline(moved)));
        }
        if moved.path.is_empty() { None } else { Some(PlacedSilhouette::plain(Silhouette::Outline(moved))) }
    }

    fn pen(&self, width: f64) -> Pen {
        let join = match self.join {
            StrokeJoin::Miter => Join::Miter,
            StrokeJoin::Round => Join::Round,
            StrokeJoin::Bevel => Join::Bevel,
        };
        let cap = match self.cap {
            StrokeCap::Butt => Cap::Butt,
            StrokeCap::Round => Cap::Round,
            StrokeCap::Square => Cap::Square,
        };
        Pen::new(width).with_join(join).with_miter_limit(MITER_LIMIT).with_caps(cap)
    }
}

impl PlacedSilhouette {
    /// Another edge around the shape so far.
    #[must_use]
    pub fn grown_by(&self, edge: &StrokeStyle) -> Self {
        let (outer, _) = edge.around(&self.silhouette);
        Self { x: self.x + outer.x, y: self.y + outer.y, silhouette: outer.silhouette }
    }

    /// The silhouette inside a stroke.
    #[must_use]
    pub fn shrunk_by(&self, edge: &StrokeStyle) -> Option<Self> {
        let inner = edge.around(&self.silhouette).1?;
        Some(Self { x: self.x + inner.x, y: self.y + inner.y, silhouette: inner.silhouette })
    }
}

/// The longest piece of a join rounded by a radius, as an angle: the middle of a chord lies about an eighth of its angle's square
/// from the arc, times the radius.
fn arc_step(radius: f64, tolerance: f64) -> f64 {
    (8.0 * tolerance / radius.abs()).sqrt().clamp(ARC_STEP, 0.5)
}

/// The longest line that stands for an arc while crossings are counted, as an angle.
const COUNTED_ARC: f64 = 0.25;

/// Whether the edge of a region may be moved: how many lines there are once they are, and how often they cross, before
/// that is put in order.
fn may_be_moved(region: &Region, by: f64, join: StrokeJoin) -> Result<bool, TooComplex> {
    let (mut lines, mut count) = (Vec::new(), 0.0);
    for contour in &region.contours {
        let points: Vec<Point> = contour.iter().map(|[x, y]| Point::new(*x, *y)).collect();
        let after = |i: usize| points[(i + 1) % points.len()];
        let mut moved = Vec::new();
        for i in 0..points.len() {
            let corner = after(i);
            let (along, next) = (corner - points[i], after((i + 1) % points.len()) - corner);
            if along.hypot2() == 0.0 || next.hypot2() == 0.0 {
                continue;
            }
            let aside = |along: Vec2| crate::maths::unit(Vec2::new(along.y, -along.x)) * by;
            moved.extend([points[i] + aside(along), corner + aside(along)]);
            let turn = crate::maths::atan2(along.cross(next), along.dot(next));
            if join == StrokeJoin::Round && turn * by > 0.0 {
                count += (turn.abs() / ARC_STEP).ceil();
                let steps = (turn.abs() / COUNTED_ARC).ceil();
                let arm = |step: u32| {
                    crate::maths::rotation(turn * f64::from(step) / steps) * aside(along).to_point()
                };
                moved.extend((1..steps as u32).map(|step| corner + arm(step).to_vec2()));
            }
            count += 2.0;
            if count > MAX_LINES as f64 {
                return Err(TooComplex);
            }
        }
        let next = moved.iter().skip(1).chain(moved.first());
        lines.extend(moved.iter().zip(next).map(|(from, to)| Line { from: *from, to: *to }));
    }
    if !budget::spend(count as u64 * 4 * STEPS_A_LINE) {
        return Ok(false);
    }
    check_lines(lines)?;
    Ok(true)
}
