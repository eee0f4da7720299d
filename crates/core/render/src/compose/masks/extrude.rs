//! The colour of solid thickness, from near to far.

use kurbo::{Affine, BezPath, Point, Vec2};

use super::placed_mask::PlacedMask;
use super::tile::{Tile, TilePixels as _};
use crate::blur::Scratch;
use crate::colour::{Rgba, mix_oklab};
use crate::raster::{Rect, flatten};

/// Steps of colour between near and far.
const SHADES: usize = 256;

/// The sweep's coverage in the colours of how far each pixel lies from the piece, along the sweep.
pub(in crate::compose) fn coloured(
    (sweep, piece): (&PlacedMask, &PlacedMask),
    (outline, place): (&BezPath, Affine),
    by: Vec2,
    (near, far): (Rgba, Rgba),
) -> Tile {
    let shades: Vec<_> =
        (0..=SHADES).map(|i| mix_oklab(near, far, i as f32 / SHADES as f32).premultiplied()).collect();
    let mut tile = Tile::empty(sweep.rect());
    let depths = Depths::new(tile.rect, outline, place, by);
    tile.each_row(|y, row| {
        let (start, mut room) = (sweep.rect().x0, [Scratch::default(), Scratch::default()]);
        let [first, second] = &mut room;
        let (_, coverage) = sweep.span(y, start, row.len(), first);
        let (from, body) = piece.span(y, start, row.len(), second);
        let is_inside =
            |i: usize| i.checked_sub(from).and_then(|i| body.get(i)).is_some_and(|body| *body >= 0.5);
        for (i, (pixel, coverage)) in row.iter_mut().zip(coverage).enumerate() {
            if *coverage > 0.0 {
                let x = start + i as i32;
                let depth = if is_inside(i) { 0.0 } else { depths.around(x, y) };
                let shade = shades[(depth.clamp(0.0, 1.0) * SHADES as f32 + 0.5) as usize];
                *pixel = shade.map(|part| part * coverage);
            }
        }
    });
    tile
}

/// How far back along the sweep the piece is, for each pixel of a rectangle: 0 at the piece, 1 at the end. Pixels whose
/// middle no side sweeps over have none; they lie on the edge. Values inside the piece are not meaningful.
struct Depths {
    rect: Rect,
    values: Vec<f32>,
}

impl Depths {
    /// Each side of the outline sweeps a parallelogram, over which the depth is a plane; the nearest side counts.
    fn new(rect: Rect, outline: &BezPath, place: Affine, by: Vec2) -> Self {
        let values = vec![f32::INFINITY; rect.width() * rect.height()];
        let mut depths = Self { rect, values };
        for (from, to) in flatten(outline, place) {
            depths.sweep(from, to, by);
        }
        depths
    }

    fn sweep(&mut self, from: Point, to: Point, by: Vec2) {
        let side = to - from;
        let turn = by.cross(side);
        if turn.abs() < 1e-9 {
            return;
        }
        let corners = [from, to, to + by, from + by];
        let (top, bottom) = corners.iter().fold((f64::MAX, f64::MIN), |(a, b), p| (a.min(p.y), b.max(p.y)));
        let first = (top - 0.5).ceil().max(f64::from(self.rect.y0)) as i32;
        let last = (bottom - 0.5).floor().min(f64::from(self.rect.y1 - 1)) as i32;
        for y in first..=last {
            let middle = f64::from(y) + 0.5;
            let Some((left, right)) = crossed(&corners, middle) else { continue };
            let x0 = (left - 0.5).ceil().max(f64::from(self.rect.x0)) as i32;
            let x1 = (right - 0.5).floor().min(f64::from(self.rect.x1 - 1)) as i32;
            if x0 > x1 {
                continue;
            }
            let depth = |x: f64| (Point::new(x, middle) - from).cross(side) / turn;
            let (mut depth, step) = (depth(f64::from(x0) + 0.5), side.y / turn);
            let row = (y - self.rect.y0) as usize * self.rect.width();
            let start = row + (x0 - self.rect.x0) as usize;
            for value in &mut self.values[start..=start + (x1 - x0) as usize] {
                *value = value.min(depth as f32);
                depth += step;
            }
        }
    }

    /// The depth at a pixel, or on an edge that of the nearest pixel beside it.
    fn around(&self, x: i32, y: i32) -> f32 {
        let own = self.at(x, y);
        if own.is_finite() {
            return own;
        }
        let beside = [(0, -1), (-1, 0), (1, 0), (0, 1)].map(|(dx, dy)| self.at(x + dx, y + dy));
        let nearest = beside.into_iter().fold(f32::INFINITY, f32::min);
        if nearest.is_finite() { nearest } else { 0.0 }
    }

    fn at(&self, x: i32, y: i32) -> f32 {
        let Rect { x0, y0, x1, y1 } = self.rect;
        let inside = x0 <= x && x < x1 && y0 <= y && y < y1;
        if !inside {
            return f32::INFINITY;
        }
        self.values[(y - y0) as usize * self.rect.width() + (x - x0) as usize]
    }
}

/// Where a horizontal line enters and leaves a convex shape.
fn crossed(corners: &[Point; 4], y: f64) -> Option<(f64, f64)> {
    let mut crossed: Option<(f64, f64)> = None;
    for (i, from) in corners.iter().enumerate() {
        let to = corners[(i + 1) % 4];
        if (from.y <= y) == (to.y <= y) {
            continue;
        }
        let x = from.x + (y - from.y) / (to.y - from.y) * (to.x - from.x);
        crossed = Some(crossed.map_or((x, x), |(left, right)| (left.min(x), right.max(x))));
    }
    crossed
}
