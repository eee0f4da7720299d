//! Resolving, composing and lowering of a document.
//!
//! A scene is resolved ([`resolve`]): followed lights, swatches and text become plain numbers, colours and outlines. It is composed
//! to a picture ([`compose`]), or lowered ([`lower`]) to what a target such as `box-shadow` can express, which [`chromium`] draws as
//! that browser does.

#![cfg_attr(not(test), warn(clippy::disallowed_methods))]

pub mod arrange;
pub mod chromium;
pub mod compose;
pub mod lower;
pub mod resolve;

use zolvet_graphics::{
    blend, blur, budget, colour, geometry, limits, maths, parallel, picture, raster, simd, syntax,
};
use zolvet_model::{asset, model, patch};
