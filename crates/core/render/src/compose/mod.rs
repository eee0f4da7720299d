//! A resolved scene to pixels, in the order of docs/rendering.md, "Order".
//!
//! First every mask and tile the picture needs is made (or taken from the cache), then each piece is painted: what lies
//! behind it is blurred, shadows are composited from the farthest to the nearest, then its surface with what lies
//! on it.

mod backdrop;
mod cache;
mod canvas;
mod cast;
mod cells;
mod context;
mod cost;
mod coverage;
mod extrude;
mod hidden;
mod knockout;
mod layer;
mod layer_builder;
mod layers;
mod paint;
mod painting;
mod placed_mask;
mod redraw;
mod render;
mod solid;
mod source;
mod span;
mod strip;
mod surface;
mod tile;
mod tone;
mod viewport;

pub use cache::MaskCache;
pub use canvas::{Canvas, Rounding};
pub use coverage::Coverage;
pub use coverage::RenderMode;
pub(crate) use coverage::Renderer;
pub use redraw::{Redrawn, Region, Shown, redraw};
pub use render::{picture, render, render_onto, render_over};
pub use strip::Strip;
pub use viewport::{CoatFilter, RenderOptions, Viewport};
