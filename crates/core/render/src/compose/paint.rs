//! Compositing a piece's layers, row by row.

use std::hash::{DefaultHasher, Hash};
use std::ops::Range;

use super::coverage::RenderMode;
use super::knockout::Knockout;
use super::layer::{Layer, LayerContent, PieceLayers, key_of};
use super::placed_mask::PlacedMask;
use super::solid::Solid;
use super::source::Source;
use super::span::{
    PixelSpan, composite, composite_colour, composite_pixel, composite_shares, composite_tile,
    round_to_8_bits,
};
use crate::blend::{BlendMode, Pixel, in_255ths};
use crate::blur::{Scratch, Transmittance};
use crate::raster::Rect;
use crate::resolve::{Piece, Sampler};
use crate::simd::colour_before_each;

/// Whether nothing below shows through where the silhouette covers whole pixels.
fn hides_below(piece: &Piece, layers: &PieceLayers) -> bool {
    layers.fill.is_some()
        && piece.fill.is_opaque()
        && piece.opacity >= 1.0
        && piece.blend == BlendMode::Normal
        && layers.surface_sigma == 0.0
        && layers.clip.is_none()
}

/// Something that is painted.
#[derive(Debug, Clone)]
pub(super) struct Painted {
    /// A hash of what it is.
    pub key: u64,
    /// The pixels it may touch.
    pub rect: Rect,
    /// Where a surface in front of it covers whole pixels it touches none: a hash of all that decides where that is.
    pub under: Option<u64>,
    /// What it is painted from, where each pixel depends on nothing else.
    pub source: Option<Source>,
}

impl PartialEq for Painted {
    /// The key tells what it is painted from.
    fn eq(&self, other: &Self) -> bool {
        (self.key, self.rect, self.under) == (other.key, other.rect, other.under)
    }
}

impl Eq for Painted {}

/// Paints a piece onto the scene, bottom to top (docs/rendering.md, "Order", steps 2 to 4).
pub(super) struct PiecePainter<'a> {
    piece: &'a Piece,
    layers: &'a PieceLayers,
    /// Bottom to top.
    under: Vec<UnderLayer<'a>>,
    /// The pixels that anything of it may be in.
    bounds: Rect,
    mode: RenderMode,
    /// The fill is opaque, so that shadows need not be drawn under it.
    hides_below: bool,
}

/// What is composited under a piece in one step.
enum UnderLayer<'a> {
    Single(&'a Layer),
    Merged(Merged<'a>),
}

/// Shadows of one colour that lie next to one another in the stack.
struct Merged<'a> {
    /// Solid.
    colour: Pixel,
    knock_out: bool,
    /// The opacity of each, and its coverage.
    masks: Vec<(f32, &'a PlacedMask)>,
    layers: Vec<&'a Layer>,
}

impl Merged<'_> {
    /// How much of what is below goes through all of them at `width` pixels from `x0` on.
    fn through<'a>(
        &self,
        (y, x0): (i32, i32),
        width: usize,
        through: &'a mut Transmittance,
        room: &mut Scratch,
    ) -> &'a [f32] {
        through.clear(width);
        for (alpha, mask) in &self.masks {
            mask.fade((y, x0), through, *alpha, room);
        }
        through.pixels()
    }
}

fn around(a: Range<usize>, b: Range<usize>) -> Range<usize> {
    a.start.min(b.start)..a.end.max(b.end)
}

/// Coats under a piece, bottom to top, those of one colour put together. Browsers round each by itself.
fn under_layers(under: &[Layer], mode: RenderMode) -> Vec<UnderLayer<'_>> {
    let mut under_layers: Vec<UnderLayer<'_>> = Vec::new();
    for layer in under.iter().rev() {
        let Some((knock_out, colour, alpha, mask)) = plain(layer).filter(|_| mode.is_exact()) else {
            under_layers.push(UnderLayer::Single(layer));
            continue;
        };
        match under_layers.last_mut() {
            Some(UnderLayer::Merged(last)) if last.knock_out == knock_out && same(last.colour, colour) => {
                last.masks.push((alpha, mask));
                last.layers.push(layer);
            }
            _ => under_layers.push(UnderLayer::Merged(Merged {
                colour,
                knock_out,
                masks: vec![(alpha, mask)],
                layers: vec![layer],
            })),
        }
    }
    under_layers
}

/// A shadow of one colour in normal blend: whether it is knocked out, its solid colour, opacity and coverage.
fn plain(layer: &Layer) -> Option<(bool, Pixel, f32, &PlacedMask)> {
    let LayerContent::Shadow { knock_out, content } = &layer.content else { return None };
    let LayerContent::Flat(colour, mask) = content.as_ref() else { return None };
    let alpha = colour[3];
    (layer.blend == BlendMode::Normal && alpha > 0.0).then(|| {
        let solid = colour.map(|part| part / alpha);
        (*knock_out, solid, alpha * layer.opacity, mask)
    })
}

fn knocks_out(layer: &Layer) -> bool {
    matches!(layer.content, LayerContent::Shadow { knock_out: true, .. })
}

fn same(a: Pixel, b: Pixel) -> bool {
    a.iter().zip(b).all(|(a, b)| (a - b).abs() < 1e-6)
}

impl<'a> PiecePainter<'a> {
    pub fn new(piece: &'a Piece, layers: &'a PieceLayers, mode: RenderMode) -> Self {
        let hides_below = hides_below(piece, layers);
        let under = under_layers(&layers.under, mode);
        Self { piece, layers, under, bounds: layers.bounds(), mode, hides_below }
    }

    /// Everything that is painted, in order.
    pub fn parts(&self, parts: &mut Vec<Painted>) {
        let piece = self.layers.key;
        for (step, under) in self.under.iter().enumerate() {
            let together: &[&Layer] = match under {
                UnderLayer::Single(layer) => &[*layer],
                UnderLayer::Merged(merged) => &merged.layers,
            };
            for (i, layer) in together.iter().enumerate() {
                let key = key_of(|hasher| (piece, step, i, layer.key).hash(hasher));
                let knock_out = knocks_out(layer);
                let under = (knock_out || self.hides_below).then(|| self.cover_key(knock_out));
                let source = self.source(layer, (step, i));
                parts.push(Painted { key, rect: layer.content.rect(), under, source });
            }
        }
        parts.push(Painted {
            key: self.surface_key(),
            rect: self.layers.visible_rect(),
            under: None,
            source: self.surface_source(),
        });
    }

    /// What a layer under the piece is painted from, `at` a place among the others. That it may be cut to the outside of the
    /// surface shows in that one's source.
    fn source(&self, layer: &Layer, at: (usize, usize)) -> Option<Source> {
        let LayerContent::Shadow { knock_out, content } = &layer.content else { return None };
        let way = |colour: Option<Pixel>| {
            self.way(|hasher| {
                let colour = colour.map(|colour| colour.map(f32::to_bits));
                (at, knock_out, colour, layer.blend as u8, layer.opacity.to_bits()).hash(hasher);
            })
        };
        let body = &self.layers.silhouette;
        match content.as_ref() {
            LayerContent::Flat(colour, mask) => Some(Source::new(way(Some(*colour))?, body, &[mask], None)),
            LayerContent::Pixels(tile) => Some(Source::new(way(None)?, body, &[], Some(tile))),
            _ => None,
        }
    }

    /// What the surface is painted from, with what decides where layers under it are seen.
    fn surface_source(&self) -> Option<Source> {
        let Self { layers, piece, .. } = self;
        let way = |colour: Option<Pixel>| {
            self.way(|hasher| (colour.map(|colour| colour.map(f32::to_bits)), piece.blend as u8).hash(hasher))
        };
        let body = &layers.silhouette;
        let masks = [body, &layers.outer];
        match (&layers.surface, &layers.fill) {
            (Some(tile), _) => Some(Source::new(way(None)?, body, &masks, Some(tile))),
            (None, Some(Sampler::Flat(colour))) if layers.is_plain() => {
                Some(Source::new(way(Some(*colour))?, body, &masks, None))
            }
            (None, None) if layers.is_plain() => Some(Source::new(way(None)?, body, &masks, None)),
            _ => None,
        }
    }

    /// How the piece is painted, with more of that; none where a pixel may depend on others.
    fn way(&self, more: impl Fn(&mut DefaultHasher)) -> Option<u64> {
        (self.mode.is_exact() && self.layers.clip.is_none()).then(|| {
            key_of(|hasher| {
                (self.piece.opacity.to_bits(), self.hides_below).hash(hasher);
                more(hasher);
            })
        })
    }

    fn surface_key(&self) -> u64 {
        key_of(|hasher| {
            (self.layers.key, self.layers.surface_sigma.to_bits()).hash(hasher);
            self.layers.on.iter().for_each(|layer| layer.key.hash(hasher));
        })
    }

    fn cover_key(&self, knock_out: bool) -> u64 {
        key_of(|hasher| ("cover", self.surface_key(), knock_out).hash(hasher))
    }

    /// The silhouette that a part says it lies under, if it is this piece's.
    pub fn cover(&self, under: u64) -> Option<&PlacedMask> {
        [false, true]
            .into_iter()
            .find(|knock_out| self.cover_key(*knock_out) == under)
            .map(|knock_out| self.body(knock_out))
    }

    /// What a layer under the piece is cut to the outside of.
    fn body(&self, knock_out: bool) -> &'a PlacedMask {
        if knock_out { &self.layers.outer } else { &self.layers.silhouette }
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

    /// Paints a part of a row of the picture, which starts at `x0`.
    pub fn paint_from(&self, y: i32, x0: i32, pixels: &mut [Pixel]) {
        let columns = self.columns(y, x0, pixels.len());
        if columns.is_empty() {
            return;
        }
        // Browsers round all that they have painted so far with each step.
        let columns = if self.mode.is_exact() { columns } else { 0..pixels.len() };
        self.row(&mut PixelSpan { y, x0: x0 + columns.start as i32, pixels: &mut pixels[columns] });
    }
}

impl<'a> PiecePainter<'a> {
    fn row(&self, span: &mut PixelSpan<'_>) {
        if self.piece.opacity >= 1.0 && self.layers.clip.is_none() {
            self.composite_layers(span);
            return;
        }
        // Steps 2 to 4 are faded together, as a group.
        let before = span.pixels.to_vec();
        self.composite_layers(span);
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

    fn composite_layers(&self, span: &mut PixelSpan<'_>) {
        for step in &self.under {
            match step {
                UnderLayer::Single(layer) => self.under(layer, span),
                UnderLayer::Merged(merged) => self.merged(merged, span),
            }
            if !self.mode.is_exact() {
                round_to_8_bits(span.pixels);
            }
        }
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
        if !self.mode.is_exact() {
            round_to_8_bits(span.pixels);
        }
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
    fn merged(&self, merged: &Merged<'_>, span: &mut PixelSpan<'_>) {
        let touched = merged.masks.iter().map(|(_, mask)| mask.columns(span.y, span.x0, span.pixels.len()));
        let Some(touched) = touched.filter(|columns| !columns.is_empty()).reduce(around) else { return };
        let (mut through, mut room) = (Transmittance::default(), Scratch::default());
        // Nothing is worked out where the piece itself is in front.
        self.knockout(merged.knock_out, span).each(touched.start, touched.len(), |range, inside| {
            let x0 = span.x0 + range.start as i32;
            let through = merged.through((span.y, x0), range.len(), &mut through, &mut room);
            let Some(inside) = inside else {
                return colour_before_each(&mut span.pixels[range], merged.colour, through);
            };
            let shown = through.iter().zip(inside).map(|(through, inside)| (1.0 - through) * (1.0 - inside));
            let shown: Vec<f32> = shown.collect();
            composite_colour(&mut span.pixels[range], merged.colour, &shown, BlendMode::Normal);
        });
    }

    /// A coat under the piece.
    fn under(&self, layer: &Layer, span: &mut PixelSpan<'_>) {
        let (knock_out, content) = match &layer.content {
            LayerContent::Shadow { knock_out, content } => (*knock_out, content.as_ref()),
            content => (false, content),
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
