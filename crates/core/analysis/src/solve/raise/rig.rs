//! The light that falls on a plate and on the ground under it.

/// A light and what surrounds it, as one plate's shadow needs them.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LightRig {
    /// Where the light comes from: 0° is the top, clockwise.
    pub bearing: f64,
    /// Degrees from the ground, from [`LightRig::LEAST_ELEVATION`] to 90.
    pub elevation: f64,
    /// The light's angular diameter in degrees, up to [`LightRig::MOST_SIZE`].
    pub size: f64,
    /// The share of light that comes from all around, from 0 to 1.
    pub ambient: f64,
}

impl LightRig {
    /// Lower lights cast shadows that are mostly elsewhere.
    pub const LEAST_ELEVATION: f64 = 15.0;
    /// Larger ones are no longer a light.
    pub const MOST_SIZE: f64 = 20.0;
    /// The sharpest light: less than half of the sun's diameter.
    pub const LEAST_SIZE: f64 = 0.2;

    /// A rig with every number in its range.
    #[must_use]
    pub fn new(bearing: f64, elevation: f64, size: f64, ambient: f64) -> Self {
        Self {
            bearing,
            elevation: elevation.clamp(Self::LEAST_ELEVATION, 90.0),
            size: size.clamp(Self::LEAST_SIZE, Self::MOST_SIZE),
            ambient: ambient.clamp(0.0, 1.0),
        }
    }

    /// The direction on the ground that shadows fall in: to the right and down.
    #[must_use]
    pub fn away(&self) -> (f64, f64) {
        let (sin, cos) = crate::maths::sin_cos(self.bearing.to_radians());
        (-sin, cos)
    }

    /// How far a plate's shadow lies from it for each px of its height.
    #[must_use]
    pub fn distance(&self) -> f64 {
        let (sin, cos) = crate::maths::sin_cos(self.elevation.to_radians());
        cos / sin
    }

    /// The blur of a plate's shadow for each px of its height: a little more than the disc of the light, which is seen as an ellipse on
    /// the plate's plane, has as its mean radius there.
    #[must_use]
    pub fn softness(&self) -> f64 {
        let (sin, _) = crate::maths::sin_cos(self.elevation.to_radians());
        1.15 * (self.size / 2.0).to_radians() / (sin * sin.sqrt())
    }
}

impl Default for LightRig {
    fn default() -> Self {
        Self { bearing: 20.0, elevation: 50.0, size: 8.0, ambient: 0.4 }
    }
}
