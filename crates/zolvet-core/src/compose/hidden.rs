//! Where a silhouette hides what lies under it, in cells of the grid that changed rectangles are put together from.

use super::placed_mask::PlacedMask;
use crate::raster::Rect;
use crate::simd::widest;

/// Rows and columns of a cell.
pub(super) const ROWS: i32 = 16;
pub(super) const COLUMNS: i32 = 32;

/// The cells of a window that a silhouette covers wholly.
pub(super) struct HiddenCells {
    window: Rect,
    /// Cells in a row.
    across: usize,
    covered: Vec<bool>,
}

impl HiddenCells {
    /// Cells of a window, which starts at 0, under unblurred coverage.
    pub fn under(mask: &PlacedMask, window: Rect) -> Self {
        let cells = |pixels: usize, size: i32| pixels.div_ceil(size as usize);
        let (across, down) = (cells(window.width(), COLUMNS), cells(window.height(), ROWS));
        let mut covered = vec![false; across * down];
        for (row, covered) in covered.chunks_mut(across.max(1)).enumerate() {
            let top = row as i32 * ROWS;
            covered.fill(true);
            for y in top..(top + ROWS).min(window.y1) {
                let (start, coverage) = mask.unblurred_span(y, 0, window.width());
                cover(covered, start, coverage, window.width());
            }
        }
        Self { window, across, covered }
    }

    /// Whether the cell of a pixel of the window is one of them.
    pub fn covers(&self, x: i32, y: i32) -> bool {
        debug_assert!(x >= 0 && y >= 0 && x < self.window.x1 && y < self.window.y1);
        self.covered[(y / ROWS) as usize * self.across + (x / COLUMNS) as usize]
    }
}

/// Takes away the cells of a row of `width` pixels that are not covered wholly by coverage from `start` on.
fn cover(cells: &mut [bool], start: usize, coverage: &[f32], width: usize) {
    widest(
        #[inline(always)]
        || {
            for (at, cell) in cells.iter_mut().enumerate().filter(|(_, cell)| **cell) {
                let (from, to) = (at * COLUMNS as usize, ((at + 1) * COLUMNS as usize).min(width));
                let inside = from.checked_sub(start).and_then(|from| coverage.get(from..to - start));
                *cell = inside.is_some_and(|inside| inside.iter().fold(true, |all, one| all & (*one >= 1.0)));
            }
        },
    );
}
