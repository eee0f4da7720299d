//! What one piece is painted with: every mask and tile made, ready to be laid down row by row.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Vec2};

use super::cache::{Key, content};
use super::coverage::{Coverage, Renderer};
use super::placed::{Placed, Scratch};
use super::scope::Scope;
use super::tile::{Around, Tile};
use super::tone::Toning;
use super::{cast, extrude};
use crate::blend::{BlendMode, Pixel};
use crate::blur::Blurred;
use crate::geometry::{Body, Silhouette};
use crate::model::Surface;
use crate::raster::{Mask, Rect};
use crate::resolve::{Coat, Draws, Frost, Ink, Layer, Paint, Piece, Sampler, Shadow, Spot, surface_sigma};
use crate::rows::{each, for_each_row};

/// The layers of one piece. Coats keep their order: first is nearest the eye.
pub(super) struct PieceLayers {
    /// The piece's own coverage.
    pub silhouette: Placed,
    /// With the strokes outside it.
    pub outer: Placed,
    /// Without the strokes inside it.
    pub inner: Placed,
    pub behind: Vec<(Frost, BlendMode, f32)>,
    pub under: Vec<Laid>,
    pub on: Vec<Laid>,
    /// The σ in device pixels that the whole surface is softened by.
    pub softened: f64,
    /// Each layer on the surface is cut to the silhouette by itself, as in browsers.
    pub each_cut: bool,
    /// The fill, over the piece's box.
    pub fill: Option<Sampler>,
    pub to_piece: Affine,
    pub parts: Vec<PieceLayers>,
    /// How much of it is kept, and how it mixes with what is below; for a part of a join, among the other parts.
    pub opacity: f32,
    pub blend: BlendMode,
    /// The colour of what a rounding adds between parts.
    pub between: Option<Sampler>,
    pub clip: Option<Placed>,
    /// The surface as pixels, where it is more than one colour.
    pub surface: Option<Arc<Tile>>,
    /// Equal for pieces that draw the same but for their coats.
    pub key: u64,
}

/// A coat ready to be laid down.
pub(super) struct Laid {
    /// Equal for coats that draw the same on one piece.
    pub key: u64,
    pub blend: BlendMode,
    pub opacity: f32,
    pub what: What,
}

/// What is laid down.
pub(super) enum What {
    /// One premultiplied colour through a mask.
    Flat(Pixel, Placed),
    /// One colour around a hole, within the inner silhouette.
    AroundHole(Pixel, Placed),
    /// A paint all over the surface; its transform leads to its box.
    Paint(Sampler, Affine),
    /// A paint between two edges.
    Edge { paint: Sampler, to_box: Affine, outer: Placed, inner: Placed },
    /// Pixels, their coverage in their alpha.
    Pixels(Arc<Tile>),
    /// Pixels that are kept out from under the piece, or not.
    Shadow { knock_out: bool, ink: Box<What> },
}

impl PieceLayers {
    /// Everything a piece is painted with. `place` leads from its px to device pixels.
    pub fn of(piece: &Piece, place: Affine, scope: &Scope<'_>) -> Self {
        let layers = Self::apart(piece, place, scope);
        if layers.is_plain() && layers.softened == 0.0 { layers } else { layers.painted_once(place, scope) }
    }

    /// As [`Self::of`], for few pixels, in which the surface is sooner painted as it is laid down.
    pub fn unpainted(piece: &Piece, place: Affine, scope: &Scope<'_>) -> Self {
        let layers = Self::apart(piece, place, scope);
        if layers.softened > 0.0 { layers.painted_once(place, scope) } else { layers }
    }

    fn painted_once(mut self, place: Affine, scope: &Scope<'_>) -> Self {
        let layers = &self;
        let content = content(|hasher| {
            ("surface", layers.key, layers.softened.to_bits()).hash(hasher);
            (scope.part.shadow_only, scope.part.mode).hash(hasher);
            (scope.scale.to_bits(), place.as_coeffs().map(f64::to_bits)).hash(hasher);
            layers.on.iter().for_each(|laid| laid.key.hash(hasher));
            if layers.softened > 0.0 {
                scope.window.hash(hasher);
            }
        });
        let key = Key { content, clip: layers.surface_rect() };
        self.surface = Some(scope.cache.tile(key, || layers.painted(scope.window)));
        self
    }

    /// Whether the surface is one colour at the most, with nothing on it.
    pub fn is_plain(&self) -> bool {
        let one_colour = matches!(self.fill, None | Some(Sampler::Flat(_)));
        one_colour && self.on.is_empty() && self.parts.is_empty()
    }

    /// As [`Self::of`], the surface not painted yet.
    fn apart(piece: &Piece, place: Affine, scope: &Scope<'_>) -> Self {
        let shown: Vec<&Coat> =
            piece.coats.iter().filter(|coat| scope.part.coats.includes(&coat.id)).collect();
        let softened = surface_sigma(shown.iter().copied()) * scope.scale;
        // A softened surface takes in what lies around the picture.
        let window =
            if softened > 0.0 { scope.window.grown(crate::blur::reach(softened)) } else { scope.window };
        let scope = &Scope { window, ..*scope };
        let mode = scope.part.mode;
        let mut coverage = Coverage::plain(&piece.silhouette, place).drawn(mode);
        if let Paint::Solid(colour) = &piece.fill {
            coverage = coverage.coloured(*colour);
        }
        let silhouette = coverage.mask(scope.window, scope.cache);
        let has_strokes = piece.coats.iter().any(|coat| matches!(coat.draws, Draws::Stroke { .. }));
        let joined = !piece.parts.is_empty();
        let outer =
            if has_strokes || joined { of_body(&piece.outer, place, scope) } else { silhouette.clone() };
        let inner = match &piece.inner {
            Some(inner) if has_strokes => of_body(inner, place, scope),
            Some(_) => silhouette.clone(),
            None => Placed::nothing(),
        };
        let maker = Maker { piece, place, scope, silhouette: &silhouette };
        let laid = each(&shown, |coat| maker.laid(coat));
        let (mut under, mut on, mut behind) = (vec![], vec![], vec![]);
        for (coat, laid) in shown.iter().zip(laid) {
            match (&coat.draws, laid) {
                (Draws::Backdrop(frost), _) => behind.push((*frost, coat.blend, coat.opacity as f32)),
                (draws, Some(laid)) if draws.is_on_surface() => on.push(laid),
                (_, Some(laid)) => under.push(laid),
                (_, None) => {}
            }
        }
        let (width, height) = piece.silhouette.size();
        let draws_fill = piece.surface == Surface::Keep && !scope.part.shadow_only;
        let sampler = |paint: &Paint| paint.sampler(width, height, scope.scale);
        // Parts are placed in the join, and so is what they are clipped to.
        let inside = Scope { to_device: place, ..*scope };
        let parts: Vec<Self> = each(&piece.parts.iter().collect::<Vec<_>>(), |part| {
            let layers = Self::apart(part, place * part.place(), &inside);
            if piece.surface == Surface::Keep { layers } else { layers.without_fill() }
        });
        Self {
            fill: (draws_fill && piece.fill != Paint::None).then(|| sampler(&piece.fill)),
            between: piece.parts.first().filter(|_| draws_fill).map(|part| {
                let mean = part.fill.mean().unwrap_or_default();
                Sampler::Flat(mean.premultiplied())
            }),
            to_piece: place.inverse(),
            softened,
            each_cut: mode.other().is_some_and(Renderer::cuts_each_layer),
            clip: piece.clip.as_ref().map(|clip| {
                Coverage::plain(&clip.silhouette, scope.to_device * clip.place)
                    .drawn(mode)
                    .mask(scope.window, scope.cache)
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
                    scope.part.coats.hash(hasher);
                }
            }),
        }
    }

    fn without_fill(mut self) -> Self {
        self.fill = None;
        self.between = None;
        self.parts = self.parts.into_iter().map(Self::without_fill).collect();
        self
    }

    /// The rows that anything of the piece may be in.
    pub fn rows(&self) -> std::ops::Range<i32> {
        let rects = self.under.iter().map(|laid| laid.what.rect()).chain([self.shown_rect()]);
        let rows = rects.filter(|rect| !rect.is_empty()).map(|rect| rect.y0..rect.y1);
        rows.reduce(|a, b| a.start.min(b.start)..a.end.max(b.end)).unwrap_or(0..0)
    }

    /// Everything about the piece that shows in some rows.
    pub fn describe(&self, rows: Rect, hasher: &mut impl Hasher) {
        let touches = |rect: Rect| !rect.intersect(rows).is_empty();
        let under: Vec<u64> =
            self.under.iter().filter(|laid| touches(laid.what.rect())).map(|laid| laid.key).collect();
        let surface = touches(self.shown_rect());
        if under.is_empty() && !surface {
            return;
        }
        (self.key, &under, surface).hash(hasher);
        if surface {
            self.on.iter().for_each(|laid| laid.key.hash(hasher));
            self.softened.to_bits().hash(hasher);
        }
    }

    /// The pixels the surface touches.
    pub fn shown_rect(&self) -> Rect {
        self.surface.as_ref().map_or_else(|| self.surface_rect(), |tile| tile.rect)
    }
}

fn key_of(describe: impl Fn(&mut DefaultHasher)) -> u64 {
    let mut hasher = DefaultHasher::new();
    describe(&mut hasher);
    hasher.finish()
}

impl What {
    /// The pixels it may touch; empty where the surface itself bounds it.
    pub fn rect(&self) -> Rect {
        match self {
            Self::Flat(_, mask) => mask.rect(),
            Self::Edge { outer, .. } => outer.rect(),
            Self::Pixels(tile) => tile.rect,
            Self::Shadow { ink, .. } => ink.rect(),
            Self::AroundHole(..) | Self::Paint(..) => Rect::default(),
        }
    }
}

/// Makes the coats of one piece.
struct Maker<'a> {
    piece: &'a Piece,
    place: Affine,
    scope: &'a Scope<'a>,
    silhouette: &'a Placed,
}

impl Maker<'_> {
    fn laid(&self, coat: &Coat) -> Option<Laid> {
        let what = match &coat.draws {
            Draws::Shadow(shadow) => self.shadow(shadow),
            Draws::Highlight(spot) => self.highlight(spot),
            Draws::Tint(paint) => {
                let (width, height) = self.piece.silhouette.size();
                What::Paint(paint.sampler(width, height, self.scope.scale), self.place.inverse())
            }
            Draws::Stroke { edge, paint } => {
                let (outer, inner) = edge.around(&self.piece.silhouette);
                let mask = |body: &Body| of_body(body, self.place, self.scope);
                let (width, height) = outer.silhouette.size();
                What::Edge {
                    paint: paint.sampler(width, height, self.scope.scale),
                    to_box: (self.place * outer.place()).inverse(),
                    outer: mask(&outer),
                    inner: inner.as_ref().map_or_else(Placed::nothing, mask),
                }
            }
            Draws::Extrude(thick) => self.shadow_of(false, self.extrude(thick)),
            Draws::Cast(thrown) => {
                let colour = thrown.colour.premultiplied();
                self.shadow_of(false, What::Flat(colour, self.cast(thrown)))
            }
            Draws::Blur(_) | Draws::Backdrop(_) => return None,
        };
        // A shadow's colour holds the coat's opacity already.
        let opacity = match &coat.draws {
            Draws::Shadow(Shadow { ink: Ink::Colour(_), .. }) => 1.0,
            _ => coat.opacity as f32,
        };
        Some(Laid { key: key_of(|hasher| coat.fingerprint(hasher)), blend: coat.blend, opacity, what })
    }

    fn shadow_of(&self, knock_out: bool, ink: What) -> What {
        let knock_out = knock_out || self.piece.surface == Surface::CutOut;
        What::Shadow { knock_out, ink: Box::new(ink) }
    }

    fn shadow(&self, shadow: &Shadow) -> What {
        let (body, at) = match (&shadow.layer, &shadow.substitute, &self.piece.inner) {
            (Layer::Drop { .. }, Some((silhouette, at)), _) => (silhouette, *at),
            (Layer::Drop { .. }, None, _) => {
                (&self.piece.outer.silhouette, Vec2::new(self.piece.outer.x, self.piece.outer.y))
            }
            (Layer::Inner, _, Some(inner)) => (&inner.silhouette, Vec2::new(inner.x, inner.y)),
            (Layer::Inner, _, None) => return What::Flat([0.0; 4], Placed::nothing()),
        };
        let is_inner = shadow.layer == Layer::Inner;
        let coverage = self.shadow_coverage(shadow, body, at);
        // An inner shadow is seen only inside the silhouette.
        let window =
            if is_inner { self.scope.window.intersect(self.silhouette.rect()) } else { self.scope.window };
        let mask = coverage.mask(window, self.scope.cache);
        match (shadow.ink, &shadow.layer) {
            (Ink::Colour(colour), Layer::Inner) => What::AroundHole(colour.premultiplied(), mask),
            (Ink::Colour(colour), Layer::Drop { knock_out }) => {
                self.shadow_of(*knock_out, What::Flat(colour.premultiplied(), mask))
            }
            (Ink::Picture, layer) => {
                let mask = if is_inner { around(&mask, window) } else { mask };
                let pixels = What::Pixels(self.own_picture(shadow, &coverage, &mask));
                match layer {
                    Layer::Inner => pixels,
                    Layer::Drop { knock_out } => self.shadow_of(*knock_out, pixels),
                }
            }
        }
    }

    fn shadow_coverage<'a>(&self, shadow: &'a Shadow, body: &'a Silhouette, at: Vec2) -> Coverage<'a> {
        let scale = self.scope.scale;
        let is_inner = shadow.layer == Layer::Inner;
        // Offsets do not turn with a rotated piece: light does not.
        let moved = Affine::translate((shadow.dx * scale, shadow.dy * scale)) * self.place;
        let toning = Toning { tone: &shadow.tone, inverted: is_inner, scale };
        let mode = self.scope.part.mode;
        let limit = mode.other().map_or(f64::INFINITY, Renderer::most_sigma);
        let coverage = Coverage {
            silhouette: body,
            place: moved * Affine::translate(at),
            spread: if is_inner { -shadow.spread } else { shadow.spread },
            sigma: (shadow.blur / 2.0 * scale).min(limit),
            mode,
            hole: is_inner.then(|| Vec2::new(shadow.dx, shadow.dy) * scale),
            toning: (!toning.changes_nothing()).then_some(toning),
            ink: None,
        };
        match shadow.ink {
            Ink::Colour(colour) => coverage.coloured(colour),
            Ink::Picture => coverage,
        }
    }

    /// The piece's own pixels, moved and blurred, in the shape of the shadow.
    fn own_picture(&self, shadow: &Shadow, coverage: &Coverage<'_>, mask: &Placed) -> Arc<Tile> {
        let rect = mask.rect();
        let key = content(|hasher| {
            ("own picture", self.piece.fill.fingerprint()).hash(hasher);
            coverage.fingerprint(hasher);
            // The coverage may be that of a substitute; the pixels are always the piece's own.
            self.piece.silhouette.fingerprint(hasher);
            (self.place.as_coeffs().map(f64::to_bits), self.scope.scale.to_bits()).hash(hasher);
            (shadow.dx.to_bits(), shadow.dy.to_bits(), shadow.layer == Layer::Inner).hash(hasher);
        });
        self.scope.cache.tile(Key { content: key, clip: rect }, || {
            let (width, height) = self.piece.silhouette.size();
            let sampler = self.piece.fill.sampler(width, height, self.scope.scale);
            let moved =
                Affine::translate((shadow.dx * self.scope.scale, shadow.dy * self.scope.scale)) * self.place;
            let reach = crate::blur::reach(coverage.sigma);
            let sharp =
                Coverage::plain(&self.piece.silhouette, moved).mask(rect.grown(reach), self.scope.cache);
            let pixels = Tile::painted(&sampler, moved.inverse(), &sharp);
            let blurred = if coverage.sigma > 0.0 {
                pixels.blurred(coverage.sigma, Around::Clear, rect)
            } else {
                pixels
            };
            let far = self.piece.fill.mean().unwrap_or_default();
            let mut tile = Tile::empty(rect);
            tile.each_row(|y, row| {
                let mut scratch = Scratch::default();
                let (_, coverage) = mask.part(y, rect.x0, row.len(), &mut scratch);
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

    fn highlight(&self, spot: &Spot) -> What {
        let (width, height) = spot.silhouette.size();
        let place = self.place * spot.place;
        let sigma = spot.blur / 2.0 * self.scope.scale;
        let window = self.scope.window.intersect(self.silhouette.rect());
        let mode = self.scope.part.mode;
        let coverage = Coverage { sigma, mode, ..Coverage::plain(&spot.silhouette, place) };
        if let Paint::Solid(colour) = &spot.paint {
            return What::Flat(colour.premultiplied(), coverage.mask(window, self.scope.cache));
        }
        let sampler = spot.paint.sampler(width, height, self.scope.scale);
        let key = content(|hasher| {
            ("highlight", spot.paint.fingerprint(), self.scope.scale.to_bits()).hash(hasher);
            coverage.fingerprint(hasher);
        });
        let tile = self.scope.cache.tile(Key { content: key, clip: window }, || {
            let sharp = Coverage { sigma: 0.0, ..coverage };
            let mask = sharp.mask(window.grown(crate::blur::reach(sigma)), self.scope.cache);
            let tile = Tile::painted(&sampler, place.inverse(), &mask);
            if sigma > 0.0 { tile.blurred(sigma, Around::Clear, window) } else { tile }
        });
        What::Pixels(tile)
    }

    fn extrude(&self, thick: &crate::resolve::Extrude) -> What {
        let device = Vec2::new(thick.dx, thick.dy) * self.scope.scale;
        let outer = &self.piece.outer;
        let swept = self.piece.swept(thick);
        let place = self.place * outer.place();
        let coverage = Coverage::plain(&swept, place);
        let mask = coverage.mask(self.scope.window, self.scope.cache);
        if thick.near == thick.far {
            return What::Flat(thick.near.premultiplied(), mask);
        }
        let key = content(|hasher| {
            ("extrude", thick.near.bits(), thick.far.bits(), self.scope.part.mode).hash(hasher);
            coverage.fingerprint(hasher);
            // Outlines that differ may sweep the same, where the sweep closes their holes.
            outer.silhouette.fingerprint(hasher);
            (device.x.to_bits(), device.y.to_bits()).hash(hasher);
        });
        let tile = self.scope.cache.tile(Key { content: key, clip: mask.rect() }, || {
            let outline = outer.silhouette.outline();
            let piece = of_body(outer, self.place, self.scope);
            extrude::coloured((&mask, &piece), (&outline.path, place), device, (thick.near, thick.far))
        });
        What::Pixels(tile)
    }

    fn cast(&self, thrown: &crate::resolve::Cast) -> Placed {
        let key = content(|hasher| {
            let outer = &self.piece.outer;
            Coverage::plain(&outer.silhouette, self.place * outer.place()).fingerprint(hasher);
            let numbers =
                [thrown.shear, thrown.squash, thrown.anchor, thrown.blur_near, thrown.blur_far, thrown.fade];
            ("cast", numbers.map(f64::to_bits), self.piece.y.to_bits()).hash(hasher);
            self.scope.to_device.as_coeffs().map(f64::to_bits).hash(hasher);
        });
        let key = Key { content: key, clip: self.scope.window };
        let cover = self.scope.cache.cover(key, || {
            let anchor = self.scope.to_device * kurbo::Point::new(0.0, self.piece.y + thrown.anchor);
            let top = self.outer_top();
            Blurred::Fine(cast::thrown(&self.piece.outer, self.place, thrown, (anchor.y, top), self.scope))
        });
        Placed::of(cover)
    }

    /// The device's y of the highest point of what casts.
    fn outer_top(&self) -> f64 {
        let outer = &self.piece.outer;
        self.place.transform_rect_bbox(outer.bounds()).y0
    }
}

/// The coverage of a body of a piece.
fn of_body(body: &Body, place: Affine, scope: &Scope<'_>) -> Placed {
    let coverage = Coverage::plain(&body.silhouette, place * body.place());
    coverage.drawn(scope.part.mode).mask(scope.window, scope.cache)
}

/// What lies around a hole, over a window.
fn around(hole: &Placed, window: Rect) -> Placed {
    let mut mask = Mask::empty(window);
    let width = window.width().max(1);
    for_each_row(&mut mask.data, width, |row, line| {
        line.fill(1.0);
        let mut scratch = Scratch::default();
        let (first, coverage) = hole.part(window.y0 + row, window.x0, line.len(), &mut scratch);
        for (value, hole) in line[first..].iter_mut().zip(coverage) {
            *value = 1.0 - hole;
        }
    });
    Placed::at(mask)
}
