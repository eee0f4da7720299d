//! The light that reaches the ground around a thin plate above it, seen from straight above.
//!
//! The light's disc, as it is seen from a place on the ground, covers a patch of the plane that the plate lies in; what of the
//! patch the plate hides is the share of the light that is gone. The patch is cut into chords along the plate's rows, where
//! what a rounded box hides has a closed form. Of what comes from all around, a plate hides its configuration factor.

use std::f64::consts::TAU;

use super::rig::LightRig;
use crate::geometry::RoundedBox;
use crate::solve::boxes::{Strip, strips};

/// A plate above the ground, under a light.
pub struct Plate {
    shape: RoundedBox,
    height: f64,
    ambient: f64,
    patch: Vec<Chord>,
    strips: Vec<Strip>,
}

/// A part of the light's patch: along one row, from a place to another, with its share of the light.
struct Chord {
    row: f64,
    from: f64,
    to: f64,
    share: f64,
}

/// Rows that the light's patch is cut into, and parts of each.
const ROWS: usize = 40;
const PARTS: usize = 8;
/// Rows that each end of the plate is cut into where its corners are round.
const END_ROWS: usize = 6;
/// Directions at which the patch's edge is looked at to know its rows.
const AROUND: usize = 360;

impl Plate {
    /// A plate so many px above the ground.
    #[must_use]
    pub fn new(shape: RoundedBox, height: f64, rig: &LightRig) -> Self {
        let (patch, strips) = (patch(height, rig), strips(&shape, 0.0, END_ROWS));
        Self { shape, height, ambient: rig.ambient, patch, strips }
    }

    /// The share of light that reaches the ground, at a place in px of the plate.
    #[must_use]
    pub fn light(&self, x: f64, y: f64) -> f64 {
        let direct = 1.0 - self.hidden(x, y);
        let around = 1.0 - self.factor(x, y);
        ((1.0 - self.ambient) * direct + self.ambient * around).clamp(0.0, 1.0)
    }

    /// The share of the light itself that the plate hides.
    fn hidden(&self, x: f64, y: f64) -> f64 {
        if self.ambient >= 1.0 {
            return 0.0;
        }
        let part = |chord: &Chord| {
            let (left, right) = self.row(y + chord.row)?;
            let (from, to) = ((x + chord.from).max(left), (x + chord.to).min(right));
            Some(chord.share * (to - from).max(0.0) / (chord.to - chord.from))
        };
        self.patch.iter().filter_map(part).sum()
    }

    /// Where the plate begins and ends along a row.
    fn row(&self, y: f64) -> Option<(f64, f64)> {
        let RoundedBox { width, height, radii: [top_left, top_right, bottom_right, bottom_left] } =
            self.shape;
        if !(0.0..=height).contains(&y) {
            return None;
        }
        let inset = |(rx, ry): (f64, f64), depth: f64| {
            if ry <= 0.0 || depth >= ry {
                return 0.0;
            }
            rx * (1.0 - (1.0 - (1.0 - depth / ry).powi(2)).max(0.0).sqrt())
        };
        let left = inset(top_left, y).max(inset(bottom_left, height - y));
        let right = inset(top_right, y).max(inset(bottom_right, height - y));
        Some((left, width - right))
    }

    /// The configuration factor of the plate from the ground below: the share of light from all around that it hides.
    ///
    /// Of a rectangle above a small area that faces it, with a corner straight above, it has a closed form (from memory: any table
    /// of configuration factors, "differential element to parallel rectangle"); tests compare it with sums over the dome.
    fn factor(&self, x: f64, y: f64) -> f64 {
        if self.ambient <= 0.0 {
            return 0.0;
        }
        let corner = |x: f64, y: f64| {
            let away = |side: f64| (self.height * self.height + side * side).sqrt();
            let (a, b) = (away(x), away(y));
            (x / a * crate::maths::atan2(y, a) + y / b * crate::maths::atan2(x, b)) / TAU
        };
        let of_strip = |strip: &Strip| {
            let (left, right) = (strip.left - x, strip.right - x);
            let (top, bottom) = (strip.top - y, strip.bottom - y);
            corner(right, bottom) - corner(left, bottom) - corner(right, top) + corner(left, top)
        };
        self.strips.iter().map(of_strip).sum()
    }
}

/// What the light's disc covers of a plane so high above the place it is seen from.
fn patch(height: f64, rig: &LightRig) -> Vec<Chord> {
    let (right, down) = rig.away();
    let (up, level) = crate::maths::sin_cos(rig.elevation.to_radians());
    // Towards the light.
    let (across, along) = (-right * level, -down * level);
    let (sin, cos) = crate::maths::sin_cos((rig.size / 2.0).to_radians());
    let edge = |number: usize| {
        let (s, c) = crate::maths::sin_cos(number as f64 / AROUND as f64 * TAU);
        // On the circle around the light's direction, by two directions at right angles to it: one level, one up.
        let on_circle = |light: f64, level: f64, up: f64| cos * light + sin * (c * level + s * up);
        height * on_circle(along, right, down * up) / on_circle(up, 0.0, level)
    };
    let rows = (0..AROUND).map(edge);
    let (first, last) =
        rows.fold((f64::INFINITY, f64::NEG_INFINITY), |(first, last), row| (first.min(row), last.max(row)));
    let thick = (last - first) / ROWS as f64;
    let mut patch = Vec::with_capacity(ROWS * PARTS);
    for number in 0..ROWS {
        let row = first + (number as f64 + 0.5) * thick;
        let Some((start, end)) = chord(row, height, (across, along, up), cos) else { continue };
        let wide = (end - start) / PARTS as f64;
        for part in 0..PARTS {
            let from = start + part as f64 * wide;
            let middle = from + wide / 2.0;
            // Of a small area of the plane, light falls on the ground with the fourth power of its cosine.
            let cosine = height * height / (height * height + middle * middle + row * row);
            patch.push(Chord { row, from, to: from + wide, share: wide * cosine * cosine });
        }
    }
    let all: f64 = patch.iter().map(|chord| chord.share).sum();
    patch.iter_mut().for_each(|chord| chord.share /= all);
    patch
}

/// Where a row of the plane lies within a cone of directions: both ends of a conic section's chord.
fn chord(row: f64, height: f64, (across, along, up): (f64, f64, f64), cos: f64) -> Option<(f64, f64)> {
    let steady = along * row + up * height;
    let square = across * across - cos * cos;
    let (half, rest) = (across * steady, steady * steady - cos * cos * (row * row + height * height));
    let root = half * half - square * rest;
    if root <= 0.0 || square >= 0.0 {
        return None;
    }
    let (one, other) = ((-half - root.sqrt()) / square, (-half + root.sqrt()) / square);
    (one != other).then(|| (one.min(other), one.max(other)))
}
