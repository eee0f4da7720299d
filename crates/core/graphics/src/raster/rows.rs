//! Values of the pixels of a rectangle.

use std::sync::{Arc, Weak};

use super::Rect;
use crate::parallel::made_rows;
use crate::simd::widest;

/// Coverage from 0 to 1 of each pixel of a rectangle; 0 everywhere else.
pub type Mask = Rows<f32>;

/// A value of each pixel of a rectangle; nothing everywhere else.
///
/// Rows that are alike need not be there twice: between its corners every row of a box is the same. Copies share their values.
#[derive(Debug, Clone)]
pub struct Rows<T> {
    /// Where it lies.
    pub rect: Rect,
    values: Arc<Vec<T>>,
    /// For each row of the rectangle, the row of the values; none where each has its own.
    lines: Option<Arc<[u32]>>,
}

/// Rows, as long as somebody else keeps their values.
#[derive(Debug, Clone)]
pub struct WeakRows<T> {
    rect: Rect,
    values: Weak<Vec<T>>,
    lines: Option<Arc<[u32]>>,
}

impl<T> WeakRows<T> {
    /// The rows, if their values are still kept.
    pub fn upgrade(&self) -> Option<Rows<T>> {
        Some(Rows { rect: self.rect, values: self.values.upgrade()?, lines: self.lines.clone() })
    }
}

impl<T: Copy + Default + Send + Sync> Rows<T> {
    /// Nothing in any pixel.
    #[must_use]
    pub fn empty(rect: Rect) -> Self {
        Self::new(rect, vec![T::default(); rect.width() * rect.height()])
    }

    /// Values row by row; as many as there are pixels.
    #[must_use]
    pub fn new(rect: Rect, values: Vec<T>) -> Self {
        Self { rect, values: Arc::new(values), lines: None }
    }

    /// The same values in another place.
    #[must_use]
    pub fn moved(&self, dx: i32, dy: i32) -> Self {
        Self { rect: self.rect.moved(dx, dy), ..self.clone() }
    }

    /// The rows without keeping their values.
    #[must_use]
    pub fn weak(&self) -> WeakRows<T> {
        WeakRows { rect: self.rect, values: Arc::downgrade(&self.values), lines: self.lines.clone() }
    }

    /// Rows of which some are there only once; for each row of the rectangle, which it is.
    pub(crate) fn from_lines(rect: Rect, values: Vec<T>, lines: Vec<u32>) -> Self {
        let own = values.len() == rect.width() * rect.height();
        Self { rect, values: Arc::new(values), lines: (!own).then(|| lines.into()) }
    }

    /// Works out its rows, each of them nothing to begin with, but for those that are like the row above.
    pub fn from_rows(rect: Rect, is_new: impl Fn(i32) -> bool, work: impl Fn(i32, &mut [T]) + Sync) -> Self {
        let mut rows = Vec::new();
        let lines: Vec<u32> = (rect.y0..rect.y1)
            .map(|y| {
                if rows.is_empty() || is_new(y) {
                    rows.push(y);
                }
                rows.len() as u32 - 1
            })
            .collect();
        let values = made_rows(rows.len(), rect.width(), |at, row| work(rows[at as usize], row));
        Self::from_lines(rect, values, lines)
    }

    /// One row of it, by the device's y.
    #[must_use]
    pub fn row(&self, y: i32) -> &[T] {
        let width = self.rect.width();
        let start = self.line(y) * width;
        &self.values[start..start + width]
    }

    /// Where a row starts, and its values; empty outside.
    pub fn line_at(&self, y: i32) -> (i32, &[T]) {
        let is_row = self.rect.y0 <= y && y < self.rect.y1;
        if is_row { (self.rect.x0, self.row(y)) } else { (0, &[]) }
    }

    /// The values of a row over `width` pixels from `x0`, as far as they are there: where they start, counted from `x0`, and the
    /// values.
    pub fn span(&self, y: i32, x0: i32, width: usize) -> (usize, &[T]) {
        let (start, values) = self.line_at(y);
        let (from, to) = (start.max(x0), (start + values.len() as i32).min(x0 + width as i32));
        if from >= to {
            return (0, &[]);
        }
        ((from - x0) as usize, &values[(from - start) as usize..(to - start) as usize])
    }

    /// A number that is the same for rows that are there only once.
    #[must_use]
    pub fn line(&self, y: i32) -> usize {
        let row = (y - self.rect.y0) as usize;
        self.lines.as_ref().map_or(row, |lines| lines[row] as usize)
    }

    /// The value of a pixel.
    #[must_use]
    pub fn at(&self, x: i32, y: i32) -> T {
        let inside = self.rect.x0 <= x && x < self.rect.x1 && self.rect.y0 <= y && y < self.rect.y1;
        if inside { self.row(y)[(x - self.rect.x0) as usize] } else { T::default() }
    }

    /// Whether a row is known to be like the one above it.
    #[must_use]
    pub fn is_like_above(&self, y: i32) -> bool {
        let is_row = |y: i32| self.rect.y0 <= y && y < self.rect.y1;
        match (is_row(y - 1), is_row(y)) {
            (true, true) => self.line(y - 1) == self.line(y),
            (above, own) => above == own,
        }
    }

    /// Every pixel's value, row by row.
    pub fn values(&self) -> impl Iterator<Item = T> {
        (self.rect.y0..self.rect.y1).flat_map(|y| self.row(y).iter().copied())
    }

    /// As [`Self::values`], all in one.
    #[must_use]
    pub fn into_values(mut self) -> Vec<T> {
        self.values_mut();
        Arc::unwrap_or_clone(self.values)
    }

    fn all(&self) -> Vec<T> {
        let mut all = Vec::with_capacity(self.rect.width() * self.rect.height());
        (self.rect.y0..self.rect.y1).for_each(|y| all.extend_from_slice(self.row(y)));
        all
    }

    /// As [`Self::values`], to be changed.
    pub fn values_mut(&mut self) -> &mut [T] {
        if self.lines.is_some() {
            self.values = Arc::new(self.all());
            self.lines = None;
        }
        let values: &mut Vec<T> = Arc::make_mut(&mut self.values);
        values
    }

    /// The same over another rectangle.
    #[must_use]
    pub fn cropped(&self, rect: Rect) -> Self {
        let shared = self.rect.intersect(rect);
        if shared.is_empty() {
            return Self::empty(rect);
        }
        let from = (shared.x0 - self.rect.x0) as usize..(shared.x1 - self.rect.x0) as usize;
        let to = (shared.x0 - rect.x0) as usize..(shared.x1 - rect.x0) as usize;
        let is_new = |y: i32| {
            let within = shared.y0 < y && y < shared.y1;
            if within { self.line(y - 1) != self.line(y) } else { y == shared.y0 || y == shared.y1 }
        };
        Self::from_rows(rect, is_new, |y, out| {
            if shared.y0 <= y && y < shared.y1 {
                out[to.clone()].copy_from_slice(&self.row(y)[from.clone()]);
            }
        })
    }

    /// Bytes of memory it takes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        let lines = self.lines.as_deref().map_or(0, size_of_val::<[u32]>);
        size_of_val(self.values.as_slice()) + lines
    }
}

/// The same values of the same pixels, however they are kept.
impl<T: Copy + Default + Send + Sync + PartialEq> PartialEq for Rows<T> {
    fn eq(&self, other: &Self) -> bool {
        self.rect == other.rect && (self.rect.y0..self.rect.y1).all(|y| self.row(y) == other.row(y))
    }
}

/// The rows of a mask that differ from the row before; outside it all are alike.
pub struct Changes {
    top: i32,
    /// For each row of the mask and the one after it: how many up to it do.
    up_to: Vec<u32>,
}

impl Changes {
    /// Rows of a mask.
    pub fn from_mask(mask: &Mask) -> Self {
        let (mut count, rect) = (0, mask.rect);
        let mut up_to = Vec::with_capacity(rect.height() + 1);
        for y in rect.y0..=rect.y1 {
            let within = rect.y0 < y && y < rect.y1;
            count += u32::from(!within || !are_alike(mask, y - 1, y));
            up_to.push(count);
        }
        Self { top: rect.y0, up_to }
    }

    /// Whether the rows from `first` to `last` are not all alike.
    pub fn are_between(&self, first: i32, last: i32) -> bool {
        let up_to = |y: i32| {
            let at = usize::try_from(i64::from(y) - i64::from(self.top)).ok();
            at.and_then(|at| self.up_to.get(at).or(self.up_to.last())).copied().unwrap_or(0)
        };
        up_to(first) != up_to(last)
    }
}

fn are_alike(mask: &Mask, a: i32, b: i32) -> bool {
    mask.line(a) == mask.line(b) || same(mask.row(a), mask.row(b))
}

/// Whether values are the same to the last bit.
pub fn same(a: &[f32], b: &[f32]) -> bool {
    a.len() == b.len()
        && widest(
            #[inline(always)]
            || a.iter().zip(b).fold(0, |apart, (a, b)| apart | (a.to_bits() ^ b.to_bits())) == 0,
        )
}
