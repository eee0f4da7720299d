//! The light that falls on a plate and on the ground under it.

use crate::model::{Elevation, Fraction, LightSize, Rig};

/// A light and what surrounds it, as one plate's shadow needs them.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LightRig {
    /// Where the light comes from: 0° is the top, clockwise.
    pub bearing: f64,
    /// Degrees from the ground; see [`Elevation`].
    pub elevation: f64,
    /// The light's angular diameter in degrees; see [`LightSize`].
    pub size: f64,
    /// The share of light that comes from all around, from 0 to 1.
    pub ambient: f64,
}

impl LightRig {
    /// A rig with every number in its range.
    #[must_use]
    pub fn new(bearing: f64, elevation: f64, size: f64, ambient: f64) -> Self {
        Self {
            bearing,
            elevation: Elevation::clamped(elevation).get(),
            size: LightSize::clamped(size).get(),
            ambient: Fraction::clamped(ambient).get(),
        }
    }

    /// A light from a bearing, as a document has it.
    #[must_use]
    pub fn from_written(bearing: f64, rig: &Rig) -> Self {
        Self::new(bearing, rig.elevation.get(), rig.size.get(), rig.ambient.get())
    }

    /// As a document has it, beside its bearing.
    #[must_use]
    pub fn written(&self) -> Rig {
        Rig {
            elevation: Elevation::clamped(self.elevation),
            size: LightSize::clamped(self.size),
            ambient: Fraction::clamped(self.ambient),
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
        Self::from_written(20.0, &Rig::usual())
    }
}
