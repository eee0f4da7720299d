//! The filters of SVG files: their primitives, and the stacks of coats they stand for.

mod read;
mod recognise;
mod styles;

pub(super) use read::{MOST_PRIMITIVES, Written, primitives};
pub(super) use recognise::{Ink, Layer, Shaped, recognise};
pub(super) use styles::Styles;
