//! Drawings: SVG files in full colour (docs/drawings.md).
//!
//! A file is checked ([`DrawingFile`]) and read into its elements in painting order ([`Drawing`]); some or all of them make up a
//! shape ([`DrawnShape`]), which paints itself. Paths in colours and gradients are drawn by the raster that draws pieces; masks,
//! patterns, filters and pictures by resvg.

mod cache;
mod element;
mod file;
mod fonts;
mod gradient;
mod ink;
mod names;
mod paint;
mod paints;
mod prepared;
mod read;
mod shape;
mod texts;
mod tree;
mod work;

pub use element::{Element, ElementArea, ElementPaint, ElementText, LinearStops, Untakeable};
pub use file::DrawingFile;
pub use ink::Painting;
pub use names::{after_tag_name, is_drawn};
pub use read::Drawing;
pub use shape::DrawnShape;
