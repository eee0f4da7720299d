//! How well a piece's edge can be seen, all along it (docs/rendering.md, "Derived numbers").

use kurbo::{Point, Rect, Vec2};
use serde::Serialize;

use super::contrast::{contrast, luminances};
use super::inside::Inside;
use super::profile::ScenePoint;
use super::squint::squinted_luminance;
use crate::blend::Pixel;
use crate::compose::{Canvas, Strip, Viewport};
use crate::raster::flatten;
use crate::resolve::{Piece, Scene};

/// Contrast at one place of an edge.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EdgePoint {
    /// On the edge, on the scene in px.
    pub at: ScenePoint,
    /// The contrast of the band 1 to 3 px inside with the band 1 to 3 px outside.
    pub contrast: f64,
}

/// An edge as it is seen.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EdgeVisibility {
    /// About every 2 px along the edge.
    pub points: Vec<EdgePoint>,
    /// The contrast that nine tenths of the edge reach: the weakest tenth counts.
    pub weakest: f64,
    /// The share of the difference in luminance across the edge that a squinting eye is left with.
    pub squinted: f64,
}

/// A place of an edge, with the way out.
#[derive(Debug, Clone, Copy)]
struct Crossing {
    at: Point,
    outward: Vec2,
}

/// Px from one place to the next.
const STEP: f64 = 2.0;
/// Places in a stretch of an edge that is looked at in part.
const STRETCH: usize = 8;
/// Places at most: large pieces are measured more sparsely.
const MAX_SAMPLES: f64 = 4000.0;

/// The part of a scene an edge has to be drawn in: the piece, and some px around it.
#[must_use]
pub fn edge_view(piece: &Piece, scene: &Scene, around: f64) -> Viewport {
    let bounds = piece.place().transform_rect_bbox(piece.silhouette.bounds()).inflate(around, around);
    let shown = bounds.intersect(Rect::new(0.0, 0.0, scene.width, scene.height));
    let (x, y) = (shown.x0.floor(), shown.y0.floor());
    let side = |length: f64| length.ceil().clamp(1.0, 8192.0) as u32;
    Viewport { x, y, scale: 1.0, width: side(shown.x1 - x), height: side(shown.y1 - y) }
}

/// Where the light along an edge is read.
pub(super) struct Probes {
    /// The pixels that are read.
    pub strip: Strip,
    crossings: Vec<Crossing>,
    /// Of each place of the edge, six: three inside, then three outside.
    reads: Vec<Read>,
}

/// A place between four pixels of the strip.
struct Read {
    pixels: [u32; 4],
    /// How far it is from the left two to the right two, from 0 to 1.
    right: f64,
    /// How far it is from the upper two to the lower two, from 0 to 1.
    down: f64,
}

/// Distances from an edge in px at which light is read; inside is negative.
const DEPTHS: [f64; 6] = [-1.0, -2.0, -3.0, 1.0, 2.0, 3.0];

impl Probes {
    /// Measures along the edge of a piece, in a picture of [`edge_view`], as far as the edge lies on the scene.
    pub fn along(piece: &Piece, viewport: Viewport) -> Self {
        Self::at(crossings(piece), viewport)
    }

    /// Along a quarter of the edge, in stretches from all over it; all of it where that is short.
    pub fn sparser(&self, viewport: Viewport) -> Self {
        let is_short = self.crossings.len() < 8 * STRETCH;
        let kept = |at: &usize| is_short || (at / STRETCH).is_multiple_of(4);
        Self::at((0..self.crossings.len()).filter(kept).map(|at| self.crossings[at]).collect(), viewport)
    }

    fn at(crossings: Vec<Crossing>, viewport: Viewport) -> Self {
        let (mut kept, mut places, mut shares) = (Vec::new(), Vec::new(), Vec::new());
        for crossing in crossings {
            let around = DEPTHS.map(|depth| four_around(&viewport, crossing.at + crossing.outward * depth));
            if around.iter().all(Option::is_some) {
                kept.push(crossing);
                for (four, right, down) in around.into_iter().flatten() {
                    places.extend(four);
                    shares.push((right, down));
                }
            }
        }
        let (strip, numbers) = Strip::through(viewport, &places);
        let reads = numbers.as_chunks::<4>().0.iter().zip(shares);
        let reads = reads.map(|(pixels, (right, down))| Read { pixels: *pixels, right, down }).collect();
        Self { strip, crossings: kept, reads }
    }

    /// The edge in a picture; `sigma` is the blur of a squinting eye, in pixels.
    pub fn visibility(&self, picture: &Canvas, sigma: f64) -> EdgeVisibility {
        let sharp = self.strip.crop(&picture.pixels);
        if sigma <= 0.0 {
            return self.unsquinted_visibility(&sharp);
        }
        let soft = self.strip.crop(&squinted_luminance(picture, sigma));
        self.visibility_of(&luminances(&sharp), &soft)
    }

    /// The edge in the pixels of the strip, with the eye wide open.
    pub fn unsquinted_visibility(&self, pixels: &[Pixel]) -> EdgeVisibility {
        let light = luminances(pixels);
        self.visibility_of(&light, &light)
    }

    fn visibility_of(&self, sharp: &[f64], soft: &[f64]) -> EdgeVisibility {
        let mut points = Vec::with_capacity(self.crossings.len());
        let (mut sharp_sum, mut soft_sum) = (0.0, 0.0);
        for (Crossing { at, .. }, reads) in self.crossings.iter().zip(self.reads.as_chunks::<6>().0) {
            let [inside, outside] = sides(reads, sharp);
            let [soft_in, soft_out] = sides(reads, soft);
            points
                .push(EdgePoint { at: ScenePoint { x: at.x, y: at.y }, contrast: contrast(inside, outside) });
            sharp_sum += (inside - outside).abs();
            soft_sum += (soft_in - soft_out).abs();
        }
        let mut sorted: Vec<f64> = points.iter().map(|point| point.contrast).collect();
        sorted.sort_by(f64::total_cmp);
        let weakest = sorted.get(sorted.len() / 10).copied().unwrap_or(1.0);
        let squinted = if sharp_sum > 1e-9 { (soft_sum / sharp_sum).min(1.0) } else { 1.0 };
        EdgeVisibility { points, weakest, squinted }
    }
}

/// The mean luminance 1 to 3 px inside and outside a place.
fn sides(reads: &[Read; 6], light: &[f64]) -> [f64; 2] {
    let [a, b, c, d, e, f] = reads.each_ref().map(|read| read.sample(light));
    [(a + b + c) / 3.0, (d + e + f) / 3.0]
}

impl Read {
    fn sample(&self, light: &[f64]) -> f64 {
        let [a, b, c, d] = self.pixels.map(|at| light.get(at as usize).copied().unwrap_or_default());
        let row = |left: f64, right: f64| left * (1.0 - self.right) + right * self.right;
        row(a, b) * (1.0 - self.down) + row(c, d) * self.down
    }
}

/// Places along the outline of a piece on its scene.
fn crossings(piece: &Piece) -> Vec<Crossing> {
    let outline = piece.silhouette.outline();
    let lines = flatten(&outline.path, piece.place());
    let length: f64 = lines.iter().map(|(from, to)| (*to - *from).hypot2().sqrt()).sum();
    let step = STEP.max(length / MAX_SAMPLES);
    let mut found = Vec::new();
    let mut next = step / 2.0;
    let mut gone = 0.0;
    for (from, to) in &lines {
        let along = *to - *from;
        let long = along.hypot2().sqrt();
        while long > 0.0 && next <= gone + long {
            let at = *from + along * ((next - gone) / long);
            let normal = Vec2::new(along.y, -along.x) / long;
            found.push((at, normal));
            next += step;
        }
        gone += long;
    }
    let Some(inside) = Inside::new(&lines, 2 * found.len()) else { return Vec::new() };
    found.into_iter().filter_map(|(at, normal)| turned_out(at, normal, &inside)).collect()
}

/// The way out is where one steps out of the silhouette; where both sides are inside or outside, there is no edge.
fn turned_out(at: Point, normal: Vec2, inside: &Inside) -> Option<Crossing> {
    match (inside.holds(at + normal * 0.6), inside.holds(at - normal * 0.6)) {
        (false, true) => Some(Crossing { at, outward: normal }),
        (true, false) => Some(Crossing { at, outward: -normal }),
        _ => None,
    }
}

/// Four pixels as x and y, and how far a place lies to the right and down between them, from 0 to 1.
type Four = ([(u32, u32); 4], f64, f64);

/// The pixels around a place of the scene; nothing off the picture.
fn four_around(viewport: &Viewport, at: Point) -> Option<Four> {
    let (x, y) = ((at.x - viewport.x) * viewport.scale - 0.5, (at.y - viewport.y) * viewport.scale - 0.5);
    let (last_x, last_y) = (f64::from(viewport.width) - 1.0, f64::from(viewport.height) - 1.0);
    if !(-0.5..=last_x + 0.5).contains(&x) || !(-0.5..=last_y + 0.5).contains(&y) {
        return None;
    }
    let (left, top) = (x.floor(), y.floor());
    let pixel =
        |dx: f64, dy: f64| ((left + dx).clamp(0.0, last_x) as u32, (top + dy).clamp(0.0, last_y) as u32);
    let four = [pixel(0.0, 0.0), pixel(1.0, 0.0), pixel(0.0, 1.0), pixel(1.0, 1.0)];
    Some((four, x - left, y - top))
}
