//! Export of a project as text, and as files with a page to look at.

mod bundle;
mod cascade;
mod export;
mod json;
mod links;
mod names;
mod options;
mod parts;
mod pieces;
mod scss;
mod sheet;
mod stacks;

pub use bundle::{File, bundle};
pub use export::{Format, export};
pub use names::classes;
pub use options::{Forms, Pieces, SheetOptions, Style};
pub use scss::scss;
pub use sheet::sheet;
