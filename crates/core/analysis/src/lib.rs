//! Analysis of a document: measures, solvers, reports and audits.
//!
//! Instruments measure its pictures ([`measure`]), stacks are searched for ([`solve`]), pieces and finishes are reported on
//! ([`report`]), and a whole project is checked ([`audit`]).

#![cfg_attr(not(test), warn(clippy::disallowed_methods))]

pub mod audit;
pub mod measure;
pub mod report;
pub mod solve;

use zolvet_formats::{css, svg};
use zolvet_graphics::{
    blend, blur, budget, colour, geometry, limits, maths, parallel, picture, quantity, raster, syntax,
};
use zolvet_model::{asset, model, patch};
use zolvet_render::{arrange, chromium, compose, lower, resolve};
