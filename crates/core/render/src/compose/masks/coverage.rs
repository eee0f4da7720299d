//! The coverage of shadows and surfaces, computed exactly or as another renderer does.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Point, Shape as _, Vec2};

use super::drawn::drawn_tile;
use super::placed_mask::{Move, PlacedMask};
use super::tile::TilePixels as _;
use super::tone::Toning;
use crate::blend::Pixel;
use crate::blur::{self, Blurred};
use crate::colour::Rgba;
use crate::compose::cache::{Key, MaskCache, content_hash};
use crate::geometry::{AlphaShape, Silhouette};
use crate::parallel::for_each_row;
use crate::raster::{BitmapSampler, Fit, Mask, Rect, distances, moved_outline, rasterize, shared_reach};

/// Everything a mask is computed from.
#[derive(Clone, Copy)]
pub struct Coverage<'a> {
    /// The shape that covers.
    pub silhouette: &'a Silhouette,
    /// From the silhouette's own px to device pixels.
    pub place: Affine,
    /// In the silhouette's own px.
    pub spread: f64,
    /// In device pixels.
    pub sigma: f64,
    /// Whose arithmetic.
    pub mode: RenderMode,
    /// How far the hole of an inner shadow lies from its piece, in device pixels, for another renderer; nothing where it is no
    /// hole.
    pub hole: Option<Vec2>,
    pub(in crate::compose) toning: Option<Toning<'a>>,
    /// Which of the renderer's kinds of colour it is drawn in, where that changes it.
    pub luminance_class: Option<u8>,
}

impl<'a> Coverage<'a> {
    /// Whether anything is done to it once it is blurred.
    pub fn is_toned(&self) -> bool {
        self.toning.is_some()
    }

    /// Of a silhouette as it is: neither moved outwards nor blurred.
    pub fn plain(silhouette: &'a Silhouette, place: Affine) -> Self {
        let (spread, sigma, hole, toning, luminance_class) = (0.0, 0.0, None, None, None);
        Self { silhouette, place, spread, sigma, mode: RenderMode::EXACT, hole, toning, luminance_class }
    }

    /// In one colour.
    pub fn coloured(self, colour: Rgba) -> Self {
        Self {
            luminance_class: self.mode.other().and_then(|renderer| renderer.luminance_class(&self, colour)),
            ..self
        }
    }

    /// With another renderer's arithmetic, or exactly.
    pub fn in_mode(self, mode: RenderMode) -> Self {
        Self { mode, ..self }
    }

    /// The coverage inside `window`, from the cache when it is there.
    pub(crate) fn mask(&self, window: Rect, cache: &MaskCache) -> PlacedMask {
        let (local, moved) = self.near_the_origin();
        let mut clip = window.moved(-moved.whole.0, -moved.whole.1);
        // What lies around a hole is toned, or ends, also where the hole's own blur does not reach.
        let is_unbounded = self.toning.is_some_and(|toning| toning.inverted)
            || self.mode.other().is_some_and(|renderer| renderer.is_unbounded(&local));
        if !is_unbounded {
            let Some(full) = local.reached() else { return PlacedMask::nothing() };
            let seen = full.intersect(clip);
            // What little of a shadow leaves the picture is made too, so that a shadow that moves is not blurred anew.
            let is_shared = local.moves_freely() && !seen.is_empty() && area(full) <= 2 * area(seen);
            clip = if is_shared { full } else { seen };
        }
        if clip.is_empty() {
            return PlacedMask::nothing();
        }
        PlacedMask::moved(local.clipped(clip, cache), moved)
    }

    /// Over the pixels of `clip`, from the cache when it is there.
    pub fn clipped(&self, clip: Rect, cache: &MaskCache) -> Arc<Blurred> {
        cache.cover(self.key(clip), || {
            if let Some(toning) = &self.toning {
                let mut mask = Self { toning: None, ..*self }.mask(clip, cache).over(clip);
                let at = self.place.translation();
                toning.apply(&mut mask, (at.x, at.y));
                return Blurred::Fine(mask);
            }
            if let Some(renderer) = self.mode.other() {
                return renderer.coverage(self, clip, cache);
            }
            if self.sigma <= 0.0 {
                return Blurred::Fine(self.sharp(clip, cache));
            }
            let sharp = self.not_blurred();
            let Some((source, whole)) = sharp.source(clip.grown(blur::reach(self.sigma))) else {
                return nothing();
            };
            if whole && blur::takes_quarters(self.sigma) {
                return match &*sharp.quarters(source, cache) {
                    Blurred::Fine(mask) => blur::blurred_quarters(mask, source, self.sigma, clip),
                    Blurred::Coarse(_) => nothing(),
                };
            }
            match &*sharp.clipped(source, cache) {
                Blurred::Fine(mask) => blur::blurred(mask, self.sigma, clip),
                Blurred::Coarse(_) => nothing(),
            }
        })
    }

    /// The part of a coverage to compute for the visible part, and whether that is the whole: all blurs of one silhouette share its
    /// coverage, unless little of a large one is seen.
    pub fn source(&self, seen: Rect) -> Option<(Rect, bool)> {
        let full = self.reached()?;
        let seen = full.intersect(seen);
        let whole = area(full) <= SHARED && area(full) <= 8 * area(seen);
        Some((if whole { full } else { seen }, whole))
    }

    /// The same, sharp.
    pub fn not_blurred(&self) -> Self {
        Self { sigma: 0.0, hole: None, ..*self }
    }

    /// The coverage of the whole silhouette at a quarter of its size.
    fn quarters(&self, full: Rect, cache: &MaskCache) -> Arc<Blurred> {
        let content = content_hash(|hasher| {
            "quarters".hash(hasher);
            self.fingerprint(hasher);
        });
        cache.cover(Key { content, clip: full }, || {
            if let Some(distances) = self.moved_from(full, cache)
                && let Blurred::Fine(distances) = &*distances
            {
                return Blurred::Fine(blur::quartered_outline(distances, self.spread_pixels()));
            }
            match &*self.clipped(full, cache) {
                Blurred::Fine(mask) => Blurred::Fine(blur::quartered(mask)),
                Blurred::Coarse(_) => nothing(),
            }
        })
    }

    /// Drawn exactly, not blurred.
    pub fn sharp(&self, clip: Rect, cache: &MaskCache) -> Mask {
        match self.silhouette {
            Silhouette::Box(rounded) => match rounded.spread(self.spread) {
                Some(spread) => rasterize(&spread.path(), self.place * self.spread_shift(), clip),
                None => Mask::empty(Rect::default()),
            },
            _ if self.spread != 0.0 => match self.moved_from(clip, cache).as_deref() {
                Some(Blurred::Fine(distances)) => moved_outline(distances, self.spread_pixels(), clip),
                _ => Mask::empty(Rect::default()),
            },
            Silhouette::Outline(outline) => rasterize(&outline.path, self.place, clip),
            Silhouette::Alpha(cutout) => self.alpha(cutout, clip),
            Silhouette::Drawing(drawn) => drawn_tile(drawn, self.place, clip, cache).plane(3),
        }
    }

    /// The distances that the coverage of an outline moved by the spread is made from, where it is. All spreads of about the same
    /// width start from the same.
    fn moved_from(&self, clip: Rect, cache: &MaskCache) -> Option<Arc<Blurred>> {
        let outline = match self.silhouette {
            _ if self.spread == 0.0 => return None,
            Silhouette::Box(_) => return None,
            Silhouette::Outline(outline) => Arc::clone(outline),
            Silhouette::Alpha(cutout) => cutout.outline(),
            Silhouette::Drawing(drawn) => drawn.outline(),
        };
        let reach = shared_reach(self.spread_pixels());
        let alike = Self { spread: reach / self.scale(), ..*self };
        let full = alike.reached()?;
        let rect = if area(full) <= SHARED { full } else { clip };
        let content = content_hash(|hasher| {
            "distances".hash(hasher);
            Self { spread: reach, ..*self }.fingerprint(hasher);
        });
        Some(cache.cover(Key { content, clip: rect }, || {
            Blurred::Fine(distances(&outline.path, self.place, reach, rect))
        }))
    }

    /// A picture's alpha, within its box.
    fn alpha(&self, cutout: &AlphaShape, clip: Rect) -> Mask {
        let (width, height) = (cutout.width, cutout.height);
        let edge = kurbo::Rect::new(0.0, 0.0, width, height).to_path(0.1);
        let mut mask = rasterize(&edge, self.place, clip);
        let bitmap = Arc::clone(&cutout.bitmap);
        let sampler = BitmapSampler::fitted(bitmap, Fit::Stretch, width, height, self.scale());
        let to_box = self.place.inverse();
        let rect = mask.rect;
        for_each_row(mask.values_mut(), rect.width(), |row, line| {
            for (i, value) in line.iter_mut().enumerate() {
                let at = Point::new(f64::from(rect.x0 + i as i32) + 0.5, f64::from(rect.y0 + row) + 0.5);
                let inside = to_box * at;
                // A pixel that the box's edge runs through may have its middle outside.
                let inside = Point::new(inside.x.clamp(0.0, width), inside.y.clamp(0.0, height));
                *value *= sampler.at(inside)[3];
            }
        });
        mask
    }

    /// As [`Self::mask`] for masks that are drawn exactly, as far as anything of it is seen at some opacity.
    pub(crate) fn seen_mask(&self, opacity: f64, window: Rect, cache: &MaskCache) -> PlacedMask {
        let mask = self.mask(window, cache);
        if !self.mode.is_exact() || self.sigma <= 0.0 || self.toning.is_some() {
            return mask;
        }
        match self.reached_by(blur::visible_reach(self.sigma, opacity)) {
            Some(rect) => mask.within(rect),
            None => mask,
        }
    }

    /// The pixels that may be covered at all with another σ; `None` when nothing is left of the shape.
    pub fn reach(&self, sigma: f64) -> Option<Rect> {
        Self { sigma, ..*self }.reached()
    }

    /// The pixels that may be covered at all; `None` when nothing is left of the shape.
    fn reached(&self) -> Option<Rect> {
        self.reached_by(if self.sigma > 0.0 { blur::reach(self.sigma) } else { 0 })
    }

    /// The pixels no farther from the sharp silhouette than a blur goes.
    fn reached_by(&self, blurred: i32) -> Option<Rect> {
        let (bounds, grow) = match self.silhouette {
            Silhouette::Box(rounded) => {
                let spread = rounded.spread(self.spread)?;
                let bounds = kurbo::Rect::new(0.0, 0.0, spread.width, spread.height);
                (self.spread_shift() * bounds.to_path(0.1), 0.0)
            }
            Silhouette::Outline(outline) if outline.path.is_empty() => return None,
            Silhouette::Outline(_) | Silhouette::Alpha(_) | Silhouette::Drawing(_) => {
                (self.silhouette.bounds().to_path(0.1), self.spread_pixels().max(0.0))
            }
        };
        let bounds = (self.place * bounds).bounding_box();
        let rect = Rect::around(bounds.x0, bounds.y0, bounds.x1, bounds.y1);
        Some(rect.grown(blurred + grow.ceil() as i32 + 1))
    }

    /// A spread box starts left of and above its piece.
    pub fn spread_shift(&self) -> Affine {
        Affine::translate((-self.spread, -self.spread))
    }

    /// How far the edge is moved outwards, in device pixels.
    pub fn spread_pixels(&self) -> f64 {
        self.spread * self.scale()
    }

    fn scale(&self) -> f64 {
        self.place.determinant().abs().sqrt()
    }

    /// The same coverage near the origin, and how far that was moved: by whole pixels, and by parts of one where the
    /// mask can be.
    pub fn near_the_origin(&self) -> (Self, Move) {
        // Fractions that differ by less than a 4096th draw the same, and then share a place in the cache.
        let at = self.place.translation();
        let fine = |position: f64| (position * 4096.0).round() / 4096.0;
        let whole = Vec2::new(fine(at.x).floor(), fine(at.y).floor());
        let rest = Vec2::new(fine(at.x), fine(at.y)) - whole;
        let (inside, part) = if self.moves_freely() { (Vec2::ZERO, rest) } else { (rest, Vec2::ZERO) };
        let local = Self { place: self.place.with_translation(inside), ..*self };
        (local, Move { whole: (whole.x as i32, whole.y as i32), part })
    }

    /// Whether it can be moved by parts of a pixel once it is made.
    fn moves_freely(&self) -> bool {
        self.mode.is_exact() && self.toning.is_none() && blur::moves_freely(self.sigma)
    }

    fn key(&self, clip: Rect) -> Key {
        Key { content: content_hash(|hasher| self.fingerprint(hasher)), clip }
    }

    pub(crate) fn fingerprint(&self, hasher: &mut DefaultHasher) {
        self.silhouette.fingerprint(hasher);
        for number in self.place.as_coeffs() {
            number.to_bits().hash(hasher);
        }
        (self.spread.to_bits(), self.sigma.to_bits(), self.mode, self.luminance_class).hash(hasher);
        self.hole.map(|moved| [moved.x, moved.y].map(f64::to_bits)).hash(hasher);
        if let Some(toning) = &self.toning {
            toning.fingerprint(hasher);
        }
    }
}

/// The largest silhouette, in pixels, whose coverage is made whole.
pub(in crate::compose) const SHARED: usize = 20 << 20;

fn area(rect: Rect) -> usize {
    rect.width() * rect.height()
}

fn nothing() -> Blurred {
    Blurred::Fine(Mask::empty(Rect::default()))
}

/// The deviations of another renderer from this one. Everything else is drawn exactly.
pub(crate) trait Renderer: Sync {
    /// Its name, unique among renderers.
    fn name(&self) -> &'static str;

    /// Coverage without tone, over the pixels of `clip`.
    fn coverage(&self, coverage: &Coverage<'_>, clip: Rect, cache: &MaskCache) -> Blurred;

    /// Whether coverage may lie anywhere, and not only where its blur reaches.
    fn is_unbounded(&self, coverage: &Coverage<'_>) -> bool;

    /// A number for the colours that coverage is drawn alike in, where it depends on the colour it is painted with.
    fn luminance_class(&self, coverage: &Coverage<'_>, colour: Rgba) -> Option<u8>;

    /// The largest σ of a shadow in device pixels.
    fn max_sigma(&self) -> f64;

    /// Whether each layer on a surface is cut to the silhouette by itself.
    fn clips_each_layer(&self) -> bool;

    /// Composites a premultiplied colour in 255ths through coverage onto a pixel.
    fn composite(&self, colour: [u32; 4], coverage: f32, below: Pixel) -> Pixel;
}

/// How a picture is rendered: exactly, or as another renderer does.
#[derive(Clone, Copy, Default)]
pub struct RenderMode(Option<&'static dyn Renderer>);

impl RenderMode {
    /// Ours: as designed.
    pub const EXACT: Self = Self(None);

    pub(crate) const fn with_renderer(renderer: &'static dyn Renderer) -> Self {
        Self(Some(renderer))
    }

    pub(crate) fn is_exact(self) -> bool {
        self.0.is_none()
    }

    /// The other renderer, where it is not ours. Such a one rounds each layer to 8 bits by itself.
    pub(crate) fn other(self) -> Option<&'static dyn Renderer> {
        self.0
    }

    fn name(self) -> &'static str {
        self.0.map_or("exact", Renderer::name)
    }
}

impl std::fmt::Debug for RenderMode {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.name())
    }
}

impl PartialEq for RenderMode {
    fn eq(&self, other: &Self) -> bool {
        self.name() == other.name()
    }
}

impl Eq for RenderMode {}

impl Hash for RenderMode {
    fn hash<H: Hasher>(&self, state: &mut H) {
        self.name().hash(state);
    }
}
