//! Blur of what lies behind a piece.

use super::canvas::Canvas;
use super::layer::PieceLayers;
use super::placed_mask::Scratch;
use super::tile::EdgeMode;
use crate::blend::{BlendMode, Pixel, blend};
use crate::raster::Rect;
use crate::resolve::Backdrop;

/// Softens the canvas inside a piece; `area` is the piece's box in device pixels.
pub(super) fn backdrop(canvas: &mut Canvas, layers: &PieceLayers, area: Rect, scale: f64) {
    for (backdrop, mode, opacity) in layers.behind.iter().rev() {
        let sigma = backdrop.sigma * scale;
        let source = canvas.tile(area);
        let shown = layers.outer.rect();
        let mut tile = if sigma > 0.0 { source.blurred(sigma, EdgeMode::Mirror, shown) } else { source };
        tile.each_row(|_, row| row.iter_mut().for_each(|pixel| *pixel = adjusted(backdrop, *pixel)));
        canvas.each_row(|y, row| {
            let mut scratch = Scratch::default();
            let (start, coverage) = layers.outer.span(y, 0, row.len(), &mut scratch);
            let (from, pixels) = tile.row(y);
            for (i, coverage) in coverage.iter().enumerate() {
                let x = (start + i) as i32;
                let Some(new) = usize::try_from(x - from).ok().and_then(|x| pixels.get(x)) else { continue };
                let share = coverage * opacity;
                let old = &mut row[start + i];
                *old = match mode {
                    // What was there is replaced, not covered: a backdrop is no layer of its own.
                    BlendMode::Normal => {
                        std::array::from_fn(|part| old[part] + (new[part] - old[part]) * share)
                    }
                    mode => blend(*mode, new.map(|part| part * share), *old),
                };
            }
        });
    }
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
