//! Loops over many values, with the widest registers that the processor has.
//!
//! Every width gives the same bits: sums keep their order, and no multiplication is fused with an addition.

use fearless_simd::prelude::*;
use fearless_simd::{Level, dispatch, f32x4};

/// Does `work`, which is compiled once for each width. Only functions that are inlined into it gain.
#[inline(always)]
pub fn widest<R>(work: impl FnOnce() -> R) -> R {
    dispatch!(Level::new(), _simd => work())
}

/// Composites sources over pixels, one over each, all of them premultiplied: the sum of the source and the share of the
/// pixel that shows through. A pixel is one register, so that its parts need not be sorted into others.
#[inline(always)]
pub fn over_each(pixels: &mut [[f32; 4]], sources: impl Iterator<Item = [f32; 4]>) {
    dispatch!(Level::new(), simd => over_in(simd, pixels, sources));
}

#[inline(always)]
fn over_in<S: Simd>(simd: S, pixels: &mut [[f32; 4]], sources: impl Iterator<Item = [f32; 4]>) {
    for (pixel, source) in pixels.iter_mut().zip(sources) {
        let shows = simd.splat_f32x4(1.0 - source[3]);
        let below = f32x4::simd_from(simd, *pixel);
        *pixel = *(f32x4::simd_from(simd, source) + below * shows);
    }
}

/// Composites one premultiplied colour over pixels, of it a share over each.
#[inline(always)]
pub fn colour_over_each(pixels: &mut [[f32; 4]], colour: [f32; 4], shares: &[f32]) {
    dispatch!(Level::new(), simd => colour_over_in(simd, pixels, colour, shares));
}

#[inline(always)]
fn colour_over_in<S: Simd>(simd: S, pixels: &mut [[f32; 4]], colour: [f32; 4], shares: &[f32]) {
    let (one, alpha) = (simd.splat_f32x4(1.0), simd.splat_f32x4(colour[3]));
    let colour = f32x4::simd_from(simd, colour);
    for (pixel, share) in pixels.iter_mut().zip(shares) {
        let share = simd.splat_f32x4(*share);
        let below = f32x4::simd_from(simd, *pixel);
        *pixel = *(colour * share + below * (one - alpha * share));
    }
}

/// Lets a share of each pixel through a solid colour.
#[inline(always)]
pub fn colour_before_each(pixels: &mut [[f32; 4]], colour: [f32; 4], through: &[f32]) {
    dispatch!(Level::new(), simd => colour_before_in(simd, pixels, colour, through));
}

#[inline(always)]
fn colour_before_in<S: Simd>(simd: S, pixels: &mut [[f32; 4]], colour: [f32; 4], through: &[f32]) {
    let (one, colour) = (simd.splat_f32x4(1.0), f32x4::simd_from(simd, colour));
    for (pixel, through) in pixels.iter_mut().zip(through) {
        let through = simd.splat_f32x4(*through);
        let below = f32x4::simd_from(simd, *pixel);
        *pixel = *(colour * (one - through) + below * through);
    }
}

/// Takes of each pixel its share.
#[inline(always)]
pub fn scale_each(pixels: &mut [[f32; 4]], shares: &[f32]) {
    dispatch!(Level::new(), simd => shares_in(simd, pixels, shares));
}

#[inline(always)]
fn shares_in<S: Simd>(simd: S, pixels: &mut [[f32; 4]], shares: &[f32]) {
    for (pixel, share) in pixels.iter_mut().zip(shares) {
        *pixel = *(f32x4::simd_from(simd, *pixel) * simd.splat_f32x4(*share));
    }
}
