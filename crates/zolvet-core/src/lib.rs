//! Zolvet's rules and computation.
//!
//! A project document ([`model`]) is decoded and checked, its pictures ([`asset`]) and icons ([`geometry::icon`]) are read, then
//! it is resolved ([`resolve`]): followed lights, swatches and text become plain numbers, colours and outlines. Only a
//! resolved scene reaches the renderer ([`compose`]), what
//! lowers it to a target ([`lower`]) for the writers ([`css`], [`svg`]) and for Chromium's picture of it ([`chromium`]), and
//! the instruments ([`measure`]). Each of these is a crate, or a module of one, that uses only those before it.
//!
//! All lengths are CSS px with y down; all angles are degrees; opacities run from 0 to 1. The crate does no
//! I/O, reads no clock and knows nothing of the interface.

#![cfg_attr(not(test), warn(clippy::disallowed_methods))]

pub mod handoff;
pub mod incoming;

pub use zolvet_analysis::{audit, measure, report, solve};
pub use zolvet_formats::{css, import, markup, svg, tokens};
pub use zolvet_graphics::{
    blend, blur, budget, colour, font, geometry, limits, picture, quantity, raster, syntax,
};
pub use zolvet_model::{asset, model, patch};
pub use zolvet_render::{arrange, chromium, compose, lower, resolve};

use zolvet_graphics::maths;
