//! How far one stack's picture is from another's, by the real renderer.

use serde::Serialize;

use crate::colour::Rgba;
use crate::compose::{Canvas, MaskCache, RenderOptions, Viewport, render};
use crate::resolve::{self, Paint, Scene};
use crate::syntax::round_to;

/// Differences of the channels of two pictures, in 255ths, over the pixels that something of them touches, on white
/// and on black ground.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SolveError {
    /// On average.
    pub mean: f64,
    /// Not more than this at 99 % of the pixels.
    pub p99: f64,
    /// At the worst pixel.
    pub worst: f64,
}

/// The most pixels of a picture; larger pieces are drawn smaller.
const PIXELS: f64 = 600_000.0;

/// The pictures of each of some shapes with two stacks; the worst of them.
pub fn compared(shapes: &[resolve::Piece], before: &[resolve::Coat], after: &[resolve::Coat]) -> SolveError {
    let errors = shapes.iter().map(|shape| on_both_grounds(shape, before, after));
    errors.fold(SolveError::default(), worse)
}

fn worse(a: SolveError, b: SolveError) -> SolveError {
    SolveError { mean: a.mean.max(b.mean), p99: a.p99.max(b.p99), worst: a.worst.max(b.worst) }
}

fn on_both_grounds(shape: &resolve::Piece, before: &[resolve::Coat], after: &[resolve::Coat]) -> SolveError {
    let room = before.iter().chain(after).map(room_of).fold(8.0, f64::max).min(1500.0);
    let bounds = shape.silhouette.bounds().inflate(room, room);
    let scale = (PIXELS / (bounds.width() * bounds.height())).sqrt().min(1.0);
    let viewport = Viewport {
        x: 0.0,
        y: 0.0,
        scale,
        width: (bounds.width() * scale).ceil() as u32,
        height: (bounds.height() * scale).ceil() as u32,
    };
    let cache = MaskCache::default();
    let drawn = |ground: f32, coats: &[resolve::Coat]| {
        let piece =
            resolve::Piece { x: -bounds.x0, y: -bounds.y0, rotation: 0.0, clip: None, ..shape.clone() };
        let scene = Scene {
            width: bounds.width(),
            height: bounds.height(),
            ground: Paint::Solid(Rgba::new(ground, ground, ground, 1.0)),
            pieces: vec![piece.with_coats(coats.to_vec())],
            notes: Vec::new(),
        };
        render(&scene, &viewport, &RenderOptions::default(), &cache)
    };
    let on = |ground: f32| difference(&drawn(ground, before), &drawn(ground, after), ground);
    worse(on(1.0), on(0.0))
}

fn room_of(coat: &resolve::Coat) -> f64 {
    match &coat.op {
        resolve::PaintOp::Shadow(shadow) => {
            shadow.dx.abs().max(shadow.dy.abs()) + shadow.spread.max(0.0) + 1.6 * shadow.blur
        }
        resolve::PaintOp::Stroke { style, .. } => style.width,
        _ => 0.0,
    }
}

fn difference(before: &Canvas, after: &Canvas, ground: f32) -> SolveError {
    let mut offs = Vec::new();
    for y in 0..i64::from(before.height) {
        for x in 0..i64::from(before.width) {
            let (a, b) = (before.at(x, y), after.at(x, y));
            let channels = [(a.r, b.r), (a.g, b.g), (a.b, b.b)];
            let touched = channels.iter().any(|(a, b)| (a - ground).abs().max((b - ground).abs()) > 1e-4);
            let off = channels.iter().map(|(a, b)| f64::from((a - b).abs())).fold(0.0, f64::max);
            if touched {
                offs.push(off * 255.0);
            }
        }
    }
    offs.sort_by(f64::total_cmp);
    let Some(worst) = offs.last() else { return SolveError::default() };
    let mean = offs.iter().sum::<f64>() / offs.len() as f64;
    let p99 = offs[(offs.len() - 1) * 99 / 100];
    SolveError { mean: round_to(mean, 3), p99: round_to(p99, 3), worst: round_to(*worst, 3) }
}
