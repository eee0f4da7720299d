//! Zolvet's document.
//!
//! A project ([`model`]) is decoded from JSON and checked as a whole; its pictures ([`asset`]) are read; changes of it are JSON
//! Patch ([`patch`]).

#![cfg_attr(not(test), warn(clippy::disallowed_methods))]

pub mod asset;
pub mod model;
pub mod patch;

use zolvet_graphics::{blend, colour, font, geometry, limits, maths, picture, quantity, raster, syntax};
