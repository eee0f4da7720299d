//! Compositing onto a span of pixels of one row.

use kurbo::{Affine, Point, Vec2};
use wide::f32x4;

use super::tile::Tile;
use crate::blend::{BlendMode, Pixel, blend, in_8_bits, over};
use crate::resolve::Sampler;

/// Pixels next to one another in a row of the device.
pub(super) struct PixelSpan<'a> {
    pub y: i32,
    pub x0: i32,
    pub pixels: &'a mut [Pixel],
}

/// A paint that is composited over the pixels of a span.
pub(super) struct SpanPaint<'a> {
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
        for (i, (pixel, colour)) in pixels.iter_mut().zip(colours).enumerate() {
            if silhouette[i] > 0.0 {
                let share = self.opacity * coverage.map_or(1.0, |coverage| coverage[i]);
                composite_pixel(pixel, colour.map(|part| part * share), self.mode);
            }
        }
    }
}

/// Composites a group over a row.
pub(super) fn composite(row: &mut [Pixel], group: &[Pixel], mode: BlendMode) {
    for (pixel, source) in row.iter_mut().zip(group) {
        composite_pixel(pixel, *source, mode);
    }
}

pub(super) fn composite_tile(tile: &Tile, span: &mut PixelSpan<'_>, mode: BlendMode) {
    let (start, sources) = tile.span(span.y, span.x0, span.pixels.len());
    let pixels = &mut span.pixels[start..start + sources.len()];
    match mode {
        BlendMode::Normal => composite_pixels(pixels, sources, 1.0, None),
        mode => composite(pixels, sources, mode),
    }
}

/// Composites pixels over a row in normal blend, knocked out by a silhouette's coverage where one is given.
pub(super) fn composite_pixels(row: &mut [Pixel], sources: &[Pixel], opacity: f32, body: Option<&[f32]>) {
    match body {
        None if opacity >= 1.0 => {
            for (pixel, source) in row.iter_mut().zip(sources) {
                *pixel = over(*source, *pixel);
            }
        }
        None => {
            for (pixel, source) in row.iter_mut().zip(sources) {
                *pixel = over(source.map(|part| part * opacity), *pixel);
            }
        }
        Some(body) => {
            for ((pixel, source), inside) in row.iter_mut().zip(sources).zip(body) {
                let share = opacity * (1.0 - inside);
                *pixel = over(source.map(|part| part * share), *pixel);
            }
        }
    }
}

#[inline]
pub(super) fn composite_pixel(pixel: &mut Pixel, source: Pixel, mode: BlendMode) {
    if source[3] <= 0.0 {
        return;
    }
    *pixel = match mode {
        BlendMode::Normal => over(source, *pixel),
        mode => blend(mode, source, *pixel),
    };
}

pub(super) fn composite_colour(pixels: &mut [Pixel], colour: Pixel, coverage: &[f32]) {
    let (alpha, colour) = (colour[3], f32x4::from(colour));
    for (pixel, coverage) in pixels.iter_mut().zip(coverage) {
        composite_covered(pixel, colour, alpha, *coverage);
    }
}

#[inline]
pub(super) fn composite_covered(pixel: &mut Pixel, colour: f32x4, alpha: f32, coverage: f32) {
    let visible = f32x4::splat(1.0 - alpha * coverage);
    *pixel = (colour * f32x4::splat(coverage) + f32x4::from(*pixel) * visible).to_array();
}

pub(super) fn composite_colour_outside(
    pixels: &mut [Pixel],
    colour: Pixel,
    coverage: &[f32],
    inside: &[f32],
) {
    let (alpha, colour) = (colour[3], f32x4::from(colour));
    for ((pixel, coverage), inside) in pixels.iter_mut().zip(coverage).zip(inside) {
        composite_covered(pixel, colour, alpha, coverage * (1.0 - inside));
    }
}

/// Blends a colour through coverage with what is below.
pub(super) fn blend_colour(
    pixels: &mut [Pixel],
    colour: Pixel,
    coverage: impl Iterator<Item = f32>,
    mode: BlendMode,
) {
    // The choice of the mode is made once, not for each pixel.
    match mode {
        BlendMode::Multiply => {
            each_covered(pixels, colour, coverage, |s, b| blend(BlendMode::Multiply, s, b))
        }
        BlendMode::Screen => each_covered(pixels, colour, coverage, |s, b| blend(BlendMode::Screen, s, b)),
        mode => each_covered(pixels, colour, coverage, |s, b| blend(mode, s, b)),
    }
}

#[inline]
fn each_covered(
    pixels: &mut [Pixel],
    colour: Pixel,
    coverage: impl Iterator<Item = f32>,
    mix: impl Fn(Pixel, Pixel) -> Pixel,
) {
    let wide = f32x4::from(colour);
    for (pixel, coverage) in pixels.iter_mut().zip(coverage).filter(|(_, coverage)| *coverage > 0.0) {
        let source = (wide * f32x4::splat(coverage)).to_array();
        if source[3] > 0.0 {
            *pixel = mix(source, *pixel);
        }
    }
}

/// Other renderers keep each layer in 8 bits.
pub(super) fn round_to_8_bits(pixels: &mut [Pixel]) {
    for pixel in pixels {
        *pixel = in_8_bits(*pixel);
    }
}
