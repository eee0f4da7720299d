//! The picture while it is being painted.

use super::masks::tile::{OPAQUE, Tile, TilePixels as _, is_opaque};
use super::masks::tone::dither_noise;
use crate::blend::Pixel;
use crate::colour::Rgba;
use crate::parallel::for_each_row;
use crate::picture::Picture;
use crate::raster::Rect;
use crate::simd::widest;

/// Premultiplied pixels in floats; they are rounded once, at the end.
#[derive(Clone, PartialEq)]
pub struct Canvas {
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// Row by row.
    pub pixels: Vec<Pixel>,
}

impl std::fmt::Debug for Canvas {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "Canvas({} × {})", self.width, self.height)
    }
}

/// How a picture gets its 8 bits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub enum Rounding {
    /// To the nearest value.
    #[default]
    Nearest,
    /// With seeded noise of one step, so that wide faint shadows show no bands.
    Dithered,
}

impl Canvas {
    /// All transparent.
    #[must_use]
    pub fn new(width: u32, height: u32) -> Self {
        Self { width, height, pixels: vec![[0.0; 4]; width as usize * height as usize] }
    }

    /// The colour at a pixel; transparent outside.
    #[must_use]
    pub fn at(&self, x: i64, y: i64) -> Rgba {
        let inside = (0..i64::from(self.width)).contains(&x) && (0..i64::from(self.height)).contains(&y);
        if !inside {
            return Rgba::default();
        }
        Rgba::from_premultiplied(self.pixels[(y * i64::from(self.width) + x) as usize])
    }

    /// The picture in 8 bits.
    #[must_use]
    pub fn to_picture(&self, rounding: Rounding) -> Picture {
        let mut rgba = vec![0; self.pixels.len() * 4];
        let width = self.width as usize;
        for_each_row(&mut rgba, width * 4, |y, row| {
            let start = y as usize * width;
            write_row(row, &self.pixels[start..start + width], (0, i64::from(y)), rounding);
        });
        Picture { width: self.width, height: self.height, rgba }
    }

    /// A rectangle of it; transparent where that reaches outside.
    pub(super) fn tile(&self, rect: Rect) -> Tile {
        let whole = Rect::new(0, 0, self.width as i32, self.height as i32);
        let mut tile = Tile::empty(rect.intersect(whole));
        let (left, width) = (tile.rect.x0.max(0) as usize, self.width as usize);
        tile.each_row(|y, row| {
            let start = y as usize * width + left;
            row.copy_from_slice(&self.pixels[start..start + row.len()]);
        });
        tile
    }

    /// The part of a larger picture that starts at `x`, `y`.
    #[must_use]
    pub fn crop(&self, x: u32, y: u32, width: u32, height: u32) -> Self {
        let (x, y) = (x as i32, y as i32);
        let tile = self.tile(Rect::new(x, y, x + width as i32, y + height as i32));
        Self { width, height, pixels: tile.into_values() }
    }

    /// Blurred by a Gaussian of `sigma` pixels; transparent around it.
    #[must_use]
    pub fn blurred(&self, sigma: f64) -> Self {
        if sigma <= 0.0 {
            return self.clone();
        }
        let whole = Rect::new(0, 0, self.width as i32, self.height as i32);
        let tile = self.tile(whole).blurred(sigma, whole);
        Self { pixels: tile.into_values(), ..*self }
    }

    /// Moved by a number of pixels that need not be whole; transparent where nothing is moved to.
    #[must_use]
    pub fn moved(&self, dx: f64, dy: f64) -> Self {
        let (left, top) = (dx.floor(), dy.floor());
        let (right, down) = ((dx - left) as f32, (dy - top) as f32);
        let (left, top) = (left as i64, top as i64);
        let mut moved = Self::new(self.width, self.height);
        let (width, height) = (i64::from(self.width), i64::from(self.height));
        let pixel = |x: i64, y: i64| {
            let inside = (0..width).contains(&x) && (0..height).contains(&y);
            if inside { self.pixels[(y * width + x) as usize] } else { [0.0; 4] }
        };
        moved.each_row(|y, row| {
            for (x, out) in row.iter_mut().enumerate() {
                let (x, y) = (x as i64 - left, i64::from(y) - top);
                *out = pixel(x, y);
                if right > 0.0 || down > 0.0 {
                    let (b, c, d) = (pixel(x - 1, y), pixel(x, y - 1), pixel(x - 1, y - 1));
                    *out = std::array::from_fn(|i| {
                        let near = out[i] + (b[i] - out[i]) * right;
                        let far = c[i] + (d[i] - c[i]) * right;
                        near + (far - near) * down
                    });
                }
            }
        });
        moved
    }

    /// Each part rounded to 8 bits, as browsers round the result of a filter's step.
    pub fn round_to_8_bits(&mut self) {
        self.each_row(|_, row| super::paint::span::round_to_8_bits(row));
    }

    pub(super) fn each_row(&mut self, work: impl Fn(i32, &mut [Pixel]) + Sync) {
        for_each_row(&mut self.pixels, self.width as usize, work);
    }
}

/// Writes pixels of a row in 8 bits; `x` and `y` are the place of the first in the whole picture.
pub(super) fn write_row(row: &mut [u8], pixels: &[Pixel], (x, y): (i64, i64), rounding: Rounding) {
    match rounding {
        Rounding::Nearest if is_opaque(pixels) => {
            widest(
                #[inline(always)]
                || {
                    row.iter_mut()
                        .zip(pixels.as_flattened())
                        .for_each(|(out, part)| *out = to_byte(in_255ths(*part)))
                },
            );
        }
        Rounding::Nearest => {
            widest(
                #[inline(always)]
                || {
                    for (out, pixel) in row.as_chunks_mut::<4>().0.iter_mut().zip(pixels) {
                        let scale = colour_scale(pixel[3]);
                        let scales = [scale, scale, scale, 1.0];
                        *out = std::array::from_fn(|part| to_byte(in_255ths(pixel[part] * scales[part])));
                    }
                },
            );
        }
        Rounding::Dithered => {
            for (i, (out, pixel)) in row.chunks_exact_mut(4).zip(pixels).enumerate() {
                let at = |channel| dither_noise(channel, x + i as i64, y);
                write_pixel(out, *pixel, [at(1), at(2), at(3), 0.5]);
            }
        }
    }
}

/// A pixel in 8 bits.
pub(super) fn in_bytes(pixel: Pixel) -> [u8; 4] {
    let mut bytes = [0; 4];
    write_row(&mut bytes, &[pixel], (0, 0), Rounding::Nearest);
    bytes
}

/// The inverse of a colour's multiplication by its alpha.
#[inline(always)]
fn colour_scale(alpha: f32) -> f32 {
    if alpha >= OPAQUE || alpha <= 0.0 { 1.0 } else { 1.0 / alpha }
}

fn write_pixel(out: &mut [u8], [r, g, b, a]: Pixel, noise: [f32; 4]) {
    let scale = colour_scale(a);
    let parts = [r * scale, g * scale, b * scale, a];
    for (out, (part, noise)) in out.iter_mut().zip(parts.into_iter().zip(noise)) {
        *out = byte(part, noise);
    }
}

/// A part in 8 bits, rounded to the nearest with `noise` added, which is 0.5 where there is none.
#[inline(always)]
fn byte(part: f32, noise: f32) -> u8 {
    // Noise takes black no lower and white no higher.
    to_byte((in_255ths(part) + (noise - 0.5)).clamp(0.0, 255.0))
}

/// A part in 255ths.
#[inline(always)]
fn in_255ths(part: f32) -> f32 {
    let clipped = if part > 0.0 { part } else { 0.0 };
    (if clipped < 1.0 { clipped } else { 1.0 }) * 255.0
}

/// From 2²³ on a float has no fraction: adding that rounds, and leaves the whole number in the lowest bits.
#[inline(always)]
fn to_byte(value: f32) -> u8 {
    (value + 8_388_608.0).to_bits() as u8
}
