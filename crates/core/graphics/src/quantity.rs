//! Numbers that carry their unit and cannot leave their range.

use std::collections::BTreeMap;

use serde::{Deserialize, Deserializer, Serialize};

/// A number was outside what its type allows; the message says what was expected.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error("expected {expected}, found {found}")]
pub struct OutOfRange {
    /// The allowed values, in words.
    pub expected: &'static str,
    /// The offending number.
    pub found: f64,
}

macro_rules! numbers {
    ($($(#[$doc:meta])* $name:ident, $range:expr, $expected:literal;)+) => {$(
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default, Serialize)]
        #[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
        #[serde(transparent)]
        pub struct $name(f64);

        impl $name {
            /// Takes a number if it is in range.
            ///
            /// # Errors
            /// [`OutOfRange`] when it is not, or is not finite.
            pub fn new(value: f64) -> Result<Self, OutOfRange> {
                if ($range).contains(&value) {
                    Ok(Self(value))
                } else {
                    Err(OutOfRange { expected: $expected, found: value })
                }
            }

            /// The nearest number in range; not a number becomes the lowest.
            #[must_use]
            pub fn clamped(value: f64) -> Self {
                let range = $range;
                Self(value.max(*range.start()).min(*range.end()))
            }

            /// The plain number.
            #[must_use]
            pub fn get(self) -> f64 {
                self.0
            }
        }

        impl<'de> Deserialize<'de> for $name {
            fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
                Self::new(f64::deserialize(deserializer)?).map_err(serde::de::Error::custom)
            }
        }
    )+
        /// The lowest and the highest number of each quantity, by its name.
        #[must_use]
        pub fn ranges() -> BTreeMap<&'static str, [f64; 2]> {
            BTreeMap::from([$((stringify!($name), [*($range).start(), *($range).end()])),+])
        }
    };
}

numbers! {
    /// A coordinate on the scene, in CSS px.
    Px, -100_000.0..=100_000.0, "a length from -100000 to 100000 px";
    /// One part of a coat's offset, or its distance, in CSS px.
    OffsetPx, -10_000.0..=10_000.0, "an offset from -10000 to 10000 px";
    /// A CSS blur radius in px: the Gaussian's σ is half of it (CSS Backgrounds and Borders 3, "Blurring Shadow Edges").
    BlurRadius, 0.0..=4000.0, "a blur radius from 0 to 4000 px";
    /// A Gaussian's σ in CSS px, as `filter: blur()` takes it (Filter Effects 1).
    Sigma, 0.0..=2000.0, "a σ from 0 to 2000 px";
    /// How far a shadow's outline lies outside (or, negative, inside) the silhouette, in CSS px.
    Spread, -crate::limits::SPREAD..=crate::limits::SPREAD, "a spread from -2000 to 2000 px";
    /// A side of a piece or scene, in CSS px.
    Size, 0.0..=8192.0, "a size from 0 to 8192 px";
    /// A width, radius or length that cannot be negative, in CSS px.
    Length, 0.0..=20_000.0, "a length from 0 to 20000 px";
    /// Letter spacing, in CSS px.
    Spacing, -1000.0..=1000.0, "a letter spacing from -1000 to 1000 px";
    /// A font size, in CSS px.
    FontSize, 1.0..=2000.0, "a font size from 1 to 2000 px";
    /// A line height, as a multiple of the font size.
    LineHeight, 0.1..=10.0, "a line height from 0.1 to 10 times the font size";
    /// A font weight, as CSS has it.
    Weight, 1.0..=1000.0, "a font weight from 1 to 1000";
    /// An angle in degrees.
    Degrees, -36_000.0..=36_000.0, "an angle from -36000 to 36000 degrees";
    /// An opacity: 0 is invisible, 1 is solid.
    Opacity, 0.0..=1.0, "an opacity from 0 to 1";
    /// A position along a gradient or a falloff curve, or a share of a whole.
    Fraction, 0.0..=1.0, "a fraction from 0 to 1";
    /// A position relative to a piece's box: 0 is its left or top, 1 its right or bottom; outside is allowed.
    Relative, -10.0..=10.0, "a relative position from -10 to 10";
    /// A factor such as a saturation, brightness or growth.
    Factor, 0.0..=100.0, "a factor from 0 to 100";
    /// How far above the ground a piece floats, in CSS px.
    HeightPx, 0.5..=200.0, "a height from 0.5 to 200 px";
    /// A length for each px of a height.
    PerHeight, -100.0..=100.0, "from -100 to 100 px for each px of height";
    /// How high a light stands above the ground, in degrees. Lower ones cast shadows that are mostly elsewhere.
    Elevation, 15.0..=90.0, "an elevation from 15 to 90 degrees";
    /// A light's diameter as it is seen, in degrees: from less than half of the sun's to what is no longer one light.
    LightSize, 0.2..=20.0, "a size from 0.2 to 20 degrees";
    /// A signed amount from -1 to 1, such as a lean or a change of lightness.
    Signed, -1.0..=1.0, "an amount from -1 to 1";
}

impl Opacity {
    /// Fully solid: the meaning of an opacity that is not written.
    #[must_use]
    pub fn solid() -> Self {
        Self(1.0)
    }
}
