//! How things are written and read, as far as it belongs to no single format.

mod lines;
mod names;
mod number;
mod path;
pub mod pointer;
mod scheme;
mod selector;

pub use lines::LineIndex;
pub use names::UniqueNames;
pub use names::slug;
pub use number::number_text;
pub use number::{px, round_to, tidy};
pub use path::path_text;
pub use scheme::schemes_of;
pub use selector::is_selector;
