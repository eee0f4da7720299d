//! The coverage a shadow or surface is painted with.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Point, Shape as _, Vec2};

use super::Manner;
use super::cache::{Key, MaskCache};
use super::letters::Lightness;
use super::nine_patch::{self, DeviceBox};
use super::tone::Toning;
use crate::blur::{self, Blurred};
use crate::colour::Rgba;
use crate::geometry::{Cutout, RoundedBox, Silhouette};
use crate::model::Fit;
use crate::raster::{
    BitmapSampler, Mask, Rect, offset_coverage, rasterize, rasterize_coarsely, rasterize_corners,
};
use crate::rows::for_each_row;

/// What a mask is made from.
#[derive(Clone, Copy)]
pub(super) struct Coverage<'a> {
    pub silhouette: &'a Silhouette,
    /// From the silhouette's own px to device pixels.
    pub place: Affine,
    /// In the silhouette's own px.
    pub spread: f64,
    /// In device pixels.
    pub sigma: f64,
    pub manner: Manner,
    /// How far the hole of an inner shadow lies from its piece, in device pixels; nothing where it is no hole.
    pub hole: Option<Vec2>,
    pub toning: Option<Toning<'a>>,
    /// What colour it is drawn in, where that changes it: browsers draw light letters heavier.
    pub letters: Option<Lightness>,
}

/// Room to work out a row of coverage in.
#[derive(Default)]
pub(super) struct Scratch {
    row: Vec<f32>,
    line: Vec<f32>,
}

/// Coverage moved by whole device pixels.
#[derive(Debug, Clone)]
pub(super) struct Placed {
    cover: Arc<Blurred>,
    dx: i32,
    dy: i32,
}

impl<'a> Coverage<'a> {
    pub fn plain(silhouette: &'a Silhouette, place: Affine) -> Self {
        let (spread, sigma, hole, toning, letters) = (0.0, 0.0, None, None, None);
        Self { silhouette, place, spread, sigma, manner: Manner::Exact, hole, toning, letters }
    }

    /// In one colour. Only browsers draw letters by it, and only those that are not blurred.
    pub fn coloured(self, colour: Rgba) -> Self {
        let is_text = matches!(self.silhouette, Silhouette::Outline(outline) if outline.text().is_some());
        let by_colour = is_text && self.manner == Manner::Css && self.sigma <= 0.0 && self.spread == 0.0;
        Self { letters: by_colour.then(|| Lightness::of(colour)), ..self }
    }

    /// In the manner of a browser, or exactly.
    pub fn drawn(self, manner: Manner) -> Self {
        Self { manner, ..self }
    }

    /// The coverage inside `window`, from the cache when it is there.
    pub fn mask(&self, window: Rect, cache: &MaskCache) -> Placed {
        let (local, dx, dy) = self.without_whole_pixels();
        let mut clip = window.moved(-dx, -dy);
        // What lies around a hole is toned, or ends, also where the hole's own blur does not reach.
        let is_everywhere = self.toning.is_some_and(|toning| toning.inverted) || local.ring().is_some();
        if !is_everywhere {
            let Some(full) = local.reached() else { return Placed::nothing() };
            clip = full.intersect(clip);
        }
        if clip.is_empty() {
            return Placed::nothing();
        }
        Placed { cover: local.clipped(clip, cache), dx, dy }
    }

    fn clipped(&self, clip: Rect, cache: &MaskCache) -> Arc<Blurred> {
        cache.cover(self.key(clip), || {
            if let Some(toning) = &self.toning {
                let plain = Self { toning: None, ..*self };
                let mut mask = match plain.reached() {
                    Some(full) if !full.intersect(clip).is_empty() => {
                        match &*plain.clipped(full.intersect(clip), cache) {
                            Blurred::Fine(mask) => mask.cropped(clip),
                            Blurred::Coarse(coarse) => coarse.all().cropped(clip),
                        }
                    }
                    _ => Mask::empty(clip),
                };
                let at = self.place.translation();
                toning.apply(&mut mask, (at.x, at.y));
                return Blurred::Fine(mask);
            }
            if let Some(ring) = self.ring() {
                return Blurred::Fine(self.around_hole(ring, clip, cache));
            }
            if let Some(mask) = self.nine_patch(clip) {
                return Blurred::Fine(mask);
            }
            if self.sigma <= 0.0 {
                let mut mask = self.sharp(clip);
                if let Some(lightness) = self.letters {
                    lightness.apply(&mut mask);
                }
                return Blurred::Fine(mask);
            }
            if self.manner != Manner::Exact {
                return self.as_browsers(clip, cache).map_or_else(nothing, Blurred::Fine);
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

    /// What of a coverage is made for what is seen of it, and whether that is all: all blurs of one silhouette share its
    /// coverage, unless little of a large one is seen.
    fn source(&self, seen: Rect) -> Option<(Rect, bool)> {
        let full = self.reached()?;
        let seen = full.intersect(seen);
        let area = |rect: Rect| rect.width() * rect.height();
        let whole = area(full) <= SHARED && area(full) <= 8 * area(seen);
        Some((if whole { full } else { seen }, whole))
    }

    /// The same, sharp.
    fn not_blurred(&self) -> Self {
        Self { sigma: 0.0, hole: None, ..*self }
    }

    /// Blurred as browsers do it; nothing where nothing is left of the shape.
    fn as_browsers(&self, clip: Rect, cache: &MaskCache) -> Option<Mask> {
        let sharp = self.not_blurred();
        let (source, _) = sharp.source(clip.grown(blur::reach(self.sigma)))?;
        match &*sharp.clipped(source, cache) {
            Blurred::Fine(mask) if self.manner == Manner::Css => {
                Some(nine_patch::blurred(mask, self.sigma, clip))
            }
            Blurred::Fine(mask) => Some(blur::boxes(mask, self.sigma, clip)),
            Blurred::Coarse(_) => None,
        }
    }

    /// The outer edge, in device pixels, of the ring that casts an inner shadow in a browser: no wider than it needs at
    /// the most, so that wide blurs run out at its outer edge too (measured in Chromium 156).
    fn ring(&self) -> Option<kurbo::Rect> {
        let (Silhouette::Box(rounded), Some(moved)) = (self.silhouette, self.hole) else { return None };
        if self.manner != Manner::Css || self.sigma <= 0.0 || self.toning.is_some() || !self.is_upright() {
            return None;
        }
        let place = Affine::translate(-moved) * self.place;
        let casts = place.transform_rect_bbox(kurbo::Rect::new(0.0, 0.0, rounded.width, rounded.height));
        let wide = 2.0 * self.sigma + self.spread_pixels().max(0.0);
        let around = casts.inflate(wide, wide);
        let most = f64::from(nine_patch::margin(self.sigma)).min(WIDEST_RING);
        Some(around.union(around + moved).intersect(casts.inflate(most, most)))
    }

    /// All but what a ring casts around its hole.
    fn around_hole(&self, ring: kurbo::Rect, clip: Rect, cache: &MaskCache) -> Mask {
        let reach = blur::reach(self.sigma);
        let cast = rasterize(&ring.to_path(0.1), Affine::IDENTITY, clip.grown(reach));
        let cast = nine_patch::blurred(&cast, self.sigma, clip);
        let hole = self.as_browsers(clip, cache).unwrap_or_else(|| Mask::empty(Rect::default()));
        let mut mask = Mask::empty(clip);
        for_each_row(&mut mask.data, clip.width(), |row, line| {
            let y = clip.y0 + row;
            for (x, value) in (clip.x0..).zip(line) {
                *value = (1.0 - cast.at(x, y) + hole.at(x, y)).clamp(0.0, 1.0);
            }
        });
        mask
    }

    fn is_upright(&self) -> bool {
        let [across, b, c, down, ..] = self.place.as_coeffs();
        b == 0.0 && c == 0.0 && across > 0.0 && across == down
    }

    /// The blurred shadow of an upright box as browsers make it of CSS; nothing for all else.
    fn nine_patch(&self, clip: Rect) -> Option<Mask> {
        let Silhouette::Box(rounded) = self.silhouette else { return None };
        let is_hole = self.hole.is_some();
        if self.manner != Manner::Css || self.sigma <= 0.0 || is_hole || !self.is_upright() {
            return None;
        }
        let [across, _, _, down, ..] = self.place.as_coeffs();
        let spread = rounded.spread(self.spread)?;
        let at = (self.place * self.spread_shift()).translation();
        let (width, height) = (spread.width * across, spread.height * down);
        let rounded = RoundedBox { width, height, radii: spread.radii.map(|(x, y)| (x * across, y * down)) };
        nine_patch::shadow(&DeviceBox { x: at.x, y: at.y, rounded }, self.sigma, clip)
    }

    /// The coverage of the whole silhouette at a quarter of its size.
    fn quarters(&self, full: Rect, cache: &MaskCache) -> Arc<Blurred> {
        let content = content(|hasher| {
            "quarters".hash(hasher);
            self.fingerprint(hasher);
        });
        cache.cover(Key { content, clip: full }, || match &*self.clipped(full, cache) {
            Blurred::Fine(mask) => Blurred::Fine(blur::quartered(mask)),
            Blurred::Coarse(_) => nothing(),
        })
    }

    fn sharp(&self, clip: Rect) -> Mask {
        let coarse = self.manner != Manner::Exact;
        match self.silhouette {
            Silhouette::Box(rounded) => match rounded.spread(self.spread) {
                Some(spread) if coarse => {
                    rasterize_corners(&spread.corners(), self.place * self.spread_shift(), clip)
                }
                Some(spread) => rasterize(&spread.path(), self.place * self.spread_shift(), clip),
                None => Mask::empty(Rect::default()),
            },
            Silhouette::Outline(outline) if coarse && self.spread == 0.0 => {
                rasterize_coarsely(&outline.path, self.place, clip)
            }
            Silhouette::Outline(outline) => {
                offset_coverage(&outline.path, self.place, self.spread_pixels(), clip)
            }
            Silhouette::Cutout(cutout) if self.spread == 0.0 => self.alpha(cutout, clip),
            Silhouette::Cutout(cutout) => {
                offset_coverage(&cutout.outline().path, self.place, self.spread_pixels(), clip)
            }
        }
    }

    /// A picture's alpha, within its box.
    fn alpha(&self, cutout: &Cutout, clip: Rect) -> Mask {
        let (width, height) = (cutout.width, cutout.height);
        let edge = kurbo::Rect::new(0.0, 0.0, width, height).to_path(0.1);
        let mut mask = rasterize(&edge, self.place, clip);
        let bitmap = Arc::clone(&cutout.bitmap);
        let sampler = BitmapSampler::fitted(bitmap, Fit::Stretch, width, height, self.scale());
        let to_box = self.place.inverse();
        let rect = mask.rect;
        for_each_row(&mut mask.data, rect.width(), |row, line| {
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

    /// The pixels that may be covered at all with another σ; `None` when nothing is left of the shape.
    pub fn reach(&self, sigma: f64) -> Option<Rect> {
        Self { sigma, ..*self }.reached()
    }

    /// The pixels that may be covered at all; `None` when nothing is left of the shape.
    fn reached(&self) -> Option<Rect> {
        let (bounds, grow) = match self.silhouette {
            Silhouette::Box(rounded) => {
                let spread = rounded.spread(self.spread)?;
                let bounds = kurbo::Rect::new(0.0, 0.0, spread.width, spread.height);
                (self.spread_shift() * bounds.to_path(0.1), 0.0)
            }
            Silhouette::Outline(outline) if outline.path.is_empty() => return None,
            Silhouette::Outline(_) | Silhouette::Cutout(_) => {
                (self.silhouette.bounds().to_path(0.1), self.spread_pixels().max(0.0))
            }
        };
        let bounds = (self.place * bounds).bounding_box();
        let blurred = if self.sigma > 0.0 { blur::reach(self.sigma) } else { 0 };
        let rect = Rect::around(bounds.x0, bounds.y0, bounds.x1, bounds.y1);
        Some(rect.grown(blurred + grow.ceil() as i32 + 1))
    }

    /// A spread box starts left of and above its piece.
    fn spread_shift(&self) -> Affine {
        Affine::translate((-self.spread, -self.spread))
    }

    fn spread_pixels(&self) -> f64 {
        self.spread * self.scale()
    }

    fn scale(&self) -> f64 {
        self.place.determinant().abs().sqrt()
    }

    /// The same coverage near the origin, and the whole pixels it was moved by.
    fn without_whole_pixels(&self) -> (Self, i32, i32) {
        // Fractions that differ by less than a 4096th draw the same, and then share a place in the cache.
        let at = self.place.translation();
        let fine = |position: f64| (position * 4096.0).round() / 4096.0;
        let whole = Vec2::new(fine(at.x).floor(), fine(at.y).floor());
        let rest = Vec2::new(fine(at.x), fine(at.y)) - whole;
        let local = Self { place: self.place.with_translation(rest), ..*self };
        (local, whole.x as i32, whole.y as i32)
    }

    fn key(&self, clip: Rect) -> Key {
        Key { content: content(|hasher| self.fingerprint(hasher)), clip }
    }

    pub fn fingerprint(&self, hasher: &mut DefaultHasher) {
        self.silhouette.fingerprint(hasher);
        for number in self.place.as_coeffs() {
            number.to_bits().hash(hasher);
        }
        (self.spread.to_bits(), self.sigma.to_bits(), self.manner, self.letters).hash(hasher);
        self.hole.map(|moved| [moved.x, moved.y].map(f64::to_bits)).hash(hasher);
        if let Some(toning) = &self.toning {
            toning.fingerprint(hasher);
        }
    }
}

/// The largest silhouette, in pixels, whose coverage is made whole.
pub(super) const SHARED: usize = 20 << 20;

/// How far the ring of an inner shadow goes around its piece at the most, in device pixels (measured in Chromium 156).
const WIDEST_RING: f64 = 128.0;

fn nothing() -> Blurred {
    Blurred::Fine(Mask::empty(Rect::default()))
}

/// Two independent hashes of what something is made from.
pub(super) fn content(describe: impl Fn(&mut DefaultHasher)) -> [u64; 2] {
    [1_u8, 2].map(|seed| {
        let mut hasher = DefaultHasher::new();
        seed.hash(&mut hasher);
        describe(&mut hasher);
        hasher.finish()
    })
}

impl Placed {
    pub fn nothing() -> Self {
        Self::at(Mask::empty(Rect::default()))
    }

    /// A mask where it is.
    pub fn at(mask: Mask) -> Self {
        Self::of(Arc::new(Blurred::Fine(mask)))
    }

    /// Coverage where it is.
    pub fn of(cover: Arc<Blurred>) -> Self {
        Self { cover, dx: 0, dy: 0 }
    }

    /// The rectangle of device pixels it covers.
    pub fn rect(&self) -> Rect {
        self.cover.rect().moved(self.dx, self.dy)
    }

    /// The coverage of a row over `width` pixels from `x0`, as far as it is there: where it starts, counted from `x0`,
    /// and the coverage. What has to be worked out for that is worked out in `scratch`.
    pub fn part<'a>(&'a self, y: i32, x0: i32, width: usize, scratch: &'a mut Scratch) -> (usize, &'a [f32]) {
        let rect = self.rect();
        let (from, to) = (rect.x0.max(x0), rect.x1.min(x0 + width as i32));
        if y < rect.y0 || y >= rect.y1 || from >= to {
            return (0, &[]);
        }
        match &*self.cover {
            Blurred::Fine(_) => self.sharp(y, x0, width),
            Blurred::Coarse(coarse) => {
                scratch.row.resize((to - from) as usize, 0.0);
                coarse.read(y - self.dy, from - self.dx, &mut scratch.row, &mut scratch.line);
                ((from - x0) as usize, scratch.row.as_slice())
            }
        }
    }

    /// As [`Self::part`] for coverage that is not blurred, of which every pixel is there.
    pub fn sharp(&self, y: i32, x0: i32, width: usize) -> (usize, &[f32]) {
        let Blurred::Fine(mask) = &*self.cover else { return (0, &[]) };
        let rect = self.rect();
        let (from, to) = (rect.x0.max(x0), rect.x1.min(x0 + width as i32));
        if y < rect.y0 || y >= rect.y1 || from >= to {
            return (0, &[]);
        }
        let coverage = &mask.row(y - self.dy)[(from - rect.x0) as usize..];
        ((from - x0) as usize, &coverage[..(to - from) as usize])
    }

    /// Coverage at a pixel.
    pub fn coverage(&self, x: i32, y: i32) -> f32 {
        self.part(y, x, 1, &mut Scratch::default()).1.first().copied().unwrap_or(0.0)
    }
}
