//! Export of a project as text, and as files with a page to look at.

mod bundle;
mod export;
mod links;
mod living;
mod sheet;

pub use bundle::{File, bundle};
pub use export::{Format, export, sheet};
pub use sheet::{SheetOptions, Style, scss};
