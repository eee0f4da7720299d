//! The coverage a shadow or surface is painted with.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Point, Shape as _, Vec2};

use super::Manner;
use super::cache::{Key, MaskCache};
use super::tone::Toning;
use crate::blur::{self, Blurred};
use crate::geometry::{Cutout, Silhouette};
use crate::model::Fit;
use crate::raster::{BitmapSampler, Mask, Rect, offset_coverage, rasterize};
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
    pub toning: Option<Toning<'a>>,
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
        Self { silhouette, place, spread: 0.0, sigma: 0.0, manner: Manner::Exact, toning: None }
    }

    /// The coverage inside `window`, from the cache when it is there.
    pub fn mask(&self, window: Rect, cache: &MaskCache) -> Placed {
        let (local, dx, dy) = self.without_whole_pixels();
        let mut clip = window.moved(-dx, -dy);
        // What lies around a hole is toned everywhere, not only where the hole's own blur reaches.
        let is_hole = self.toning.is_some_and(|toning| toning.inverted);
        if !is_hole {
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
            if self.sigma > 0.0 {
                let sharp = Self { sigma: 0.0, manner: Manner::Exact, ..*self };
                let Some(full) = sharp.reached() else { return nothing() };
                // All blurs of one silhouette share its coverage, unless little of a large one is seen.
                let seen = full.intersect(clip.grown(blur::reach(self.sigma)));
                let area = |rect: Rect| rect.width() * rect.height();
                let worth_it = area(full) <= SHARED && area(full) <= 8 * area(seen);
                let source = if worth_it { full } else { seen };
                if self.manner != Manner::Exact {
                    return match &*sharp.clipped(source, cache) {
                        Blurred::Fine(mask) => Blurred::Fine(self.as_browsers(mask, clip)),
                        Blurred::Coarse(_) => nothing(),
                    };
                }
                if worth_it && blur::takes_quarters(self.sigma) {
                    let quarters = sharp.quarters(full, cache);
                    return match &*quarters {
                        Blurred::Fine(mask) => blur::blurred_quarters(mask, full, self.sigma, clip),
                        Blurred::Coarse(_) => nothing(),
                    };
                }
                return match &*sharp.clipped(source, cache) {
                    Blurred::Fine(mask) => blur::blurred(mask, self.sigma, clip),
                    Blurred::Coarse(_) => nothing(),
                };
            }
            Blurred::Fine(self.sharp(clip))
        })
    }

    /// Blurred as browsers do it. A narrow blur of CSS is a Gaussian.
    fn as_browsers(&self, mask: &Mask, clip: Rect) -> Mask {
        if self.manner == Manner::Css && self.sigma < NARROW {
            return blur::gaussian(mask, self.sigma, clip);
        }
        blur::boxes(mask, self.sigma, clip)
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
        match self.silhouette {
            Silhouette::Box(rounded) => match rounded.spread(self.spread) {
                Some(spread) => rasterize(&spread.path(), self.place * self.spread_shift(), clip),
                None => Mask::empty(Rect::default()),
            },
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
        (self.spread.to_bits(), self.sigma.to_bits(), self.manner).hash(hasher);
        if let Some(toning) = &self.toning {
            toning.fingerprint(hasher);
        }
    }
}

/// Below this σ, in pixels, shadows of CSS are no running means (measured in Chromium 156).
const NARROW: f64 = 2.0;

/// The largest silhouette, in pixels, whose coverage is made whole.
const SHARED: usize = 20 << 20;

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
