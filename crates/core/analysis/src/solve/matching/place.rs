//! A rounded box on a picture, in pixels.

use crate::geometry::RoundedBox;

/// Where an element is on a picture: its sides and the radius of its corners.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PlacedBox {
    /// Its left side.
    pub left: f64,
    /// Its upper side.
    pub top: f64,
    /// From side to side.
    pub width: f64,
    /// From top to bottom.
    pub height: f64,
    /// Of all four corners.
    pub radius: f64,
}

impl PlacedBox {
    /// Its right side.
    #[must_use]
    pub fn right(&self) -> f64 {
        self.left + self.width
    }

    /// Its lower side.
    #[must_use]
    pub fn bottom(&self) -> f64 {
        self.top + self.height
    }

    /// With other pixels.
    #[must_use]
    pub fn scaled(&self, by: f64) -> Self {
        let Self { left, top, width, height, radius } = *self;
        let [left, top, width, height, radius] = [left, top, width, height, radius].map(|length| length * by);
        Self { left, top, width, height, radius }
    }

    /// The greatest radius that its corners can have.
    #[must_use]
    pub fn most_radius(&self) -> f64 {
        self.width.min(self.height) / 2.0
    }

    /// Its sides moved outward, its corners with them.
    #[must_use]
    pub fn grown(&self, by: f64) -> Self {
        let radius = if self.radius > 0.0 { (self.radius + by).max(0.0) } else { 0.0 };
        Self {
            left: self.left - by,
            top: self.top - by,
            width: self.width + 2.0 * by,
            height: self.height + 2.0 * by,
            radius,
        }
    }

    /// How far a place is outside; less than 0 inside.
    #[must_use]
    pub fn distance(&self, x: f64, y: f64) -> f64 {
        let across = (x - self.left - self.width / 2.0).abs() - self.width / 2.0 + self.radius;
        let down = (y - self.top - self.height / 2.0).abs() - self.height / 2.0 + self.radius;
        let outside = (across.max(0.0).powi(2) + down.max(0.0).powi(2)).sqrt();
        outside + across.max(down).min(0.0) - self.radius
    }

    /// At its own corner.
    #[must_use]
    pub fn shape(&self) -> RoundedBox {
        RoundedBox::new(self.width, self.height, [(self.radius, self.radius); 4])
    }

    /// Places along its sides and corners, each with the direction outward: about one a pixel.
    #[must_use]
    pub fn outline(&self) -> [Vec<OutlinePlace>; 8] {
        let Self { left, top, radius, .. } = *self;
        let (right, bottom) = (self.right(), self.bottom());
        let side = |from: f64, to: f64, at: &dyn Fn(f64) -> OutlinePlace| -> Vec<OutlinePlace> {
            let count = (to - from).floor().max(0.0) as usize;
            (0..count).map(|number| at((from + number as f64).floor() + 0.5)).collect()
        };
        let place = |x: f64, y: f64, out: (f64, f64)| OutlinePlace { x, y, out };
        let corner = |x: f64, y: f64, right: f64, down: f64| -> Vec<OutlinePlace> {
            let count = (radius * std::f64::consts::FRAC_PI_2).round() as usize;
            let at = |number: usize| {
                let angle = (number as f64 + 0.5) / count as f64 * std::f64::consts::FRAC_PI_2;
                let out = (right * crate::maths::cos(angle), down * crate::maths::sin(angle));
                place(x + radius * out.0, y + radius * out.1, out)
            };
            (0..count).map(at).collect()
        };
        [
            side(left + radius, right - radius, &|x| place(x, top, (0.0, -1.0))),
            side(left + radius, right - radius, &|x| place(x, bottom, (0.0, 1.0))),
            side(top + radius, bottom - radius, &|y| place(left, y, (-1.0, 0.0))),
            side(top + radius, bottom - radius, &|y| place(right, y, (1.0, 0.0))),
            corner(left + radius, top + radius, -1.0, -1.0),
            corner(right - radius, top + radius, 1.0, -1.0),
            corner(right - radius, bottom - radius, 1.0, 1.0),
            corner(left + radius, bottom - radius, -1.0, 1.0),
        ]
    }
}

/// A place on an outline.
#[derive(Debug, Clone, Copy)]
pub struct OutlinePlace {
    /// From the left.
    pub x: f64,
    /// From the top.
    pub y: f64,
    /// The direction outward, of length 1.
    pub out: (f64, f64),
}

impl OutlinePlace {
    /// So far outward.
    #[must_use]
    pub fn outward(&self, by: f64) -> (f64, f64) {
        (self.x + by * self.out.0, self.y + by * self.out.1)
    }
}
