//! CSS in and out.

mod read;
mod specimen;
mod tokens;
mod write;

pub use read::{CssError, ReadCss, read};
pub use specimen::{Specimen, SpecimenError};
pub use write::{Code, Fidelity, FidelityNote, colour_text, number_text, piece_code, slug};
