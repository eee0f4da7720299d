//! CSS in and out.

mod compute;
mod declare;
mod error;
mod filters;
mod import;
mod parts;
mod read;
mod shadows;
mod sheet;
mod specimen;
mod text;
mod values;
mod variables;
mod write;

pub use declare::{Declaration, geometry, style_declarations};
pub use error::CssError;
pub use import::import;
pub use read::{ReadCss, read};
pub use specimen::{Specimen, SpecimenError};
pub(crate) use text::paint_text;
pub use write::{Code, CodeOptions, Rule, piece_code, piece_rules};
pub(crate) use write::{changes, selector, transition_declaration};
