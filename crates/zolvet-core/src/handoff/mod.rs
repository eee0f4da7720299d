//! Export of a project as text, and as files with a page to look at.

mod artwork;
mod bundle;
mod cascade;
mod computed;
mod export;
mod fallbacks;
mod fittings;
mod fonts;
mod heights;
mod json;
mod light_dark;
mod links;
mod live;
mod module;
mod names;
mod options;
mod page;
mod parts;
mod pieces;
mod remarks;
mod scss;
mod sheet;
mod stacks;
mod theme;
mod themes;
mod without_pages;

pub use artwork::{Artwork, Pixels, Worn, file_with_depth, picture_of_file};
pub use bundle::{File, bundle};
pub use export::{Format, drawing, export};
pub use fittings::fittings_sheet;
pub use live::{live_sheet, live_tokens};
pub use names::classes;
pub use options::{Forms, Pieces, SheetOptions, Style};
pub use remarks::{omissions, token_omissions};
pub use scss::scss;
pub use sheet::sheet;
