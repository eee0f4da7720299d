//! Where a silhouette hides everything under it.

use super::cells::{COLUMNS, Cells, ROWS};
use crate::compose::masks::placed_mask::PlacedMask;
use crate::raster::Rect;
use crate::simd::widest;

/// The cells of a window, which starts at 0, that unblurred coverage covers wholly.
pub(in crate::compose) fn hidden_under(mask: &PlacedMask, window: Rect) -> Cells {
    let mut cells = Cells::new(window, true);
    for (top, covered) in cells.rows_mut() {
        for y in top..(top + ROWS).min(window.y1) {
            let (start, coverage) = mask.unblurred_span(y, 0, window.width());
            cover(covered, start, coverage, window.width());
        }
    }
    cells
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
