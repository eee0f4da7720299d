//! How far two pictures are apart.

use zolvet_core::picture::Picture;

/// Differences of the red, green and blue values of two pictures, in 1/255.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Difference {
    /// The mean.
    pub mean: f64,
    /// 99 % of values are within this.
    pub p99: u8,
    /// 99.9 % of values are within this.
    pub p999: u8,
    /// The largest.
    pub worst: u8,
}

impl Difference {
    /// Compares two pictures of one size.
    ///
    /// # Panics
    /// When their sizes differ: then a test compares the wrong things.
    #[must_use]
    pub fn between(a: &Picture, b: &Picture) -> Self {
        assert_eq!((a.width, a.height), (b.width, b.height), "pictures of different sizes");
        let mut counts = [0_usize; 256];
        for (a, b) in a.rgba.chunks(4).zip(b.rgba.chunks(4)) {
            for channel in 0..3 {
                counts[usize::from(a[channel].abs_diff(b[channel]))] += 1;
            }
        }
        let total: usize = counts.iter().sum();
        let sum: usize = counts.iter().enumerate().map(|(value, count)| value * count).sum();
        let within = |share: f64| {
            let allowed = (total as f64 * (1.0 - share)) as usize;
            let mut beyond = 0;
            (0..=255_u8).rev().find(|value| {
                beyond += counts[usize::from(*value)];
                beyond > allowed
            })
        };
        Self {
            mean: sum as f64 / total.max(1) as f64,
            p99: within(0.99).unwrap_or(0),
            p999: within(0.999).unwrap_or(0),
            worst: (0..=255_u8).rev().find(|value| counts[usize::from(*value)] > 0).unwrap_or(0),
        }
    }

    /// The bar for one piece against Chromium's picture of its CSS (DESIGN §10).
    #[must_use]
    pub fn meets_the_bar(&self) -> bool {
        self.mean <= 1.25 && self.p99 <= 5 && self.p999 <= 12
    }
}

/// A part of a picture; transparent where it reaches outside.
#[must_use]
pub fn crop(picture: &Picture, x: u32, y: u32, width: u32, height: u32) -> Picture {
    let rows = (y..y + height).flat_map(|y| (x..x + width).map(move |x| (x, y)));
    let rgba = rows.flat_map(|(x, y)| picture.at(x, y)).collect();
    Picture { width, height, rgba }
}
