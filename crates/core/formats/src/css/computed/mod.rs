//! Values as a browser computes them from an element's surroundings (CSS Values 4, CSS Color 5): every length in px, every
//! colour written out.

mod around;
mod brackets;
mod colours;
mod maths;
mod system;
mod value;

pub(super) use around::{Plain, ValueContext, ValueError};
pub(super) use maths::length_in;
pub(super) use value::{colour, computed};
