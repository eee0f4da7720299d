//! What one piece is painted with: every mask and tile made, ready to be laid down row by row.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Vec2};

use super::cache::{Key, content_hash};
use super::context::RenderContext;
use super::coverage::{Coverage, Renderer};
use super::placed_mask::{PlacedMask, Scratch};
use super::tile::{EdgeMode, Tile};
use super::tone::Toning;
use super::{cast, extrude};
use crate::blend::{BlendMode, Pixel};
use crate::blur::Blurred;
use crate::geometry::{PlacedSilhouette, Silhouette};
use crate::model::Surface;
use crate::parallel::{for_each_row, parallel_map};
use crate::raster::{Mask, Rect};
use crate::resolve::{
    Backdrop, Coat, Highlight, Paint, PaintOp, Piece, Sampler, Shadow, ShadowKind, ShadowPaint, surface_sigma,
};

/// The layers of one piece. Coats keep their order: first is nearest the eye.
pub(super) struct PieceLayers {
    /// The piece's own coverage.
    pub silhouette: PlacedMask,
    /// With the strokes outside it.
    pub outer: PlacedMask,
    /// Without the strokes inside it.
    pub inner: PlacedMask,
    pub behind: Vec<(Backdrop, BlendMode, f32)>,
    pub under: Vec<Layer>,
    pub on: Vec<Layer>,
    /// The σ in device pixels that the whole surface is softened by.
    pub surface_sigma: f64,
    /// Each layer on the surface is cut to the silhouette by itself, as in browsers.
    pub clips_each_layer: bool,
    /// The fill, over the piece's box.
    pub fill: Option<Sampler>,
    pub to_piece: Affine,
    pub parts: Vec<PieceLayers>,
    /// How much of it is kept, and how it mixes with what is below; for a part of a join, among the other parts.
    pub opacity: f32,
    pub blend: BlendMode,
    /// The colour of what a rounding adds between parts.
    pub gap_fill: Option<Sampler>,
    pub clip: Option<PlacedMask>,
    /// The surface as pixels, where it is more than one colour.
    pub surface: Option<Arc<Tile>>,
    /// Equal for pieces that draw the same but for their coats.
    pub key: u64,
}

/// A coat ready to be laid down.
pub(super) struct Layer {
    /// Equal for coats that draw the same on one piece.
    pub key: u64,
    pub blend: BlendMode,
    pub opacity: f32,
    pub content: LayerContent,
}

/// What is laid down.
pub(super) enum LayerContent {
    /// One premultiplied colour through a mask.
    Flat(Pixel, PlacedMask),
    /// One colour around a hole, within the inner silhouette.
    AroundHole(Pixel, PlacedMask),
    /// A paint all over the surface; its transform leads to its box.
    Paint(Sampler, Affine),
    /// A paint between two edges.
    Edge { paint: Sampler, to_box: Affine, outer: PlacedMask, inner: PlacedMask },
    /// Pixels, their coverage in their alpha.
    Pixels(Arc<Tile>),
    /// Pixels that are kept out from under the piece, or not.
    Shadow { knock_out: bool, content: Box<LayerContent> },
}

impl PieceLayers {
    /// Everything a piece is painted with. `place` leads from its px to device pixels.
    pub fn of(piece: &Piece, place: Affine, context: &RenderContext<'_>) -> Self {
        let layers = Self::apart(piece, place, context);
        if layers.is_plain() && layers.surface_sigma == 0.0 {
            layers
        } else {
            layers.painted_once(place, context)
        }
    }

    /// As [`Self::of`], for few pixels, in which the surface is sooner painted as it is laid down.
    pub fn unpainted(piece: &Piece, place: Affine, context: &RenderContext<'_>) -> Self {
        let layers = Self::apart(piece, place, context);
        if layers.surface_sigma > 0.0 { layers.painted_once(place, context) } else { layers }
    }

    fn painted_once(mut self, place: Affine, context: &RenderContext<'_>) -> Self {
        let layers = &self;
        let content = content_hash(|hasher| {
            ("surface", layers.key, layers.surface_sigma.to_bits()).hash(hasher);
            (context.options.shadow_only, context.options.mode).hash(hasher);
            (context.scale.to_bits(), place.as_coeffs().map(f64::to_bits)).hash(hasher);
            layers.on.iter().for_each(|layer| layer.key.hash(hasher));
            if layers.surface_sigma > 0.0 {
                context.window.hash(hasher);
            }
        });
        let key = Key { content, clip: layers.surface_rect() };
        self.surface = Some(context.cache.tile(key, || layers.painted(context.window)));
        self
    }

    /// Whether the surface is one colour at the most, with nothing on it.
    pub fn is_plain(&self) -> bool {
        let one_colour = matches!(self.fill, None | Some(Sampler::Flat(_)));
        one_colour && self.on.is_empty() && self.parts.is_empty()
    }

    /// As [`Self::of`], the surface not painted yet.
    fn apart(piece: &Piece, place: Affine, context: &RenderContext<'_>) -> Self {
        let shown: Vec<&Coat> =
            piece.coats.iter().filter(|coat| context.options.coats.includes(&coat.id)).collect();
        let surface_sigma = surface_sigma(shown.iter().copied()) * context.scale;
        // A softened surface takes in what lies around the picture.
        let window = if surface_sigma > 0.0 {
            context.window.grown(crate::blur::reach(surface_sigma))
        } else {
            context.window
        };
        let context = &RenderContext { window, ..*context };
        let mode = context.options.mode;
        let mut coverage = Coverage::plain(&piece.silhouette, place).drawn(mode);
        if let Paint::Solid(colour) = &piece.fill {
            coverage = coverage.coloured(*colour);
        }
        let silhouette = coverage.mask(context.window, context.cache);
        let has_strokes = piece.coats.iter().any(|coat| matches!(coat.op, PaintOp::Stroke { .. }));
        let joined = !piece.parts.is_empty();
        let outer =
            if has_strokes || joined { piece_mask(&piece.outer, place, context) } else { silhouette.clone() };
        let inner = match &piece.inner {
            Some(inner) if has_strokes => piece_mask(inner, place, context),
            Some(_) => silhouette.clone(),
            None => PlacedMask::nothing(),
        };
        let builder = LayerBuilder { piece, place, context, silhouette: &silhouette };
        let layer = parallel_map(&shown, |coat| builder.layer(coat));
        let (mut under, mut on, mut behind) = (vec![], vec![], vec![]);
        for (coat, layer) in shown.iter().zip(layer) {
            match (&coat.op, layer) {
                (PaintOp::Backdrop(backdrop), _) => behind.push((*backdrop, coat.blend, coat.opacity as f32)),
                (op, Some(layer)) if op.is_on_surface() => on.push(layer),
                (_, Some(layer)) => under.push(layer),
                (_, None) => {}
            }
        }
        let (width, height) = piece.silhouette.size();
        let draws_fill = piece.surface == Surface::Keep && !context.options.shadow_only;
        let sampler = |paint: &Paint| paint.sampler(width, height, context.scale);
        // Parts are placed in the join, and so is what they are clipped to.
        let inside = RenderContext { to_device: place, ..*context };
        let parts: Vec<Self> = parallel_map(&piece.parts.iter().collect::<Vec<_>>(), |part| {
            let layers = Self::apart(part, place * part.place(), &inside);
            if piece.surface == Surface::Keep { layers } else { layers.without_fill() }
        });
        Self {
            fill: (draws_fill && piece.fill != Paint::None).then(|| sampler(&piece.fill)),
            gap_fill: piece.parts.first().filter(|_| draws_fill).map(|part| {
                let mean = part.fill.mean().unwrap_or_default();
                Sampler::Flat(mean.premultiplied())
            }),
            to_piece: place.inverse(),
            surface_sigma,
            clips_each_layer: mode.other().is_some_and(Renderer::clips_each_layer),
            clip: piece.clip.as_ref().map(|clip| {
                Coverage::plain(&clip.silhouette, context.to_device * clip.place)
                    .drawn(mode)
                    .mask(context.window, context.cache)
            }),
            silhouette,
            outer,
            inner,
            behind,
            under,
            on,
            parts,
            opacity: piece.opacity as f32,
            blend: piece.blend,
            surface: None,
            key: key_of(|hasher| {
                piece.fingerprint(hasher);
                // Which coats are drawn is told by the coats themselves, but for those of parts.
                if !piece.parts.is_empty() {
                    context.options.coats.hash(hasher);
                }
            }),
        }
    }

    fn without_fill(mut self) -> Self {
        self.fill = None;
        self.gap_fill = None;
        self.parts = self.parts.into_iter().map(Self::without_fill).collect();
        self
    }

    /// The rows that anything of the piece may be in.
    pub fn rows(&self) -> std::ops::Range<i32> {
        let rects = self.under.iter().map(|layer| layer.content.rect()).chain([self.visible_rect()]);
        let rows = rects.filter(|rect| !rect.is_empty()).map(|rect| rect.y0..rect.y1);
        rows.reduce(|a, b| a.start.min(b.start)..a.end.max(b.end)).unwrap_or(0..0)
    }

    /// Everything about the piece that shows in some rows.
    pub fn describe(&self, rows: Rect, hasher: &mut impl Hasher) {
        let touches = |rect: Rect| !rect.intersect(rows).is_empty();
        let under: Vec<u64> =
            self.under.iter().filter(|layer| touches(layer.content.rect())).map(|layer| layer.key).collect();
        let surface = touches(self.visible_rect());
        if under.is_empty() && !surface {
            return;
        }
        (self.key, &under, surface).hash(hasher);
        if surface {
            self.on.iter().for_each(|layer| layer.key.hash(hasher));
            self.surface_sigma.to_bits().hash(hasher);
        }
    }

    /// The pixels the surface touches.
    pub fn visible_rect(&self) -> Rect {
        self.surface.as_ref().map_or_else(|| self.surface_rect(), |tile| tile.rect)
    }
}

fn key_of(describe: impl Fn(&mut DefaultHasher)) -> u64 {
    let mut hasher = DefaultHasher::new();
    describe(&mut hasher);
    hasher.finish()
}

impl LayerContent {
    /// The pixels it may touch; empty where the surface itself bounds it.
    pub fn rect(&self) -> Rect {
        match self {
            Self::Flat(_, mask) => mask.rect(),
            Self::Edge { outer, .. } => outer.rect(),
            Self::Pixels(tile) => tile.rect,
            Self::Shadow { content, .. } => content.rect(),
            Self::AroundHole(..) | Self::Paint(..) => Rect::default(),
        }
    }
}

/// Makes the coats of one piece.
struct LayerBuilder<'a> {
    piece: &'a Piece,
    place: Affine,
    context: &'a RenderContext<'a>,
    silhouette: &'a PlacedMask,
}

impl LayerBuilder<'_> {
    fn layer(&self, coat: &Coat) -> Option<Layer> {
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
        // A shadow's colour holds the coat's opacity already.
        let opacity = match &coat.op {
            PaintOp::Shadow(Shadow { paint: ShadowPaint::Colour(_), .. }) => 1.0,
            _ => coat.opacity as f32,
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
        let mask = coverage.mask(window, self.context.cache);
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
            hole: is_inner.then(|| Vec2::new(shadow.dx, shadow.dy) * scale),
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
            let blurred = if coverage.sigma > 0.0 {
                pixels.blurred(coverage.sigma, EdgeMode::Transparent, rect)
            } else {
                pixels
            };
            let far = self.piece.fill.mean().unwrap_or_default();
            let mut tile = Tile::empty(rect);
            tile.each_row(|y, row| {
                let mut scratch = Scratch::default();
                let (_, coverage) = mask.span(y, rect.x0, row.len(), &mut scratch);
                let (from, colours) = blurred.row(y);
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
            if sigma > 0.0 { tile.blurred(sigma, EdgeMode::Transparent, window) } else { tile }
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
        let key = content_hash(|hasher| {
            let outer = &self.piece.outer;
            Coverage::plain(&outer.silhouette, self.place * outer.place()).fingerprint(hasher);
            let numbers = [cast.shear, cast.squash, cast.anchor, cast.blur_near, cast.blur_far, cast.fade];
            ("cast", numbers.map(f64::to_bits), self.piece.y.to_bits()).hash(hasher);
            self.context.to_device.as_coeffs().map(f64::to_bits).hash(hasher);
        });
        let key = Key { content: key, clip: self.context.window };
        let cover = self.context.cache.cover(key, || {
            let anchor = self.context.to_device * kurbo::Point::new(0.0, self.piece.y + cast.anchor);
            let top = self.outer_top();
            Blurred::Fine(cast::cast_coverage(
                &self.piece.outer,
                self.place,
                cast,
                (anchor.y, top),
                self.context,
            ))
        });
        PlacedMask::of(cover)
    }

    /// The device's y of the highest point of what casts.
    fn outer_top(&self) -> f64 {
        let outer = &self.piece.outer;
        self.place.transform_rect_bbox(outer.bounds()).y0
    }
}

/// The coverage of a body of a piece.
fn piece_mask(body: &PlacedSilhouette, place: Affine, context: &RenderContext<'_>) -> PlacedMask {
    let coverage = Coverage::plain(&body.silhouette, place * body.place());
    coverage.drawn(context.options.mode).mask(context.window, context.cache)
}

/// What lies around a hole, over a window.
fn around(hole: &PlacedMask, window: Rect) -> PlacedMask {
    let mut mask = Mask::empty(window);
    let width = window.width().max(1);
    for_each_row(&mut mask.data, width, |row, line| {
        line.fill(1.0);
        let mut scratch = Scratch::default();
        let (first, coverage) = hole.span(window.y0 + row, window.x0, line.len(), &mut scratch);
        for (value, hole) in line[first..].iter_mut().zip(coverage) {
            *value = 1.0 - hole;
        }
    });
    PlacedMask::at(mask)
}
