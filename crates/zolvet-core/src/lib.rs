//! Zolvet's rules and computation.
//!
//! A project document ([`model`]) is decoded and checked, its pictures ([`asset`]) and icons ([`geometry::icon`]) are read, then
//! it is resolved ([`resolve`]): followed lights, swatches and text become plain numbers, colours and outlines. Only a
//! resolved scene reaches the renderer ([`compose`]), what
//! lowers it to a target ([`lower`]) for the writers ([`css`], [`svg`]) and for Chromium's picture of it ([`chromium`]), and
//! the instruments ([`measure`]). Each module uses only those before it: `cargo xtask direction` checks that.
//!
//! All lengths are CSS px with y down; all angles are degrees; opacities run from 0 to 1. The crate does no
//! I/O, reads no clock and knows nothing of the interface.

pub mod arrange;
pub mod asset;
pub mod audit;
pub mod blend;
pub mod blur;
pub mod budget;
pub mod chromium;
pub mod colour;
pub mod compose;
pub mod css;
pub mod font;
pub mod geometry;
pub mod handoff;
pub mod import;
pub mod incoming;
pub mod limits;
pub mod lower;
pub mod markup;
mod maths;
pub mod measure;
pub mod model;
mod parallel;
pub mod patch;
pub mod picture;
pub mod quantity;
pub mod raster;
pub mod report;
pub mod resolve;
mod simd;
pub mod solve;
pub mod svg;
pub mod syntax;
pub mod tokens;
