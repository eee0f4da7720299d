//! CSS in and out.

mod computed;
mod copies;
mod declare;
mod error;
mod fallback;
mod filters;
mod nested;
mod parts;
mod read;
mod rule;
mod shadows;
mod sheet;
mod sheets;
mod specimen;
mod subject;
mod text;
mod values;
mod write;

pub use copies::{Copies, DepthAlone};
pub use declare::family_text;
pub use declare::{Declaration, geometry, style_declarations};
pub use error::CssError;
pub use fallback::{ends_in_shadows, unfrosted, with_forced_colours, without_backdrops};
pub use nested::{CodeElement, ElementPlace, nested_code};
pub use read::{ReadCss, read};
pub use rule::Rule;
pub use rule::{changes, said_anew, transition_declaration};
pub use sheets::{ElementReading, PropertyReading, Settings, StyleFile, elements, import, import_files};
pub use specimen::{Specimen, SpecimenError};
pub use subject::Subject;
pub use text::{circle, interpolation, paint_text};
pub use write::{Code, CodeOptions, depth_code, piece_code};
