//! Parts that the service and the command line share: helper processes, archives, the demo project.

mod archive;
mod helper;
mod pages;
mod priority;
mod task;

pub use archive::zip;
pub use helper::{HELP, Helpers, bitmap, font, run_task};
pub use priority::{Priority, lower_priority};
pub use task::{ImportRequest, ReadDrawing, Task};
pub use zolvet_page::ReadPage;

/// The document of the demo project.
pub const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");
