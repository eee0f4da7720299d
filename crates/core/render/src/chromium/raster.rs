//! Outlines as Chromium's software rasteriser draws them: curves become few straight lines, and the ends of lines lie on
//! quarters of a pixel down (measured in Chromium 156).

use kurbo::{Affine, BezPath, ParamCurve, PathEl, PathSeg, Point, QuadBez};

use crate::raster::{Mask, Rect, cover, flatten, rasterize};

/// Coverage of `outline`, whose quadratic curves are drawn as browsers draw them. Contours that are upright rectangles
/// are drawn exactly.
pub(super) fn rasterize_coarsely(outline: &BezPath, transform: Affine, window: Rect) -> Mask {
    let mut lines = Lines { fine: Fine::Nearest, lines: Vec::new() };
    let placed_mask = transform * outline;
    let mut rest = placed_mask.elements();
    while !rest.is_empty() {
        let next = |element: &PathEl| matches!(element, PathEl::MoveTo(_));
        let end = rest[1..].iter().position(next).map_or(rest.len(), |at| at + 1);
        lines.contour(&rest[..end]);
        rest = &rest[end..];
    }
    cover(lines.lines, window)
}

/// Coverage of a shape of four quarter ellipses and the straight lines between them; without corners, an exact rectangle.
/// Each corner is its start, the point its tangents meet in, and its end.
pub(super) fn rasterize_corners(corners: &[[Point; 3]; 4], transform: Affine, window: Rect) -> Mask {
    let mut lines = Lines { fine: Fine::Cut, lines: Vec::new() };
    if corners.iter().all(|[from, _, to]| from == to) {
        let [a, b, c, d] = corners.map(|[at, ..]| at);
        let path = BezPath::from_vec(vec![
            PathEl::MoveTo(a),
            PathEl::LineTo(b),
            PathEl::LineTo(c),
            PathEl::LineTo(d),
            PathEl::ClosePath,
        ]);
        return rasterize(&path, transform, window);
    }
    let [tl, tr, br, bl] = corners.map(|corner| corner.map(|point| transform * point));
    let [across, turn, lean, down, ..] = transform.as_coeffs();
    if turn == 0.0 && lean == 0.0 && across > 0.0 && down > 0.0 {
        let upward = |[from, control, to]: [Point; 3]| [to, control, from];
        smoothed(&side(tr, br)).into_iter().for_each(|(from, to)| lines.push(from, to));
        smoothed(&side(upward(tl), upward(bl))).into_iter().for_each(|(from, to)| lines.push(to, from));
    } else {
        let mut last = bl[2];
        for corner in [tl, tr, br, bl] {
            lines.line(last, corner[0]);
            Conic::quarter_ellipse(corner).quads().into_iter().for_each(|quad| lines.quad(quad));
            last = corner[2];
        }
    }
    cover(lines.lines, window)
}

/// A line of an edge, from the top down.
struct Step {
    from: Point,
    to: Point,
    /// Whether the next line of the same curve goes on smoothly; nothing at the end of a curve.
    smooth: Option<bool>,
}

impl Step {
    /// Px to the right for each px down.
    fn slope(&self) -> f64 {
        (self.to.x - self.from.x) / (self.to.y - self.from.y)
    }

    fn at(&self, y: f64) -> Point {
        Point::new(self.from.x + self.slope() * (y - self.from.y), y)
    }
}

/// One side of a rounded box from the top down: a corner, a line, a corner.
fn side(upper: [Point; 3], lower: [Point; 3]) -> Vec<Step> {
    let corner =
        |at| Conic::quarter_ellipse(at).quads().into_iter().flat_map(|quad| steps_of(&quad, Fine::Cut));
    let mut steps: Vec<Step> = corner(upper).collect();
    let (from, to) = (Fine::Cut.snapped(upper[2]), Fine::Cut.snapped(lower[0]));
    if from.y < to.y {
        steps.push(Step { from, to, smooth: None });
    }
    steps.extend(corner(lower));
    steps
}

/// The lines of an edge as they are drawn: where one goes on smoothly, it is drawn to the end of its row of pixels, and
/// the next from there.
fn smoothed(steps: &[Step]) -> Vec<(Point, Point)> {
    let mut lines = Vec::new();
    let mut drawn_to = f64::NEG_INFINITY;
    for (i, step) in steps.iter().enumerate() {
        if step.to.y <= drawn_to {
            continue;
        }
        let start = if drawn_to > step.from.y { step.at(drawn_to) } else { step.from };
        let goes_on = |next: &Step| {
            let gently = (next.slope() - step.slope()).abs() <= 1.0 && next.to.y - next.from.y >= 1.0;
            step.smooth.unwrap_or(gently)
        };
        let smooth = steps.get(i + 1).is_some_and(goes_on);
        let end = if smooth { step.at(step.to.y.ceil()) } else { step.to };
        lines.push((start, end));
        drawn_to = end.y;
    }
    lines
}

/// A rational quadratic curve, in the single precision that decides into how many lines it becomes.
#[derive(Clone, Copy)]
struct Conic {
    points: [[f32; 2]; 3],
    weight: f32,
}

/// How far curves that stand for a conic may lie from it, in pixels.
const CONIC_TOLERANCE: f32 = 0.25;

impl Conic {
    fn quarter_ellipse(points: [Point; 3]) -> Self {
        let points = points.map(|at| [at.x as f32, at.y as f32]);
        Self { points, weight: std::f32::consts::FRAC_1_SQRT_2 }
    }

    /// As quadratic curves, halved until they are close enough.
    fn quads(self) -> Vec<QuadBez> {
        let [p0, p1, p2] = self.points;
        let less = self.weight - 1.0;
        let factor = less / (4.0 * (2.0 + less));
        let [x, y] = [0, 1].map(|i| factor * (p0[i] - 2.0 * p1[i] + p2[i]));
        let mut error = (x * x + y * y).sqrt();
        let mut conics = vec![self];
        while error > CONIC_TOLERANCE && conics.len() < 32 {
            conics = conics.into_iter().flat_map(Self::halves).collect();
            error /= 4.0;
        }
        let point = |[x, y]: [f32; 2]| Point::new(x.into(), y.into());
        let quad = |conic: Self| {
            let [p0, p1, p2] = conic.points.map(point);
            QuadBez::new(p0, p1, p2)
        };
        conics.into_iter().map(quad).collect()
    }

    fn halves(self) -> [Self; 2] {
        let Self { points: [p0, p1, p2], weight } = self;
        let scale = 1.0 / (1.0 + weight);
        let weighted = p1.map(|part| weight * part);
        let both = |of: &dyn Fn(usize) -> f32| [of(0), of(1)];
        let left = both(&|i| (p0[i] + weighted[i]) * scale);
        let middle = both(&|i| (p0[i] + (weighted[i] + weighted[i]) + p2[i]) * scale * 0.5);
        let right = both(&|i| (weighted[i] + p2[i]) * scale);
        let weight = (0.5 + weight * 0.5).sqrt();
        [Self { points: [p0, left, middle], weight }, Self { points: [middle, right, p2], weight }]
    }
}

/// The lines of closed contours.
struct Lines {
    fine: Fine,
    lines: Vec<(Point, Point)>,
}

impl Lines {
    /// A contour, from its `MoveTo` on.
    fn contour(&mut self, elements: &[PathEl]) {
        let segments: Vec<PathSeg> = kurbo::segments(elements.iter().copied()).collect();
        let upright = |segment: &PathSeg| match segment {
            PathSeg::Line(line) => line.p0.x == line.p1.x || line.p0.y == line.p1.y,
            PathSeg::Quad(_) | PathSeg::Cubic(_) => false,
        };
        let is_rectangle = segments.len() == 4 && segments.iter().all(upright);
        for segment in segments {
            match segment {
                PathSeg::Line(line) if is_rectangle => self.push(line.p0, line.p1),
                PathSeg::Line(line) => self.line(line.p0, line.p1),
                PathSeg::Quad(quad) => self.quad(quad),
                PathSeg::Cubic(cubic) => {
                    let from = [PathEl::MoveTo(cubic.p0), PathEl::CurveTo(cubic.p1, cubic.p2, cubic.p3)];
                    // `flatten` closes contours; this one goes on.
                    let lines = flatten(&from.into_iter().collect(), Affine::IDENTITY);
                    lines
                        .iter()
                        .filter(|(_, to)| *to != cubic.p0)
                        .for_each(|(from, to)| self.line(*from, *to));
                }
            }
        }
    }

    fn line(&mut self, from: Point, to: Point) {
        self.push(self.fine.snapped(from), self.fine.snapped(to));
    }

    fn push(&mut self, from: Point, to: Point) {
        if from != to && from.is_finite() && to.is_finite() {
            self.lines.push((from, to));
        }
    }

    /// A curve, cut where it turns back up or down.
    fn quad(&mut self, quad: QuadBez) {
        let bend = quad.p0.y - 2.0 * quad.p1.y + quad.p2.y;
        let turn = (quad.p0.y - quad.p1.y) / bend;
        if bend != 0.0 && turn > 0.0 && turn < 1.0 {
            self.one_way(quad.subsegment(0.0..turn));
            self.one_way(quad.subsegment(turn..1.0));
        } else {
            self.one_way(quad);
        }
    }

    /// A curve that goes only up or only down.
    fn one_way(&mut self, quad: QuadBez) {
        let upward = quad.p0.y > quad.p2.y;
        let quad = if upward { QuadBez::new(quad.p2, quad.p1, quad.p0) } else { quad };
        for Step { from, to, .. } in steps_of(&quad, self.fine) {
            if upward { self.push(to, from) } else { self.push(from, to) }
        }
    }
}

/// A curve that goes only down, as lines of equal parts of it: the more, the farther it bends. All of them are moved as
/// far as the first end has to be to lie on a quarter.
fn steps_of(quad: &QuadBez, fine: Fine) -> Vec<Step> {
    let parts = parts(quad);
    let at = |part: u32| quad.eval(f64::from(part) / f64::from(parts));
    let (mut from, last) = (fine.snapped(quad.p0), fine.snapped(quad.p2));
    let (moved, mut before) = (from.y - quad.p0.y, from.y);
    let mut steps = Vec::new();
    for part in 1..=parts {
        let end = Point::new(at(part).x, at(part).y + moved);
        let to = match part {
            _ if part == parts => last,
            // No part goes on beyond the end of the curve.
            _ if end.y - before < 2.0 => Point::new(end.x, fine.snapped(end).y.min(last.y)),
            _ => on_a_row(from, end, last.y, fine),
        };
        before = end.y;
        // A level part is joined to the next one.
        if to.y > from.y {
            let smooth = (part < parts).then(|| {
                let (now, next) = (at(part) - at(part - 1), at(part + 1) - at(part));
                let (bend, half) = (next - now, next / 2.0);
                half.x.abs() >= bend.x.abs() && half.y.abs() >= bend.y.abs() && now.y >= 1.0
            });
            steps.push(Step { from, to, smooth });
            from = to;
        }
    }
    steps
}

/// How many lines a curve becomes, a power of 2: from how far it bends, in 256ths of a pixel.
fn parts(quad: &QuadBez) -> u32 {
    let whole = |part: f64| (part as f32 * 256.0) as i64;
    let bend = |p0: f64, p1: f64, p2: f64| ((2 * whole(p1) - whole(p0) - whole(p2)) >> 2).unsigned_abs();
    let (x, y) = (bend(quad.p0.x, quad.p1.x, quad.p2.x), bend(quad.p0.y, quad.p1.y, quad.p2.y));
    let far = (x.max(y) + x.min(y) / 2 + 16) >> 5;
    1 << ((64 - far.leading_zeros()) / 2).clamp(1, 6)
}

/// How places down a picture become whole 256ths of a pixel, before they become quarters (measured in Chromium 156).
#[derive(Clone, Copy)]
enum Fine {
    /// To the nearest: letters and paths.
    Nearest,
    /// Downwards, in single precision: rounded boxes.
    Cut,
}

impl Fine {
    /// On the nearest quarter of a pixel down.
    fn snapped(self, at: Point) -> Point {
        let fine = match self {
            Self::Nearest => (at.y * 256.0).round(),
            Self::Cut => f64::from((at.y as f32 * 256.0).trunc()),
        };
        Point::new(at.x, ((fine + 32.0) / 64.0).floor() / 4.0)
    }
}

/// Where the line to a point meets the nearest edge of a row of pixels, or, before that, the end of the curve.
fn on_a_row(from: Point, at: Point, last: f64, fine: Fine) -> Point {
    let y = (at.y + 0.5).floor().min(last);
    let down = at.y - from.y;
    if down == 0.0 { fine.snapped(at) } else { Point::new(at.x + (at.x - from.x) / down * (y - at.y), y) }
}

#[cfg(test)]
mod tests {
    use super::*;

    const WINDOW: Rect = Rect { x0: -100, y0: -100, x1: 100, y1: 100 };

    fn circle(r: f64) -> [[Point; 3]; 4] {
        [
            [(-r, 0.0), (-r, -r), (0.0, -r)],
            [(0.0, -r), (r, -r), (r, 0.0)],
            [(r, 0.0), (r, r), (0.0, r)],
            [(0.0, r), (-r, r), (-r, 0.0)],
        ]
        .map(|corner| corner.map(Point::from))
    }

    #[test]
    fn a_circle_has_nearly_its_area() {
        for r in [3.0, 10.0, 60.0] {
            let area: f32 = rasterize_corners(&circle(r), Affine::IDENTITY, WINDOW).values().sum();
            let exact = std::f64::consts::PI * r * r;
            let short = exact - f64::from(area);
            assert!(short.abs() < r, "{r}: {short} short of {exact}");
        }
    }

    /// A contour that does not close spills coverage along its whole row.
    #[test]
    fn every_contour_closes() {
        let mut state = 1_u32;
        let mut number = || {
            state = state.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            f64::from(state >> 8) / f64::from(1 << 24) * 40.0
        };
        for _ in 0..5000 {
            let mut point = || Point::new(number(), number());
            let start = point();
            let mut contour = vec![PathEl::MoveTo(start)];
            contour.extend((0..4).map(|_| PathEl::QuadTo(point(), point())));
            contour.extend([PathEl::QuadTo(point(), start), PathEl::ClosePath]);
            let mut lines = Lines { fine: Fine::Nearest, lines: Vec::new() };
            lines.contour(&contour);
            let down: f64 = lines.lines.iter().map(|(from, to)| to.y - from.y).sum();
            assert!(down.abs() < 1e-9, "{down} px open: {contour:?}");
        }
    }

    #[test]
    fn edges_lie_on_quarters_of_a_pixel_down_and_anywhere_across() {
        let drawn = |d: &str, expected: [f32; 4]| {
            let mask =
                rasterize_coarsely(&BezPath::from_svg(d).unwrap_or_default(), Affine::IDENTITY, WINDOW);
            let apart = mask.values().zip(expected).map(|(found, expected)| (found - expected).abs());
            assert!(apart.fold(0.0, f32::max) < 1e-6, "{d}: {:?}", mask.into_values());
        };
        // With a point too many it is no rectangle.
        drawn("M1.3 1.3H2.5H2.8V2.6H1.3Z", [0.525, 0.6, 0.35, 0.4]);
        drawn("M1.3 1.3H2.8V2.6H1.3Z", [0.49, 0.56, 0.42, 0.48]);
    }
}
