//! The paint order of a piece, from bottom to top: what lies behind it, filtered; the coats under it; its surface with the
//! coats on it; and all but the first faded and clipped together (docs/rendering.md, "Order").

use std::ops::Range;

use super::backdrop::FilteredBackdrop;
use super::knockout::Knockout;
use super::solid::Solid;
use super::span::{
    PixelSpan, composite, composite_colour, composite_pixel, composite_shares, composite_tile,
    round_to_8_bits,
};
use super::under::{Merged, UnderLayer, under_layers};
use crate::blend::{BlendMode, Pixel, in_255ths};
use crate::blur::{Scratch, Transmittance};
use crate::compose::layers::layer::{Layer, LayerContent, PieceLayers};
use crate::compose::masks::coverage::RenderMode;
use crate::compose::masks::placed_mask::PlacedMask;
use crate::raster::{Rect, RowStart};
use crate::resolve::{Piece, Sampler};
use crate::simd::colour_before_each;

/// Paints a piece onto the scene.
pub(in crate::compose) struct PiecePainter<'a> {
    pub piece: &'a Piece,
    pub layers: &'a PieceLayers,
    /// Bottom to top.
    pub under: Vec<UnderLayer<'a>>,
    /// The pixels that anything of it may be in.
    bounds: Rect,
    pub mode: RenderMode,
    /// The fill is opaque, so that shadows need not be drawn under it.
    pub hides_below: bool,
}

impl<'a> PiecePainter<'a> {
    pub fn new(piece: &'a Piece, layers: &'a PieceLayers, mode: RenderMode) -> Self {
        let hides_below = hides_below(piece, layers);
        let under = under_layers(&layers.under, mode);
        Self { piece, layers, under, bounds: layers.bounds(), mode, hides_below }
    }

    /// The surface where it is one opaque colour, whatever lies below it, and where in a window it fills whole pixels.
    pub fn solid(&self, window: Rect) -> Option<Solid> {
        let Some(Sampler::Flat(colour)) = &self.layers.fill else { return None };
        if !self.hides_below || !self.mode.is_exact() || !self.layers.is_plain() {
            return None;
        }
        Solid::new(&self.layers.silhouette, *colour, window)
    }

    /// Which of `width` pixels of a row from `x0` on anything of the piece may be in.
    pub fn columns(&self, y: i32, x0: i32, width: usize) -> Range<usize> {
        self.bounds.columns(y, x0, width)
    }

    /// Paints pixels of a row from `x0` on over the picture there.
    pub fn paint(&self, backdrops: &[FilteredBackdrop], RowStart { y, x0 }: RowStart, pixels: &mut [Pixel]) {
        backdrops.iter().for_each(|backdrop| backdrop.apply(&self.layers.outer, y, x0, pixels));
        let columns = self.columns(y, x0, pixels.len());
        if columns.is_empty() {
            return;
        }
        // Browsers round all that they have painted so far with each step.
        let columns = if self.mode.is_exact() { columns } else { 0..pixels.len() };
        self.paint_group(&mut PixelSpan { y, x0: x0 + columns.start as i32, pixels: &mut pixels[columns] });
    }

    /// Everything in front of the backdrop, faded and clipped together.
    fn paint_group(&self, span: &mut PixelSpan<'_>) {
        if self.piece.opacity >= 1.0 && self.layers.clip.is_none() {
            return self.paint_layers(span);
        }
        let before = span.pixels.to_vec();
        self.paint_layers(span);
        let opacity = self.piece.opacity as f32;
        let clip =
            self.layers.clip.as_ref().map(|clip| clip.unblurred_span(span.y, span.x0, span.pixels.len()));
        for (i, (now, before)) in span.pixels.iter_mut().zip(before).enumerate() {
            let visible = clip.map_or(1.0, |(start, coverage)| {
                i.checked_sub(start).and_then(|i| coverage.get(i)).copied().unwrap_or(0.0)
            });
            *now = std::array::from_fn(|part| before[part] + (now[part] - before[part]) * opacity * visible);
        }
    }

    /// The coats under the piece, from the lowest to the highest, then its surface.
    fn paint_layers(&self, span: &mut PixelSpan<'_>) {
        for step in &self.under {
            match step {
                UnderLayer::Single(layer) => self.paint_under(layer, span),
                UnderLayer::Merged(merged) => self.paint_merged(merged, span),
            }
            self.round(span);
        }
        self.paint_surface(span);
    }

    /// The fill with the coats on it, as one layer.
    fn paint_surface(&self, span: &mut PixelSpan<'_>) {
        match (&self.layers.surface, &self.layers.fill) {
            (Some(tile), _) => composite_tile(tile, span, self.piece.blend),
            (None, Some(Sampler::Flat(colour))) if self.layers.is_plain() => self.flat_surface(*colour, span),
            (None, None) if self.layers.is_plain() => return,
            (None, _) => {
                let mut surface = vec![[0.0; 4]; span.pixels.len()];
                self.layers.paint_surface(&mut PixelSpan { pixels: &mut surface, ..*span });
                composite(span.pixels, &surface, self.piece.blend);
            }
        }
        self.round(span);
    }

    fn round(&self, span: &mut PixelSpan<'_>) {
        if !self.mode.is_exact() {
            round_to_8_bits(span.pixels);
        }
    }

    /// The silhouette that a layer under the piece is cut out by.
    pub fn body(&self, knock_out: bool) -> &'a PlacedMask {
        if knock_out { &self.layers.outer } else { &self.layers.silhouette }
    }

    /// A surface of one colour with nothing on it.
    fn flat_surface(&self, colour: Pixel, span: &mut PixelSpan<'_>) {
        let (start, coverage) = self.layers.silhouette.unblurred_span(span.y, span.x0, span.pixels.len());
        let pixels = &mut span.pixels[start..start + coverage.len()];
        composite_colour(pixels, colour, coverage, self.piece.blend);
    }

    /// The knockout of a layer under the piece, over a row.
    fn knockout(&self, knock_out: bool, span: &PixelSpan<'_>) -> Knockout<'a> {
        let body = self.body(knock_out).unblurred_span(span.y, span.x0, span.pixels.len());
        Knockout { body, knock_out, hides_below: self.hides_below }
    }

    /// Shadows of one colour over one another: their transmittances are multiplied, and the colour is composited once.
    fn paint_merged(&self, merged: &Merged<'_>, span: &mut PixelSpan<'_>) {
        let touched = merged.masks.iter().map(|(_, mask)| mask.columns(span.y, span.x0, span.pixels.len()));
        let Some(touched) = touched.filter(|columns| !columns.is_empty()).reduce(around) else { return };
        let (mut through, mut room) = (Transmittance::default(), Scratch::default());
        // Nothing is worked out where the piece itself is in front.
        self.knockout(merged.knock_out, span).each(touched.start, touched.len(), |range, inside| {
            let x0 = span.x0 + range.start as i32;
            let through = merged.through(RowStart { y: span.y, x0 }, range.len(), &mut through, &mut room);
            let Some(inside) = inside else {
                return colour_before_each(&mut span.pixels[range], merged.colour, through);
            };
            let shown = through.iter().zip(inside).map(|(through, inside)| (1.0 - through) * (1.0 - inside));
            let shown: Vec<f32> = shown.collect();
            composite_colour(&mut span.pixels[range], merged.colour, &shown, BlendMode::Normal);
        });
    }

    /// A coat under the piece.
    fn paint_under(&self, layer: &Layer, span: &mut PixelSpan<'_>) {
        let (knock_out, content) = match &layer.content {
            LayerContent::Shadow { knock_out, content } => (*knock_out, content.as_ref()),
            content @ (LayerContent::Flat(..)
            | LayerContent::AroundHole(..)
            | LayerContent::Paint(..)
            | LayerContent::Edge { .. }
            | LayerContent::Pixels(_)) => (false, content),
        };
        let y = span.y;
        let knockout = self.knockout(knock_out, span);
        match content {
            LayerContent::Flat(colour, mask) => {
                let mut room = Scratch::default();
                let (start, coverage) = mask.span(y, span.x0, span.pixels.len(), &mut room);
                let colour = colour.map(|part| part * layer.opacity);
                if self.mode.is_exact() {
                    return knockout.composite(colour, start, coverage, layer.blend, span);
                }
                let solid = colour.map(in_255ths);
                for (i, coverage) in coverage.iter().enumerate() {
                    let (covered, pixel) = (coverage * knockout.at(start + i), &mut span.pixels[start + i]);
                    match self.mode.other().filter(|_| layer.blend == BlendMode::Normal) {
                        Some(renderer) => *pixel = renderer.composite(solid, covered, *pixel),
                        None => composite_pixel(pixel, colour.map(|part| part * covered), layer.blend),
                    }
                }
            }
            LayerContent::Pixels(tile) => {
                let (start, sources) = tile.span(y, span.x0, span.pixels.len());
                knockout.each(start, sources.len(), |range, inside| {
                    let sources = &sources[range.start - start..range.end - start];
                    let (pixels, opacity) = (&mut span.pixels[range], layer.opacity);
                    match inside {
                        None => composite_shares(pixels, sources, std::iter::repeat(opacity), layer.blend),
                        Some(inside) => {
                            let shares = inside.iter().map(|inside| opacity * (1.0 - inside));
                            composite_shares(pixels, sources, shares, layer.blend);
                        }
                    }
                });
            }
            LayerContent::AroundHole(..)
            | LayerContent::Paint(..)
            | LayerContent::Edge { .. }
            | LayerContent::Shadow { .. } => {}
        }
    }
}

/// Whether nothing below shows through where the silhouette covers whole pixels.
fn hides_below(piece: &Piece, layers: &PieceLayers) -> bool {
    layers.fill.is_some()
        && piece.fill.is_opaque()
        && piece.opacity >= 1.0
        && piece.blend == BlendMode::Normal
        && layers.surface_sigma == 0.0
        && layers.clip.is_none()
}

fn around(a: Range<usize>, b: Range<usize>) -> Range<usize> {
    a.start.min(b.start)..a.end.max(b.end)
}
