//! Coats of plain numbers.

use std::hash::{Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Point, Rect, Vec2};

use super::colour::Beneath;
use super::offset::sin_cos_degrees;
use super::{Context, Paint, Piece, Surroundings, Under};
use crate::blend::BlendMode;
use crate::colour::Rgba;
use crate::geometry::{Edge, Silhouette};
use crate::model::{self, CoatKind, ColourOrigin, ColourSource, Id, Offset};

/// A coat of plain numbers.
#[derive(Debug, Clone, PartialEq)]
pub struct Coat {
    /// Its id; that of the ramp for the steps of one.
    pub id: Id,
    /// Its name.
    pub name: String,
    /// What it draws.
    pub draws: Draws,
    /// Its main colour before its opacity, for the kinds that have one.
    pub colour: Option<Rgba>,
    /// Of what it draws.
    pub opacity: f64,
    /// How it mixes with what is below.
    pub blend: BlendMode,
}

impl Coat {
    /// The same coat at a share of its opacity.
    #[must_use]
    pub fn at_share(&self, share: f64) -> Self {
        let mut coat = Self { opacity: self.opacity * share, ..self.clone() };
        if let Draws::Shadow(Shadow { ink: Ink::Colour(colour), .. }) = &mut coat.draws {
            colour.a *= share as f32;
        }
        coat
    }

    /// Equal for coats that draw the same; what caches tell coats apart by.
    pub fn fingerprint(&self, hasher: &mut impl Hasher) {
        (self.opacity.to_bits(), self.blend as u8).hash(hasher);
        std::mem::discriminant(&self.draws).hash(hasher);
        let mut numbers = |numbers: &[f64]| numbers.iter().for_each(|number| number.to_bits().hash(hasher));
        match &self.draws {
            Draws::Shadow(shadow) => {
                numbers(&[shadow.dx, shadow.dy, shadow.blur, shadow.spread]);
                shadow.fingerprint(hasher);
            }
            Draws::Highlight(spot) => {
                numbers(&spot.place.as_coeffs());
                numbers(&[spot.blur]);
                spot.silhouette.fingerprint(hasher);
                spot.paint.fingerprint().hash(hasher);
            }
            Draws::Tint(paint) => paint.fingerprint().hash(hasher),
            Draws::Stroke { edge, paint } => {
                numbers(&[edge.width]);
                (edge.side as u8, edge.join as u8, edge.cap as u8, paint.fingerprint()).hash(hasher);
            }
            Draws::Blur(sigma) => numbers(&[*sigma]),
            Draws::Backdrop(frost) => numbers(&[frost.sigma, frost.saturation, frost.brightness]),
            Draws::Extrude(thick) => {
                numbers(&[thick.dx, thick.dy]);
                (bits(thick.near), bits(thick.far)).hash(hasher);
            }
            Draws::Cast(cast) => {
                numbers(&[cast.shear, cast.squash, cast.anchor, cast.blur_near, cast.blur_far, cast.fade]);
                bits(cast.colour).hash(hasher);
            }
        }
    }
}

fn bits(colour: Rgba) -> [u32; 4] {
    [colour.r, colour.g, colour.b, colour.a].map(f32::to_bits)
}

impl Shadow {
    /// All but its lengths.
    fn fingerprint(&self, hasher: &mut impl Hasher) {
        match self.ink {
            Ink::Colour(colour) => bits(colour).hash(hasher),
            Ink::Picture => 0_u8.hash(hasher),
        }
        self.layer.hash(hasher);
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

/// What a coat draws.
#[derive(Debug, Clone, PartialEq)]
pub enum Draws {
    /// A drop or inner shadow.
    Shadow(Shadow),
    /// A soft patch of light on the surface.
    Highlight(Spot),
    /// A colour or gradient over the surface.
    Tint(Paint),
    /// A line along the edge.
    Stroke {
        /// Where it lies.
        edge: Edge,
        /// What it is filled with, over the box it encloses.
        paint: Paint,
    },
    /// Softens the surface: the Gaussian's σ in px.
    Blur(f64),
    /// Softens what lies behind.
    Backdrop(Frost),
    /// Solid thickness.
    Extrude(Extrude),
    /// A shadow thrown on a floor or wall.
    Cast(Cast),
}

impl Draws {
    /// Whether it lies on the surface, not under or behind the piece.
    #[must_use]
    pub fn is_on_surface(&self) -> bool {
        match self {
            Self::Shadow(shadow) => shadow.layer == Layer::Inner,
            Self::Highlight(_) | Self::Tint(_) | Self::Stroke { .. } | Self::Blur(_) => true,
            Self::Backdrop(_) | Self::Extrude(_) | Self::Cast(_) => false,
        }
    }
}

/// Which side of the surface line a shadow lies on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Layer {
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
    /// What it is drawn in.
    pub ink: Ink,
    /// Which side of the surface line it lies on.
    pub layer: Layer,
    /// What becomes of its blurred coverage.
    pub tone: Tone,
    /// What a drop shadow is cast from instead of the piece, and where that lies in the piece.
    pub substitute: Option<(Silhouette, Vec2)>,
}

/// What a shadow is drawn in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Ink {
    /// One colour, the coat's opacity in its alpha.
    Colour(Rgba),
    /// The piece's own pixels, blurred.
    Picture,
}

impl Shadow {
    /// Its colour; black where its ink is a picture.
    #[must_use]
    pub fn colour(&self) -> Rgba {
        match self.ink {
            Ink::Colour(colour) => colour,
            Ink::Picture => Rgba::new(0.0, 0.0, 0.0, 1.0),
        }
    }
}

/// What becomes of blurred coverage before it is drawn.
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
pub struct Spot {
    /// Its geometry.
    pub silhouette: Silhouette,
    /// From its own px to the piece's.
    pub place: Affine,
    /// What it is filled with.
    pub paint: Paint,
    /// CSS blur radius in px.
    pub blur: f64,
}

/// Blur of what lies behind.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Frost {
    /// The Gaussian's σ in px.
    pub sigma: f64,
    /// 1 leaves it as it is.
    pub saturation: f64,
    /// 1 leaves it as it is.
    pub brightness: f64,
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

/// A shadow thrown on a floor or wall.
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
    /// The map that throws what stands above the horizontal line at `anchor`: x' = x + shear·h and
    /// y' = anchor − squash·h, for h above it.
    #[must_use]
    pub fn about(&self, anchor: f64) -> Affine {
        let Self { shear, squash, .. } = *self;
        Affine::new([1.0, 0.0, -shear, squash, shear * anchor, anchor - squash * anchor])
    }
}

impl Context<'_> {
    /// What one coat draws: one thing, or the steps of a ramp; or why nothing.
    pub(super) fn coats(
        &self,
        coat: &model::Coat,
        piece: &Piece,
        under: Option<Under<'_>>,
    ) -> Result<Vec<Coat>, String> {
        if let CoatKind::Ramp(ramp) = &coat.kind {
            let around = self.around(coat, piece, under);
            let steps = self.split(coat, ramp, &around).map_err(|error| error.to_string())?;
            let resolve = |step: &model::Coat| {
                let drawn = self.one(step, piece, under)?;
                Ok(Coat { id: coat.id.clone(), ..drawn })
            };
            return steps.iter().map(resolve).collect();
        }
        Ok(vec![self.one(coat, piece, under)?])
    }

    /// What a coat's colours can be taken from.
    pub(super) fn around<'a>(
        &self,
        coat: &'a model::Coat,
        piece: &'a Piece,
        under: Option<Under<'a>>,
    ) -> Surroundings<'a> {
        let light = match coat.kind.offset() {
            Some(Offset::Following(following)) => Some(&following.follows),
            _ => coat.kind.follows(),
        };
        let beneath = under.map(|under| Beneath { under, area: self.covered(coat, piece) });
        Surroundings { fill: Some(&piece.fill), light, beneath }
    }

    /// Where on the scene a coat lies, about.
    fn covered(&self, coat: &model::Coat, piece: &Piece) -> Rect {
        let bounds = piece.place().transform_rect_bbox(piece.silhouette.bounds());
        let CoatKind::Drop(drop) = &coat.kind else { return bounds };
        let offset = self.offset(&drop.offset);
        let grow = drop.spread.get() + drop.blur.get() / 2.0;
        (bounds + Vec2::new(offset.x, offset.y)).inflate(grow, grow)
    }

    fn one(&self, coat: &model::Coat, piece: &Piece, under: Option<Under<'_>>) -> Result<Coat, String> {
        let around = self.around(coat, piece, under);
        let mut missing = None;
        let mut report = |message: String| missing = Some(message);
        let draws = match &coat.kind {
            CoatKind::Drop(drop) => self.drop(coat, drop, piece, &around)?,
            CoatKind::Inner(inner) => Draws::Shadow(Shadow {
                layer: Layer::Inner,
                tone: tone(inner.falloff.as_ref(), inner.grain.as_ref()),
                ..self.shadow(coat, &inner.offset, (inner.blur, inner.spread), &inner.colour, &around)?
            }),
            CoatKind::Highlight(highlight) => self.highlight(highlight, piece, &around, &mut report),
            CoatKind::Tint(tint) => Draws::Tint(self.coat_paint(&tint.fill, &around, &mut report)),
            CoatKind::Stroke(stroke) => Draws::Stroke {
                edge: Edge {
                    width: stroke.width.get(),
                    side: stroke.side,
                    join: stroke.join,
                    cap: stroke.cap,
                },
                paint: self.coat_paint(&stroke.fill, &around, &mut report),
            },
            CoatKind::Blur(blur) => Draws::Blur(blur.sigma.get()),
            CoatKind::Backdrop(backdrop) => Draws::Backdrop(Frost {
                sigma: backdrop.sigma.get(),
                saturation: backdrop.saturation.map_or(1.0, |factor| factor.get()),
                brightness: backdrop.brightness.map_or(1.0, |factor| factor.get()),
            }),
            CoatKind::Extrude(extrude) => {
                let offset = self.offset(&extrude.offset);
                let (near, far) = (self.colour(&extrude.near, &around)?, self.colour(&extrude.far, &around)?);
                Draws::Extrude(Extrude { dx: offset.x, dy: offset.y, near, far })
            }
            CoatKind::Cast(cast) => Draws::Cast(self.cast(cast, piece, &around)?),
            CoatKind::Ramp(_) => return Err("a ramp within a ramp".to_owned()),
        };
        if let Some(message) = missing {
            return Err(message);
        }
        Ok(Coat {
            id: coat.id.clone(),
            name: coat.name.clone(),
            draws,
            colour: coat.kind.colour().and_then(|source| self.colour(source, &around).ok()),
            opacity: coat.opacity.get(),
            blend: coat.blend,
        })
    }

    fn drop(
        &self,
        coat: &model::Coat,
        drop: &model::Drop,
        piece: &Piece,
        around: &Surroundings<'_>,
    ) -> Result<Draws, String> {
        let knock_out = drop.knock_out.unwrap_or(piece.silhouette.is_box());
        let substitute = drop.substitute.as_ref().map(|placed| {
            let (silhouette, _) = self.silhouette(&placed.shape, &mut |_| ());
            (silhouette, Vec2::new(placed.x.get(), placed.y.get()))
        });
        Ok(Draws::Shadow(Shadow {
            layer: Layer::Drop { knock_out },
            tone: tone(drop.falloff.as_ref(), drop.grain.as_ref()),
            substitute,
            ..self.shadow(coat, &drop.offset, (drop.blur, drop.spread), &drop.colour, around)?
        }))
    }

    fn shadow(
        &self,
        coat: &model::Coat,
        offset: &Offset,
        (blur, spread): (model::BlurRadius, model::Spread),
        colour: &ColourSource,
        around: &Surroundings<'_>,
    ) -> Result<Shadow, String> {
        let offset = self.offset(offset);
        let ink = match colour {
            ColourSource::From(taken) if taken.from == ColourOrigin::Picture => Ink::Picture,
            _ => Ink::Colour(self.colour(colour, around)?.faded(coat.opacity.get())),
        };
        Ok(Shadow {
            dx: offset.x,
            dy: offset.y,
            blur: blur.get(),
            spread: spread.get(),
            ink,
            layer: Layer::Inner,
            tone: Tone::default(),
            substitute: None,
        })
    }

    /// A spot that follows a light is turned with it about the piece's middle; as written, the light is at the top.
    fn highlight(
        &self,
        highlight: &model::Highlight,
        piece: &Piece,
        around: &Surroundings<'_>,
        report: &mut impl FnMut(String),
    ) -> Draws {
        let (silhouette, picture) = self.silhouette(&highlight.spot.shape, report);
        let paint = picture.unwrap_or_else(|| self.coat_paint(&highlight.fill, around, report));
        let (width, height) = silhouette.size();
        let half = Vec2::new(width / 2.0, height / 2.0);
        let mut middle = Point::new(highlight.spot.x.get(), highlight.spot.y.get()) + half;
        if let Some(light) = &highlight.follows {
            let (sin, cos) = sin_cos_degrees(self.bearing(light));
            let (w, h) = piece.silhouette.size();
            let centre = Point::new(w / 2.0, h / 2.0);
            let arm = middle - centre;
            middle = centre + Vec2::new(arm.x * cos - arm.y * sin, arm.x * sin + arm.y * cos);
        }
        let place = Affine::translate(middle.to_vec2() - half);
        Draws::Highlight(Spot { silhouette, place, paint, blur: highlight.blur.get() })
    }

    /// Under a followed light the shadow falls to the side away from it, and towards the viewer when it stands behind.
    fn cast(&self, cast: &model::Cast, piece: &Piece, around: &Surroundings<'_>) -> Result<Cast, String> {
        let (_, height) = piece.silhouette.size();
        let (mut shear, mut squash) = (cast.shear.get(), cast.squash.get());
        if let Some(light) = &cast.follows {
            let (sin, cos) = sin_cos_degrees(self.bearing(light));
            shear = -shear.abs() * sin;
            squash = if cos > 0.0 { -squash.abs() } else { squash.abs() };
        }
        Ok(Cast {
            shear,
            squash,
            anchor: cast.anchor.get() * height,
            blur_near: cast.blur_near.get(),
            blur_far: cast.blur_far.get(),
            colour: self.colour(&cast.colour, around)?,
            fade: cast.fade.get(),
        })
    }
}

fn tone(falloff: Option<&model::Falloff>, grain: Option<&model::Grain>) -> Tone {
    let points = falloff.map(|falloff| {
        let point = |point: &model::FalloffPoint| (point.from.get() as f32, point.to.get() as f32);
        falloff.points.iter().map(point).collect()
    });
    let grain =
        grain.map(|grain| Grain { amount: grain.amount.get(), size: grain.size.get(), seed: grain.seed });
    Tone { falloff: points, grain }
}
