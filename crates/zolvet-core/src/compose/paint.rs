//! Painting one piece with its masks ready.

use kurbo::{Affine, Point};

use super::canvas::Canvas;
use super::coverage::Placed;
use crate::blend::{BlendMode, Pixel, blend};
use crate::colour::Rgba;
use crate::model::Surface;
use crate::resolve::{Layer, Paint, Piece};

/// The masks of one piece: its silhouette, and each coat with how it is laid on.
pub(super) struct PieceMasks {
    pub silhouette: Placed,
    pub coats: Vec<(Layer, BlendMode, Rgba, Placed)>,
}

impl PieceMasks {
    /// The rows that anything of the piece may be in.
    fn rows(&self) -> std::ops::Range<i32> {
        let masks = self.coats.iter().map(|coat| &coat.3).chain([&self.silhouette]);
        let rects = masks.map(Placed::rect).filter(|rect| !rect.is_empty());
        rects
            .map(|rect| rect.y0..rect.y1)
            .reduce(|a, b| a.start.min(b.start)..a.end.max(b.end))
            .unwrap_or(0..0)
    }
}

/// Paints a piece onto the scene, bottom to top.
pub(super) fn paint_piece(
    canvas: &mut Canvas,
    piece: &Piece,
    masks: &PieceMasks,
    place: Affine,
    shadow_only: bool,
) {
    let draws_fill = piece.surface == Surface::Keep && !shadow_only && piece.fill != Paint::None;
    let (width, height) = piece.silhouette.size();
    let brush = Brush {
        piece,
        masks,
        draws_fill,
        sampler: piece.fill.sampler(width, height),
        to_piece: place.inverse(),
        hides_below: draws_fill && piece.fill.is_opaque() && piece.opacity >= 1.0,
    };
    let rows = masks.rows();
    canvas.each_row(|y, row| {
        if rows.contains(&y) {
            brush.row(y, row);
        }
    });
}

struct Brush<'a> {
    piece: &'a Piece,
    masks: &'a PieceMasks,
    draws_fill: bool,
    sampler: crate::resolve::Sampler,
    to_piece: Affine,
    /// The fill is opaque, so that shadows may run on under its edge without showing.
    hides_below: bool,
}

impl Brush<'_> {
    fn row(&self, y: i32, row: &mut [Pixel]) {
        if self.piece.opacity >= 1.0 {
            self.under(y, row);
            self.surface(y, row, self.piece.blend);
            return;
        }
        let mut group = vec![[0.0; 4]; row.len()];
        self.under(y, &mut group);
        self.surface(y, &mut group, BlendMode::Normal);
        lay(row, &group, self.piece.blend, self.piece.opacity as f32);
    }

    /// Shadows under the piece, last in the list first.
    fn under(&self, y: i32, row: &mut [Pixel]) {
        for (layer, mode, colour, mask) in self.masks.coats.iter().rev() {
            let Layer::Drop { knock_out } = layer else {
                continue;
            };
            let knock_out = *knock_out || self.piece.surface == Surface::CutOut;
            let colour = colour.premultiplied();
            for_each_covered(mask, y, row, |x, pixel, coverage| {
                let kept = if knock_out { self.outside(x, y) } else { 1.0 };
                put(pixel, colour, coverage * kept, *mode);
            });
        }
    }

    /// How much of a pixel a knocked-out shadow is kept in.
    fn outside(&self, x: i32, y: i32) -> f32 {
        let inside = self.masks.silhouette.at(x, y);
        // An opaque fill hides what is below it: only where it fills the whole pixel may the shadow be cut, or the
        // ground would shine through along the edge.
        if self.hides_below && inside < 1.0 { 1.0 } else { 1.0 - inside }
    }

    /// The fill with what lies on it, as one group.
    fn surface(&self, y: i32, row: &mut [Pixel], mode: BlendMode) {
        let inner = |coat: &&(Layer, BlendMode, Rgba, Placed)| coat.0 == Layer::Inner;
        let isolated = mode != BlendMode::Normal
            || self.masks.coats.iter().filter(inner).any(|coat| coat.1 != BlendMode::Normal);
        if isolated {
            let mut group = vec![[0.0; 4]; row.len()];
            self.fill_and_inner(y, &mut group);
            lay(row, &group, mode, 1.0);
        } else {
            self.fill_and_inner(y, row);
        }
    }

    fn fill_and_inner(&self, y: i32, row: &mut [Pixel]) {
        let silhouette = &self.masks.silhouette;
        if self.draws_fill {
            for_each_covered(silhouette, y, row, |x, pixel, coverage| {
                let at = Point::new(f64::from(x) + 0.5, f64::from(y) + 0.5);
                put(pixel, self.sampler.at(self.to_piece * at), coverage, BlendMode::Normal);
            });
        }
        for (layer, mode, colour, hole) in self.masks.coats.iter().rev() {
            if *layer != Layer::Inner {
                continue;
            }
            let colour = colour.premultiplied();
            for_each_covered(silhouette, y, row, |x, pixel, coverage| {
                put(pixel, colour, coverage * (1.0 - hole.at(x, y)), *mode);
            });
        }
    }
}

/// Lays a group over a row.
fn lay(row: &mut [Pixel], group: &[Pixel], mode: BlendMode, opacity: f32) {
    for (pixel, source) in row.iter_mut().zip(group) {
        if source[3] > 0.0 {
            *pixel = blend(mode, source.map(|part| part * opacity), *pixel);
        }
    }
}

#[inline]
fn put(pixel: &mut Pixel, colour: Pixel, coverage: f32, mode: BlendMode) {
    if coverage > 0.0 {
        *pixel = blend(mode, colour.map(|part| part * coverage), *pixel);
    }
}

fn for_each_covered(mask: &Placed, y: i32, row: &mut [Pixel], mut paint: impl FnMut(i32, &mut Pixel, f32)) {
    let (start, coverage) = mask.row(y);
    let skip = usize::try_from(-start).unwrap_or(0);
    let first = start.max(0);
    let coverage = coverage.get(skip..).unwrap_or(&[]);
    let pixels = row.get_mut(first as usize..).unwrap_or(&mut []);
    for (i, (pixel, coverage)) in pixels.iter_mut().zip(coverage).enumerate() {
        if *coverage > 0.0 {
            paint(first + i as i32, pixel, *coverage);
        }
    }
}
