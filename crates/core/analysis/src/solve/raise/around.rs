//! The light on the ground around a plate.

use super::plate::Plate;
use super::rig::LightRig;
use crate::colour::linear_to_srgb;
use crate::geometry::RoundedBox;
use crate::solve::boxes::BoxField;
use crate::solve::error::SolveError;
use crate::solve::field::Field as _;
use crate::solve::forward::{Model, PremultipliedLayer};
use crate::solve::shadow::{Freedom, OffsetAxis, Shadow, Side};
use crate::syntax::round_to;

/// Places of which those outside a box's bounds count.
pub fn outside(shape: RoundedBox, places: Vec<(f64, f64)>) -> BoxField {
    BoxField::new(shape, places, |x, y| {
        let beside = x < 0.0 || y < 0.0 || x > shape.width || y > shape.height;
        if beside { 1.0 } else { 0.0 }
    })
}

/// What is darker than this share is seen.
pub const SEEN: f64 = 0.5 / 255.0;
/// What a plate leaves of white at every place, as the stack's own effect is told.
pub fn veil_on(field: &BoxField, plate: &Plate) -> Vec<PremultipliedLayer> {
    let places = field.places();
    let veil = |((_, x, y), shown): (&(usize, f64, f64), &f64)| {
        [0.0, 0.0, 0.0, 1.0 - shown * (1.0 - shown_on_white(plate, *x, *y))]
    };
    places.iter().zip(field.visible_shares()).map(veil).collect()
}

/// White ground in the light that reaches it, as a screen is told to show it.
fn shown_on_white(plate: &Plate, x: f64, y: f64) -> f64 {
    f64::from(linear_to_srgb([plate.light(x, y) as f32; 3])[0])
}

/// How far from a plate its shadow is looked at, in px.
pub fn reach(height: f64, rig: &LightRig) -> f64 {
    (rig.distance() * height + 6.0 * height + 16.0).min(MOST_REACH)
}

const MOST_REACH: f64 = 1200.0;
/// Places that an error is told from, at most.
pub const PLACES: f64 = 8_000.0;

/// The light around a plate, outside of it, that stacks on white are compared with.
pub struct Around {
    field: BoxField,
    target: Vec<PremultipliedLayer>,
}

impl Around {
    pub fn new(shape: RoundedBox, plate: &Plate, reach: f64, places: f64) -> Self {
        let (width, height) = (shape.width + 2.0 * reach, shape.height + 2.0 * reach);
        let step = (width * height / places).sqrt().max(1.0);
        let along = |length: f64| {
            (0..(length / step) as usize).map(move |at| (at as f64 * step - reach).floor() + 0.5)
        };
        let places = along(height).flat_map(|y| along(width).map(move |x| (x, y))).collect();
        let field = outside(shape, places);
        let target = veil_on(&field, plate);
        Self { field, target }
    }

    /// How far a stack is off on white.
    pub fn error(&self, shadows: &[Shadow]) -> SolveError {
        let seen = seen_on(&self.field, shadows);
        let pairs = seen.iter().zip(&self.target);
        let touched = pairs.filter(|(seen, wanted)| seen[3].min(wanted[3]) < 1.0 - SEEN);
        let mut offs: Vec<f64> = touched.map(|(seen, wanted)| (seen[3] - wanted[3]).abs() * 255.0).collect();
        offs.sort_by(f64::total_cmp);
        let Some(worst) = offs.last() else { return SolveError::default() };
        let mean = offs.iter().sum::<f64>() / offs.len() as f64;
        let p99 = offs[(offs.len() - 1) * 99 / 100];
        SolveError { mean: round_to(mean, 3), p99: round_to(p99, 2), worst: round_to(*worst, 2) }
    }
}

/// What a stack does at every place.
pub fn seen_on(field: &BoxField, shadows: &[Shadow]) -> Vec<PremultipliedLayer> {
    let freedom = Freedom {
        axis: OffsetAxis::Fixed,
        spread: false,
        blur: false,
        colour: false,
        least_spread: 0.0,
        most_spread: 0.0,
    };
    Model { field, side: Side::Outside, freedom: &freedom, coloured: false, ground: None }.compose(shadows)
}
