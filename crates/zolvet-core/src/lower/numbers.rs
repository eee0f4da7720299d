//! How numbers are written.

use serde::{Deserialize, Serialize};

use crate::resolve::{PaintOp, Piece, Shadow, ShadowPaint};

/// How numbers are written in exports. They are rounded only on request.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Numbers {
    /// The shortest decimal that reads back as the same number.
    #[default]
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
        self.rounded(value, 1.0)
    }

    /// An opacity, or another share of a whole.
    #[must_use]
    pub fn share(self, value: f64) -> f64 {
        match self {
            Self::Whole => self.rounded(value, 100.0),
            other => other.rounded(value, 1.0),
        }
    }

    fn rounded(self, value: f64, unit: f64) -> f64 {
        let fine = match self {
            Self::Exact => return value,
            Self::TwoDecimals => 100.0 * unit,
            Self::Whole => unit,
        };
        (value * fine).round() / fine
    }

    /// A piece with the lengths and opacities of its coats rounded.
    #[must_use]
    pub fn of_piece(self, piece: &Piece) -> Piece {
        let mut piece = piece.clone();
        if self == Self::Exact {
            return piece;
        }
        for coat in &mut piece.coats {
            coat.opacity = self.share(coat.opacity);
            match &mut coat.op {
                PaintOp::Shadow(shadow) => self.shadow(shadow),
                PaintOp::Highlight(spot) => spot.blur = self.length(spot.blur),
                PaintOp::Stroke { style, .. } => style.width = self.length(style.width),
                PaintOp::Blur(sigma) => *sigma = self.length(*sigma),
                PaintOp::Backdrop(backdrop) => backdrop.sigma = self.length(backdrop.sigma),
                PaintOp::Extrude(extrude) => {
                    (extrude.dx, extrude.dy) = (self.length(extrude.dx), self.length(extrude.dy));
                }
                PaintOp::Tint(_) | PaintOp::Cast(_) => {}
            }
        }
        piece
    }

    fn shadow(self, shadow: &mut Shadow) {
        for length in [&mut shadow.dx, &mut shadow.dy, &mut shadow.blur, &mut shadow.spread] {
            *length = self.length(*length);
        }
        if let ShadowPaint::Colour(colour) = &mut shadow.paint {
            colour.a = self.share(f64::from(colour.a)) as f32;
        }
    }
}
