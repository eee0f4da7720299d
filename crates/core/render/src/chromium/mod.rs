//! Scenes and filter graphs as Chromium draws them (docs/rendering.md, "Chromium"): its arithmetic, and nothing of ours.

mod boxes;
mod element;
mod filter;
mod flatten;
mod letters;
mod narrow;
mod nine_patch;
mod predict;
mod raster;
mod renderer;

pub use boxes::boxes;
pub use predict::{Predicted, predicted, predicted_as_svg, scene_of_code, shown_as_css, shown_as_svg};
pub use renderer::{CSS, SVG};
