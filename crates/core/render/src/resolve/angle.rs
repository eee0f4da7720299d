//! Angles in degrees.

/// Sine and cosine, exact at quarter turns so that a light from the top moves nothing sideways.
pub(super) fn sin_cos_degrees(degrees: f64) -> (f64, f64) {
    match degrees.rem_euclid(360.0) {
        0.0 => (0.0, 1.0),
        90.0 => (1.0, 0.0),
        180.0 => (0.0, -1.0),
        270.0 => (-1.0, 0.0),
        turned => crate::maths::sin_cos(turned.to_radians()),
    }
}
