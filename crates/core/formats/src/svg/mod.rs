//! SVG out and in: stand-alone files that need nothing else (SVG 2), and the filters of files (Filter Effects 1).

mod alone;
mod backdrop;
mod filter;
mod import;
mod standalone;
mod strokes;

pub use alone::{StandaloneDrawing, alone};
pub use backdrop::Backdrops;
pub use import::import;
pub use standalone::{StandAlone, standalone};
