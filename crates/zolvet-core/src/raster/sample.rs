//! Reading a picture at places between its pixels.

use std::sync::Arc;

use kurbo::{Affine, Point, Vec2};

use crate::picture::Bitmap;
use crate::raster::Fit;

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
        let wanted = if shrunk >= 4.0 { (shrunk / 2.0).log2().floor().min(14.0) as u32 } else { 0 };
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

    /// The premultiplied colour of the device pixel around a point of the box; nothing outside the picture.
    #[must_use]
    pub fn at(&self, point: Point) -> [f32; 4] {
        if self.readings == (1, 1) {
            return self.read(self.to_source * point);
        }
        let (across, down) = self.readings;
        let place = |i: u32, n: u32| ((f64::from(i) + 0.5) / f64::from(n) - 0.5) * self.pixel;
        let mut sum = [0.0; 4];
        for row in 0..down {
            for column in 0..across {
                let at = point + Vec2::new(place(column, across), place(row, down));
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
            let (x, y) = (wrap(left as i64 + dx, width), wrap(top as i64 + dy, height));
            let [r, g, b, a] = picture.at(x as u32, y as u32).map(|part| f32::from(part) / 255.0);
            [r * a, g * a, b * a, a]
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
