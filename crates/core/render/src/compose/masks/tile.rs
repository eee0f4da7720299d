//! Rectangles of pixels that belong to one coat or surface.

use std::sync::Arc;

use kurbo::Affine;

use super::placed_mask::PlacedMask;
use crate::blend::Pixel;
use crate::blur::{self, Blurred, Scratch};
use crate::parallel::{for_each_row, parallel_map};
use crate::raster::{Mask, Rect, Rows};
use crate::resolve::Sampler;
use crate::simd::widest;

/// Premultiplied pixels of a rectangle; transparent everywhere else.
pub(in crate::compose) type Tile = Rows<Pixel>;

/// An alpha of 1 but for the rounding of floats: its colour need not be divided by it.
pub(in crate::compose) const OPAQUE: f32 = 1.0 - 1e-5;

/// Whether nothing shows through any of them.
pub(in crate::compose) fn is_opaque(pixels: &[Pixel]) -> bool {
    widest(
        #[inline(always)]
        || pixels.iter().fold(true, |all, pixel| all & (pixel[3] >= OPAQUE)),
    )
}

/// Operations on the pixels of a tile.
pub(in crate::compose) trait TilePixels: Sized {
    /// A paint seen through a mask.
    fn painted(sampler: &Sampler, to_box: Affine, mask: &PlacedMask) -> Self;

    /// Works on every row, given with its y.
    fn each_row(&mut self, work: impl Fn(i32, &mut [Pixel]) + Sync);

    /// Blurred by a Gaussian of `sigma` pixels, over the pixels of `window` it reaches.
    fn blurred(&self, sigma: f64, window: Rect) -> Self;

    /// Pixels from blurred parts of their colour.
    fn of_parts(rect: Rect, blurred: impl Fn(usize) -> Blurred + Sync) -> Self;

    /// One part of the colour.
    fn plane(&self, part: usize) -> Mask;

    /// One part of the colour, with the tile's mirror images all around it.
    fn mirrored(&self, part: usize, rect: Rect) -> Mask;
}

impl TilePixels for Tile {
    fn painted(sampler: &Sampler, to_box: Affine, mask: &PlacedMask) -> Self {
        let mut tile = Self::empty(mask.rect());
        tile.each_row(|y, row| {
            let (start, mut room) = (mask.rect().x0, Scratch::default());
            let (_, coverage) = mask.span(y, start, row.len(), &mut room);
            for (i, (pixel, coverage)) in row.iter_mut().zip(coverage).enumerate() {
                if *coverage > 0.0 {
                    let at = kurbo::Point::new(f64::from(start + i as i32) + 0.5, f64::from(y) + 0.5);
                    *pixel = sampler.at(to_box * at).map(|part| part * coverage);
                }
            }
        });
        tile
    }

    fn each_row(&mut self, work: impl Fn(i32, &mut [Pixel]) + Sync) {
        let (top, width) = (self.rect.y0, self.rect.width());
        for_each_row(self.values_mut(), width, |y, row| work(top + y, row));
    }

    fn blurred(&self, sigma: f64, window: Rect) -> Self {
        let rect = self.rect.grown(blur::reach(sigma)).intersect(window);
        Self::of_parts(rect, |part| blur::blurred(&self.plane(part), sigma, rect))
    }

    fn of_parts(rect: Rect, blurred: impl Fn(usize) -> Blurred + Sync) -> Self {
        let parts = parallel_map(&[0, 1, 2, 3], |part| PlacedMask::unmoved(Arc::new(blurred(*part))));
        Self::from_rows(
            rect,
            |_| true,
            |y, row| {
                for (part, mask) in parts.iter().enumerate() {
                    let mut room = Scratch::default();
                    let (start, values) = mask.span(y, rect.x0, row.len(), &mut room);
                    for (pixel, value) in row[start..].iter_mut().zip(values) {
                        pixel[part] = *value;
                    }
                }
            },
        )
    }

    fn plane(&self, part: usize) -> Mask {
        Mask::new(self.rect, self.values().map(|pixel| pixel[part]).collect())
    }

    fn mirrored(&self, part: usize, rect: Rect) -> Mask {
        let fold = |at: i32, from: i32, size: usize| {
            let size = size.max(1) as i32;
            let place = (at - from).rem_euclid(2 * size);
            if place < size { place } else { 2 * size - 1 - place }
        };
        let across = self.rect.width();
        if self.rect.is_empty() || rect.is_empty() {
            return Mask::empty(rect);
        }
        let column = |x: i32| fold(x, self.rect.x0, across) as usize;
        let columns: Vec<usize> = (rect.x0..rect.x1).map(column).collect();
        let own = self.rect.columns(self.rect.y0, rect.x0, rect.width());
        let first = columns[own.start.min(columns.len() - 1)];
        Mask::from_rows(
            rect,
            |_| true,
            |y, out| {
                let line = self.row(self.rect.y0 + fold(y, self.rect.y0, self.rect.height()));
                let mirror = |out: &mut [f32], columns: &[usize]| {
                    out.iter_mut().zip(columns).for_each(|(out, x)| *out = line[*x][part]);
                };
                mirror(&mut out[..own.start], &columns[..own.start]);
                let middle = out[own.clone()].iter_mut().zip(&line[first..]);
                middle.for_each(|(out, pixel)| *out = pixel[part]);
                mirror(&mut out[own.end..], &columns[own.end..]);
            },
        )
    }
}
