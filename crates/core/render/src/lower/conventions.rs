//! The same values as different tools say them.
//!
//! Common practice, no published source, but for the blur radius, whose Gaussian's σ is half of it (CSS Backgrounds and
//! Borders 3, "Blurring Shadow Edges"), and the radius of `drop-shadow()` and `stdDeviation`, which is σ itself (Filter
//! Effects 1).

use serde::{Deserialize, Serialize};

use crate::resolve::bearing_of;
use crate::syntax::{number_text, px, tidy};

/// How a tool says a shadow's values.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(default)]
pub struct Conventions {
    /// How soft it is.
    pub softness: Softness,
    /// Where it falls.
    pub direction: Direction,
    /// How dense it is.
    pub density: Density,
}

/// How softness is expressed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Softness {
    /// The blur radius of CSS, and spread.
    #[default]
    BlurRadius,
    /// The Gaussian's σ, as filters have it, and spread.
    Sigma,
    /// How far it reaches in all, and how much of that is not blurred.
    ReachAndHardness,
}

/// How an offset is expressed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Direction {
    /// To the right and down.
    #[default]
    Axes,
    /// A distance, and where the light comes from, clockwise from the top.
    LightClockwise,
    /// A distance, and where the shadow falls to, clockwise from the top.
    FallClockwise,
    /// A distance, and where the light comes from, counter-clockwise from the right.
    LightCounterClockwise,
}

/// How opacity is expressed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Density {
    /// In per cent.
    #[default]
    Percent,
    /// From 0 to 1.
    Fraction,
    /// Two hexadecimal digits: 255ths.
    Hex,
}

impl Softness {
    /// A blur radius and a spread in px. A spread below 0 has no hardness and is written as it is.
    #[must_use]
    pub fn text(self, blur: f64, spread: f64) -> String {
        match self {
            Self::ReachAndHardness if spread >= 0.0 => {
                let (reach, hardness) = reach_and_hardness(blur, spread);
                format!("reach {}, hardness {} %", px(reach), number_text(tidy(hardness * 100.0)))
            }
            Self::Sigma => format!("σ {}, spread {}", px(blur / 2.0), px(spread)),
            Self::BlurRadius | Self::ReachAndHardness => format!("blur {}, spread {}", px(blur), px(spread)),
        }
    }
}

/// A blur radius and a spread of at least 0 as the reach in px, and as the share of it that is not blurred.
#[must_use]
pub fn reach_and_hardness(blur: f64, spread: f64) -> (f64, f64) {
    let reach = blur + spread;
    (reach, if reach > 0.0 { spread / reach } else { 1.0 })
}

impl Direction {
    /// An offset in px.
    #[must_use]
    pub fn text(self, dx: f64, dy: f64) -> String {
        let light = bearing_of(dx, dy);
        let said = |angle: f64, what: &str| {
            format!(
                "distance {}, {what} {}°",
                px(tidy(crate::maths::hypot(dx, dy))),
                number_text(tidy(angle.rem_euclid(360.0)))
            )
        };
        match self {
            Self::Axes => format!("x {}, y {}", px(dx), px(dy)),
            Self::LightClockwise => said(light, "light from"),
            Self::FallClockwise => said(light + 180.0, "falls to"),
            Self::LightCounterClockwise => said(90.0 - light, "light at"),
        }
    }
}

impl Density {
    /// An opacity from 0 to 1; `≈` where the form cannot express it exactly.
    #[must_use]
    pub fn text(self, opacity: f64) -> String {
        match self {
            Self::Percent => format!("{} %", number_text(tidy(opacity * 100.0))),
            Self::Fraction => number_text(tidy(opacity)),
            Self::Hex => {
                let parts = (opacity * 255.0).clamp(0.0, 255.0);
                let projection = if (parts - parts.round()).abs() < 1e-4 { "" } else { "≈ " };
                format!("{projection}{:02x} hex", parts.round() as u8)
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// docs/measuring.md, "Facts" (common practice, no published source): hardness h of reach R is spread h·R with blur (1 −
    /// h)·R.
    #[test]
    fn reach_and_hardness_are_spread_and_blur() {
        for (reach, hardness) in [(40.0, 0.25), (12.0, 1.0), (8.0, 0.0)] {
            let (spread, blur) = (hardness * reach, (1.0 - hardness) * reach);
            assert_eq!(reach_and_hardness(blur, spread), (reach, hardness));
        }
        assert_eq!(Softness::ReachAndHardness.text(30.0, 10.0), "reach 40px, hardness 25 %");
        assert_eq!(Softness::ReachAndHardness.text(30.0, -4.0), "blur 30px, spread -4px");
        assert_eq!(Softness::Sigma.text(9.0, 2.0), "σ 4.5px, spread 2px");
    }

    /// Straight down is light from the top: 0° from the top, 90° from the right counter-clockwise; it falls to 180°.
    #[test]
    fn directions() {
        let said = |direction: Direction, dx, dy| direction.text(dx, dy);
        assert_eq!(said(Direction::LightClockwise, 0.0, 6.0), "distance 6px, light from 0°");
        assert_eq!(said(Direction::FallClockwise, 0.0, 6.0), "distance 6px, falls to 180°");
        assert_eq!(said(Direction::LightCounterClockwise, 0.0, 6.0), "distance 6px, light at 90°");
        assert_eq!(said(Direction::LightCounterClockwise, 3.0, 4.0), "distance 5px, light at 126.869898°");
        assert_eq!(said(Direction::Axes, -3.5, 4.0), "x -3.5px, y 4px");
    }

    #[test]
    fn densities() {
        assert_eq!(Density::Percent.text(0.018), "1.8 %");
        assert_eq!(Density::Fraction.text(f64::from(0.4_f32)), "0.4");
        assert_eq!(Density::Hex.text(0.4), "66 hex");
        assert_eq!(Density::Hex.text(0.5), "≈ 80 hex");
    }
}
