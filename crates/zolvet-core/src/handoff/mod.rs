//! Export of a project as text, and as files with a page to look at.

mod bundle;
mod export;
mod links;
mod living;
mod sheet;

pub use bundle::{File, bundle};
pub use export::{Format, export};
pub use sheet::{SheetOptions, Style, scss};

use crate::asset::Assets;
use crate::model::Project;

/// The project as CSS, in the style that is wanted.
#[must_use]
pub fn sheet(project: &Project, assets: &Assets, wanted: &SheetOptions) -> String {
    match wanted.style {
        Style::Living => living::sheet(project, assets, wanted),
        Style::Flat => sheet::flat(project, assets, wanted),
    }
}
