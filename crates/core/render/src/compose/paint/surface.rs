//! Painting a piece's surface: its fill, and the layers on it, as one group.

use std::ops::Range;

use kurbo::{Affine, Point};

use super::span::{
    PixelSpan, SpanPaint, composite, composite_colour, composite_pixel, composite_shares, composite_tile,
};
use crate::blend::{BlendMode, Pixel};
use crate::blur::Scratch;
use crate::compose::layers::layer::{Layer, LayerContent, Members, PieceLayers};
use crate::compose::masks::placed_mask::PlacedMask;
use crate::compose::masks::tile::{Tile, TilePixels as _};
use crate::raster::{Rect, RowStart};
use crate::resolve::Sampler;
use crate::simd::{scale_each, widest};

impl PieceLayers {
    /// The whole surface, softened by its blur coats over the pixels of a window.
    pub fn painted(&self, window: Rect) -> Tile {
        let rect = self.surface_rect();
        let paint =
            |y: i32, pixels: &mut [Pixel]| self.paint_surface(&mut PixelSpan { y, x0: rect.x0, pixels });
        let tile = Tile::from_rows(rect, |y| !self.is_like_above(y), paint);
        if self.surface_sigma > 0.0 { tile.blurred(self.surface_sigma, window) } else { tile }
    }

    /// The surface under the coats on it.
    pub fn painted_base(&self) -> Tile {
        let rect = self.surface_rect();
        let paint = |y: i32, pixels: &mut [Pixel]| self.base(&mut PixelSpan { y, x0: rect.x0, pixels });
        Tile::from_rows(rect, |y| !self.has_base_like_above(y), paint)
    }

    /// Whether a row of the surface is known to be like the one above it.
    fn is_like_above(&self, y: i32) -> bool {
        let like = |mask: &PlacedMask| mask.is_like_above(y);
        let on = |layer: &Layer| match &layer.content {
            LayerContent::Flat(_, mask) | LayerContent::AroundHole(_, mask) => like(mask),
            LayerContent::Paint(paint, to_box) => is_steady_down(paint, *to_box),
            LayerContent::Edge { paint, to_box, outer, inner } => {
                is_steady_down(paint, *to_box) && like(outer) && like(inner)
            }
            LayerContent::Pixels(tile) => tile.is_like_above(y),
            LayerContent::Shadow { .. } => false,
        };
        self.has_base_like_above(y) && self.on.iter().all(on)
    }

    /// As [`Self::is_like_above`], without the coats on it.
    fn has_base_like_above(&self, y: i32) -> bool {
        let alike = |members: &Members| members.tile.is_like_above(y);
        self.parts.is_empty()
            && self.members.as_ref().is_none_or(alike)
            && [&self.silhouette, &self.outer, &self.inner].into_iter().all(|mask| mask.is_like_above(y))
            && self.fill.as_ref().is_none_or(|fill| is_steady_down(fill, self.to_piece))
    }

    /// The fill with the coats on it, as one group, bottom to top.
    ///
    /// Until a stroke comes, everything is painted as if it filled its pixels, and the silhouette's coverage is taken
    /// once: no lower coat shines through along the edge. Browsers cut each layer by itself.
    pub fn paint_surface(&self, span: &mut PixelSpan<'_>) {
        self.base(span);
        // The members of a group reach beyond its silhouette, and are covered by their own.
        let mut covered = self.clips_each_layer || self.members.is_some();
        if self.members.is_none() && covered {
            self.cover(span);
        }
        for layer in self.on.iter().rev() {
            if let LayerContent::Edge { paint, to_box, outer, inner } = &layer.content {
                if !covered {
                    self.cover(span);
                    covered = true;
                }
                self.edge(layer, (paint, *to_box), (outer, inner), span);
            } else {
                self.on_surface(layer, covered, span);
            }
        }
        if !covered {
            self.cover(span);
        }
    }

    /// The fill, and the parts of a join on it.
    fn base(&self, span: &mut PixelSpan<'_>) {
        if let Some(kept) = self.base.as_ref().or(self.members.as_ref().map(|members| &members.tile)) {
            let (start, pixels) = kept.span(span.y, span.x0, span.pixels.len());
            return span.pixels[start..start + pixels.len()].copy_from_slice(pixels);
        }
        let (start, coverage) = self.silhouette.unblurred_span(span.y, span.x0, span.pixels.len());
        if let Some(fill) = &self.fill {
            let (opacity, mode) = (1.0, BlendMode::Normal);
            let paint = SpanPaint { sampler: fill, to_box: self.to_piece, opacity, mode };
            paint.composite(span, (start, coverage), None);
        }
        if self.parts.is_empty() {
            return;
        }
        let Joined { columns, pixels, filled } = self.joined(span.y, span.x0, span.pixels.len());
        if self.fill.is_some() {
            return composite(&mut span.pixels[columns], &pixels, BlendMode::Normal);
        }
        // With no fill of its own, a join is its parts, and between them what the lowest is filled with.
        if let Some(between) = &self.gap_fill {
            span.pixels.fill(between.at(Point::ZERO));
        }
        put_whole(&mut span.pixels[columns], &pixels, &filled);
    }

    /// The parts of a join over one another, as far as there are any in a row.
    fn joined(&self, y: i32, x0: i32, width: usize) -> Joined {
        let columns_of = |part: &Self| part.surface_rect().columns(y, x0, width);
        let parts =
            || self.parts.iter().map(|part| (part, columns_of(part))).filter(|(_, own)| !own.is_empty());
        let around = |a: Range<usize>, b: Range<usize>| a.start.min(b.start)..a.end.max(b.end);
        let columns = parts().map(|(_, own)| own).reduce(around).unwrap_or_default();
        let mut joined = vec![[0.0; 4]; columns.len()];
        let mut filled = vec![0.0_f32; columns.len()];
        for (part, own) in parts() {
            let x0 = x0 + own.start as i32;
            let shown = own.start - columns.start..own.end - columns.start;
            part.paint_as_part(RowStart { y, x0 }, &mut joined[shown.clone()]);
            let (start, coverage) = part.outer.unblurred_span(y, x0, shown.len());
            fill_up(&mut filled[shown][start..], coverage);
        }
        Joined { columns, pixels: joined, filled }
    }

    /// Paints the surface of a part over the lower parts of its join.
    fn paint_as_part(&self, RowStart { y, x0 }: RowStart, below: &mut [Pixel]) {
        let needs_more = self.clip.is_some() || self.opacity < 1.0;
        if let Some(tile) = self.surface.as_ref().filter(|_| !needs_more) {
            return composite_tile(tile, &mut PixelSpan { y, x0, pixels: below }, self.blend);
        }
        let mut own = vec![[0.0; 4]; below.len()];
        match &self.surface {
            Some(tile) => {
                let (start, pixels) = tile.span(y, x0, own.len());
                own[start..start + pixels.len()].copy_from_slice(pixels);
            }
            None => self.paint_surface(&mut PixelSpan { y, x0, pixels: &mut own }),
        }
        if needs_more {
            self.apply_opacity_and_clip(y, x0, &mut own);
        }
        composite(below, &own, self.blend);
    }

    /// Applies the opacity of a part of a join, and its clipping, to its surface.
    fn apply_opacity_and_clip(&self, y: i32, x0: i32, own: &mut [Pixel]) {
        let clip = self.clip.as_ref().map(|clip| clip.unblurred_span(y, x0, own.len()));
        for (i, pixel) in own.iter_mut().enumerate() {
            let clipped = clip.map_or(1.0, |(start, coverage)| {
                i.checked_sub(start).and_then(|i| coverage.get(i)).copied().unwrap_or(0.0)
            });
            *pixel = pixel.map(|part| part * self.opacity * clipped);
        }
    }

    /// Takes the silhouette's coverage; outside it nothing is left.
    fn cover(&self, span: &mut PixelSpan<'_>) {
        let (start, coverage) = self.body(span);
        span.pixels[..start].fill([0.0; 4]);
        let end = start + coverage.len();
        span.pixels[end..].fill([0.0; 4]);
        scale_each(&mut span.pixels[start..end], coverage);
    }

    /// The silhouette the surface is clipped to; that of a join or group includes the strokes of its parts.
    fn body(&self, span: &PixelSpan<'_>) -> (usize, &[f32]) {
        let is_whole = self.parts.is_empty() && self.members.is_none();
        let body = if is_whole { &self.silhouette } else { &self.outer };
        body.unblurred_span(span.y, span.x0, span.pixels.len())
    }

    /// A coat on the surface, in whole pixels or, once the group is covered, within the silhouette.
    fn on_surface(&self, layer: &Layer, covered: bool, span: &mut PixelSpan<'_>) {
        let (start, silhouette) = self.body(span);
        let body = start..start + silhouette.len();
        let (y, x0, width) = (span.y, span.x0, span.pixels.len());
        let (opacity, mode, mut room) = (layer.opacity, layer.blend, Scratch::default());
        match &layer.content {
            LayerContent::Flat(colour, mask) => {
                let (from, coverage) = mask.span(y, x0, width, &mut room);
                let shown = shared(&body, from, coverage.len());
                let mut shares = coverage[within(&shown, from)].to_vec();
                if covered {
                    scale(&mut shares, &silhouette[within(&shown, start)]);
                }
                let colour = colour.map(|part| part * opacity);
                composite_colour(&mut span.pixels[shown], colour, &shares, mode);
            }
            LayerContent::AroundHole(colour, hole) => {
                let (from, inner) = self.inner.unblurred_span(y, x0, width);
                let shown = shared(&body, from, inner.len());
                let mut shares = inner[within(&shown, from)].to_vec();
                if !covered {
                    take_shares_of(&silhouette[within(&shown, start)], &mut shares);
                }
                let (from, hole) = hole.span(y, x0 + shown.start as i32, shown.len(), &mut room);
                take_off(&mut shares[from..], hole);
                let colour = colour.map(|part| part * opacity);
                composite_colour(&mut span.pixels[shown], colour, &shares, mode);
            }
            LayerContent::Paint(sampler, to_box) => {
                let coverage = covered.then_some(silhouette);
                let paint = SpanPaint { sampler, to_box: *to_box, opacity, mode };
                paint.composite(span, (start, silhouette), coverage);
            }
            LayerContent::Pixels(tile) => {
                let (from, sources) = tile.span(y, x0, width);
                let shown = shared(&body, from, sources.len());
                let (sources, inside) = (&sources[within(&shown, from)], &silhouette[within(&shown, start)]);
                let pixels = &mut span.pixels[shown];
                if covered {
                    composite_shares(pixels, sources, inside.iter().map(|inside| opacity * inside), mode);
                } else {
                    composite_shares(pixels, sources, std::iter::repeat(opacity), mode);
                }
            }
            LayerContent::Edge { .. } | LayerContent::Shadow { .. } => {}
        }
    }

    /// A stroke: its part on the surface is composited over, its part beside the surface is added, so that ground
    /// shines through neither along the inner nor along the outer edge.
    fn edge(
        &self,
        layer: &Layer,
        (paint, to_box): (&Sampler, Affine),
        edges: (&PlacedMask, &PlacedMask),
        span: &mut PixelSpan<'_>,
    ) {
        let length = span.pixels.len();
        let (start, outer) = edges.0.unblurred_span(span.y, span.x0, length);
        let at = |(from, coverage): (usize, &[f32]), x: usize| {
            x.checked_sub(from).and_then(|i| coverage.get(i)).copied().unwrap_or(0.0)
        };
        let (inner, body) = (
            edges.1.unblurred_span(span.y, span.x0, length),
            self.silhouette.unblurred_span(span.y, span.x0, length),
        );
        for (i, outer) in outer.iter().enumerate() {
            let x = start + i;
            let (inner, body) = (at(inner, x).min(*outer), at(body, x));
            let width = outer - inner;
            if width <= 0.0 {
                continue;
            }
            let place = Point::new(f64::from(span.x0 + x as i32) + 0.5, f64::from(span.y) + 0.5);
            let colour = paint.at(to_box * place).map(|part| part * layer.opacity);
            let pixel = &mut span.pixels[x];
            if layer.blend != BlendMode::Normal {
                composite_pixel(pixel, colour.map(|part| part * width), layer.blend);
                continue;
            }
            let over = if body > 0.0 { ((body - inner) / body).clamp(0.0, 1.0) } else { 0.0 };
            let visible = 1.0 - colour[3] * over;
            *pixel = std::array::from_fn(|part| pixel[part] * visible + colour[part] * width);
        }
    }
}

/// Whether a paint is the same in every row.
fn is_steady_down(paint: &Sampler, to_box: Affine) -> bool {
    paint.is_steady(to_box * Point::new(0.0, 1.0) - to_box * Point::ZERO)
}

/// The parts of a join in a row.
struct Joined {
    /// Where there may be any.
    columns: Range<usize>,
    /// Over one another.
    pixels: Vec<Pixel>,
    /// How far they cover each pixel.
    filled: Vec<f32>,
}

/// Adds the stroke's further coverage of each pixel.
fn fill_up(filled: &mut [f32], coverage: &[f32]) {
    widest(
        #[inline(always)]
        || filled.iter_mut().zip(coverage).for_each(|(filled, more)| *filled += (1.0 - *filled) * more),
    );
}

/// Puts pixels that are covered at all in the place of others, as if they were covered wholly.
fn put_whole(pixels: &mut [Pixel], own: &[Pixel], filled: &[f32]) {
    widest(
        #[inline(always)]
        || {
            for ((pixel, own), filled) in pixels.iter_mut().zip(own).zip(filled) {
                if *filled > 0.0 {
                    *pixel = own.map(|part| part / filled);
                }
            }
        },
    );
}

/// The part of a body that `length` pixels from `from` on share.
fn shared(body: &Range<usize>, from: usize, length: usize) -> Range<usize> {
    let start = body.start.max(from);
    start..body.end.min(from + length).max(start)
}

/// A part of a row, counted from where something starts; nothing where there is none of it.
fn within(shown: &Range<usize>, start: usize) -> Range<usize> {
    if shown.is_empty() { 0..0 } else { shown.start - start..shown.end - start }
}

fn scale(shares: &mut [f32], by: &[f32]) {
    widest(
        #[inline(always)]
        || shares.iter_mut().zip(by).for_each(|(share, by)| *share *= by),
    );
}

/// Takes off the coverage of a hole.
fn take_off(shares: &mut [f32], hole: &[f32]) {
    widest(
        #[inline(always)]
        || shares.iter_mut().zip(hole).for_each(|(share, hole)| *share *= 1.0 - hole),
    );
}

/// In whole pixels, an inner edge counts by its share of the outer one.
fn take_shares_of(outer: &[f32], inner: &mut [f32]) {
    widest(
        #[inline(always)]
        || {
            for (inner, outer) in inner.iter_mut().zip(outer) {
                let share = if *inner < *outer { *inner / *outer } else { 1.0 };
                *inner = if *inner > 0.0 { share } else { 0.0 };
            }
        },
    );
}
