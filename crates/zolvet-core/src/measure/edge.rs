//! How well a piece's edge can be seen, all along it (DESIGN §4.6).

use kurbo::{Point, Rect, Vec2};
use serde::Serialize;

use super::contrast::{contrast, luminance_quickly};
use super::profile::Place;
use super::sight::squinted;
use crate::compose::{Canvas, View};
use crate::raster::flatten;
use crate::resolve::{Piece, Scene};

/// Contrast at one place of an edge.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EdgePoint {
    /// On the edge, on the scene in px.
    pub at: Place,
    /// The contrast of what lies 1 to 3 px inside with what lies 1 to 3 px outside.
    pub contrast: f64,
}

/// An edge as it is seen.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EdgeSight {
    /// About every 2 px along the edge.
    pub points: Vec<EdgePoint>,
    /// The contrast that nine tenths of the edge reach: the weakest tenth counts.
    pub weakest: f64,
    /// The share of the difference in luminance across the edge that a squinting eye is left with.
    pub squinted: f64,
}

/// A place of an edge, with the way out.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Crossing {
    pub at: Point,
    pub outward: Vec2,
}

/// Px from one place to the next.
const STEP: f64 = 2.0;
/// Places at most: large pieces are measured more sparsely.
const MOST: f64 = 4000.0;

/// The part of a scene an edge has to be drawn in: the piece, and some px around it.
#[must_use]
pub fn edge_view(piece: &Piece, scene: &Scene, around: f64) -> View {
    let bounds = piece.place().transform_rect_bbox(piece.silhouette.bounds()).inflate(around, around);
    let shown = bounds.intersect(Rect::new(0.0, 0.0, scene.width, scene.height));
    let (x, y) = (shown.x0.floor(), shown.y0.floor());
    let side = |length: f64| length.ceil().clamp(1.0, 8192.0) as u32;
    View { x, y, scale: 1.0, width: side(shown.x1 - x), height: side(shown.y1 - y) }
}

/// Measures an edge in a picture of [`edge_view`]; `sigma` is what a squinting eye mixes. Only what lies on the scene is
/// measured.
pub(super) fn edge_sight(crossings: &[Crossing], picture: &Canvas, view: &View, sigma: f64) -> EdgeSight {
    let soft = (sigma > 0.0).then(|| squinted(picture, sigma));
    let mut points = Vec::new();
    let (mut sharp_sum, mut soft_sum) = (0.0, 0.0);
    for crossing in crossings {
        let bands =
            |canvas: &Canvas| Some((band(canvas, view, crossing, -1.0)?, band(canvas, view, crossing, 1.0)?));
        let Some((inside, outside)) = bands(picture) else { continue };
        let (soft_in, soft_out) = soft.as_ref().and_then(bands).unwrap_or((inside, outside));
        let at = Place { x: crossing.at.x, y: crossing.at.y };
        points.push(EdgePoint { at, contrast: contrast(inside, outside) });
        sharp_sum += (inside - outside).abs();
        soft_sum += (soft_in - soft_out).abs();
    }
    let mut sorted: Vec<f64> = points.iter().map(|point| point.contrast).collect();
    sorted.sort_by(f64::total_cmp);
    let weakest = sorted.get(sorted.len() / 10).copied().unwrap_or(1.0);
    let squinted = if sharp_sum > 1e-9 { (soft_sum / sharp_sum).min(1.0) } else { 1.0 };
    EdgeSight { points, weakest, squinted }
}

/// Places along the outline of a piece on its scene.
pub(crate) fn crossings(piece: &Piece) -> Vec<Crossing> {
    let outline = piece.silhouette.outline();
    let lines = flatten(&outline.path, piece.place());
    let length: f64 = lines.iter().map(|(from, to)| from.distance(*to)).sum();
    let step = STEP.max(length / MOST);
    let mut found = Vec::new();
    let mut next = step / 2.0;
    let mut gone = 0.0;
    for (from, to) in &lines {
        let along = *to - *from;
        let long = along.hypot();
        while long > 0.0 && next <= gone + long {
            let at = *from + along * ((next - gone) / long);
            let normal = Vec2::new(along.y, -along.x) / long;
            found.push((at, normal));
            next += step;
        }
        gone += long;
    }
    found.into_iter().filter_map(|(at, normal)| turned_out(at, normal, &lines)).collect()
}

/// The way out is where one steps out of the silhouette; where both sides are inside or outside, there is no edge.
fn turned_out(at: Point, normal: Vec2, lines: &[(Point, Point)]) -> Option<Crossing> {
    let inside = |point: Point| {
        let turns: i32 = lines.iter().map(|(from, to)| winding(*from, *to, point)).sum();
        turns != 0
    };
    match (inside(at + normal * 0.6), inside(at - normal * 0.6)) {
        (false, true) => Some(Crossing { at, outward: normal }),
        (true, false) => Some(Crossing { at, outward: -normal }),
        _ => None,
    }
}

/// What a line adds to the winding number of a point.
fn winding(from: Point, to: Point, point: Point) -> i32 {
    let side = (to - from).cross(point - from);
    if from.y <= point.y && to.y > point.y && side > 0.0 {
        1
    } else if from.y > point.y && to.y <= point.y && side < 0.0 {
        -1
    } else {
        0
    }
}

/// The mean luminance 1 to 3 px outward (or, for -1, inward) of a place; nothing off the picture.
fn band(canvas: &Canvas, view: &View, crossing: &Crossing, side: f64) -> Option<f64> {
    let mut sum = 0.0;
    for distance in [1.0, 2.0, 3.0] {
        let at = crossing.at + crossing.outward * (side * distance);
        sum += luminance_in(canvas, view, at)?;
    }
    Some(sum / 3.0)
}

/// Between the four pixels around a place.
fn luminance_in(canvas: &Canvas, view: &View, at: Point) -> Option<f64> {
    let (x, y) = ((at.x - view.x) * view.scale - 0.5, (at.y - view.y) * view.scale - 0.5);
    let inside = (-0.5..=f64::from(canvas.width) - 0.5).contains(&x)
        && (-0.5..=f64::from(canvas.height) - 0.5).contains(&y);
    if !inside {
        return None;
    }
    let (left, top) = (x.floor(), y.floor());
    let (right, down) = (x - left, y - top);
    let pixel = |dx: i64, dy: i64| {
        let (x, y) = (left as i64 + dx, top as i64 + dy);
        let x = x.clamp(0, i64::from(canvas.width) - 1);
        let y = y.clamp(0, i64::from(canvas.height) - 1);
        luminance_quickly(canvas.at(x, y))
    };
    let row = |dy: i64| pixel(0, dy) * (1.0 - right) + pixel(1, dy) * right;
    Some(row(0) * (1.0 - down) + row(1) * down)
}
