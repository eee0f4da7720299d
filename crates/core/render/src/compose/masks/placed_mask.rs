//! Masks at their place in device space.

use std::ops::Range;
use std::sync::{Arc, Weak};

use kurbo::Vec2;

use crate::blur::{self, Blurred, Scratch, Spline, Transmittance};
use crate::parallel::for_each_row;
use crate::raster::{Mask, Rect, RowStart, same};
use crate::simd::widest;

/// Coverage moved to its place.
#[derive(Debug, Clone)]
pub(crate) struct PlacedMask {
    cover: Arc<Blurred>,
    /// The kernel that coarse coverage is sampled by.
    spline: Option<Arc<Spline>>,
    dx: i32,
    dy: i32,
    /// The device pixels in which it is seen.
    rect: Rect,
}

/// Coverage at its place, as long as somebody else keeps it.
#[derive(Debug, Clone)]
pub(crate) struct WeakMask {
    cover: Weak<Blurred>,
    /// All but the coverage.
    place: (Option<Arc<Spline>>, [i32; 2], Rect),
}

impl WeakMask {
    /// The mask, if it is still kept.
    pub fn upgrade(&self) -> Option<PlacedMask> {
        let (spline, [dx, dy], rect) = self.place.clone();
        Some(PlacedMask { cover: self.cover.upgrade()?, spline, dx, dy, rect })
    }
}

/// How far coverage is moved, in device pixels.
#[derive(Debug, Clone, Copy, Default)]
pub struct Move {
    pub whole: (i32, i32),
    /// From 0 up to 1; other than 0 only for coverage in cells.
    pub part: Vec2,
}

impl PlacedMask {
    pub fn nothing() -> Self {
        Self::at(Mask::empty(Rect::default()))
    }

    /// A mask where it is.
    pub fn at(mask: Mask) -> Self {
        Self::unmoved(Arc::new(Blurred::Fine(mask)))
    }

    /// Coverage where it is.
    pub fn unmoved(cover: Arc<Blurred>) -> Self {
        Self::moved(cover, Move::default())
    }

    /// Coverage moved.
    pub fn moved(cover: Arc<Blurred>, Move { whole: (dx, dy), part }: Move) -> Self {
        let spline = match &*cover {
            Blurred::Fine(_) => None,
            Blurred::Coarse(coarse) => Some(Arc::new(coarse.spline(part))),
        };
        let made = match &*cover {
            Blurred::Fine(mask) => mask.rect,
            Blurred::Coarse(coarse) => coarse.read_at(),
        };
        Self { rect: made.moved(dx, dy), cover, spline, dx, dy }
    }

    /// The same coverage farther right and down by whole pixels.
    pub fn moved_by(self, (dx, dy): (i32, i32)) -> Self {
        Self { dx: self.dx + dx, dy: self.dy + dy, rect: self.rect.moved(dx, dy), ..self }
    }

    /// Nothing of it outside a rectangle, but for what is read together with what lies in it.
    pub fn within(mut self, rect: Rect) -> Self {
        let mut local = rect.moved(-self.dx, -self.dy);
        if let Blurred::Coarse(_) = &*self.cover {
            local = blur::eights_around(local);
        }
        self.rect = self.rect.intersect(local.moved(self.dx, self.dy));
        self
    }

    /// The mask without keeping its coverage.
    pub fn weak(&self) -> WeakMask {
        let place = (self.spline.clone(), [self.dx, self.dy], self.rect);
        WeakMask { cover: Arc::downgrade(&self.cover), place }
    }

    /// Whether another is moved and read as this one, so that their coverage may be compared.
    pub fn is_in_place_of(&self, other: &Self) -> bool {
        (self.dx, self.dy) == (other.dx, other.dy) && self.spline == other.spline
    }

    /// Whether another is made from the same coverage.
    pub fn is_same_as(&self, other: &Self) -> bool {
        Arc::ptr_eq(&self.cover, &other.cover)
    }

    /// Whether another in the same place is known to cover the pixels of a rectangle alike.
    pub fn is_like(&self, other: &Self, pixels: Rect) -> bool {
        if self.rect.intersect(pixels) != other.rect.intersect(pixels) {
            return false;
        }
        match (&*self.cover, &*other.cover) {
            _ if self.is_same_as(other) => true,
            (Blurred::Fine(_), Blurred::Fine(_)) => (pixels.y0..pixels.y1).all(|y| {
                let own = self.unblurred_span(y, pixels.x0, pixels.width());
                let others = other.unblurred_span(y, pixels.x0, pixels.width());
                own.0 == others.0 && same(own.1, others.1)
            }),
            (Blurred::Coarse(own), Blurred::Coarse(others)) => {
                own.is_like(others, pixels.moved(-self.dx, -self.dy))
            }
            _ => false,
        }
    }

    /// The rectangle of device pixels it covers.
    pub fn rect(&self) -> Rect {
        self.rect
    }

    /// The coverage of a row over `width` pixels from `x0`, as far as it is there: where it starts, counted from `x0`,
    /// and the coverage. What has to be worked out for that is worked out in `room`.
    pub fn span<'a>(&'a self, y: i32, x0: i32, width: usize, room: &'a mut Scratch) -> (usize, &'a [f32]) {
        let (Blurred::Coarse(coarse), Some(spline)) = (&*self.cover, &self.spline) else {
            return self.unblurred_span(y, x0, width);
        };
        let columns = self.columns(y, x0, width);
        if columns.is_empty() {
            return (0, &[]);
        }
        let from = RowStart { y: y - self.dy, x0: x0 + columns.start as i32 - self.dx };
        (columns.start, coarse.read(spline, from, columns.len(), room))
    }

    /// Takes off what goes through each pixel of a row from `x0` on what an opacity of the coverage holds back.
    pub fn fade(
        &self,
        RowStart { y, x0 }: RowStart,
        through: &mut Transmittance,
        alpha: f32,
        room: &mut Scratch,
    ) {
        let columns = self.columns(y, x0, through.pixels().len());
        if columns.is_empty() {
            return;
        }
        if let (Blurred::Coarse(coarse), Some(spline)) = (&*self.cover, &self.spline) {
            let from = RowStart { y: y - self.dy, x0: x0 + columns.start as i32 - self.dx };
            return coarse.fade(spline, from, (through, columns), alpha, room);
        }
        let (_, coverage) = self.unblurred_span(y, x0 + columns.start as i32, columns.len());
        let through = &mut through.pixels()[columns];
        widest(
            #[inline(always)]
            || {
                for (through, coverage) in through.iter_mut().zip(coverage) {
                    *through *= 1.0 - alpha * coverage;
                }
            },
        );
    }

    /// Every pixel of a rectangle.
    pub fn over(&self, rect: Rect) -> Mask {
        let mut mask = Mask::empty(rect);
        for_each_row(mask.values_mut(), rect.width(), |row, out| {
            let mut room = Scratch::default();
            let (first, coverage) = self.span(rect.y0 + row, rect.x0, out.len(), &mut room);
            out[first..first + coverage.len()].copy_from_slice(coverage);
        });
        mask
    }

    /// Whether a row is known to be like the one above it.
    pub fn is_like_above(&self, y: i32) -> bool {
        let is_row = |y: i32| self.rect.y0 <= y && y < self.rect.y1;
        let inside = is_row(y);
        inside == is_row(y - 1) && (!inside || self.cover.is_like_above(y - self.dy))
    }

    /// Which of `width` pixels of a row from `x0` on may be covered.
    pub fn columns(&self, y: i32, x0: i32, width: usize) -> Range<usize> {
        self.rect.columns(y, x0, width)
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
