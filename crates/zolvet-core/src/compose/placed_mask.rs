//! Masks at their place in device space.

use std::ops::Range;
use std::sync::Arc;

use crate::blur::{Blurred, Room, Spline};
use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect};

/// Coverage moved to its place.
#[derive(Debug, Clone)]
pub(crate) struct PlacedMask {
    cover: Arc<Blurred>,
    /// What coarse coverage is read through.
    spline: Option<Arc<Spline>>,
    dx: i32,
    dy: i32,
    /// The device pixels in which it is seen.
    rect: Rect,
}

/// How far coverage is moved, in device pixels.
#[derive(Debug, Clone, Copy, Default)]
pub(crate) struct Move {
    pub whole: (i32, i32),
    /// From 0 up to 1; other than 0 only for coverage in cells.
    pub part: (f64, f64),
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
        Self::moved(cover, Move::default())
    }

    /// Coverage moved.
    pub fn moved(cover: Arc<Blurred>, Move { whole: (dx, dy), part }: Move) -> Self {
        let spline = match &*cover {
            Blurred::Fine(_) => None,
            Blurred::Coarse(coarse) => Some(Arc::new(coarse.spline(part))),
        };
        let rect = cover.rect().moved(dx, dy);
        Self { cover, spline, dx, dy, rect }
    }

    /// Nothing of it outside a rectangle.
    pub fn within(mut self, rect: Rect) -> Self {
        self.rect = self.rect.intersect(rect);
        self
    }

    /// The rectangle of device pixels it covers.
    pub fn rect(&self) -> Rect {
        self.rect
    }

    /// The coverage of a row over `width` pixels from `x0`, as far as it is there: where it starts, counted from `x0`,
    /// and the coverage. What has to be worked out for that is worked out in `room`.
    pub fn span<'a>(&'a self, y: i32, x0: i32, width: usize, room: &'a mut Room) -> (usize, &'a [f32]) {
        let (Blurred::Coarse(coarse), Some(spline)) = (&*self.cover, &self.spline) else {
            return self.unblurred_span(y, x0, width);
        };
        let columns = self.columns(y, x0, width);
        if columns.is_empty() {
            return (0, &[]);
        }
        let from = (y - self.dy, x0 + columns.start as i32 - self.dx);
        (columns.start, coarse.read(spline, from, columns.len(), room))
    }

    /// Every pixel of a rectangle.
    pub fn over(&self, rect: Rect) -> Mask {
        let mut mask = Mask::empty(rect);
        for_each_row(&mut mask.data, rect.width(), |row, out| {
            let mut room = Room::default();
            let (first, coverage) = self.span(rect.y0 + row, rect.x0, out.len(), &mut room);
            out[first..first + coverage.len()].copy_from_slice(coverage);
        });
        mask
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
        let from = (x0 + columns.start as i32 - self.dx - mask.rect.x0) as usize;
        (columns.start, &mask.row(y - self.dy)[from..from + columns.len()])
    }
}
