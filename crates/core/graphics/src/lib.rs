//! Foundations of Zolvet's rules: colours, pictures, shapes and their coverage.
//!
//! A colour ([`colour`]) is blended with another ([`blend`]); a shape ([`geometry`]), with the fonts of texts ([`font`]), covers
//! pixels ([`raster`]), which can be blurred ([`blur`]). Pictures ([`picture`]) are read and written. What may take long spends from a
//! budget ([`budget`]); how much there may be of anything stands in [`limits`].
//!
//! All lengths are CSS px with y down; opacities run from 0 to 1.

#![cfg_attr(not(test), warn(clippy::disallowed_methods))]

pub mod blend;
pub mod blur;
pub mod budget;
pub mod colour;
pub mod font;
pub mod geometry;
pub mod limits;
pub mod maths;
pub mod parallel;
pub mod picture;
pub mod quantity;
pub mod raster;
pub mod simd;
pub mod syntax;
