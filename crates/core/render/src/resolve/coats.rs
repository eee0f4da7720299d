//! Coats of the document as coats of plain numbers.

use kurbo::{Affine, Point, Rect, Vec2};

use super::angle::sin_cos_degrees;
use super::coat::{
    Backdrop, Cast, Coat, Extrude, Grain, Highlight, PaintOp, Shadow, ShadowKind, ShadowPaint, Tone,
};
use super::colour::{ColourContext, ColoursBelow};
use super::scene::{Context, Piece, PieceBackground};
use crate::geometry::StrokeStyle;
use crate::model::{self, CoatKind, ColourOrigin, ColourSource, Offset};

impl Context<'_> {
    /// The paint operations of one coat: one, or those of each of its shadows; or why there is none.
    pub(super) fn coats(
        &self,
        coat: &model::Coat,
        piece: &Piece,
        under: Option<PieceBackground<'_>>,
    ) -> Result<Vec<Coat>, String> {
        let steps = match self.split(coat, &self.around(coat, piece, under)) {
            Some(steps) => steps.map_err(|error| error.to_string())?,
            None => return Ok(vec![self.resolve_coat(coat, piece, under)?]),
        };
        let resolve = |step: &model::Coat| {
            let drawn = self.resolve_coat(step, piece, under)?;
            Ok(Coat { id: coat.id.clone(), ..drawn })
        };
        steps.iter().map(resolve).collect()
    }

    /// The sources of a coat's colours.
    pub(super) fn around<'a>(
        &self,
        coat: &'a model::Coat,
        piece: &'a Piece,
        under: Option<PieceBackground<'a>>,
    ) -> ColourContext<'a> {
        let light = match coat.kind.offset() {
            Some(Offset::Following(following)) => Some(&following.follows),
            _ => coat.kind.follows(),
        };
        let beneath = under.map(|under| ColoursBelow { under, area: self.covered(coat, piece) });
        ColourContext { fill: Some(&piece.fill), light, beneath }
    }

    /// Where on the scene a coat lies, about.
    fn covered(&self, coat: &model::Coat, piece: &Piece) -> Rect {
        let bounds = piece.place().transform_rect_bbox(piece.silhouette.bounds());
        let CoatKind::Drop(drop) = &coat.kind else { return bounds };
        let offset = self.offset(&drop.offset);
        let grow = drop.spread.get() + drop.blur.get() / 2.0;
        (bounds + Vec2::new(offset.x, offset.y)).inflate(grow, grow)
    }

    fn resolve_coat(
        &self,
        coat: &model::Coat,
        piece: &Piece,
        under: Option<PieceBackground<'_>>,
    ) -> Result<Coat, String> {
        let around = self.around(coat, piece, under);
        let mut missing = None;
        let mut report = |message: String| missing = Some(message);
        let op = match &coat.kind {
            CoatKind::Drop(drop) => self.drop(coat, drop, piece, &around)?,
            CoatKind::Inner(inner) => PaintOp::Shadow(Shadow {
                kind: ShadowKind::Inner,
                tone: tone(inner.falloff.as_ref(), inner.grain.as_ref()),
                ..self.shadow(coat, &inner.offset, (inner.blur, inner.spread), &inner.colour, &around)?
            }),
            CoatKind::Highlight(highlight) => self.highlight(highlight, piece, &around, &mut report),
            CoatKind::Tint(tint) => PaintOp::Tint(self.coat_paint(&tint.fill, &around, &mut report)),
            CoatKind::Stroke(stroke) => PaintOp::Stroke {
                style: StrokeStyle {
                    width: stroke.width.get(),
                    side: stroke.side,
                    join: stroke.join,
                    cap: stroke.cap,
                },
                paint: self.coat_paint(&stroke.fill, &around, &mut report),
            },
            CoatKind::Blur(blur) => PaintOp::Blur(blur.sigma.get()),
            CoatKind::Backdrop(backdrop) => PaintOp::Backdrop(Backdrop {
                sigma: backdrop.sigma.get(),
                saturation: backdrop.saturation.map_or(1.0, |factor| factor.get()),
                brightness: backdrop.brightness.map_or(1.0, |factor| factor.get()),
                order: backdrop.order,
            }),
            CoatKind::Extrude(extrude) => {
                let offset = self.offset(&extrude.offset);
                let (near, far) = (self.colour(&extrude.near, &around)?, self.colour(&extrude.far, &around)?);
                PaintOp::Extrude(Extrude { dx: offset.x, dy: offset.y, near, far })
            }
            CoatKind::Cast(cast) => PaintOp::Cast(self.cast(cast, piece, &around)?),
            CoatKind::Ramp(_) | CoatKind::Raised(_) => return Err("several shadows within one".to_owned()),
        };
        if let Some(message) = missing {
            return Err(message);
        }
        Ok(Coat {
            id: coat.id.clone(),
            name: coat.name.clone(),
            op,
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
        around: &ColourContext<'_>,
    ) -> Result<PaintOp, String> {
        let knock_out = drop.knock_out.unwrap_or(piece.silhouette.is_box());
        let substitute = drop.substitute.as_ref().map(|placed| {
            let (silhouette, _) = self.silhouette(&placed.shape, &mut |_| ());
            (silhouette, Vec2::new(placed.x.get(), placed.y.get()))
        });
        Ok(PaintOp::Shadow(Shadow {
            kind: ShadowKind::Drop { knock_out },
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
        around: &ColourContext<'_>,
    ) -> Result<Shadow, String> {
        let offset = self.offset(offset);
        let paint = match colour {
            ColourSource::From(taken) if taken.from == ColourOrigin::Picture => ShadowPaint::Picture,
            ColourSource::Literal(_) | ColourSource::Swatch(_) | ColourSource::From(_) => {
                ShadowPaint::Colour(self.colour(colour, around)?.faded(coat.opacity.get()))
            }
        };
        Ok(Shadow {
            dx: offset.x,
            dy: offset.y,
            blur: blur.get(),
            spread: spread.get(),
            paint,
            kind: ShadowKind::Inner,
            tone: Tone::default(),
            substitute: None,
        })
    }

    /// A spot that follows a light is turned with it about the piece's middle; as written, the light is at the top.
    fn highlight(
        &self,
        highlight: &model::Highlight,
        piece: &Piece,
        around: &ColourContext<'_>,
        report: &mut impl FnMut(String),
    ) -> PaintOp {
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
        PaintOp::Highlight(Highlight { silhouette, place, paint, blur: highlight.blur.get() })
    }

    /// Under a followed light the shadow falls to the side away from it, and towards the viewer when it stands behind.
    fn cast(&self, cast: &model::Cast, piece: &Piece, around: &ColourContext<'_>) -> Result<Cast, String> {
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
