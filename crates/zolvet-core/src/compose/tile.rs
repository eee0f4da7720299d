//! Rectangles of pixels that belong to one coat or surface.

use kurbo::Affine;

use super::placed_mask::{PlacedMask, Scratch};
use crate::blend::Pixel;
use crate::blur;
use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect};
use crate::resolve::Sampler;

/// Premultiplied pixels of a rectangle; transparent everywhere else.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Tile {
    pub rect: Rect,
    pub pixels: Vec<Pixel>,
}

/// The surroundings of a tile that is blurred.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum EdgeMode {
    /// Nothing.
    Transparent,
    /// The tile itself, mirrored at its edges.
    Mirror,
}

/// Mirrored surroundings up to this many pixels are always made, however small the tile.
const MADE: usize = 1 << 20;

impl Tile {
    pub fn empty(rect: Rect) -> Self {
        Self { rect, pixels: vec![[0.0; 4]; rect.width() * rect.height()] }
    }

    /// A paint seen through a mask.
    pub fn painted(sampler: &Sampler, to_box: Affine, mask: &PlacedMask) -> Self {
        let mut tile = Self::empty(mask.rect());
        tile.each_row(|y, row| {
            let (start, mut scratch) = (mask.rect().x0, Scratch::default());
            let (_, coverage) = mask.span(y, start, row.len(), &mut scratch);
            for (i, (pixel, coverage)) in row.iter_mut().zip(coverage).enumerate() {
                if *coverage > 0.0 {
                    let at = kurbo::Point::new(f64::from(start + i as i32) + 0.5, f64::from(y) + 0.5);
                    *pixel = sampler.at(to_box * at).map(|part| part * coverage);
                }
            }
        });
        tile
    }

    /// Where a row starts, and its pixels; empty outside.
    pub fn row(&self, y: i32) -> (i32, &[Pixel]) {
        if y < self.rect.y0 || y >= self.rect.y1 {
            return (0, &[]);
        }
        let width = self.rect.width();
        let start = (y - self.rect.y0) as usize * width;
        (self.rect.x0, &self.pixels[start..start + width])
    }

    /// The pixels of a row over `width` pixels from `x0`, as far as they are there: where they start, counted from `x0`,
    /// and the pixels.
    pub fn span(&self, y: i32, x0: i32, width: usize) -> (usize, &[Pixel]) {
        let (start, pixels) = self.row(y);
        let (from, to) = (start.max(x0), (start + pixels.len() as i32).min(x0 + width as i32));
        if from >= to {
            return (0, &[]);
        }
        ((from - x0) as usize, &pixels[(from - start) as usize..(to - start) as usize])
    }

    pub fn each_row(&mut self, work: impl Fn(i32, &mut [Pixel]) + Sync) {
        let top = self.rect.y0;
        for_each_row(&mut self.pixels, self.rect.width(), |y, row| work(top + y, row));
    }

    /// Blurred by a Gaussian of `sigma` pixels, over the pixels of `window` it reaches. One part of the colour after
    /// the other, so that only one plane is in memory besides the result.
    pub fn blurred(&self, sigma: f64, around: EdgeMode, window: Rect) -> Self {
        let rect = match around {
            EdgeMode::Transparent => self.rect.grown(blur::reach(sigma)).intersect(window),
            EdgeMode::Mirror => self.rect.intersect(window),
        };
        let mut result = Self::empty(rect);
        for part in 0..4 {
            let blurred = match around {
                EdgeMode::Transparent => blur::gaussian(&self.plane(part), sigma, rect).cropped(rect),
                EdgeMode::Mirror => self.blurred_in_mirrors(part, sigma, rect),
            };
            for (pixel, value) in result.pixels.iter_mut().zip(&blurred.data) {
                pixel[part] = *value;
            }
        }
        result
    }

    fn plane(&self, part: usize) -> Mask {
        Mask { rect: self.rect, data: self.pixels.iter().map(|pixel| pixel[part]).collect() }
    }

    /// One part of the colour, blurred with the tile's mirror images all around it.
    fn blurred_in_mirrors(&self, part: usize, sigma: f64, rect: Rect) -> Mask {
        let around = rect.grown(blur::reach(sigma));
        let area = |rect: Rect| rect.width() * rect.height();
        // Where the mirrored surroundings are not much larger than the tile, materialising them is faster.
        if area(around) <= MADE.max(9 * area(rect)) {
            return blur::gaussian(&self.mirrored(part, around), sigma, rect).cropped(rect);
        }
        blur::mirrored(&self.plane(part), sigma).cropped(rect)
    }

    fn mirrored(&self, part: usize, rect: Rect) -> Mask {
        let fold = |at: i32, from: i32, size: usize| {
            let size = size.max(1) as i32;
            let place = (at - from).rem_euclid(2 * size);
            if place < size { place } else { 2 * size - 1 - place }
        };
        let mut mask = Mask::empty(rect);
        let (width, across) = (rect.width(), self.rect.width());
        if self.pixels.is_empty() || width == 0 {
            return mask;
        }
        for (row, out) in mask.data.chunks_mut(width).enumerate() {
            let y = fold(rect.y0 + row as i32, self.rect.y0, self.rect.height()) as usize;
            let line = &self.pixels[y * across..(y + 1) * across];
            for (column, out) in out.iter_mut().enumerate() {
                let x = fold(rect.x0 + column as i32, self.rect.x0, across) as usize;
                *out = line[x][part];
            }
        }
        mask
    }
}
