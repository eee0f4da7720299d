//! Coverage: how much of each pixel a shape fills.

mod distance;
mod fit;
mod outline;
mod rows;
mod sample;

use std::ops::Range;

pub use distance::covered;
pub use distance::{distances, moved_outline, shared_reach};
pub use fit::Fit;
pub use outline::rasterize;
pub use outline::{cover, flatten};
pub use rows::{Changes, same};
pub use rows::{Mask, Rows, WeakRows};
pub use sample::BitmapSampler;

/// Where a run of pixels of one row begins, in device pixels.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct RowStart {
    /// The row.
    pub y: i32,
    /// The first pixel.
    pub x0: i32,
}

/// A rectangle of device pixels: left and top inside, right and bottom outside.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub struct Rect {
    /// Left edge.
    pub x0: i32,
    /// Top edge.
    pub y0: i32,
    /// Right edge.
    pub x1: i32,
    /// Bottom edge.
    pub y1: i32,
}

impl Rect {
    /// A rectangle from its edges.
    #[must_use]
    pub fn new(x0: i32, y0: i32, x1: i32, y1: i32) -> Self {
        Self { x0, y0, x1, y1 }
    }

    /// The smallest rectangle of whole pixels around real edges.
    #[must_use]
    pub fn around(x0: f64, y0: f64, x1: f64, y1: f64) -> Self {
        Self::new(x0.floor() as i32, y0.floor() as i32, x1.ceil() as i32, y1.ceil() as i32)
    }

    /// Pixels across; 0 when empty.
    #[must_use]
    pub fn width(self) -> usize {
        usize::try_from(i64::from(self.x1) - i64::from(self.x0)).unwrap_or(0)
    }

    /// Pixels down; 0 when empty.
    #[must_use]
    pub fn height(self) -> usize {
        usize::try_from(i64::from(self.y1) - i64::from(self.y0)).unwrap_or(0)
    }

    /// Whether there is no pixel in it.
    #[must_use]
    pub fn is_empty(self) -> bool {
        self.width() == 0 || self.height() == 0
    }

    /// Which of `width` pixels of the row `y` from `x0` on lie in it.
    #[must_use]
    pub fn columns(self, y: i32, x0: i32, width: usize) -> Range<usize> {
        let (from, to) = (self.x0.max(x0), self.x1.min(x0 + width as i32));
        if y < self.y0 || y >= self.y1 || from >= to {
            return 0..0;
        }
        (from - x0) as usize..(to - x0) as usize
    }

    /// The part that both share.
    #[must_use]
    pub fn intersect(self, other: Self) -> Self {
        Self::new(self.x0.max(other.x0), self.y0.max(other.y0), self.x1.min(other.x1), self.y1.min(other.y1))
    }

    /// The smallest rectangle around both; an empty one adds nothing.
    #[must_use]
    pub fn around_both(self, other: Self) -> Self {
        if other.is_empty() {
            return self;
        }
        if self.is_empty() {
            return other;
        }
        Self::new(self.x0.min(other.x0), self.y0.min(other.y0), self.x1.max(other.x1), self.y1.max(other.y1))
    }

    /// Grown by `by` pixels on every side.
    #[must_use]
    pub fn grown(self, by: i32) -> Self {
        Self::new(
            self.x0.saturating_sub(by),
            self.y0.saturating_sub(by),
            self.x1.saturating_add(by),
            self.y1.saturating_add(by),
        )
    }

    /// Moved by whole pixels.
    #[must_use]
    pub fn moved(self, dx: i32, dy: i32) -> Self {
        Self::new(
            self.x0.saturating_add(dx),
            self.y0.saturating_add(dy),
            self.x1.saturating_add(dx),
            self.y1.saturating_add(dy),
        )
    }
}
