//! How far two pictures are apart.

use zolvet_core::picture::Picture;

use crate::Outcome;

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
    /// Compares two pictures of one size, all of them.
    ///
    /// # Panics
    /// When their sizes differ: then a test compares the wrong things.
    #[must_use]
    pub fn between(a: &Picture, b: &Picture) -> Self {
        Self::counted(a, b, |_| true)
    }

    /// Compares two pictures of one size over the pixels that something touches: those in which one of them differs
    /// from the empty ground. However much bare ground lies around, it counts for nothing.
    ///
    /// # Panics
    /// When their sizes differ, or nothing is touched: then a test compares the wrong things.
    #[must_use]
    pub fn touched(a: &Picture, b: &Picture, bare: &Picture) -> Self {
        assert_eq!((a.width, a.height), (bare.width, bare.height), "the bare ground has another size");
        let pixel = |picture: &Picture, at: usize| <[u8; 4]>::try_from(&picture.rgba[at..at + 4]).ok();
        Self::counted(a, b, |at| {
            let bare = pixel(bare, at);
            pixel(a, at) != bare || pixel(b, at) != bare
        })
    }

    fn counted(a: &Picture, b: &Picture, counts_at: impl Fn(usize) -> bool) -> Self {
        assert_eq!((a.width, a.height), (b.width, b.height), "pictures of different sizes");
        let mut counts = [0_usize; 256];
        for (number, (a, b)) in a.rgba.chunks(4).zip(b.rgba.chunks(4)).enumerate() {
            if !counts_at(number * 4) {
                continue;
            }
            for channel in 0..3 {
                counts[usize::from(a[channel].abs_diff(b[channel]))] += 1;
            }
        }
        assert!(counts.iter().any(|count| *count > 0), "nothing is drawn");
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

    /// The bar for one piece against Chromium's picture of its CSS (docs/measuring.md, "Bars").
    #[must_use]
    pub fn meets_the_bar(&self) -> bool {
        self.mean <= 1.25 && self.p99 <= 5 && self.p999 <= 12
    }

    /// Whether it is within the bar but for the few pixels along curved and slanted edges that Chromium's rasteriser covers
    /// otherwise than by their area, and that are not foretold: where lines of SVG shapes and letters meet within a row
    /// of pixels. Measured: at most 30/255 at 99.9 % and 14/255 at 99 % of the pixels that something touches.
    #[must_use]
    pub fn meets_the_bar_but_for_edges(&self) -> bool {
        self.mean <= 1.75 && self.p99 <= 14 && self.p999 <= 30
    }
}

/// A part of a picture; transparent where it reaches outside.
#[must_use]
pub fn crop(picture: &Picture, x: u32, y: u32, width: u32, height: u32) -> Picture {
    let rows = (y..y + height).flat_map(|y| (x..x + width).map(move |x| (x, y)));
    let rgba = rows.flat_map(|(x, y)| picture.at(x, y)).collect();
    Picture { width, height, rgba }
}

/// Writes our picture and the browser's to the folder that `ZOLVET_KEEP_PICTURES` names, if it names one.
///
/// # Errors
/// When they cannot be written.
pub fn keep_pictures(name: &str, ours: &Picture, theirs: &Picture) -> Outcome {
    if let Some(folder) = std::env::var_os("ZOLVET_KEEP_PICTURES") {
        let folder = std::path::PathBuf::from(folder);
        for (whose, picture) in [("ours", ours), ("theirs", theirs)] {
            std::fs::write(folder.join(format!("{name}-{whose}.png")), picture.to_png()?)?;
        }
    }
    Ok(())
}
