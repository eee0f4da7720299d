//! CSS in and out.

mod declare;
mod read;
mod specimen;
mod text;
mod tokens;
mod values;
mod write;

pub use declare::{Declaration, geometry, looks};
pub use read::{CssError, ReadCss, read};
pub use specimen::{Specimen, SpecimenError};
pub use text::{colour_text, number_text, slug};
pub(crate) use text::{mode_text, px};
pub use write::{Code, Wanted, piece_code};
