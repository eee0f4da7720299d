//! Coats of plain numbers.

use std::hash::{Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Vec2};

use super::paint::Paint;
use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::geometry::{Silhouette, StrokeStyle};
use crate::model::{BackdropOrder, Id};

/// A coat of plain numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Coat {
    /// Its id; that of the ramp for the steps of one.
    pub id: Id,
    /// Its name.
    pub name: String,
    /// Its paint operation.
    pub op: PaintOp,
    /// Its main colour before its opacity, for the kinds that have one.
    pub colour: Option<Rgba>,
    /// Of what it draws.
    pub opacity: f64,
    /// How it mixes with the picture below.
    pub blend: BlendMode,
}

impl Coat {
    /// The same coat at a share of its opacity.
    #[must_use]
    pub fn at_share(&self, share: f64) -> Self {
        let mut coat = Self { opacity: self.opacity * share, ..self.clone() };
        if let PaintOp::Shadow(Shadow { paint: ShadowPaint::Colour(colour), .. }) = &mut coat.op {
            colour.a *= share as f32;
        }
        coat
    }

    /// Equal for coats that draw the same; caches tell coats apart by it.
    pub fn fingerprint(&self, hasher: &mut impl Hasher) {
        (self.opacity.to_bits(), self.blend as u8).hash(hasher);
        std::mem::discriminant(&self.op).hash(hasher);
        let mut numbers = |numbers: &[f64]| numbers.iter().for_each(|number| number.to_bits().hash(hasher));
        match &self.op {
            PaintOp::Shadow(shadow) => {
                numbers(&[shadow.dx, shadow.dy, shadow.blur, shadow.spread]);
                shadow.fingerprint(hasher);
            }
            PaintOp::Highlight(spot) => {
                numbers(&spot.place.as_coeffs());
                numbers(&[spot.blur]);
                spot.silhouette.fingerprint(hasher);
                spot.paint.fingerprint().hash(hasher);
            }
            PaintOp::Tint(paint) => paint.fingerprint().hash(hasher),
            PaintOp::Stroke { style, paint } => {
                numbers(&[style.width]);
                (style.side as u8, style.join as u8, style.cap as u8, paint.fingerprint()).hash(hasher);
            }
            PaintOp::Blur(sigma) => numbers(&[*sigma]),
            PaintOp::Backdrop(backdrop) => {
                backdrop.fingerprint(hasher);
            }
            PaintOp::Extrude(extrude) => {
                numbers(&[extrude.dx, extrude.dy]);
                (extrude.near.bits(), extrude.far.bits()).hash(hasher);
            }
            PaintOp::Cast(cast) => {
                numbers(&[cast.shear, cast.squash, cast.anchor, cast.blur_near, cast.blur_far, cast.fade]);
                cast.colour.bits().hash(hasher);
            }
        }
    }
}

impl PaintOp {
    /// The shadow, where it is one.
    #[must_use]
    pub fn shadow(&self) -> Option<&Shadow> {
        if let Self::Shadow(shadow) = self { Some(shadow) } else { None }
    }

    /// A stroke's style and paint, where it is one.
    #[must_use]
    pub fn stroke(&self) -> Option<(&StrokeStyle, &Paint)> {
        if let Self::Stroke { style, paint } = self { Some((style, paint)) } else { None }
    }

    /// Its change of the backdrop, where it is one.
    #[must_use]
    pub fn backdrop(&self) -> Option<&Backdrop> {
        if let Self::Backdrop(backdrop) = self { Some(backdrop) } else { None }
    }

    /// The σ in px of a blur of the piece; 0 where it is none.
    #[must_use]
    pub fn sigma(&self) -> f64 {
        if let Self::Blur(sigma) = self { *sigma } else { 0.0 }
    }
}

/// The σ in px that blur coats soften the surface by together: their variances add up.
#[must_use]
pub fn surface_sigma<'a>(coats: impl IntoIterator<Item = &'a Coat>) -> f64 {
    let variances = coats.into_iter().map(|coat| (coat.op.sigma() * coat.opacity).powi(2));
    variances.sum::<f64>().sqrt()
}

impl Shadow {
    /// All but its lengths.
    fn fingerprint(&self, hasher: &mut impl Hasher) {
        match self.paint {
            ShadowPaint::Colour(colour) => colour.bits().hash(hasher),
            ShadowPaint::Picture => 0_u8.hash(hasher),
        }
        self.kind.hash(hasher);
        self.tone.fingerprint(hasher);
        if let Some((silhouette, at)) = &self.substitute {
            silhouette.fingerprint(hasher);
            (at.x.to_bits(), at.y.to_bits()).hash(hasher);
        }
    }
}

impl Tone {
    /// Equal for tones that do the same.
    pub fn fingerprint(&self, hasher: &mut impl Hasher) {
        for (from, to) in self.falloff.iter().flat_map(|points| points.iter()) {
            (from.to_bits(), to.to_bits()).hash(hasher);
        }
        if let Some(grain) = self.grain {
            (grain.amount.to_bits(), grain.size.to_bits(), grain.seed).hash(hasher);
        }
    }
}

/// A paint operation: one coat as it is drawn.
#[derive(Debug, Clone, PartialEq)]
pub enum PaintOp {
    /// A drop or inner shadow.
    Shadow(Shadow),
    /// A soft patch of light on the surface.
    Highlight(Highlight),
    /// A colour or gradient over the surface.
    Tint(Paint),
    /// A line along the edge.
    Stroke {
        /// Where it lies.
        style: StrokeStyle,
        /// Its paint, over the box it encloses.
        paint: Paint,
    },
    /// Softens the surface: the Gaussian's σ in px.
    Blur(f64),
    /// Softens the backdrop.
    Backdrop(Backdrop),
    /// Solid thickness.
    Extrude(Extrude),
    /// A shadow cast on a floor or wall.
    Cast(Cast),
}

impl PaintOp {
    /// Whether it lies on the surface, not under or behind the piece.
    #[must_use]
    pub fn is_on_surface(&self) -> bool {
        match self {
            Self::Shadow(shadow) => shadow.kind == ShadowKind::Inner,
            Self::Highlight(_) | Self::Tint(_) | Self::Stroke { .. } | Self::Blur(_) => true,
            Self::Backdrop(_) | Self::Extrude(_) | Self::Cast(_) => false,
        }
    }
}

/// Which side of the surface line a shadow lies on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum ShadowKind {
    /// An inner shadow, on the surface.
    Inner,
    /// A drop shadow, under it.
    Drop {
        /// Kept out from under the piece.
        knock_out: bool,
    },
}

/// A shadow's numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Shadow {
    /// To the right, in px.
    pub dx: f64,
    /// Down, in px.
    pub dy: f64,
    /// CSS blur radius in px: twice the Gaussian's σ.
    pub blur: f64,
    /// In px.
    pub spread: f64,
    /// Its colour, or the piece's own picture.
    pub paint: ShadowPaint,
    /// Which side of the surface line it lies on.
    pub kind: ShadowKind,
    /// The transfer curve and grain of its blurred coverage.
    pub tone: Tone,
    /// A substitute shape that casts a drop shadow instead of the piece, and its offset in the piece.
    pub substitute: Option<(Silhouette, Vec2)>,
}

/// The paint of a shadow.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum ShadowPaint {
    /// One colour, the coat's opacity in its alpha.
    Colour(Rgba),
    /// The piece's own pixels, blurred.
    Picture,
}

impl Shadow {
    /// Its colour; black where it is painted with the piece's own picture.
    #[must_use]
    pub fn colour(&self) -> Rgba {
        match self.paint {
            ShadowPaint::Colour(colour) => colour,
            ShadowPaint::Picture => Rgba::new(0.0, 0.0, 0.0, 1.0),
        }
    }
}

/// A transfer curve and grain, applied to blurred coverage before it is drawn.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Tone {
    /// From coverage to coverage: the points of a curve of straight lines, rising in the first number.
    pub falloff: Option<Arc<[(f32, f32)]>>,
    /// Noise.
    pub grain: Option<Grain>,
}

/// Seeded noise.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Grain {
    /// From none (0) to pixel scatter (1).
    pub amount: f64,
    /// The size of a grain in px.
    pub size: f64,
    /// Which noise.
    pub seed: u32,
}

/// A soft patch of light.
#[derive(Debug, Clone, PartialEq)]
pub struct Highlight {
    /// Its geometry.
    pub silhouette: Silhouette,
    /// From its own px to the piece's.
    pub place: Affine,
    /// Its paint.
    pub paint: Paint,
    /// CSS blur radius in px.
    pub blur: f64,
}

/// Blur of the backdrop.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Backdrop {
    /// The Gaussian's σ in px.
    pub sigma: f64,
    /// 1 leaves it as it is.
    pub saturation: f64,
    /// 1 leaves it as it is.
    pub brightness: f64,
    /// Which of them is applied first.
    pub order: BackdropOrder,
}

impl Backdrop {
    /// Equal for backdrops that draw the same.
    pub fn fingerprint(&self, hasher: &mut impl Hasher) {
        ([self.sigma, self.saturation, self.brightness].map(f64::to_bits), self.order).hash(hasher);
    }
}

/// Solid thickness.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Extrude {
    /// To the right, in px.
    pub dx: f64,
    /// Down, in px.
    pub dy: f64,
    /// Next to the piece.
    pub near: Rgba,
    /// At the far end.
    pub far: Rgba,
}

/// A shadow cast on a floor or wall.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cast {
    /// To the right for each px of height above the anchor line.
    pub shear: f64,
    /// Up for each px of height above the anchor line; negative falls towards the viewer.
    pub squash: f64,
    /// The anchor line below the top of the piece's box, in px.
    pub anchor: f64,
    /// CSS blur radius at the anchor line, in px.
    pub blur_near: f64,
    /// CSS blur radius at the far end, in px.
    pub blur_far: f64,
    /// Its colour.
    pub colour: Rgba,
    /// The share of opacity lost at the far end.
    pub fade: f64,
}

impl Cast {
    /// The map that throws everything above the horizontal line at `anchor`: x' = x + shear·h and y' = anchor −
    /// squash·h, for h above it.
    #[must_use]
    pub fn projection(&self, anchor: f64) -> Affine {
        let Self { shear, squash, .. } = *self;
        Affine::new([1.0, 0.0, -shear, squash, shear * anchor, anchor - squash * anchor])
    }
}
