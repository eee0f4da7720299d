//! How far one stack's picture is from another's, by the real renderer.

use std::collections::BTreeMap;

use serde::Serialize;

use super::forward::PremultipliedLayer;
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

/// The most pixels of a picture of a box, and of any other silhouette; larger pieces are drawn smaller.
const PIXELS: f64 = 1_000_000.0;
const PIXELS_OF_OUTLINES: f64 = 200_000.0;

/// Pictures of some shapes with one stack, which others are held against.
pub struct Pictures<'a> {
    shapes: &'a [resolve::Piece],
    before: &'a [resolve::Coat],
    frames: Vec<Frame>,
}

/// A shape with the stack on it, on white and on black ground.
struct Frame {
    place: Place,
    room: f64,
    /// Masks that stacks have in common.
    cache: MaskCache,
    on: [Canvas; 2],
}

/// Where a shape lies in its picture.
struct Place {
    left: f64,
    top: f64,
    viewport: Viewport,
}

const GROUNDS: [f32; 2] = [1.0, 0.0];

impl<'a> Pictures<'a> {
    /// Draws the stack on every shape.
    #[must_use]
    pub fn new(shapes: &'a [resolve::Piece], before: &'a [resolve::Coat]) -> Self {
        let room = room_of_all(before);
        Self { shapes, before, frames: shapes.iter().map(|shape| Frame::new(shape, before, room)).collect() }
    }

    /// How far another stack is off, on the shape where it is worst.
    #[must_use]
    pub fn error(&self, after: &[resolve::Coat]) -> SolveError {
        let room = room_of_all(after);
        let of_shape = |(shape, frame): (&resolve::Piece, &Frame)| {
            if room > frame.room {
                let wider = Frame::new(shape, self.before, room);
                return wider.error(shape, after);
            }
            frame.error(shape, after)
        };
        self.shapes.iter().zip(&self.frames).map(of_shape).fold(SolveError::default(), worse)
    }

    /// How far another stack is off at every pixel of every shape; nothing is told of a shape that is drawn smaller.
    #[must_use]
    pub fn differences(&self, after: &[resolve::Coat]) -> Vec<Differences> {
        self.shapes.iter().zip(&self.frames).map(|(shape, frame)| frame.differences(shape, after)).collect()
    }
}

impl Place {
    fn new(shape: &resolve::Piece, room: f64) -> Self {
        let bounds = shape.silhouette.bounds().inflate(room, room);
        // A piece on whole pixels, as those of a page are.
        let (left, top) = (bounds.x0.floor(), bounds.y0.floor());
        let (width, height) = (bounds.x1.ceil() - left, bounds.y1.ceil() - top);
        let most = if shape.silhouette.is_box() { PIXELS } else { PIXELS_OF_OUTLINES };
        let scale = (most / (width * height)).sqrt().min(1.0);
        let [width, height] = [width, height].map(|side| (side * scale).ceil() as u32);
        Self { left, top, viewport: Viewport { x: 0.0, y: 0.0, scale, width, height } }
    }

    /// A shape with a stack, on white and on black ground.
    fn render(&self, shape: &resolve::Piece, coats: &[resolve::Coat], cache: &MaskCache) -> [Canvas; 2] {
        let [width, height] =
            [self.viewport.width, self.viewport.height].map(|side| f64::from(side) / self.viewport.scale);
        GROUNDS.map(|ground| {
            let placed =
                resolve::Piece { x: -self.left, y: -self.top, rotation: 0.0, clip: None, ..shape.clone() };
            let ground = Paint::Solid(Rgba::new(ground, ground, ground, 1.0));
            let pieces = vec![placed.with_coats(coats.to_vec())];
            let scene = Scene { width, height, ground, pieces, notes: Vec::new() };
            render(&scene, &self.viewport, &RenderOptions::default(), cache)
        })
    }
}

impl Frame {
    fn new(shape: &resolve::Piece, coats: &[resolve::Coat], room: f64) -> Self {
        let place = Place::new(shape, room);
        let cache = MaskCache::default();
        Self { on: place.render(shape, coats, &cache), place, room, cache }
    }

    fn error(&self, shape: &resolve::Piece, after: &[resolve::Coat]) -> SolveError {
        let drawn = self.place.render(shape, after, &self.cache);
        let all = self.on.iter().zip(&drawn).zip(GROUNDS);
        all.map(|((before, after), ground)| difference(before, after, ground))
            .fold(SolveError::default(), worse)
    }

    fn differences(&self, shape: &resolve::Piece, after: &[resolve::Coat]) -> Differences {
        let Place { left, top, viewport } = &self.place;
        if viewport.scale < 1.0 {
            return Differences::default();
        }
        let drawn = self.place.render(shape, after, &self.cache);
        let (width, height) = (viewport.width as usize, viewport.height as usize);
        let off = |ground: usize, x: usize, y: usize| {
            let (after, before) =
                (drawn[ground].at(x as i64, y as i64), self.on[ground].at(x as i64, y as i64));
            [after.r - before.r, after.g - before.g, after.b - before.b].map(f64::from)
        };
        let places = (0..height).flat_map(|y| (0..width).map(move |x| (x, y)));
        let veil = |(x, y)| {
            // White shows through where black does not.
            let ([r, g, b], white) = (off(1, x, y), off(0, x, y));
            [r, g, b, ((white[0] - r) + (white[1] - g) + (white[2] - b)) / 3.0]
        };
        Differences { left: *left as i64, top: *top as i64, width, veils: places.map(veil).collect() }
    }
}

/// How far a stack is off at every pixel of a picture, in px of the piece.
#[derive(Default)]
pub struct Differences {
    left: i64,
    top: i64,
    width: usize,
    veils: Vec<PremultipliedLayer>,
}

/// No two places of one tile of so many px are looked at closely.
const TILE: usize = 4;

impl Differences {
    /// In the pixel around a place; none outside the picture.
    #[must_use]
    pub fn at(&self, x: f64, y: f64) -> PremultipliedLayer {
        let (x, y) = (x.floor() as i64 - self.left, y.floor() as i64 - self.top);
        let is_in = x >= 0 && y >= 0 && x < self.width as i64;
        let veil = is_in.then(|| self.veils.get(y as usize * self.width + x as usize)).flatten();
        veil.copied().unwrap_or_default()
    }

    /// The middles of the pixels that are off the most, spread over the picture.
    #[must_use]
    pub fn worst(&self, most: usize) -> Vec<(f64, f64)> {
        let across = self.width.div_ceil(TILE);
        let mut of_tile: BTreeMap<usize, (f64, usize)> = BTreeMap::new();
        for (number, veil) in self.veils.iter().enumerate() {
            let off = seen_off(veil);
            let tile = number / self.width / TILE * across + number % self.width / TILE;
            let worst = of_tile.entry(tile).or_insert((off, number));
            if off > worst.0 {
                *worst = (off, number);
            }
        }
        let mut all: Vec<(f64, usize)> = of_tile.into_values().collect();
        all.sort_by(|a, b| b.0.total_cmp(&a.0));
        let middle = |number: usize| {
            let (x, y) = ((number % self.width) as i64 + self.left, (number / self.width) as i64 + self.top);
            (x as f64 + 0.5, y as f64 + 0.5)
        };
        all.into_iter().take(most).map(|(_, number)| middle(number)).collect()
    }

    /// The greatest, on black or on white.
    #[must_use]
    pub fn greatest(&self) -> f64 {
        self.veils.iter().map(seen_off).fold(0.0, f64::max)
    }
}

/// On black and on white ground, whichever shows it more.
pub fn seen_off(veil: &PremultipliedLayer) -> f64 {
    let [r, g, b, shows] = *veil;
    [r, g, b].into_iter().map(|channel| channel.abs().max((channel + shows).abs())).fold(0.0, f64::max)
}

fn worse(a: SolveError, b: SolveError) -> SolveError {
    SolveError { mean: a.mean.max(b.mean), p99: a.p99.max(b.p99), worst: a.worst.max(b.worst) }
}

fn room_of_all(coats: &[resolve::Coat]) -> f64 {
    coats.iter().map(room_of).fold(8.0, f64::max).min(1500.0).ceil()
}

fn room_of(coat: &resolve::Coat) -> f64 {
    match &coat.op {
        resolve::PaintOp::Shadow(shadow) => {
            shadow.dx.abs().max(shadow.dy.abs()) + shadow.spread.max(0.0) + 1.6 * shadow.blur
        }
        resolve::PaintOp::Stroke { style, .. } => style.width,
        resolve::PaintOp::Highlight(_)
        | resolve::PaintOp::Tint(_)
        | resolve::PaintOp::Blur(_)
        | resolve::PaintOp::Backdrop(_)
        | resolve::PaintOp::Extrude(_)
        | resolve::PaintOp::Cast(_) => 0.0,
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
