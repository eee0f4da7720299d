//! Blurred shadows of boxes as Chromium's software rasteriser makes them (measured in Chromium 156, at whole and fractional
//! places, with and without corners).
//!
//! It does not blur a large box: a small one with the same corners is blurred, and its middle row and column are
//! stretched. Both are placed by whole pixels, so that a box between pixels casts the shadow of a box on them. A box
//! with sharp corners is not blurred at all: its edges are read from a profile, which is a quadratic spline. Boxes that
//! are too small for all that are drawn where they are and blurred as any other shape.

use super::boxes::{boxes, boxes_reach};
use super::narrow::{NARROW, narrow, narrow_reach};
use super::raster::rasterize_corners;
use crate::geometry::RoundedBox;
use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect};

/// A box in device pixels.
pub(super) struct DeviceBox {
    pub x: f64,
    pub y: f64,
    /// Its size and corners.
    pub rounded: RoundedBox,
}

/// The blurred coverage of a box over the pixels of `clip`; nothing where it is blurred as any other shape.
pub(super) fn shadow(of: &DeviceBox, sigma: f64, clip: Rect) -> Option<Mask> {
    let radii = of.rounded.radii;
    if radii.iter().all(|(x, y)| *x <= 0.0 || *y <= 0.0) {
        return sharp(of, sigma).map(|patch| patch.mask(clip));
    }
    let (w, h) = (of.rounded.width, of.rounded.height);
    let is_oval = radii.iter().all(|(x, y)| *x * 2.0 >= w && *y * 2.0 >= h);
    if is_oval { None } else { rounded(of, sigma).map(|patch| patch.mask(clip)) }
}

/// A small shadow whose middle is stretched over a rectangle.
struct NinePatch {
    small: Mask,
    /// The column and row of the small one that are stretched.
    centre: (i32, i32),
    outer: Rect,
}

impl NinePatch {
    fn mask(&self, clip: Rect) -> Mask {
        let rect = self.outer.intersect(clip);
        if rect.is_empty() {
            return Mask::empty(Rect::default());
        }
        let (width, height) = (self.small.rect.width() as i32, self.small.rect.height() as i32);
        let mut mask = Mask::empty(rect);
        for_each_row(mask.values_mut(), rect.width(), |row, line| {
            let y = rect.y0 + row;
            let (down, middle_row) = stretched(y, self.outer.y0, self.outer.y1, self.centre.1, height);
            let source = self.small.row(self.small.rect.y0 + down);
            for (i, value) in line.iter_mut().enumerate() {
                let x = rect.x0 + i as i32;
                let (across, middle) = stretched(x, self.outer.x0, self.outer.x1, self.centre.0, width);
                // The middle of both is solid, whatever came out for it.
                *value = if middle && middle_row { 1.0 } else { source[across as usize] };
            }
        });
        mask
    }
}

/// Which of `size` small pixels stands for a pixel between two ends, and whether it is the one that is stretched.
fn stretched(at: i32, start: i32, end: i32, centre: i32, size: i32) -> (i32, bool) {
    let (from_start, from_end) = (at - start, end - 1 - at);
    if from_start < centre {
        (from_start, false)
    } else if from_end < size - 1 - centre {
        (size - 1 - from_end, false)
    } else {
        (centre, true)
    }
}

fn around(of: &DeviceBox) -> Rect {
    Rect::around(of.x, of.y, of.x + of.rounded.width, of.y + of.rounded.height)
}

fn nearest(value: f64) -> i32 {
    (value + 0.5).floor() as i32
}

/// The shadow of a box with sharp corners: the product of two profiles.
fn sharp(of: &DeviceBox, sigma: f64) -> Option<NinePatch> {
    let size = (6.0 * sigma).ceil() as i32;
    if size <= 1 {
        return None;
    }
    let pad = f64::from(size / 2);
    let (w, h) = (of.rounded.width, of.rounded.height);
    let inner = around(of);
    let ends = |from: f64, length: f64| (nearest(from - pad), nearest(from + length + pad));
    let ((x0, x1), (y0, y1)) = (ends(of.x, w), ends(of.y, h));
    let outer = Rect::new(x0, y0, x1, y1);
    // As much as the blur adds, a pixel for each end that may lie between pixels, and one to be stretched.
    let small = |outer: usize, inner: usize| outer as i32 - inner as i32 + 2;
    let (cx, cy) = (small(outer.width(), inner.width()), small(outer.height(), inner.height()));
    let (cut_x, cut_y) = (inner.width() as i32 - (cx + 1), inner.height() as i32 - (cy + 1));
    if cut_x < 0 || cut_y < 0 {
        return None;
    }
    let line = |from: f64, length: f64, cut: i32| {
        let (start, end) = ends(from, length - f64::from(cut));
        profile(end - start, size, sigma)
    };
    let (across, down) = (line(of.x, w, cut_x), line(of.y, h, cut_y));
    let mut mask = Mask::empty(Rect::new(0, 0, across.len() as i32, down.len() as i32));
    for (row, down) in mask.values_mut().chunks_mut(across.len().max(1)).zip(&down) {
        for (value, across) in row.iter_mut().zip(&across) {
            *value = f32::from(times(*across, *down)) / 255.0;
        }
    }
    Some(NinePatch { small: mask, centre: (cx, cy), outer })
}

/// x·y / 255 in 8 bits, to the nearest.
fn times(a: u8, b: u8) -> u8 {
    let product = u32::from(a) * u32::from(b) + 128;
    ((product + (product >> 8)) >> 8) as u8
}

/// A line through a blurred box, in 8 bits; `size` is that of the profile of one edge.
fn profile(width: i32, size: i32, sigma: f64) -> Vec<u8> {
    let sharp = width - size;
    if size <= sharp {
        // Both edges have room for the whole profile, which is read at every second half pixel.
        let centre = (size & !1) - 1;
        let edge = |at: i32| {
            let from_edge = ((2 * at + 1 - width).abs() - (sharp - centre)) >> 1;
            let at = from_edge.max(0);
            let left = f64::from(size >> 1) - f64::from(at) - 0.5;
            if at == 0 { 255 } else { 255 - (255.0 * spline(left / (2.0 * sigma))) as u8 }
        };
        return (0..width).map(edge).collect();
    }
    let span = f64::from(sharp) / (2.0 * sigma);
    let value = |at: i32| {
        let left = 1.5 - (f64::from(at) + 0.5) / (2.0 * sigma);
        (255.0 * (spline(left) - spline(left + span))) as u8
    };
    (0..width).map(value).collect()
}

/// The integral of a quadratic B-spline, which stands for the Gaussian's: 1 up to −1.5, 0 from 1.5 on.
fn spline(x: f64) -> f64 {
    let (x2, x3) = (x * x, x * x * x);
    if x > 1.5 {
        0.0
    } else if x < -1.5 {
        1.0
    } else if x > 0.5 {
        0.5625 - (x3 / 6.0 - 0.75 * x2 + 1.125 * x)
    } else if x > -0.5 {
        0.5 - (0.75 * x - x3 / 3.0)
    } else {
        0.4375 + (-x3 / 6.0 - 0.75 * x2 - 1.125 * x)
    }
}

/// Pixels in the middle of a small box that are left to be stretched.
const STRETCH: f64 = 1.0;

/// The shadow of a box with rounded corners.
fn rounded(of: &DeviceBox, sigma: f64) -> Option<NinePatch> {
    let margin = margin(sigma);
    if margin == 0 {
        return None;
    }
    let [tl, tr, br, bl] = of.rounded.radii;
    let room = f64::from(margin);
    // Whole pixels, so that the right and the lower corners lie on them as those of the box do.
    let (left, right) = (tl.0.max(bl.0).ceil() + room, tr.0.max(br.0).ceil() + room);
    let (top, bottom) = (tl.1.max(tr.1).ceil() + room, bl.1.max(br.1).ceil() + room);
    let (width, height) = (left + right + STRETCH, top + bottom + STRETCH);
    if width >= of.rounded.width || height >= of.rounded.height {
        return None;
    }
    let small = RoundedBox { width, height, radii: of.rounded.radii };
    let rect = Rect::around(0.0, 0.0, width, height).grown(margin);
    let sharp = rasterize_corners(&small.corners(), kurbo::Affine::IDENTITY, rect);
    let blurred = blurred(&sharp, sigma, rect).cropped(rect);
    // The mask starts a margin before the box.
    let centre = (left as i32 + margin, top as i32 + margin);
    Some(NinePatch { small: blurred, centre, outer: around(of).grown(margin) })
}

/// Coverage blurred as shadows of CSS are.
pub(super) fn blurred(sharp: &Mask, sigma: f64, window: Rect) -> Mask {
    if sigma < NARROW { narrow(sharp, sigma, window) } else { boxes(sharp, sigma, window) }
}

/// How far such a blur reaches.
pub(super) fn margin(sigma: f64) -> i32 {
    if sigma < NARROW { narrow_reach(sigma) } else { boxes_reach(sigma) }
}
