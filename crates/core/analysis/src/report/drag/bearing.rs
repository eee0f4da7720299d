//! A dragged bearing.

use serde::Deserialize;

use super::rounded;
use crate::resolve::bearing_of;

/// Degrees between the bearings that a dragged one is drawn to.
const STEP: f64 = 15.0;
/// Degrees from such a bearing within which it is drawn to it.
const REACH: f64 = 4.0;

/// The direction to which something was dragged.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DraggedBearing {
    /// Px to the right.
    pub x: f64,
    /// Px down.
    pub y: f64,
    /// Bearings of lights that it is drawn to, and their opposites, besides the multiples of 15°.
    pub lights: Vec<f64>,
    /// How round it is.
    pub precision: Precision,
}

/// How round a dragged bearing is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Precision {
    /// In tenths of a degree.
    Tenths,
    /// In whole degrees, and drawn to round bearings and lights that are near.
    Near,
    /// A multiple of 15°.
    Steps,
}

/// The bearing of the direction, from 0 up to 360 degrees clockwise from the top.
#[must_use]
pub fn bearing(dragged: &DraggedBearing) -> f64 {
    let free = bearing_of(-dragged.x, -dragged.y);
    match dragged.precision {
        Precision::Tenths => rounded(free, true).rem_euclid(360.0),
        Precision::Near => drawn_to(free, &dragged.lights),
        Precision::Steps => multiple(free).rem_euclid(360.0),
    }
}

/// The nearest bearing it is drawn to, or itself in whole degrees.
pub(crate) fn drawn_to(free: f64, lights: &[f64]) -> f64 {
    let bearings = lights.iter().flat_map(|light| [*light, light + 180.0]).chain([multiple(free)]);
    let near = |bearing: &f64| ((free - bearing + 180.0).rem_euclid(360.0) - 180.0).abs();
    let nearest = bearings.min_by(|a, b| near(a).total_cmp(&near(b)));
    let kept = nearest.filter(|nearest| near(nearest) < REACH).unwrap_or_else(|| free.round());
    kept.rem_euclid(360.0)
}

fn multiple(free: f64) -> f64 {
    (free / STEP).round() * STEP
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_bearing_is_drawn_to_lights_and_to_multiples_of_fifteen() {
        let cases: [(f64, &[f64], f64); 8] = [
            (47.0, &[], 45.0),
            (49.0, &[], 49.0),
            (51.4, &[53.0], 53.0),
            (233.5, &[53.0], 233.0),
            (358.0, &[], 0.0),
            (359.6, &[7.0], 0.0),
            (2.0, &[357.0], 0.0),
            (188.0, &[-170.0], 190.0),
        ];
        for (free, lights, expected) in cases {
            assert_eq!(drawn_to(free, lights), expected, "{free} beside {lights:?}");
        }
    }

    #[test]
    fn a_direction_has_its_bearing_clockwise_from_the_top() {
        let towards = |x, y| bearing(&DraggedBearing { x, y, lights: vec![], precision: Precision::Tenths });
        assert_eq!(
            [towards(0.0, -5.0), towards(5.0, 0.0), towards(0.0, 5.0), towards(-5.0, 0.0)],
            [0.0, 90.0, 180.0, 270.0]
        );
        assert_eq!(towards(-0.0001, -100.0), 0.0);
    }
}
