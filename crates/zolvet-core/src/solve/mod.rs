//! Stacks found for a wish (DESIGN §13).

mod boxes;
mod field;
mod forward;
mod least_squares;
mod normal;
mod places;
mod search;
mod shadow;

pub use boxes::BoxField;
pub use field::{Coverage, Field};
pub use forward::{Model, Veil};
pub use search::{Candidate, by_count};
pub use shadow::{Freedom, OffsetAxis, Parameter, Shadow, Side};
pub use places::around;
