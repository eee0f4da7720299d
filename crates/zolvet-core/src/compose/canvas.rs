//! The picture while it is being painted.

use crate::blend::Pixel;
use crate::colour::Rgba;
use crate::picture::Picture;

/// Premultiplied pixels in floats; they are rounded once, at the end.
#[derive(Debug, Clone, PartialEq)]
pub struct Canvas {
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// Row by row.
    pub pixels: Vec<Pixel>,
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

    /// The picture in 8 bits, rounded to the nearest.
    #[must_use]
    pub fn to_picture(&self) -> Picture {
        let mut rgba = vec![0; self.pixels.len() * 4];
        let byte = |part: f32| (part.clamp(0.0, 1.0) * 255.0 + 0.5) as u8;
        let convert = |out: &mut [u8], pixel: &Pixel| {
            let [r, g, b, a] = *pixel;
            let scale = if a >= 1.0 || a <= 0.0 { 1.0 } else { 1.0 / a };
            out.copy_from_slice(&[byte(r * scale), byte(g * scale), byte(b * scale), byte(a)]);
        };
        for_each_row(&mut rgba, self.width.max(1) as usize * 4, |y, row| {
            let start = y as usize * self.width as usize;
            for (out, pixel) in row.chunks_exact_mut(4).zip(&self.pixels[start..]) {
                convert(out, pixel);
            }
        });
        Picture { width: self.width, height: self.height, rgba }
    }

    pub(super) fn each_row(&mut self, work: impl Fn(i32, &mut [Pixel]) + Sync) {
        for_each_row(&mut self.pixels, self.width.max(1) as usize, work);
    }
}

#[cfg(feature = "threads")]
fn for_each_row<T: Send>(data: &mut [T], width: usize, work: impl Fn(i32, &mut [T]) + Sync) {
    use rayon::prelude::*;
    data.par_chunks_mut(width).with_min_len(8).enumerate().for_each(|(y, row)| work(y as i32, row));
}

#[cfg(not(feature = "threads"))]
fn for_each_row<T: Send>(data: &mut [T], width: usize, work: impl Fn(i32, &mut [T]) + Sync) {
    data.chunks_mut(width).enumerate().for_each(|(y, row)| work(y as i32, row));
}
