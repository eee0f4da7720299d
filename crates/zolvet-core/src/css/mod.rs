//! CSS in and out.

mod declare;
mod filters;
mod import;
mod read;
mod rules;
mod specimen;
mod text;
mod tokens;
mod values;
mod write;

pub use declare::{Declaration, geometry, looks};
pub use import::import;
pub use read::{CssError, ReadCss, read};
pub use specimen::{Specimen, SpecimenError};
pub use text::{colour_text, number_text, slug};
pub(crate) use text::{mode_text, px, solid_text, tidy};
pub use write::{Code, Rule, Wanted, piece_code, piece_rules};
pub(crate) use write::{changes, moves, selector, state_name};
