//! Work on a rectangle of values row by row, and on lists item by item, on all cores where threads are there.
//!
//! Other threads work within the budget of the calling thread; once that is used up, the remaining
//! rows are left unchanged.

use crate::budget::is_stopped;
#[cfg(feature = "threads")]
use crate::budget::{current, enter};

/// Calls `work` with the number of each row of `width` values, and the row.
#[cfg(feature = "threads")]
pub fn for_each_row<T: Send>(data: &mut [T], width: usize, work: impl Fn(i32, &mut [T]) + Sync) {
    use rayon::prelude::*;
    let budget = current();
    data.par_chunks_mut(width.max(1)).with_min_len(4).enumerate().for_each_init(
        || enter(budget.as_ref()),
        |_, (y, row)| {
            if !is_stopped() {
                work(y as i32, row);
            }
        },
    );
}

/// Calls `work` with the number of each row of `width` values, and the row.
#[cfg(not(feature = "threads"))]
pub fn for_each_row<T: Send>(data: &mut [T], width: usize, work: impl Fn(i32, &mut [T]) + Sync) {
    let rows = data.chunks_mut(width.max(1)).enumerate().take_while(|_| !is_stopped());
    rows.for_each(|(y, row)| work(y as i32, row));
}

/// Makes so many rows of `width` values: `work` is called with the number of each, and the row, in which there is nothing yet.
#[cfg(feature = "threads")]
pub fn made_rows<T: Copy + Default + Send>(
    rows: usize,
    width: usize,
    work: impl Fn(i32, &mut [T]) + Sync,
) -> Vec<T> {
    let mut values = vec![T::default(); rows * width];
    for_each_row(&mut values, width, work);
    values
}

/// Makes so many rows of `width` values: `work` is called with the number of each, and the row, in which there is nothing yet.
#[cfg(not(feature = "threads"))]
pub fn made_rows<T: Copy + Default>(rows: usize, width: usize, work: impl Fn(i32, &mut [T])) -> Vec<T> {
    let mut values = Vec::with_capacity(rows * width);
    // Each row is cleared just before it is worked out, while it is in the processor's cache.
    for row in (0..rows).take_while(|_| !is_stopped()) {
        values.resize((row + 1) * width, T::default());
        work(row as i32, &mut values[row * width..]);
    }
    values.resize(rows * width, T::default());
    values
}

/// Works on every item, on all cores where threads are there.
#[cfg(feature = "threads")]
pub fn parallel_map<T: Sync, R: Send>(items: &[T], work: impl Fn(&T) -> R + Sync + Send) -> Vec<R> {
    use rayon::prelude::*;
    let budget = current();
    items.par_iter().map_init(|| enter(budget.as_ref()), |_, item| work(item)).collect()
}

/// Works on every item.
#[cfg(not(feature = "threads"))]
pub fn parallel_map<T, R>(items: &[T], work: impl Fn(&T) -> R) -> Vec<R> {
    items.iter().map(work).collect()
}
