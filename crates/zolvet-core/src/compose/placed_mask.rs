//! Masks at their place in device space.

use std::sync::Arc;

use crate::blur::Blurred;
use crate::raster::{Mask, Rect};

/// Room to work out a row of coverage in.
#[derive(Default)]
pub(crate) struct Scratch {
    row: Vec<f32>,
    line: Vec<f32>,
}

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
    /// and the coverage. What has to be worked out for that is worked out in `scratch`.
    pub fn span<'a>(&'a self, y: i32, x0: i32, width: usize, scratch: &'a mut Scratch) -> (usize, &'a [f32]) {
        let rect = self.rect();
        let (from, to) = (rect.x0.max(x0), rect.x1.min(x0 + width as i32));
        if y < rect.y0 || y >= rect.y1 || from >= to {
            return (0, &[]);
        }
        match &*self.cover {
            Blurred::Fine(_) => self.unblurred_span(y, x0, width),
            Blurred::Coarse(coarse) => {
                scratch.row.resize((to - from) as usize, 0.0);
                coarse.read(y - self.dy, from - self.dx, &mut scratch.row, &mut scratch.line);
                ((from - x0) as usize, scratch.row.as_slice())
            }
        }
    }

    /// As [`Self::span`] for coverage that is not blurred, of which every pixel is there.
    pub fn unblurred_span(&self, y: i32, x0: i32, width: usize) -> (usize, &[f32]) {
        let Blurred::Fine(mask) = &*self.cover else { return (0, &[]) };
        let rect = self.rect();
        let (from, to) = (rect.x0.max(x0), rect.x1.min(x0 + width as i32));
        if y < rect.y0 || y >= rect.y1 || from >= to {
            return (0, &[]);
        }
        let coverage = &mask.row(y - self.dy)[(from - rect.x0) as usize..];
        ((from - x0) as usize, &coverage[..(to - from) as usize])
    }
}
