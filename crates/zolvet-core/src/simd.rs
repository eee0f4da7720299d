//! Loops over many values, with the widest registers that the processor has.
//!
//! Every width gives the same bits: sums keep their order, and no multiplication is fused with an addition.

use fearless_simd::{Level, dispatch};

/// Does `work`, which is compiled once for each width. Only what is inlined into it gains.
#[inline(always)]
pub(crate) fn widest<R>(work: impl FnOnce() -> R) -> R {
    dispatch!(Level::new(), _simd => work())
}
