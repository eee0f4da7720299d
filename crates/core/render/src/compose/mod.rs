//! A resolved scene to pixels, in the order of docs/rendering.md, "Order".
//!
//! First every mask and tile the picture needs is made (or taken from the cache; `masks`, `layers`), then each piece is
//! painted, from what lies behind it to what lies on it (`paint`). `redraw` paints only what has changed, and `cost` says
//! beforehand what a picture takes.

mod cache;
mod canvas;
mod context;
mod cost;
mod layers;
mod masks;
mod paint;
mod redraw;
mod render;
mod strip;
mod viewport;

pub use cache::MaskCache;
pub use canvas::{Canvas, Rounding};
pub(crate) use masks::coverage::Renderer;
pub use masks::coverage::{Coverage, RenderMode};
pub use redraw::regions::{LastPicture, Redrawn, Region, Shown, redraw};
pub use render::{picture, render, render_onto, render_over};
pub use strip::Strip;
pub use viewport::{CoatFilter, RenderOptions, Viewport};
