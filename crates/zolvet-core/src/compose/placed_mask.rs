//! Masks at their place in device space.

use std::ops::Range;
use std::sync::Arc;

use crate::blur::{Blurred, Room};
use crate::raster::{Mask, Rect};

/// Coverage moved by whole device pixels.
#[derive(Debug, Clone)]
pub(crate) struct PlacedMask {
    cover: Arc<Blurred>,
    dx: i32,
    dy: i32,
}

impl PlacedMask {
    pub fn nothing() -> Self {
        Self::at(Mask::empty(Rect::default()))
    }

    /// A mask where it is.
    pub fn at(mask: Mask) -> Self {
        Self::of(Arc::new(Blurred::Fine(mask)))
    }

    /// Coverage where it is.
    pub fn of(cover: Arc<Blurred>) -> Self {
        Self { cover, dx: 0, dy: 0 }
    }

    /// Coverage moved by whole device pixels.
    pub fn moved(cover: Arc<Blurred>, dx: i32, dy: i32) -> Self {
        Self { cover, dx, dy }
    }

    /// The rectangle of device pixels it covers.
    pub fn rect(&self) -> Rect {
        self.cover.rect().moved(self.dx, self.dy)
    }

    /// The coverage of a row over `width` pixels from `x0`, as far as it is there: where it starts, counted from `x0`,
    /// and the coverage. What has to be worked out for that is worked out in `room`.
    pub fn span<'a>(&'a self, y: i32, x0: i32, width: usize, room: &'a mut Room) -> (usize, &'a [f32]) {
        match &*self.cover {
            Blurred::Fine(_) => self.unblurred_span(y, x0, width),
            Blurred::Coarse(coarse) => {
                let columns = self.columns(y, x0, width);
                if columns.is_empty() {
                    return (0, &[]);
                }
                let from = x0 + columns.start as i32;
                (columns.start, coarse.read(y - self.dy, from - self.dx, columns.len(), room))
            }
        }
    }

    /// Which of `width` pixels of a row from `x0` on may be covered.
    pub fn columns(&self, y: i32, x0: i32, width: usize) -> Range<usize> {
        let rect = self.rect();
        let (from, to) = (rect.x0.max(x0), rect.x1.min(x0 + width as i32));
        if y < rect.y0 || y >= rect.y1 || from >= to {
            return 0..0;
        }
        (from - x0) as usize..(to - x0) as usize
    }

    /// As [`Self::span`] for coverage that is not blurred, of which every pixel is there.
    pub fn unblurred_span(&self, y: i32, x0: i32, width: usize) -> (usize, &[f32]) {
        let columns = self.columns(y, x0, width);
        let Blurred::Fine(mask) = &*self.cover else { return (0, &[]) };
        if columns.is_empty() {
            return (0, &[]);
        }
        let from = (x0 + columns.start as i32 - self.rect().x0) as usize;
        (columns.start, &mask.row(y - self.dy)[from..from + columns.len()])
    }
}
