//! The filters of SVG files: their primitives, and the stacks of coats they stand for.

mod colour_change;
mod read;
mod recognise;
mod styles;

pub(super) use read::{MAX_PRIMITIVES, Written, primitives};
pub(super) use recognise::{Ink, Layer, Stencil, recognise};
pub(super) use styles::Styles;
