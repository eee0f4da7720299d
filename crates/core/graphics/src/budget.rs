//! Budgets of computations: steps, memory, and cancellation.
//!
//! A computation for a request runs within a [`Budget`]. Work is estimated in
//! *steps*, each about a nanosecond of one core, and taken off the budget before it is begun; when that is too much, or
//! the budget is cancelled, loops end early, unfinished results are discarded, and [`Budget::run`] returns why instead of
//! a result. Work that runs without a budget is never stopped.
//!
//! The budget belongs to the thread that runs the work; [`crate::parallel`], through which all work on several threads goes,
//! hands it on.

use std::cell::RefCell;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};

/// Steps one request may take: about five seconds on two cores.
pub const REQUEST_STEPS: u64 = 10_000_000_000;
/// Bytes of memory for one request, about, besides caches.
pub const REQUEST_BYTES: u64 = 256 << 20;

/// The budget of a computation. Clones share it.
#[derive(Debug, Clone)]
pub struct Budget(Arc<Meter>);

#[derive(Debug)]
struct Meter {
    most: u64,
    most_bytes: u64,
    taken: AtomicU64,
    /// Bytes of results that stay in memory until the end.
    kept: AtomicU64,
    /// Bytes that were asked for and are too many; 0 while none were.
    too_large: AtomicU64,
    cancelled: AtomicBool,
    refused: AtomicBool,
}

/// Why a computation has no result.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
pub enum Stopped {
    /// It was cancelled.
    #[error("cancelled")]
    Cancelled,
    /// It would take too long.
    #[error(
        "expected work of at most {} million steps, found {} million: fewer pixels, pieces or coats, or less blur, take \
         less",
        .most / 1_000_000,
        .asked / 1_000_000
    )]
    TooMuch {
        /// Steps that were allowed.
        most: u64,
        /// Steps that were asked for.
        asked: u64,
    },
    /// It would need too much memory.
    #[error(
        "expected work in at most {} MB of memory, found {} MB: a smaller picture takes less",
        .most >> 20,
        .asked >> 20
    )]
    TooLarge {
        /// Bytes that were allowed.
        most: u64,
        /// Bytes that were asked for.
        asked: u64,
    },
}

impl Default for Budget {
    /// That of one request.
    fn default() -> Self {
        Self::with_steps(REQUEST_STEPS)
    }
}

impl Budget {
    /// A budget of so many steps, and the bytes of one request.
    #[must_use]
    pub fn with_steps(most: u64) -> Self {
        Self::new(most, REQUEST_BYTES)
    }

    /// A budget of so many steps and bytes.
    #[must_use]
    pub fn new(most: u64, most_bytes: u64) -> Self {
        let (taken, kept, too_large) = Default::default();
        let (cancelled, refused) = Default::default();
        Self(Arc::new(Meter { most, most_bytes, taken, kept, too_large, cancelled, refused }))
    }

    /// Cancels the computation.
    pub fn cancel(&self) {
        self.0.cancelled.store(true, Ordering::Relaxed);
    }

    /// Steps taken so far.
    #[must_use]
    pub fn steps_taken(&self) -> u64 {
        self.0.taken.load(Ordering::Relaxed)
    }

    /// Does some work within the budget.
    ///
    /// # Errors
    /// [`Stopped`] where it was cancelled or would have been too much; what `work` made is dropped then.
    pub fn run<T>(&self, work: impl FnOnce() -> T) -> Result<T, Stopped> {
        let _within = enter(Some(self));
        let made = work();
        match self.stopped() {
            Some(why) => Err(why),
            None => Ok(made),
        }
    }

    /// Why the work has to end, if it has to.
    #[must_use]
    pub fn stopped(&self) -> Option<Stopped> {
        let Meter { most, most_bytes, taken, too_large, cancelled, refused, .. } = &*self.0;
        if cancelled.load(Ordering::Relaxed) {
            return Some(Stopped::Cancelled);
        }
        let bytes = too_large.load(Ordering::Relaxed);
        if bytes > 0 {
            return Some(Stopped::TooLarge { most: *most_bytes, asked: bytes });
        }
        let asked = taken.load(Ordering::Relaxed);
        refused.load(Ordering::Relaxed).then_some(Stopped::TooMuch { most: *most, asked })
    }

    fn spend(&self, steps: u64) -> bool {
        let before = self.0.taken.fetch_add(steps, Ordering::Relaxed);
        if before.saturating_add(steps) > self.0.most {
            self.0.refused.store(true, Ordering::Relaxed);
        }
        self.stopped().is_none()
    }

    fn allow_memory(&self, bytes: u64) -> bool {
        let all = bytes.saturating_add(self.0.kept.load(Ordering::Relaxed));
        if all > self.0.most_bytes {
            self.0.too_large.fetch_max(all, Ordering::Relaxed);
        }
        self.stopped().is_none()
    }

    fn retain_memory(&self, bytes: u64) -> bool {
        self.0.kept.fetch_add(bytes, Ordering::Relaxed);
        self.allow_memory(0)
    }
}

thread_local! {
    static CURRENT: RefCell<Option<Budget>> = const { RefCell::new(None) };
}

/// The budget that this thread works within, to be handed on to others.
#[cfg(feature = "threads")]
pub fn current() -> Option<Budget> {
    CURRENT.with_borrow(Clone::clone)
}

/// Spends steps before they are done; false where the budget does not allow them.
pub fn spend(steps: u64) -> bool {
    CURRENT.with_borrow(|budget| budget.as_ref().is_none_or(|budget| budget.spend(steps)))
}

/// Steps of the budget, and those that were taken of it; nothing where there is none.
pub fn state() -> Option<(u64, u64)> {
    CURRENT.with_borrow(|budget| budget.as_ref().map(|budget| (budget.0.most, budget.steps_taken())))
}

/// Whether so many bytes of temporary memory are within the budget.
pub fn allow_memory(bytes: u64) -> bool {
    CURRENT.with_borrow(|budget| budget.as_ref().is_none_or(|budget| budget.allow_memory(bytes)))
}

/// Counts bytes that stay in memory until the work is done, such as exported files; false where they are too many.
pub fn retain_memory(bytes: usize) -> bool {
    CURRENT.with_borrow(|budget| budget.as_ref().is_none_or(|budget| budget.retain_memory(bytes as u64)))
}

/// Whether work has to end early; its result is then incomplete and must not be cached.
#[must_use]
pub fn is_stopped() -> bool {
    CURRENT.with_borrow(|budget| budget.as_ref().is_some_and(|budget| budget.stopped().is_some()))
}

/// Makes a budget current on this thread until the returned guard is dropped.
pub fn enter(budget: Option<&Budget>) -> Within {
    Within(CURRENT.replace(budget.cloned()))
}

/// A thread within a budget; dropped, the thread is within the one before again.
pub struct Within(Option<Budget>);

impl Drop for Within {
    fn drop(&mut self) {
        CURRENT.set(self.0.take());
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parallel::{for_each_row, parallel_map};

    #[test]
    fn what_is_too_much_is_refused_before_it_is_done() {
        let budget = Budget::with_steps(100);
        assert_eq!(budget.run(|| spend(60)), Ok(true));
        assert_eq!(budget.run(|| spend(60)), Err(Stopped::TooMuch { most: 100, asked: 120 }));
        assert!(!is_stopped(), "outside the budget nothing is stopped");
        assert!(spend(u64::MAX));
    }

    #[test]
    fn what_is_too_large_is_refused_with_what_is_kept_already() {
        let budget = Budget::default();
        assert_eq!(budget.run(|| allow_memory(REQUEST_BYTES) && allow_memory(REQUEST_BYTES)), Ok(true));
        assert_eq!(budget.run(|| retain_memory(1 << 20)), Ok(true));
        let refused = Stopped::TooLarge { most: REQUEST_BYTES, asked: REQUEST_BYTES + (1 << 20) };
        assert_eq!(budget.run(|| allow_memory(REQUEST_BYTES)), Err(refused));
    }

    #[test]
    fn other_threads_work_within_the_same_budget() {
        let budget = Budget::with_steps(1000);
        let taken =
            budget.run(|| parallel_map(&[0; 50], |_| spend(10)).into_iter().filter(|took| *took).count());
        assert_eq!((taken, budget.steps_taken()), (Ok(50), 500));
        budget.cancel();
        let mut rows = vec![0_u8; 64];
        let ended = budget.run(|| for_each_row(&mut rows, 1, |_, row| row.fill(1)));
        assert_eq!((ended, rows.iter().all(|row| *row == 0)), (Err(Stopped::Cancelled), true));
    }
}
