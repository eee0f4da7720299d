//! Compositing onto a span of pixels of one row.

use kurbo::{Affine, Point, Vec2};

use crate::blend::{BlendMode, Pixel, blend, in_8_bits};
use crate::compose::masks::tile::Tile;
use crate::resolve::Sampler;
use crate::simd::{colour_over_each, over_each, widest};

/// Pixels next to one another in a row of the device.
pub(in crate::compose) struct PixelSpan<'a> {
    pub y: i32,
    pub x0: i32,
    pub pixels: &'a mut [Pixel],
}

/// A paint that is composited over the pixels of a span.
pub(in crate::compose) struct SpanPaint<'a> {
    pub sampler: &'a Sampler,
    /// From device pixels to the box the paint covers.
    pub to_box: Affine,
    pub opacity: f32,
    pub mode: BlendMode,
}

impl SpanPaint<'_> {
    /// Paints the pixels that a silhouette covers at all, as far as `coverage` of it says, or wholly.
    pub fn composite(
        &self,
        span: &mut PixelSpan<'_>,
        (start, silhouette): (usize, &[f32]),
        coverage: Option<&[f32]>,
    ) {
        // Every pixel's place is reckoned from the row's first, so that it does not depend on which pixels are painted.
        let first = Point::new(0.5, f64::from(span.y) + 0.5);
        let step = self.to_box * (first + Vec2::new(1.0, 0.0)) - self.to_box * first;
        let (first, before) = (self.to_box * first, i64::from(span.x0) + start as i64);
        let pixels = &mut span.pixels[start..start + silhouette.len()];
        let replaces = self.opacity >= 1.0 && coverage.is_none() && self.mode == BlendMode::Normal;
        if replaces && pixels.first() == Some(&[0.0; 4]) && pixels.iter().all(|pixel| pixel[3] == 0.0) {
            return self.sampler.row(first, step, before, pixels);
        }
        let mut colours = vec![[0.0; 4]; silhouette.len()];
        self.sampler.row(first, step, before, &mut colours);
        match coverage {
            Some(coverage) => {
                let shares = coverage.iter().map(|coverage| self.opacity * coverage);
                composite_shares(pixels, &colours, shares, self.mode);
            }
            None => {
                let shares = silhouette.iter().map(|inside| if *inside > 0.0 { self.opacity } else { 0.0 });
                composite_shares(pixels, &colours, shares, self.mode);
            }
        }
    }
}

/// Composites sources over pixels, one over each.
#[inline(always)]
pub(in crate::compose) fn composite_each(
    pixels: &mut [Pixel],
    sources: impl Iterator<Item = Pixel>,
    mode: BlendMode,
) {
    // The mode is chosen once, not for each pixel.
    match mode {
        BlendMode::Normal => over_each(pixels, sources),
        BlendMode::Multiply => blend_each(pixels, sources, |s, b| blend(BlendMode::Multiply, s, b)),
        BlendMode::Screen => blend_each(pixels, sources, |s, b| blend(BlendMode::Screen, s, b)),
        mode => {
            pixels.iter_mut().zip(sources).for_each(|(pixel, source)| *pixel = blend(mode, source, *pixel))
        }
    }
}

#[inline(always)]
fn blend_each(
    pixels: &mut [Pixel],
    sources: impl Iterator<Item = Pixel>,
    mix: impl Fn(Pixel, Pixel) -> Pixel,
) {
    widest(
        #[inline(always)]
        || {
            pixels.iter_mut().zip(sources).for_each(
                #[inline(always)]
                |(pixel, source)| *pixel = mix(source, *pixel),
            )
        },
    );
}

/// Composites a group over a row.
pub(in crate::compose) fn composite(row: &mut [Pixel], group: &[Pixel], mode: BlendMode) {
    composite_each(row, group.iter().copied(), mode);
}

pub(in crate::compose) fn composite_tile(tile: &Tile, span: &mut PixelSpan<'_>, mode: BlendMode) {
    let (start, sources) = tile.span(span.y, span.x0, span.pixels.len());
    composite(&mut span.pixels[start..start + sources.len()], sources, mode);
}

/// Composites pixels over a row, of each its share.
#[inline(always)]
pub(in crate::compose) fn composite_shares(
    pixels: &mut [Pixel],
    sources: &[Pixel],
    shares: impl Iterator<Item = f32>,
    mode: BlendMode,
) {
    composite_each(
        pixels,
        sources.iter().zip(shares).map(|(source, share)| source.map(|part| part * share)),
        mode,
    );
}

/// Composites a colour through coverage.
pub(in crate::compose) fn composite_colour(
    pixels: &mut [Pixel],
    colour: Pixel,
    coverage: &[f32],
    mode: BlendMode,
) {
    if mode == BlendMode::Normal {
        return colour_over_each(pixels, colour, coverage);
    }
    composite_each(pixels, coverage.iter().map(|coverage| colour.map(|part| part * coverage)), mode);
}

#[inline]
pub(in crate::compose) fn composite_pixel(pixel: &mut Pixel, source: Pixel, mode: BlendMode) {
    *pixel = blend(mode, source, *pixel);
}

/// Other renderers keep each layer in 8 bits.
pub(in crate::compose) fn round_to_8_bits(pixels: &mut [Pixel]) {
    for pixel in pixels {
        *pixel = in_8_bits(*pixel);
    }
}
