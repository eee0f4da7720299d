//! The coverage a shadow or surface is painted with.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Shape as _, Vec2};

use super::cache::MaskCache;
use crate::blur;
use crate::geometry::Silhouette;
use crate::raster::{Mask, Rect, offset_coverage, rasterize};

/// What a mask is made from.
#[derive(Clone, Copy)]
pub(super) struct Coverage<'a> {
    pub silhouette: &'a Silhouette,
    /// From the piece's own px to device pixels; turned and scaled evenly, never sheared.
    pub place: Affine,
    /// In the piece's own px.
    pub spread: f64,
    /// In device pixels.
    pub sigma: f64,
}

/// A mask moved by whole device pixels.
#[derive(Debug, Clone)]
pub(super) struct Placed {
    pub mask: Arc<Mask>,
    pub dx: i32,
    pub dy: i32,
}

/// What tells masks apart: everything they are made from but whole pixels of position.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(super) struct Key {
    content: [u64; 2],
    clip: Rect,
}

impl<'a> Coverage<'a> {
    pub fn plain(silhouette: &'a Silhouette, place: Affine) -> Self {
        Self { silhouette, place, spread: 0.0, sigma: 0.0 }
    }

    /// The coverage inside `window`, from the cache when it is there.
    pub fn mask(&self, window: Rect, cache: &MaskCache) -> Placed {
        let (local, dx, dy) = self.without_whole_pixels();
        let Some(full) = local.reached() else { return Placed::nothing() };
        let clip = full.intersect(window.moved(-dx, -dy));
        if clip.is_empty() {
            return Placed::nothing();
        }
        Placed { mask: local.clipped(clip, cache), dx, dy }
    }

    fn clipped(&self, clip: Rect, cache: &MaskCache) -> Arc<Mask> {
        cache.get_or_make(self.key(clip), || {
            if self.sigma > 0.0 {
                let sharp = Self { sigma: 0.0, ..*self };
                let Some(full) = sharp.reached() else { return Mask::empty(Rect::default()) };
                let source = full.intersect(clip.grown(blur::reach(self.sigma)));
                return blur::gaussian(&sharp.clipped(source, cache), self.sigma, clip);
            }
            match self.silhouette {
                Silhouette::Box(rounded) => match rounded.spread(self.spread) {
                    Some(spread) => rasterize(&spread.path(), self.place * self.spread_shift(), clip),
                    None => Mask::empty(Rect::default()),
                },
                Silhouette::Outline(outline) => {
                    offset_coverage(&outline.path, self.place, self.spread_pixels(), clip)
                }
            }
        })
    }

    /// The pixels that may be covered at all; `None` when nothing is left of the shape.
    fn reached(&self) -> Option<Rect> {
        let (bounds, grow) = match self.silhouette {
            Silhouette::Box(rounded) => {
                let spread = rounded.spread(self.spread)?;
                (
                    self.spread_shift()
                        * kurbo::Rect::new(0.0, 0.0, spread.width, spread.height).to_path(0.1),
                    0.0,
                )
            }
            Silhouette::Outline(outline) if outline.path.is_empty() => return None,
            Silhouette::Outline(outline) => (outline.bounds.to_path(0.1), self.spread_pixels().max(0.0)),
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
        self.spread * self.place.determinant().abs().sqrt()
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
        let content = [1_u8, 2].map(|seed| {
            let mut hasher = DefaultHasher::new();
            seed.hash(&mut hasher);
            self.silhouette.fingerprint(&mut hasher);
            for number in self.place.as_coeffs() {
                number.to_bits().hash(&mut hasher);
            }
            (self.spread.to_bits(), self.sigma.to_bits()).hash(&mut hasher);
            hasher.finish()
        });
        Key { content, clip }
    }
}

impl Placed {
    fn nothing() -> Self {
        Self { mask: Arc::new(Mask::empty(Rect::default())), dx: 0, dy: 0 }
    }

    /// The rectangle of device pixels it covers.
    pub fn rect(&self) -> Rect {
        self.mask.rect.moved(self.dx, self.dy)
    }

    /// Where the coverage of a row starts, and the coverage; empty outside.
    pub fn row(&self, y: i32) -> (i32, &[f32]) {
        let rect = self.mask.rect;
        let local = y - self.dy;
        if local < rect.y0 || local >= rect.y1 {
            return (0, &[]);
        }
        (rect.x0 + self.dx, self.mask.row(local))
    }

    /// Coverage at a pixel.
    pub fn at(&self, x: i32, y: i32) -> f32 {
        self.mask.at(x - self.dx, y - self.dy)
    }
}
