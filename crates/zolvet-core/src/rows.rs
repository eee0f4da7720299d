//! Work on a rectangle of values row by row, and on lists item by item, on all cores where threads are there.

/// Calls `work` with the number of each row of `width` values, and the row.
#[cfg(feature = "threads")]
pub(crate) fn for_each_row<T: Send>(data: &mut [T], width: usize, work: impl Fn(i32, &mut [T]) + Sync) {
    use rayon::prelude::*;
    data.par_chunks_mut(width.max(1)).with_min_len(4).enumerate().for_each(|(y, row)| work(y as i32, row));
}

/// Calls `work` with the number of each row of `width` values, and the row.
#[cfg(not(feature = "threads"))]
pub(crate) fn for_each_row<T: Send>(data: &mut [T], width: usize, work: impl Fn(i32, &mut [T]) + Sync) {
    data.chunks_mut(width.max(1)).enumerate().for_each(|(y, row)| work(y as i32, row));
}

/// Works on every item, on all cores where threads are there.
#[cfg(feature = "threads")]
pub(crate) fn each<T: Sync, R: Send>(items: &[T], work: impl Fn(&T) -> R + Sync + Send) -> Vec<R> {
    use rayon::prelude::*;
    items.par_iter().map(work).collect()
}

#[cfg(not(feature = "threads"))]
pub(crate) fn each<T, R>(items: &[T], work: impl Fn(&T) -> R) -> Vec<R> {
    items.iter().map(work).collect()
}
