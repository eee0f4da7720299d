//! How numbers are written.

use serde::{Deserialize, Serialize};

use crate::colour::Rgba;
use crate::resolve::{Paint, PaintOp, Piece, Shadow, ShadowPaint};

/// How numbers are written in exports.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Numbers {
    /// The fewest decimals that draw the same picture in 8 bits, three at most: what was typed with no more stays as typed.
    #[default]
    Fewest,
    /// The shortest decimal that reads back as the same number.
    Exact,
    /// At most two decimals.
    TwoDecimals,
    /// Whole px and whole percents.
    Whole,
}

impl Numbers {
    /// A length in px.
    #[must_use]
    pub fn length(self, value: f64) -> f64 {
        match self {
            Self::Fewest => fewest(value, OFF_LENGTH),
            other @ (Self::Exact | Self::TwoDecimals | Self::Whole) => other.rounded(value, 1.0),
        }
    }

    /// An opacity, or another share of a whole.
    #[must_use]
    pub fn share(self, value: f64) -> f64 {
        match self {
            Self::Fewest => fewest(value, OFF_SHARE),
            Self::Whole => self.rounded(value, 100.0),
            other @ (Self::Exact | Self::TwoDecimals) => other.rounded(value, 1.0),
        }
    }

    fn rounded(self, value: f64, unit: f64) -> f64 {
        let fine = match self {
            Self::Exact | Self::Fewest => return value,
            Self::TwoDecimals => 100.0 * unit,
            Self::Whole => unit,
        };
        (value * fine).round() / fine
    }

    /// A piece with the lengths and opacities of its coats rounded.
    #[must_use]
    pub fn rounded_piece(self, piece: &Piece) -> Piece {
        let mut piece = piece.clone();
        if self == Self::Exact {
            return piece;
        }
        if self == Self::Fewest {
            self.paint(&mut piece.fill);
        }
        for coat in &mut piece.coats {
            coat.opacity = self.share(coat.opacity);
            match &mut coat.op {
                PaintOp::Shadow(shadow) => self.shadow(shadow),
                PaintOp::Highlight(spot) => spot.blur = self.length(spot.blur),
                PaintOp::Stroke { style, paint } => {
                    style.width = self.length(style.width);
                    if self == Self::Fewest {
                        self.paint(paint);
                    }
                }
                PaintOp::Blur(sigma) => *sigma = self.length(*sigma),
                PaintOp::Backdrop(backdrop) => backdrop.sigma = self.length(backdrop.sigma),
                PaintOp::Extrude(extrude) => {
                    (extrude.dx, extrude.dy) = (self.length(extrude.dx), self.length(extrude.dy));
                }
                PaintOp::Tint(paint) if self == Self::Fewest => self.paint(paint),
                PaintOp::Tint(_) | PaintOp::Cast(_) => {}
            }
        }
        piece
    }

    fn paint(self, paint: &mut Paint) {
        match paint {
            Paint::Solid(colour) => *colour = self.colour(*colour),
            Paint::Linear { angle, stops } => {
                *angle = fewest(*angle, OFF_ANGLE);
                stops.iter_mut().for_each(|stop| stop.colour = self.colour(stop.colour));
            }
            Paint::Radial { radius, stops, .. } => {
                *radius = self.length(*radius);
                stops.iter_mut().for_each(|stop| stop.colour = self.colour(stop.colour));
            }
            Paint::None | Paint::Image { .. } => {}
        }
    }

    fn shadow(self, shadow: &mut Shadow) {
        for length in [&mut shadow.dx, &mut shadow.dy, &mut shadow.blur, &mut shadow.spread] {
            *length = self.length(*length);
        }
        if let ShadowPaint::Colour(colour) = &mut shadow.paint {
            *colour = self.colour(*colour);
        }
    }

    /// A colour with its opacity rounded; with the fewest decimals, its parts as well.
    #[must_use]
    pub fn colour(self, colour: Rgba) -> Rgba {
        let a = self.share(f64::from(colour.a)) as f32;
        if self != Self::Fewest {
            return Rgba { a, ..colour };
        }
        let off = (OFF_PAINTED / f64::from(a).max(1e-3)).min(OFF_PART);
        let off = if a >= 1.0 { OFF_PART } else { off };
        let part = |part: f32| (fewest(f64::from(part) * 255.0, off) / 255.0) as f32;
        Rgba { r: part(colour.r), g: part(colour.g), b: part(colour.b), a }
    }
}

/// How far a length in px may be off: an edge from black to white that lies so much beside its place changes a pixel by
/// 0.13 of 255.
const OFF_LENGTH: f64 = 0.000_5;
/// How far an opacity may be off: 0.13 of 255.
const OFF_SHARE: f64 = 0.000_5;
/// How far the angle of a gradient may be off, in degrees: over 1000 px, it runs 0.01 px beside its place.
const OFF_ANGLE: f64 = 0.000_5;
/// How far a part of a colour may be off, in 255ths: an opaque one is painted as a whole number anyway.
const OFF_PART: f64 = 0.5;
/// How far a translucent colour may be off where it is painted, in 255ths.
const OFF_PAINTED: f64 = 0.25;

/// The number of fewest decimals that is no farther off than that; itself where three would not do.
pub fn fewest(value: f64, off: f64) -> f64 {
    for decimals in 0..4 {
        let fine = 10_f64.powi(decimals);
        let rounded = (value * fine).round() / fine;
        if (rounded - value).abs() <= off * (1.0 + 1e-9) {
            return rounded;
        }
    }
    value
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_typed_stays_and_what_was_computed_is_short() {
        for typed in [0.0, 1.0, -6.0, 0.5, 12.25, 0.125] {
            assert_eq!(Numbers::Fewest.length(typed), typed);
        }
        assert_eq!(Numbers::Fewest.length(-2.828_427_124_746_19), -2.828);
        assert_eq!(Numbers::Fewest.length(3.000_000_1), 3.0);
        assert_eq!(Numbers::Fewest.share(0.551_234), 0.551);
    }

    #[test]
    fn nothing_is_off_by_more_than_a_picture_shows() {
        for i in 0..10_000 {
            let value = f64::from(i) * 0.017_123 - 80.0;
            assert!((Numbers::Fewest.length(value) - value).abs() * 255.0 <= 0.13);
            let share = f64::from(i) / 9_999.0;
            assert!((Numbers::Fewest.share(share) - share).abs() * 255.0 <= 0.13);
            let opaque = Numbers::Fewest.colour(Rgba::new(share as f32, 0.0, 1.0, 1.0));
            assert_eq!((opaque.r * 255.0).round(), (share as f32 * 255.0).round());
            let faint = Numbers::Fewest.colour(Rgba::new(share as f32, 0.0, 1.0, 0.6));
            assert!((f64::from(faint.r) - share).abs() * 255.0 * 0.6 <= 0.251);
        }
    }
}
