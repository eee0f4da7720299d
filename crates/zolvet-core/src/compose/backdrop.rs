//! Blur of what lies behind a piece.

use std::sync::Arc;

use super::placed_mask::{PlacedMask, Scratch};
use super::tile::{EdgeMode, Tile};
use crate::blend::{BlendMode, Pixel, blend};
use crate::raster::Rect;
use crate::resolve::Backdrop;

/// What lies behind a piece, softened.
pub(super) struct Softened {
    pub tile: Arc<Tile>,
    /// Everything it is made from.
    pub key: [u64; 2],
    pub mode: BlendMode,
    pub opacity: f32,
}

impl Softened {
    /// Puts it in the place of what is there, inside a piece, over pixels of a row from `x0` on.
    pub fn apply(&self, outer: &PlacedMask, y: i32, x0: i32, pixels: &mut [Pixel]) {
        let mut scratch = Scratch::default();
        let (start, coverage) = outer.span(y, x0, pixels.len(), &mut scratch);
        let (from, softened) = self.tile.row(y);
        for (i, coverage) in coverage.iter().enumerate() {
            let x = x0 + (start + i) as i32;
            let Some(new) = usize::try_from(x - from).ok().and_then(|x| softened.get(x)) else { continue };
            let share = coverage * self.opacity;
            let old = &mut pixels[start + i];
            *old = match self.mode {
                // What was there is replaced, not covered: a backdrop is no layer of its own.
                BlendMode::Normal => std::array::from_fn(|part| old[part] + (new[part] - old[part]) * share),
                mode => blend(mode, new.map(|part| part * share), *old),
            };
        }
    }
}

/// Pixels behind a piece, softened as far as they are shown.
pub(super) fn softened(source: Tile, backdrop: &Backdrop, shown: Rect, scale: f64) -> Tile {
    let sigma = backdrop.sigma * scale;
    let mut tile = if sigma > 0.0 { source.blurred(sigma, EdgeMode::Mirror, shown) } else { source };
    tile.each_row(|_, row| row.iter_mut().for_each(|pixel| *pixel = adjusted(backdrop, *pixel)));
    tile
}

/// Saturation by the matrix of `feColorMatrix type="saturate"`, then brightness (Filter Effects 1, "saturate()",
/// "brightness()"). Both are linear, so that premultiplied colours can be taken as they are.
fn adjusted(backdrop: &Backdrop, [r, g, b, a]: Pixel) -> Pixel {
    let s = backdrop.saturation as f32;
    let clip = |part: f32| (part * backdrop.brightness as f32).clamp(0.0, a);
    if backdrop.saturation == 1.0 {
        return [clip(r), clip(g), clip(b), a];
    }
    let mix = |own: [f32; 3], grey: [f32; 3]| {
        let part = |i: usize| grey[i] + (own[i] - grey[i]) * s;
        (part(0) * r + part(1) * g + part(2) * b).clamp(0.0, a)
    };
    let grey = [0.213, 0.715, 0.072];
    [clip(mix([1.0, 0.0, 0.0], grey)), clip(mix([0.0, 1.0, 0.0], grey)), clip(mix([0.0, 0.0, 1.0], grey)), a]
}
