//! Formats that Zolvet reads and writes: style sheets ([`css`]), drawings and filters ([`svg`]), design tokens
//! ([`tokens`]).
//!
//! Readers return an [`import`], with each thing that was not understood and its place. Code is written as [`markup`].

#![cfg_attr(not(test), warn(clippy::disallowed_methods))]

pub mod css;
pub mod import;
pub mod markup;
pub mod svg;
pub mod tokens;

use zolvet_graphics::{blend, blur, budget, colour, geometry, limits, maths, picture, syntax};
use zolvet_model::{asset, model};
use zolvet_render::{compose, lower, resolve};
