//! Zolvet's rules and computation.
//!
//! A project document ([`model`]) is decoded and checked, its pictures ([`asset`]) and icons ([`icon`]) are read, then
//! it is resolved ([`resolve`]): followed lights, swatches and text become plain numbers, colours and outlines. Only a
//! resolved scene reaches the renderer ([`compose`]), the hand-off writers ([`css`]) and the instruments ([`measure`]).
//!
//! All lengths are CSS px with y down; all angles are degrees; opacities run from 0 to 1. The crate does no
//! I/O, reads no clock and knows nothing of the interface.

pub mod asset;
pub mod audit;
pub mod blend;
pub mod blur;
pub mod budget;
pub mod colour;
pub mod compose;
pub mod conventions;
pub mod css;
pub mod filter;
pub mod finishes;
pub mod geometry;
pub mod handoff;
pub mod icon;
pub mod incoming;
pub mod measure;
pub mod model;
mod names;
pub mod picture;
pub mod raster;
pub mod report;
pub mod resolve;
mod rows;
pub mod svg;
mod syntax;
pub mod tokens;
