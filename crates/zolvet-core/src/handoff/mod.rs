//! Export of a project as text, and as files with a page to look at.

mod bundle;
mod export;
mod sheet;

pub use bundle::{File, bundle};
pub use export::{Format, export};
pub use sheet::{SheetOptions, scss, sheet};
