//! Building the layer of a coat: its mask, or its pixels.

use std::hash::Hash;
use std::sync::Arc;

use kurbo::{Affine, Vec2};

use super::layer::{Layer, LayerContent, key_of};
use crate::blur::{Blurred, Scratch};
use crate::compose::cache::{Key, content_hash};
use crate::compose::context::RenderContext;
use crate::compose::masks::coverage::{Coverage, Renderer};
use crate::compose::masks::placed_mask::PlacedMask;
use crate::compose::masks::tile::{Tile, TilePixels as _};
use crate::compose::masks::tone::Toning;
use crate::compose::masks::{cast, extrude};
use crate::geometry::{PlacedSilhouette, Silhouette};
use crate::maths::snapped;
use crate::model::Surface;
use crate::raster::Rect;
use crate::resolve::{Coat, Highlight, Paint, PaintOp, Piece, Shadow, ShadowKind, ShadowPaint};

/// Makes the coats of one piece.
pub(in crate::compose) struct LayerBuilder<'a> {
    pub piece: &'a Piece,
    pub place: Affine,
    pub context: &'a RenderContext<'a>,
    pub silhouette: &'a PlacedMask,
}

impl LayerBuilder<'_> {
    /// The layer of a coat; `None` for coats that are no layer of their own.
    pub fn layer(&self, coat: &Coat) -> Option<Layer> {
        let content = match &coat.op {
            PaintOp::Shadow(shadow) => self.shadow(shadow),
            PaintOp::Highlight(spot) => self.highlight(spot),
            PaintOp::Tint(paint) => {
                let (width, height) = self.piece.silhouette.size();
                LayerContent::Paint(paint.sampler(width, height, self.context.scale), self.place.inverse())
            }
            PaintOp::Stroke { style, paint } => {
                let (outer, inner) = style.around(&self.piece.silhouette);
                let mask = |body: &PlacedSilhouette| piece_mask(body, self.place, self.context);
                let (width, height) = outer.silhouette.size();
                LayerContent::Edge {
                    paint: paint.sampler(width, height, self.context.scale),
                    to_box: (self.place * outer.place()).inverse(),
                    outer: mask(&outer),
                    inner: inner.as_ref().map_or_else(PlacedMask::nothing, mask),
                }
            }
            PaintOp::Extrude(extrude) => self.shadow_of(false, self.extrude(extrude)),
            PaintOp::Cast(cast) => {
                let colour = cast.colour.premultiplied();
                self.shadow_of(false, LayerContent::Flat(colour, self.cast(cast)))
            }
            PaintOp::Blur(_) | PaintOp::Backdrop(_) => return None,
        };
        // A shadow's colour already includes the coat's opacity.
        let opacity = match &coat.op {
            PaintOp::Shadow(Shadow { paint: ShadowPaint::Colour(_), .. }) => 1.0,
            PaintOp::Shadow(_)
            | PaintOp::Highlight(_)
            | PaintOp::Tint(_)
            | PaintOp::Stroke { .. }
            | PaintOp::Blur(_)
            | PaintOp::Backdrop(_)
            | PaintOp::Extrude(_)
            | PaintOp::Cast(_) => coat.opacity as f32,
        };
        Some(Layer { key: key_of(|hasher| coat.fingerprint(hasher)), blend: coat.blend, opacity, content })
    }

    fn shadow_of(&self, knock_out: bool, content: LayerContent) -> LayerContent {
        let knock_out = knock_out || self.piece.surface == Surface::CutOut;
        LayerContent::Shadow { knock_out, content: Box::new(content) }
    }

    fn shadow(&self, shadow: &Shadow) -> LayerContent {
        let (body, at) = match (&shadow.kind, &shadow.substitute, &self.piece.inner) {
            (ShadowKind::Drop { .. }, Some((silhouette, at)), _) => (silhouette, *at),
            (ShadowKind::Drop { .. }, None, _) => {
                (&self.piece.outer.silhouette, Vec2::new(self.piece.outer.x, self.piece.outer.y))
            }
            (ShadowKind::Inner, _, Some(inner)) => (&inner.silhouette, Vec2::new(inner.x, inner.y)),
            (ShadowKind::Inner, _, None) => return LayerContent::Flat([0.0; 4], PlacedMask::nothing()),
        };
        let is_inner = shadow.kind == ShadowKind::Inner;
        let coverage = self.shadow_coverage(shadow, body, at);
        // An inner shadow is seen only inside the silhouette.
        let window = if is_inner {
            self.context.window.intersect(self.silhouette.rect())
        } else {
            self.context.window
        };
        let mask = match (shadow.paint, is_inner) {
            (ShadowPaint::Colour(colour), false) => {
                coverage.seen_mask(f64::from(colour.premultiplied()[3]), window, self.context.cache)
            }
            _ => coverage.mask(window, self.context.cache),
        };
        match (shadow.paint, &shadow.kind) {
            (ShadowPaint::Colour(colour), ShadowKind::Inner) => {
                LayerContent::AroundHole(colour.premultiplied(), mask)
            }
            (ShadowPaint::Colour(colour), ShadowKind::Drop { knock_out }) => {
                self.shadow_of(*knock_out, LayerContent::Flat(colour.premultiplied(), mask))
            }
            (ShadowPaint::Picture, layer) => {
                let mask = if is_inner { around(&mask, window) } else { mask };
                let pixels = LayerContent::Pixels(self.own_picture(shadow, &coverage, &mask));
                match layer {
                    ShadowKind::Inner => pixels,
                    ShadowKind::Drop { knock_out } => self.shadow_of(*knock_out, pixels),
                }
            }
        }
    }

    fn shadow_coverage<'a>(&self, shadow: &'a Shadow, body: &'a Silhouette, at: Vec2) -> Coverage<'a> {
        let scale = self.context.scale;
        let is_inner = shadow.kind == ShadowKind::Inner;
        // Offsets do not turn with a rotated piece: light does not.
        let moved = Affine::translate((shadow.dx * scale, shadow.dy * scale)) * self.place;
        let toning = Toning { tone: &shadow.tone, inverted: is_inner, scale };
        let mode = self.context.options.mode;
        let limit = mode.other().map_or(f64::INFINITY, Renderer::max_sigma);
        let coverage = Coverage {
            silhouette: body,
            place: moved * Affine::translate(at),
            spread: if is_inner { -shadow.spread } else { shadow.spread },
            sigma: (shadow.blur / 2.0 * scale).min(limit),
            mode,
            hole: (is_inner && !mode.is_exact()).then(|| Vec2::new(shadow.dx, shadow.dy) * scale),
            toning: (!toning.changes_nothing()).then_some(toning),
            luminance_class: None,
        };
        match shadow.paint {
            ShadowPaint::Colour(colour) => coverage.coloured(colour),
            ShadowPaint::Picture => coverage,
        }
    }

    /// The piece's own pixels, moved and blurred, in the shape of the shadow.
    fn own_picture(&self, shadow: &Shadow, coverage: &Coverage<'_>, mask: &PlacedMask) -> Arc<Tile> {
        let rect = mask.rect();
        let key = content_hash(|hasher| {
            ("own picture", self.piece.fill.fingerprint()).hash(hasher);
            coverage.fingerprint(hasher);
            // The coverage may be that of a substitute; the pixels are always the piece's own.
            self.piece.silhouette.fingerprint(hasher);
            (self.place.as_coeffs().map(f64::to_bits), self.context.scale.to_bits()).hash(hasher);
            (shadow.dx.to_bits(), shadow.dy.to_bits(), shadow.kind == ShadowKind::Inner).hash(hasher);
        });
        self.context.cache.tile(Key { content: key, clip: rect }, || {
            let (width, height) = self.piece.silhouette.size();
            let sampler = self.piece.fill.sampler(width, height, self.context.scale);
            let moved = Affine::translate((shadow.dx * self.context.scale, shadow.dy * self.context.scale))
                * self.place;
            let reach = crate::blur::reach(coverage.sigma);
            let sharp =
                Coverage::plain(&self.piece.silhouette, moved).mask(rect.grown(reach), self.context.cache);
            let pixels = Tile::painted(&sampler, moved.inverse(), &sharp);
            let blurred = if coverage.sigma > 0.0 { pixels.blurred(coverage.sigma, rect) } else { pixels };
            let far = self.piece.fill.mean().unwrap_or_default();
            let mut tile = Tile::empty(rect);
            tile.each_row(|y, row| {
                let mut room = Scratch::default();
                let (_, coverage) = mask.span(y, rect.x0, row.len(), &mut room);
                let (from, colours) = blurred.line_at(y);
                for (i, (pixel, cover)) in row.iter_mut().zip(coverage).enumerate() {
                    let x = rect.x0 + i as i32;
                    let index = usize::try_from(x - from).ok();
                    let own = index.and_then(|index| colours.get(index)).copied().unwrap_or([0.0; 4]);
                    let colour =
                        if own[3] > 1e-3 { own.map(|part| part / own[3]) } else { far.premultiplied() };
                    *pixel = colour.map(|part| part * cover);
                }
            });
            tile
        })
    }

    fn highlight(&self, spot: &Highlight) -> LayerContent {
        let (width, height) = spot.silhouette.size();
        let place = self.place * spot.place;
        let sigma = spot.blur / 2.0 * self.context.scale;
        let window = self.context.window.intersect(self.silhouette.rect());
        let mode = self.context.options.mode;
        let coverage = Coverage { sigma, mode, ..Coverage::plain(&spot.silhouette, place) };
        if let Paint::Solid(colour) = &spot.paint {
            return LayerContent::Flat(colour.premultiplied(), coverage.mask(window, self.context.cache));
        }
        let sampler = spot.paint.sampler(width, height, self.context.scale);
        let key = content_hash(|hasher| {
            ("highlight", spot.paint.fingerprint(), self.context.scale.to_bits()).hash(hasher);
            coverage.fingerprint(hasher);
        });
        let tile = self.context.cache.tile(Key { content: key, clip: window }, || {
            let sharp = Coverage { sigma: 0.0, ..coverage };
            let mask = sharp.mask(window.grown(crate::blur::reach(sigma)), self.context.cache);
            let tile = Tile::painted(&sampler, place.inverse(), &mask);
            if sigma > 0.0 { tile.blurred(sigma, window) } else { tile }
        });
        LayerContent::Pixels(tile)
    }

    fn extrude(&self, extrude: &crate::resolve::Extrude) -> LayerContent {
        let device = Vec2::new(extrude.dx, extrude.dy) * self.context.scale;
        let outer = &self.piece.outer;
        let swept = self.piece.swept(extrude);
        let place = self.place * outer.place();
        let coverage = Coverage::plain(&swept, place);
        let mask = coverage.mask(self.context.window, self.context.cache);
        if extrude.near == extrude.far {
            return LayerContent::Flat(extrude.near.premultiplied(), mask);
        }
        let key = content_hash(|hasher| {
            ("extrude", extrude.near.bits(), extrude.far.bits(), self.context.options.mode).hash(hasher);
            coverage.fingerprint(hasher);
            // Outlines that differ may sweep the same, where the sweep closes their holes.
            outer.silhouette.fingerprint(hasher);
            (device.x.to_bits(), device.y.to_bits()).hash(hasher);
        });
        let tile = self.context.cache.tile(Key { content: key, clip: mask.rect() }, || {
            let outline = outer.silhouette.outline();
            let piece = piece_mask(outer, self.place, self.context);
            extrude::coloured((&mask, &piece), (&outline.path, place), device, (extrude.near, extrude.far))
        });
        LayerContent::Pixels(tile)
    }

    fn cast(&self, cast: &crate::resolve::Cast) -> PlacedMask {
        let anchor = snapped(self.context.to_device * Affine::translate((0.0, self.piece.y + cast.anchor)));
        let anchor = anchor.translation().y;
        let key = content_hash(|hasher| {
            let outer = &self.piece.outer;
            Coverage::plain(&outer.silhouette, self.place * outer.place()).fingerprint(hasher);
            let numbers = [cast.shear, cast.squash, cast.anchor, cast.blur_near, cast.blur_far, cast.fade];
            ("cast", numbers.map(f64::to_bits), anchor.to_bits(), self.context.scale.to_bits()).hash(hasher);
        });
        let key = Key { content: key, clip: self.context.window };
        let cover = self.context.cache.cover(key, || {
            let top = self.outer_top();
            Blurred::Fine(cast::cast_coverage(
                &self.piece.outer,
                self.place,
                cast,
                (anchor, top),
                self.context,
            ))
        });
        PlacedMask::unmoved(cover)
    }

    /// The device's y of the highest point of the caster.
    fn outer_top(&self) -> f64 {
        let outer = &self.piece.outer;
        self.place.transform_rect_bbox(outer.bounds()).y0
    }
}

/// The coverage of a body of a piece.
pub(in crate::compose) fn piece_mask(
    body: &PlacedSilhouette,
    place: Affine,
    context: &RenderContext<'_>,
) -> PlacedMask {
    let coverage = Coverage::plain(&body.silhouette, place * body.place());
    coverage.in_mode(context.options.mode).mask(context.window, context.cache)
}

/// The complement of a hole's coverage, over a window.
fn around(hole: &PlacedMask, window: Rect) -> PlacedMask {
    let mut mask = hole.over(window);
    mask.values_mut().iter_mut().for_each(|value| *value = 1.0 - *value);
    PlacedMask::at(mask)
}
