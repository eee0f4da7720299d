//! Boxes with rounded corners, and their spread as browsers draw it.

use std::f64::consts::FRAC_PI_2;

use kurbo::{BezPath, Point, Vec2};

use crate::maths;

/// A box at 0,0 with four elliptical corners: top left, top right, bottom right, bottom left.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RoundedBox {
    /// In px.
    pub width: f64,
    /// In px.
    pub height: f64,
    /// Horizontal and vertical radius of each corner.
    pub radii: [(f64, f64); 4],
}

/// Largest distance of a corner's curves from the ellipse, in px.
const TOLERANCE: f64 = 1e-4;

/// A quarter of an ellipse, clockwise from an angle, in as many cubic curves as keep within the tolerance: the error of
/// one falls with the sixth power of its angle, and handles of 4/3·tan(angle/4) keep its middle on the ellipse.
fn quarter(path: &mut BezPath, centre: Point, radii: (f64, f64), start: f64) {
    let whole = maths::powf(1.1163 * radii.0.max(radii.1) / TOLERANCE, 1.0 / 6.0).max(3.999_999);
    let count = (whole / 4.0).ceil();
    let step = FRAC_PI_2 / count;
    let handle = 4.0 / 3.0 * maths::tan(step / 4.0);
    for curve in 0..count as u32 {
        let (from, to) = (start + step * f64::from(curve), start + step * f64::from(curve + 1));
        let along = |angle: f64| on_ellipse(radii, angle + FRAC_PI_2) * handle;
        let (first, last) = (centre + on_ellipse(radii, from), centre + on_ellipse(radii, to));
        path.curve_to(first + along(from), last - along(to), last);
    }
}

fn on_ellipse((rx, ry): (f64, f64), angle: f64) -> Vec2 {
    let (sin, cos) = maths::sin_cos(angle);
    Vec2::new(rx * cos, ry * sin)
}

impl RoundedBox {
    /// A box whose radii are scaled down together where they do not fit (CSS Backgrounds and Borders 3,
    /// "Overlapping Curves").
    #[must_use]
    pub fn new(width: f64, height: f64, radii: [(f64, f64); 4]) -> Self {
        let [tl, tr, br, bl] = radii;
        let ratio = |side: f64, sum: f64| if sum > side { side / sum } else { 1.0 };
        let factor = ratio(width, tl.0 + tr.0)
            .min(ratio(width, bl.0 + br.0))
            .min(ratio(height, tl.1 + bl.1))
            .min(ratio(height, tr.1 + br.1));
        Self { width, height, radii: radii.map(|(x, y)| (x * factor, y * factor)) }
    }

    /// An ellipse.
    #[must_use]
    pub fn ellipse(width: f64, height: f64) -> Self {
        Self { width, height, radii: [(width / 2.0, height / 2.0); 4] }
    }

    /// The box grown by `spread` on every side (its left top is then at `-spread`); nothing when it is shrunk away.
    ///
    /// A corner of radius r grows to r + s when r > s or c > 1 with c = 2·min(rx/w, ry/h), else to
    /// r + s·(1 − (1 − r/s)³·(1 − c³)) (CSS Borders and Box Decorations 4 draft, corner shaping of outsets).
    #[must_use]
    pub fn spread(&self, spread: f64) -> Option<Self> {
        let (width, height) = (self.width + 2.0 * spread, self.height + 2.0 * spread);
        if width <= 0.0 || height <= 0.0 {
            return None;
        }
        let radii = self.radii.map(|(x, y)| {
            if x <= 0.0 || y <= 0.0 {
                return (0.0, 0.0);
            }
            let closeness = 2.0 * (x / self.width).min(y / self.height);
            (spread_radius(x, spread, closeness), spread_radius(y, spread, closeness))
        });
        Some(Self::new(width, height, radii))
    }

    /// The outer edge of a border of `by` px, or (negative) the inner one; nothing when it is shrunk away. Sharp
    /// corners stay sharp, or are rounded by the border's width.
    ///
    /// Radii grow and shrink by the border's width (CSS Backgrounds and Borders 3, "Corner Shaping").
    #[must_use]
    pub fn bordered(&self, by: f64, round_sharp: bool) -> Option<Self> {
        let (width, height) = (self.width + 2.0 * by, self.height + 2.0 * by);
        if width <= 0.0 || height <= 0.0 {
            return None;
        }
        let radii = self.radii.map(|(x, y)| {
            let sharp = x <= 0.0 || y <= 0.0;
            if sharp && !round_sharp { (0.0, 0.0) } else { ((x + by).max(0.0), (y + by).max(0.0)) }
        });
        Some(Self::new(width, height, radii))
    }

    /// Its outline, clockwise.
    #[must_use]
    pub fn path(&self) -> BezPath {
        let (w, h) = (self.width, self.height);
        let [tl, tr, br, bl] = self.radii;
        let corners = [
            (Point::new(tl.0, tl.1), tl, 180.0_f64),
            (Point::new(w - tr.0, tr.1), tr, 270.0),
            (Point::new(w - br.0, h - br.1), br, 0.0),
            (Point::new(bl.0, h - bl.1), bl, 90.0),
        ];
        let mut path = BezPath::new();
        path.move_to((0.0, tl.1));
        for (centre, (rx, ry), start) in corners {
            let start = start.to_radians();
            path.line_to(centre + on_ellipse((rx, ry), start));
            if rx > 0.0 && ry > 0.0 {
                quarter(&mut path, centre, (rx, ry), start);
            }
        }
        path.close_path();
        path
    }

    /// Its corners, clockwise from the top left: where each starts, where its tangents meet, and where it ends.
    #[must_use]
    pub fn corners(&self) -> [[Point; 3]; 4] {
        let (w, h) = (self.width, self.height);
        let [tl, tr, br, bl] = self.radii;
        let corner = |a: (f64, f64), b: (f64, f64), c: (f64, f64)| [a, b, c].map(Point::from);
        [
            corner((0.0, tl.1), (0.0, 0.0), (tl.0, 0.0)),
            corner((w - tr.0, 0.0), (w, 0.0), (w, tr.1)),
            corner((w, h - br.1), (w, h), (w - br.0, h)),
            corner((bl.0, h), (0.0, h), (0.0, h - bl.1)),
        ]
    }

    /// Every number that defines the box.
    pub(super) fn numbers(&self) -> impl Iterator<Item = f64> {
        let radii = self.radii.into_iter().flat_map(|(x, y)| [x, y]);
        [self.width, self.height].into_iter().chain(radii)
    }
}

fn spread_radius(radius: f64, spread: f64, closeness: f64) -> f64 {
    if spread <= 0.0 || radius > spread || closeness > 1.0 {
        return (radius + spread).max(0.0);
    }
    let share = 1.0 - (1.0 - radius / spread).powi(3) * (1.0 - closeness.powi(3));
    radius + spread * share
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::Shape;

    /// CSS Backgrounds and Borders 3, "Overlapping Curves": f = min(Li/Si), applied to all radii.
    #[test]
    fn radii_that_do_not_fit_are_scaled_together() {
        let fitted = RoundedBox::new(100.0, 40.0, [(40.0, 40.0), (10.0, 10.0), (0.0, 0.0), (40.0, 40.0)]);
        assert_eq!(fitted.radii, [(20.0, 20.0), (5.0, 5.0), (0.0, 0.0), (20.0, 20.0)]);
    }

    #[test]
    fn spread_follows_the_corner_rule() {
        let square = |r: f64| RoundedBox::new(100.0, 100.0, [(r, r); 4]);
        let radius = |r: f64, s: f64| square(r).spread(s).map(|grown| grown.radii[0].0);
        assert_eq!(radius(0.0, 20.0), Some(0.0));
        assert_eq!(radius(30.0, 20.0), Some(50.0));
        assert_eq!(radius(30.0, -40.0), Some(0.0));
        assert_eq!(radius(30.0, -50.0), None);
        // r = 10, s = 20, c = 0.2: 10 + 20·(1 − 0.125·0.992).
        assert!((radius(10.0, 20.0).unwrap_or_default() - 27.52).abs() < 1e-9);
        // A circle stays a circle however far it is spread.
        assert_eq!(radius(50.0, 100.0), Some(150.0));
    }

    #[test]
    fn the_outline_has_the_area_of_the_box() {
        let rounded = RoundedBox::new(80.0, 50.0, [(20.0, 20.0); 4]);
        let area = 80.0 * 50.0 - (4.0 - std::f64::consts::PI) * 400.0;
        assert!((rounded.path().area().abs() - area).abs() < 0.01);
    }
}
