//! SVG out and in: stand-alone files that need nothing else (SVG 2), and the filters of files (Filter Effects 1).

mod alone;
mod attach;
mod backdrop;
mod depth;
mod filter;
mod import;
mod inline_css;
mod insertions;
mod own_filter;
mod stack;
mod standalone;
mod strokes;

pub use alone::{StandaloneDrawing, alone};
pub use attach::Had;
pub use backdrop::Backdrops;
pub use depth::{Depth, Edge, FileWithDepth, Placing, room_needed, with_depth};
pub use import::{NO_FILTER, import};
pub use inline_css::InlineCss;
pub use own_filter::{OwnFilter, own_filter};
pub use standalone::{StandAlone, standalone};
