//! Blur of everything behind a piece.

use std::hash::Hash;
use std::sync::Arc;

use crate::blend::{BlendMode, Pixel, blend};
use crate::blur::{self, Blurred, Scratch};
use crate::compose::cache::{Key, MaskCache, content_hash};
use crate::compose::masks::placed_mask::PlacedMask;
use crate::compose::masks::tile::{Tile, TilePixels as _, is_opaque};
use crate::model::BackdropFunction;
use crate::raster::{Mask, Rect, shared_reach};
use crate::resolve::Backdrop;
use crate::simd::widest;

/// The filtered backdrop of a piece.
pub(in crate::compose) struct FilteredBackdrop {
    pub tile: Arc<Tile>,
    /// Everything it is made from.
    pub key: [u64; 2],
    pub mode: BlendMode,
    pub opacity: f32,
    /// The backdrop is a group's, which may be see-through: it is composited over (Filter Effects 2, "Backdrop Root").
    pub in_group: bool,
}

impl FilteredBackdrop {
    /// Replaces the backdrop inside a piece, over pixels of a row from `x0` on.
    pub fn apply(&self, outer: &PlacedMask, y: i32, x0: i32, pixels: &mut [Pixel]) {
        let mut room = Scratch::default();
        let (start, coverage) = outer.span(y, x0, pixels.len(), &mut room);
        let (from, softened) = self.tile.line_at(y);
        for (i, coverage) in coverage.iter().enumerate() {
            let x = x0 + (start + i) as i32;
            let Some(new) = usize::try_from(x - from).ok().and_then(|x| softened.get(x)) else { continue };
            let share = coverage * self.opacity;
            let old = &mut pixels[start + i];
            *old = match self.mode {
                // On a scene what was there is replaced, not covered: a backdrop is no layer of its own.
                BlendMode::Normal if !self.in_group => {
                    std::array::from_fn(|part| old[part] + (new[part] - old[part]) * share)
                }
                mode => blend(mode, new.map(|part| part * share), *old),
            };
        }
    }
}

/// Pixels behind a piece.
pub(in crate::compose) struct BackdropPixels {
    pub pixels: Arc<Tile>,
    /// Everything they are made from.
    pub key: [u64; 2],
}

impl BackdropPixels {
    /// Softened as far as they are shown.
    pub fn softened(&self, backdrop: &Backdrop, shown: Rect, scale: f64, cache: &MaskCache) -> Tile {
        let functions = backdrop.order.functions();
        let blur = functions.iter().position(|one| *one == BackdropFunction::Blur).unwrap_or_default();
        let adjustments = |functions: &[BackdropFunction]| -> Vec<Adjustment> {
            functions.iter().filter_map(|function| Adjustment::from_function(*function, backdrop)).collect()
        };
        let (before, after) = (adjustments(&functions[..blur]), adjustments(&functions[blur + 1..]));
        let mut tile = if before.is_empty() {
            self.blurred_or_not(backdrop.sigma * scale, shown, cache)
        } else {
            self.adjusted(&before, backdrop).blurred_or_not(backdrop.sigma * scale, shown, cache)
        };
        for adjustment in &after {
            tile.each_row(|_, row| adjustment.apply(row));
        }
        tile
    }

    /// The same pixels with other colours.
    fn adjusted(&self, adjustments: &[Adjustment], backdrop: &Backdrop) -> Self {
        let mut tile = (*self.pixels).clone();
        for adjustment in adjustments {
            tile.each_row(|_, row| adjustment.apply(row));
        }
        let key = content_hash(|hasher| {
            ("adjusted behind", self.key).hash(hasher);
            backdrop.fingerprint(hasher);
        });
        Self { pixels: Arc::new(tile), key }
    }

    fn blurred_or_not(&self, sigma: f64, shown: Rect, cache: &MaskCache) -> Tile {
        let rect = self.pixels.rect.intersect(shown);
        if sigma <= 0.0 { (*self.pixels).clone() } else { self.blurred(sigma, rect, cache) }
    }

    /// Blurred, with their mirror images all around them.
    fn blurred(&self, sigma: f64, rect: Rect, cache: &MaskCache) -> Tile {
        let Rect { y0, y1, .. } = self.pixels.rect;
        let is_opaque = (y0..y1).all(|y| is_opaque(self.pixels.row(y)));
        Tile::of_parts(rect, |part| {
            if part == 3 && is_opaque {
                return Blurred::Fine(Mask::new(rect, vec![1.0; rect.width() * rect.height()]));
            }
            self.blurred_part(part, sigma, rect, cache)
        })
    }

    fn blurred_part(&self, part: usize, sigma: f64, rect: Rect, cache: &MaskCache) -> Blurred {
        let whole = self.pixels.rect;
        let area = |rect: Rect| rect.width() * rect.height();
        // All blurs of about the same width start from the same surroundings.
        let around = whole.grown(shared_reach(f64::from(blur::reach(sigma))) as i32);
        if area(around) > MADE.max(9 * area(whole)) {
            return Blurred::Fine(blur::mirrored(&self.pixels.plane(part), sigma));
        }
        if !blur::takes_quarters(sigma) {
            return blur::blurred(&self.pixels.mirrored(part, around), sigma, rect);
        }
        let content = content_hash(|hasher| ("quarters behind", self.key, part).hash(hasher));
        let quarters = cache.cover(Key { content, clip: around }, || {
            Blurred::Fine(blur::quartered(&self.pixels.mirrored(part, around)))
        });
        match &*quarters {
            Blurred::Fine(quarters) => blur::blurred_quarters(quarters, around, sigma, rect),
            Blurred::Coarse(_) => Blurred::Fine(Mask::empty(Rect::default())),
        }
    }
}

/// Mirrored surroundings up to this many pixels are always made, however small what they surround; larger ones where they
/// are not much larger than that.
const MADE: usize = 1 << 20;

/// A change of colours (Filter Effects 1, "saturate()", "brightness()"): linear, so that premultiplied colours can be taken as
/// they are.
enum Adjustment {
    /// The shares of red, green and blue in red, green and blue: the matrix of `feColorMatrix type="saturate"`.
    Saturate([[f32; 3]; 3]),
    Brighten(f32),
}

impl Adjustment {
    /// The effect of a backdrop's function on colours; nothing where it leaves them as they are.
    fn from_function(function: BackdropFunction, backdrop: &Backdrop) -> Option<Self> {
        match function {
            BackdropFunction::Blur => None,
            BackdropFunction::Brightness => {
                (backdrop.brightness != 1.0).then_some(Self::Brighten(backdrop.brightness as f32))
            }
            BackdropFunction::Saturation => {
                let s = backdrop.saturation as f32;
                let grey = [0.213, 0.715, 0.072];
                let given =
                    |from: usize, to: usize| grey[from] + (f32::from(u8::from(from == to)) - grey[from]) * s;
                let matrix = std::array::from_fn(|from| std::array::from_fn(|to| given(from, to)));
                (s != 1.0).then_some(Self::Saturate(matrix))
            }
        }
    }

    fn apply(&self, pixels: &mut [Pixel]) {
        widest(
            #[inline(always)]
            || match self {
                Self::Saturate([red, green, blue]) => {
                    for pixel in pixels {
                        let [r, g, b, a] = *pixel;
                        let mixed =
                            |part: usize| (red[part] * r + green[part] * g + blue[part] * b).clamp(0.0, a);
                        *pixel = [mixed(0), mixed(1), mixed(2), a];
                    }
                }
                Self::Brighten(factor) => {
                    for pixel in pixels {
                        let [r, g, b, a] = *pixel;
                        let [r, g, b] = [r, g, b].map(|part| (part * factor).clamp(0.0, a));
                        *pixel = [r, g, b, a];
                    }
                }
            },
        );
    }
}
