//! Runs of a row that an opaque surface fills with one colour: nothing below them has to be painted.

use std::ops::Range;
use std::sync::OnceLock;

use crate::blend::Pixel;
use crate::compose::masks::placed_mask::PlacedMask;
use crate::raster::Rect;

/// Where one piece leaves pixels in one colour, on any backdrop.
pub(in crate::compose) struct Solid {
    pub colour: Pixel,
    silhouette: PlacedMask,
    /// Where the silhouette lies in the painted area.
    rect: Rect,
    /// The longest run of each row. Only rows that are painted are looked at.
    runs: Vec<OnceLock<Range<i32>>>,
}

impl Solid {
    /// The area of a window that an opaque colour fills through a silhouette, if there is any.
    pub fn new(silhouette: &PlacedMask, colour: Pixel, window: Rect) -> Option<Self> {
        let rect = silhouette.rect().intersect(window);
        let rows = if rect.width() < SHORTEST { 0 } else { rect.height() };
        let runs = vec![OnceLock::new(); rows];
        (rows > 0).then(|| Self { colour, silhouette: silhouette.clone(), rect, runs })
    }

    /// Which of `width` pixels of a row from `x0` on it fills.
    pub fn columns(&self, y: i32, x0: i32, width: usize) -> Range<usize> {
        let run = usize::try_from(y - self.rect.y0).ok().and_then(|row| self.runs.get(row));
        let Some(run) = run.map(|run| run.get_or_init(|| self.longest(y))) else { return 0..0 };
        let [from, to] = [run.start, run.end].map(|x| (x - x0).clamp(0, width as i32) as usize);
        if to - from < SHORTEST { 0..0 } else { from..to }
    }

    fn longest(&self, y: i32) -> Range<i32> {
        let (start, coverage) = self.silhouette.unblurred_span(y, self.rect.x0, self.rect.width());
        let (left, found) = (self.rect.x0 + start as i32, longest_full(coverage));
        left + found.start as i32..left + found.end as i32
    }
}

/// Shorter runs are painted as everything else: parting rows for them would take longer.
const SHORTEST: usize = 64;

/// Pixels looked at together.
const LANES: usize = 16;

/// The longest run of pixels that are covered wholly; empty where there is none of some length.
fn longest_full(coverage: &[f32]) -> Range<usize> {
    let (mut longest, mut at) = (0..0, 0);
    while at + SHORTEST <= coverage.len() {
        // A run of the shortest length fills some of these groups, wherever it starts.
        let groups = coverage[at..].as_chunks::<LANES>().0;
        let empty = groups.iter().take_while(|group| !is_full(group)).count();
        if empty == groups.len() {
            break;
        }
        let first = at + empty * LANES;
        let before = coverage[at..first].iter().rev().take_while(|covered| **covered >= 1.0).count();
        let run = first - before..first + full_at_start(&coverage[first..]);
        if run.len() > longest.len().max(SHORTEST - 1) {
            longest = run.clone();
        }
        at = run.end + 1;
    }
    longest
}

/// How many pixels from the first on are covered wholly.
pub(in crate::compose) fn full_at_start(coverage: &[f32]) -> usize {
    let groups = coverage.as_chunks::<LANES>().0;
    let full = groups.iter().take_while(|group| is_full(group)).count() * LANES;
    full + coverage[full..].iter().take_while(|covered| **covered >= 1.0).count()
}

#[inline(always)]
fn is_full(group: &[f32; LANES]) -> bool {
    group.iter().fold(true, |all, covered| all & (*covered >= 1.0))
}

/// The longer part of a run that is left beside something else.
pub(in crate::compose) fn longest_run_outside(run: Range<usize>, other: &Range<usize>) -> Range<usize> {
    if other.start >= run.end || other.end <= run.start {
        return run;
    }
    let (left, right) = (run.start..other.start.max(run.start), other.end.min(run.end)..run.end);
    if left.len() > right.len() { left } else { right }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Beside the plainest way to find it.
        #[test]
        fn the_longest_run_is_found_wherever_it_lies(
            runs in prop::collection::vec((0.0_f32..=1.0, 1_usize..200, any::<bool>()), 0..12),
        ) {
            let row: Vec<f32> = runs
                .iter()
                .flat_map(|(value, length, full)| std::iter::repeat_n(if *full { 1.0 } else { *value }, *length))
                .collect();
            let mut longest = 0;
            let mut length = 0;
            for covered in &row {
                length = if *covered >= 1.0 { length + 1 } else { 0 };
                longest = longest.max(length);
            }
            let found = longest_full(&row);
            prop_assert!(row[found.clone()].iter().all(|covered| *covered >= 1.0));
            prop_assert_eq!(found.len(), if longest < SHORTEST { 0 } else { longest });
        }
    }
}
