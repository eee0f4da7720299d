//! Functions whose last bit is the same on every machine, so that the service and a browser compute the same; those
//! of the system differ in it.

use kurbo::{Affine, Point, Vec2};

pub(crate) use libm::{
    acos, asin, atan, atan2, cos, exp, log as ln, pow as powf, powf as powf32, sin, sincos as sin_cos, tan,
};

/// A turn by an angle in radians.
pub(crate) fn rotation(radians: f64) -> Affine {
    let (sin, cos) = sin_cos(radians);
    Affine::new([cos, sin, -sin, cos, 0.0, 0.0])
}

/// A turn by an angle in radians about a place.
pub(crate) fn rotation_about(radians: f64, centre: impl Into<Point>) -> Affine {
    let centre = centre.into().to_vec2();
    Affine::translate(centre) * rotation(radians) * Affine::translate(-centre)
}

/// The length of a vector.
pub(crate) fn hypot(x: f64, y: f64) -> f64 {
    (x * x + y * y).sqrt()
}

/// A vector of length one in the direction of another.
pub(crate) fn unit(vector: Vec2) -> Vec2 {
    vector / vector.hypot2().sqrt()
}
