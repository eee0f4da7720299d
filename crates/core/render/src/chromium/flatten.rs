//! Outlines with cubic curves as Chromium's rasterizer cuts them into lines before it fills them.
//!
//! Letters of OpenType fonts with cubic curves are filled as paths. Heights are rounded to quarters of a device pixel,
//! and a curve becomes 2ⁿ lines by forward differences in fixed point, from its upper end down. Its upper end is
//! rounded first, and takes all but the lower end along. Found by comparing with Chromium's pictures of letters at 24
//! and 40 px, which is all that is known of the differences' fixed point.

use kurbo::{BezPath, CubicBez, ParamCurve as _, ParamCurveExtrema as _, PathEl, Point};

/// An outline in device pixels as the lines it is filled from.
pub(super) fn in_lines(path: &BezPath) -> BezPath {
    let mut lines = BezPath::new();
    let (mut start, mut from) = (Point::ZERO, Point::ZERO);
    for element in path.elements() {
        match *element {
            PathEl::MoveTo(to) => {
                lines.move_to(on_quarters(to));
                (start, from) = (to, to);
            }
            PathEl::LineTo(to) => {
                lines.line_to(on_quarters(to));
                from = to;
            }
            PathEl::QuadTo(control, to) => {
                let control_of = |end: Point| end + (control - end) * (2.0 / 3.0);
                curve(CubicBez::new(from, control_of(from), control_of(to), to), &mut lines);
                from = to;
            }
            PathEl::CurveTo(a, b, to) => {
                curve(CubicBez::new(from, a, b, to), &mut lines);
                from = to;
            }
            PathEl::ClosePath => {
                lines.close_path();
                from = start;
            }
        }
    }
    lines
}

/// Cut where it turns up or down, then into even steps.
fn curve(whole: CubicBez, lines: &mut BezPath) {
    let turns = whole.extrema().into_iter().filter(|t| turns_upright(&whole, *t));
    let ends: Vec<f64> = [0.0].into_iter().chain(turns).chain([1.0]).collect();
    for ends in ends.windows(2) {
        let CubicBez { p0, p1, p2, p3 } = whole.subsegment(ends[0]..ends[1]);
        if p0.y <= p3.y {
            downward(CubicBez::new(p0, p1, p2, p3)).into_iter().skip(1).for_each(|at| lines.line_to(at));
        } else {
            let mut upward = downward(CubicBez::new(p3, p2, p1, p0));
            upward.reverse();
            upward.into_iter().skip(1).for_each(|at| lines.line_to(at));
        }
    }
}

fn turns_upright(curve: &CubicBez, t: f64) -> bool {
    let slope = (curve.eval(t + 1e-4) - curve.eval(t - 1e-4)).y;
    slope.abs() < 1e-6
}

/// The points of a curve that runs down.
fn downward(curve: CubicBez) -> Vec<Point> {
    let doublings = doublings(&curve);
    let CubicBez { p0, p1, p2, p3 } = curve;
    let mut x = Differences::new([p0.x, p1.x, p2.x, p3.x], doublings);
    let mut y = Differences::new([p0.y, p1.y, p2.y, p3.y], doublings);
    let last = quarters(y.last);
    y.at = quarters(y.at);
    let mut points = vec![Point::new(pixels(x.at), pixels(y.at))];
    for _ in 1..1_u32 << doublings {
        x.step();
        y.step();
        points.push(Point::new(pixels(x.at), pixels(quarters(y.at).min(last))));
    }
    points.push(Point::new(pixels(x.last), pixels(last)));
    points
}

/// One coordinate of a curve by forward differences, in 65536ths of a pixel.
struct Differences {
    at: i64,
    last: i64,
    first: i64,
    second: i64,
    third: i64,
    down: u32,
    doublings: u32,
}

impl Differences {
    fn new(ends: [f64; 4], doublings: u32) -> Self {
        // In 256ths, rounded down, then 1024ths of those.
        let [a, b, c, d] = ends.map(|at| (at * 256.0).floor() as i64);
        let (up, down) = if doublings < 4 { (10 - doublings, 0) } else { (6, doublings - 4) };
        let (first, second, third) =
            ((3 * (b - a)) << up, (3 * (a - b - b + c)) << up, (d + 3 * (b - c) - a) << up);
        let n = doublings;
        let all = [
            a << 10,
            d << 10,
            first + (second >> n) + (third >> (2 * n)),
            2 * second + ((3 * third) >> (n - 1)),
            (3 * third) >> (n - 1),
        ];
        let [at, last, first, second, third] = all.map(|number| number >> 2);
        Self { at, last, first, second, third, down, doublings }
    }

    fn step(&mut self) {
        self.at += self.first >> self.down;
        self.first += self.second >> self.doublings;
        self.second += self.third;
    }
}

/// How often a curve is halved: by how far its third points lie from its chord, in eighths of a pixel.
fn doublings(curve: &CubicBez) -> u32 {
    let off = |a: f64, b: f64, c: f64, d: f64| {
        let one_third = (8.0 * a - 15.0 * b + 6.0 * c + d) / 27.0;
        let two_thirds = (a + 6.0 * b - 15.0 * c + 8.0 * d) / 27.0;
        one_third.abs().max(two_thirds.abs())
    };
    let CubicBez { p0, p1, p2, p3 } = *curve;
    let (x, y) = (off(p0.x, p1.x, p2.x, p3.x), off(p0.y, p1.y, p2.y, p3.y));
    let distance = x.max(y) + x.min(y) / 2.0;
    let eighths = (distance * 8.0 + 0.5).floor() as u32;
    ((32 - eighths.leading_zeros()) / 2 + 1).min(6)
}

fn quarters(at: i64) -> i64 {
    (at + (1 << 13)) >> 14 << 14
}

fn pixels(at: i64) -> f64 {
    at as f64 / 65536.0
}

fn on_quarters(at: Point) -> Point {
    Point::new(at.x, (at.y * 4.0 + 0.5).floor() / 4.0)
}
