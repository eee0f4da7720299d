//! CSS in and out.

mod compute;
mod copies;
mod declare;
mod error;
mod filters;
mod import;
mod parts;
mod read;
mod rule;
mod shadows;
mod sheet;
mod specimen;
mod text;
mod values;
mod variables;
mod write;

pub use copies::Copies;
pub use declare::{Declaration, geometry, style_declarations};
pub use error::CssError;
pub use import::import;
pub use read::{ReadCss, read};
pub use rule::Rule;
pub(crate) use rule::{changes, selector, transition_declaration};
pub use specimen::{Specimen, SpecimenError};
pub(crate) use text::paint_text;
pub use write::{Code, CodeOptions, piece_code};
