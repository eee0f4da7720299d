//! Which elements a piece shows, and how a drawing lies in its box.

use std::ops::Range;

use kurbo::Affine;

use crate::geometry::drawing::Drawing;
use crate::model::DrawingShape;

/// The numbers of the elements that a piece shows.
pub fn run_of(shape: &DrawingShape, drawing: &Drawing) -> Range<usize> {
    let count = drawing.elements.len();
    shape.elements.map_or(0..count, |run| (run.from as usize).min(count)..(run.to as usize).min(count))
}

/// By how much a place that only moves and scales evenly scales.
pub fn even_scale(place: Affine) -> Option<f64> {
    let [a, b, c, d, ..] = place.as_coeffs();
    let lies_straight = a > 0.0 && (a - d).abs() < a * 1e-4 && b.abs() < a * 1e-4 && c.abs() < a * 1e-4;
    lies_straight.then_some(a)
}
