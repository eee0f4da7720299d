//! Reading a picture at places between its pixels.

use std::ops::Range;
use std::sync::Arc;

use kurbo::{Affine, Point, Vec2};

use crate::picture::{Bitmap, Picture};
use crate::raster::Fit;
use crate::simd::widest;

/// A step of 8 bits.
const STEP: f32 = 1.0 / 255.0;

/// A picture fitted to a box, sampled bilinearly; where it is made smaller, several readings are averaged.
#[derive(Debug, Clone, PartialEq)]
pub struct BitmapSampler {
    bitmap: Arc<Bitmap>,
    /// How often the picture that is read was halved.
    halvings: u32,
    /// Width and height of the picture in its own pixels, once halved.
    size: (f64, f64),
    /// From the box's px to the picture's pixels.
    to_source: Affine,
    repeats: bool,
    /// Readings across and down a device pixel.
    readings: (u32, u32),
    /// The side of a device pixel in the box's px.
    pixel: f64,
}

impl BitmapSampler {
    /// A picture fitted to a box as CSS fits backgrounds (CSS Backgrounds and Borders 3, "background-size"), centred;
    /// `scale` device pixels for one px.
    #[must_use]
    pub fn fitted(bitmap: Arc<Bitmap>, fit: Fit, width: f64, height: f64, scale: f64) -> Self {
        let (across, down) =
            (f64::from(bitmap.picture.width).max(1.0), f64::from(bitmap.picture.height).max(1.0));
        let (sx, sy) = (width.max(1e-6) / across, height.max(1e-6) / down);
        let (sx, sy) = match fit {
            Fit::Stretch => (sx, sy),
            Fit::Cover => (sx.max(sy), sx.max(sy)),
            Fit::Contain => (sx.min(sy), sx.min(sy)),
            Fit::Tile => (1.0, 1.0),
        };
        let at = match fit {
            Fit::Tile => Vec2::ZERO,
            Fit::Stretch | Fit::Cover | Fit::Contain => {
                Vec2::new((width - across * sx) / 2.0, (height - down * sy) / 2.0)
            }
        };
        // A picture drawn much smaller is read from its halved copies (a mip chain).
        let shrunk = 1.0 / (sx.max(sy) * scale);
        let wanted =
            if shrunk >= 4.0 { crate::maths::log2(shrunk / 2.0).floor().min(14.0) as u32 } else { 0 };
        let (_, halvings) = bitmap.at_size(wanted);
        let halved = 0.5_f64.powi(halvings as i32);
        let to_box = Affine::translate(at) * Affine::scale_non_uniform(sx, sy);
        let to_source = Affine::scale(halved) * to_box.inverse();
        let (across, down) = (across * halved, down * halved);
        // One reading for each pixel of the picture that falls into a device pixel.
        let readings = |shrunk: f64, pixels: f64| (shrunk.ceil().min(pixels.ceil()).clamp(1.0, 64.0)) as u32;
        let readings = (readings(halved / (sx * scale), across), readings(halved / (sy * scale), down));
        let (size, repeats, pixel) = ((across, down), fit == Fit::Tile, 1.0 / scale);
        Self { bitmap, halvings, size, to_source, repeats, readings, pixel }
    }

    /// The premultiplied colours around a row of points, `step` apart, from the one on that has `before` before it.
    pub fn row(&self, start: Point, step: Vec2, before: i64, out: &mut [[f32; 4]]) {
        if step.y == 0.0 && !self.repeats {
            return self.level_row(start, step.x, before, out);
        }
        for (i, colour) in out.iter_mut().enumerate() {
            *colour = self.at(start + step * (before + i as i64) as f64);
        }
    }

    /// A row along the picture's own: its pixels are mixed downwards once, and then only along the row.
    fn level_row(&self, start: Point, step: f64, before: i64, out: &mut [[f32; 4]]) {
        let across = self.readings.0;
        let [sx, .., tx, _] = self.to_source.as_coeffs();
        let (by, from) = (sx * step, sx * start.x + tx);
        let place =
            |i: usize, column: u32| from + sx * self.place(column, across) + by * (before + i as i64) as f64;
        let ends = [0, out.len().saturating_sub(1)].map(|i| [0, across - 1].map(|column| place(i, column)));
        let (first, line) = self.mixed_down(start.y, ends.as_flattened());
        let last = line.len().saturating_sub(2) as i64;
        out.fill([0.0; 4]);
        for column in 0..across {
            let from = from + sx * self.place(column, across);
            widest(
                #[inline(always)]
                || {
                    for (i, colour) in out.iter_mut().enumerate() {
                        let x = from + by * (before + i as i64) as f64;
                        let left = (x - 0.5).floor();
                        let t = (x - 0.5 - left) as f32;
                        let at = (left as i64 - first).clamp(0, last) as usize;
                        let t = if 0.0 <= x && x <= self.size.0 { [1.0 - t, t] } else { [0.0; 2] };
                        let (a, b) = (line[at], line[at + 1]);
                        for part in 0..4 {
                            colour[part] += a[part] * t[0] + b[part] * t[1];
                        }
                    }
                },
            );
        }
    }

    /// The share that each pixel of a row of the picture has in a row of readings: the mean of its pixels there, mixed
    /// downwards. There are all that are around the places of a row, the picture's first and last going on beyond it;
    /// and the number of the first.
    fn mixed_down(&self, y: f64, places: &[f64]) -> (i64, Vec<[f32; 4]>) {
        let (picture, _) = self.bitmap.at_size(self.halvings);
        let width = i64::from(picture.width);
        // Beyond the picture's ends all pixels are alike: one is enough.
        let column = |x: f64, by: i64| ((x - 0.5).floor() as i64 + by).clamp(-1, width);
        let first = places.iter().map(|x| column(*x, 0)).min().unwrap_or(0);
        let last = places.iter().map(|x| column(*x, 1)).max().unwrap_or(0).max(first + 1);
        let mut line = vec![[0.0; 4]; (last - first + 1) as usize];
        let (across, down) = self.readings;
        let share = 1.0 / (across * down) as f32;
        let within = first.max(0)..(last + 1).min(width);
        let inner = (within.start - first) as usize..(within.end.max(within.start) - first) as usize;
        for row in 0..down {
            let y = (self.to_source * Point::new(0.0, y + self.place(row, down))).y;
            if (0.0..=self.size.1).contains(&y) {
                let top = (y - 0.5).floor();
                let t = (y - 0.5 - top) as f32;
                add_row(picture, top as i64, within.clone(), (1.0 - t) * share, &mut line[inner.clone()]);
                add_row(picture, top as i64 + 1, within.clone(), t * share, &mut line[inner.clone()]);
            }
        }
        let (before, after) =
            (line.get(inner.start).copied(), inner.end.checked_sub(1).and_then(|at| line.get(at).copied()));
        line[..inner.start].fill(before.unwrap_or_default());
        line[inner.end..].fill(after.unwrap_or_default());
        (first, line)
    }

    /// How far a reading of `n` is from the middle of a device pixel, in px of the box.
    fn place(&self, i: u32, n: u32) -> f64 {
        ((f64::from(i) + 0.5) / f64::from(n) - 0.5) * self.pixel
    }

    /// The premultiplied colour of the device pixel around a point of the box; nothing outside the picture.
    #[must_use]
    pub fn at(&self, point: Point) -> [f32; 4] {
        if self.readings == (1, 1) {
            return self.read(self.to_source * point);
        }
        let (across, down) = self.readings;
        let mut sum = [0.0; 4];
        for row in 0..down {
            for column in 0..across {
                let at = point + Vec2::new(self.place(column, across), self.place(row, down));
                let read = self.read(self.to_source * at);
                sum = std::array::from_fn(|i| sum[i] + read[i]);
            }
        }
        sum.map(|part| part / (across * down) as f32)
    }

    fn read(&self, at: Point) -> [f32; 4] {
        let (picture, _) = self.bitmap.at_size(self.halvings);
        let (width, height) = (i64::from(picture.width), i64::from(picture.height));
        let inside = at.x >= 0.0 && at.y >= 0.0 && at.x <= self.size.0 && at.y <= self.size.1;
        if !inside && !self.repeats {
            return [0.0; 4];
        }
        let (x, y) = (at.x - 0.5, at.y - 0.5);
        let (left, top) = (x.floor(), y.floor());
        let (tx, ty) = ((x - left) as f32, (y - top) as f32);
        let wrap = |at: i64, size: i64| {
            if self.repeats { at.rem_euclid(size) } else { at.clamp(0, size - 1) }
        };
        let pixel = |dx: i64, dy: i64| {
            premultiplied(picture, wrap(left as i64 + dx, width), wrap(top as i64 + dy, height))
        };
        if tx == 0.0 && ty == 0.0 {
            return pixel(0, 0);
        }
        let [a, b, c, d] = [pixel(0, 0), pixel(1, 0), pixel(0, 1), pixel(1, 1)];
        std::array::from_fn(|i| {
            let (upper, lower) = (a[i] + (b[i] - a[i]) * tx, c[i] + (d[i] - c[i]) * tx);
            upper + (lower - upper) * ty
        })
    }
}

/// Adds a share of a row of a picture, or of its first or last row for one beyond it.
fn add_row(picture: &Picture, y: i64, columns: Range<i64>, share: f32, out: &mut [[f32; 4]]) {
    let y = y.clamp(0, i64::from(picture.height.max(1)) - 1) as usize;
    let row = y * picture.width as usize;
    let (pixels, _) = picture.rgba.as_chunks::<4>();
    let pixels = pixels.get(row + columns.start as usize..).unwrap_or_default();
    widest(
        #[inline(always)]
        || {
            for (out, pixel) in out.iter_mut().zip(pixels) {
                let alpha = f32::from(pixel[3]) * STEP;
                let scale = alpha * STEP * share;
                for part in 0..3 {
                    out[part] += f32::from(pixel[part]) * scale;
                }
                out[3] += alpha * share;
            }
        },
    );
}

fn premultiplied(picture: &Picture, x: i64, y: i64) -> [f32; 4] {
    let [r, g, b, a] = picture.at(x as u32, y as u32).map(|part| f32::from(part) * STEP);
    [r * a, g * a, b * a, a]
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Rows that are read at once are those read pixel by pixel: smaller and larger, beyond the edges, and begun anywhere.
    #[test]
    fn a_row_equals_its_pixels() {
        let rgba = (0..7 * 5 * 4).map(|i| (i * 37 % 256) as u8).collect();
        let bitmap = Arc::new(Bitmap::new(Picture { width: 7, height: 5, rgba }));
        for fit in [Fit::Cover, Fit::Contain, Fit::Stretch, Fit::Tile] {
            for scale in [0.25, 0.4, 1.0, 2.6] {
                let sampler = BitmapSampler::fitted(Arc::clone(&bitmap), fit, 40.0, 12.5, scale);
                let step = Vec2::new(1.0 / scale, 0.0);
                for y in [-1.0, 0.0, 0.3, 6.1, 12.5, 14.0] {
                    let start = Point::new(-6.0 + 0.5 / scale, y);
                    let mut whole = vec![[0.0; 4]; 140];
                    sampler.row(start, step, 0, &mut whole);
                    for (i, colour) in whole.iter().enumerate() {
                        let single = sampler.at(start + step * i as f64);
                        let apart = (0..4).map(|part| (colour[part] - single[part]).abs());
                        assert!(
                            apart.fold(0.0, f32::max) < 1e-5,
                            "{fit:?} {scale} {y} {i}: {colour:?} {single:?}"
                        );
                    }
                    let mut part = vec![[0.0; 4]; 9];
                    sampler.row(start, step, 31, &mut part);
                    assert_eq!(part, whole[31..40], "{fit:?} {scale} {y}");
                }
            }
        }
    }
}
