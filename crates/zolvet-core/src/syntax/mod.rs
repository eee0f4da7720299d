//! How things are written and read: what belongs to no format alone.

mod lines;
mod names;
mod number;
mod path;
pub(crate) mod pointer;
mod selector;

pub(crate) use lines::LineIndex;
pub(crate) use names::UniqueNames;
pub use names::slug;
pub use number::number_text;
pub(crate) use number::{px, round_to, tidy};
pub(crate) use path::path_text;
pub(crate) use selector::is_selector;
