//! Laying a piece's layers down, row by row.

use std::ops::Range;

use kurbo::{Affine, Point, Vec2};
use wide::f32x4;

use super::coverage::RenderMode;
use super::layers::{Layer, LayerContent, PieceLayers};
use super::placed_mask::{PlacedMask, Scratch};
use super::tile::{EdgeMode, Tile};
use crate::blend::{BlendMode, Pixel, blend, in_8_bits, in_255ths, over};
use crate::raster::Rect;
use crate::resolve::{Piece, Sampler};

/// A run of pixels in a row of the device.
struct PixelSpan<'a> {
    y: i32,
    x0: i32,
    pixels: &'a mut [Pixel],
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

/// Paints a piece onto the scene, bottom to top (DESIGN §4.3, steps 2 to 4).
pub(super) struct PiecePainter<'a> {
    piece: &'a Piece,
    layers: &'a PieceLayers,
    /// Bottom to top.
    under: Vec<UnderLayer<'a>>,
    rows: Range<i32>,
    mode: RenderMode,
    /// The fill is opaque, so that shadows need not be drawn under it.
    hides_below: bool,
}

/// What is laid under a piece at a time.
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
            }
            _ => under_layers.push(UnderLayer::Merged(Merged {
                colour,
                knock_out,
                masks: vec![(alpha, mask)],
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

fn same(a: Pixel, b: Pixel) -> bool {
    a.iter().zip(b).all(|(a, b)| (a - b).abs() < 1e-6)
}

impl<'a> PiecePainter<'a> {
    pub fn new(piece: &'a Piece, layers: &'a PieceLayers, mode: RenderMode) -> Self {
        let hides_below = hides_below(piece, layers);
        let under = under_layers(&layers.under, mode);
        Self { piece, layers, under, rows: layers.rows(), mode, hides_below }
    }

    /// Paints one row of the picture.
    pub fn paint(&self, y: i32, row: &mut [Pixel]) {
        self.paint_from(y, 0, row);
    }

    /// Paints a part of a row of the picture, which starts at `x0`.
    pub fn paint_from(&self, y: i32, x0: i32, pixels: &mut [Pixel]) {
        if self.rows.contains(&y) {
            self.row(&mut PixelSpan { y, x0, pixels });
        }
    }
}

impl<'a> PiecePainter<'a> {
    fn row(&self, span: &mut PixelSpan<'_>) {
        if self.piece.opacity >= 1.0 && self.layers.clip.is_none() {
            self.composite_layers(span);
            return;
        }
        // Steps 2 to 4 are scaled together: what they change is kept in part.
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
        if self.piece.blend == BlendMode::Normal {
            return composite_colour(pixels, colour, coverage);
        }
        for (pixel, coverage) in pixels.iter_mut().zip(coverage) {
            composite_pixel(pixel, colour.map(|part| part * coverage), self.piece.blend);
        }
    }

    /// How much of a coat under the piece is kept in a row.
    fn knockout(&self, knock_out: bool, span: &PixelSpan<'_>) -> Knockout<'a> {
        let body = if knock_out { &self.layers.outer } else { &self.layers.silhouette };
        let body = body.unblurred_span(span.y, span.x0, span.pixels.len());
        Knockout { body, knock_out, hides_below: self.hides_below }
    }

    /// Shadows of one colour over one another: what each lets through is multiplied, and the colour is laid once.
    fn merged(&self, merged: &Merged<'_>, span: &mut PixelSpan<'_>) {
        let width = span.pixels.len();
        let mut through = vec![1.0_f32; width];
        let (mut from, mut to, mut scratch) = (width, 0, Scratch::default());
        for (alpha, mask) in &merged.masks {
            let (start, coverage) = mask.span(span.y, span.x0, width, &mut scratch);
            if coverage.is_empty() {
                continue;
            }
            for (through, coverage) in through[start..].iter_mut().zip(coverage) {
                *through *= 1.0 - alpha * coverage;
            }
            (from, to) = (from.min(start), to.max(start + coverage.len()));
        }
        if from >= to {
            return;
        }
        through[from..to].iter_mut().for_each(|through| *through = 1.0 - *through);
        self.knockout(merged.knock_out, span).composite(merged.colour, from, &through[from..to], span);
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
                let mut scratch = Scratch::default();
                let (start, coverage) = mask.span(y, span.x0, span.pixels.len(), &mut scratch);
                let colour = colour.map(|part| part * layer.opacity);
                if layer.blend == BlendMode::Normal && self.mode.is_exact() {
                    return knockout.composite(colour, start, coverage, span);
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
                if layer.blend == BlendMode::Normal {
                    return knockout.each(start, sources.len(), |range, visible| {
                        let pixels = &mut span.pixels[range.clone()];
                        composite_pixels(
                            pixels,
                            &sources[range.start - start..range.end - start],
                            layer.opacity,
                            visible,
                        );
                    });
                }
                for (i, source) in sources.iter().enumerate() {
                    let share = layer.opacity * knockout.at(start + i);
                    composite_pixel(
                        &mut span.pixels[start + i],
                        source.map(|part| part * share),
                        layer.blend,
                    );
                }
            }
            LayerContent::AroundHole(..)
            | LayerContent::Paint(..)
            | LayerContent::Edge { .. }
            | LayerContent::Shadow { .. } => {}
        }
    }
}

/// How much of a shadow is kept at the pixels of a run.
struct Knockout<'a> {
    body: (usize, &'a [f32]),
    knock_out: bool,
    hides_below: bool,
}

impl<'a> Knockout<'a> {
    fn at(&self, x: usize) -> f32 {
        let inside = x.checked_sub(self.body.0).and_then(|i| self.body.1.get(i)).copied().unwrap_or(0.0);
        self.visible(inside)
    }

    fn visible(&self, inside: f32) -> f32 {
        // An opaque fill hides what is below it: only where it fills the whole pixel may the shadow be cut, or the
        // ground would shine through along the edge.
        if self.hides_below {
            if inside < 1.0 { 1.0 } else { 0.0 }
        } else if self.knock_out {
            1.0 - inside
        } else {
            1.0
        }
    }

    /// Lays a colour through coverage that starts at a pixel of the run.
    fn composite(&self, colour: Pixel, start: usize, coverage: &[f32], span: &mut PixelSpan<'_>) {
        self.each(start, coverage.len(), |range, visible| {
            let pixels = &mut span.pixels[range.clone()];
            let coverage = &coverage[range.start - start..range.end - start];
            match visible {
                None => composite_colour(pixels, colour, coverage),
                Some(visible) => composite_colour_outside(pixels, colour, coverage, visible),
            }
        });
    }

    /// Calls `work` with the ranges of a run in which something is kept, and with the body's coverage where that has
    /// to be taken off.
    fn each(&self, start: usize, length: usize, mut work: impl FnMut(Range<usize>, Option<&'a [f32]>)) {
        let end = start + length;
        if !self.knock_out && !self.hides_below {
            return work(start..end, None);
        }
        let (body, coverage) = (self.body.0.clamp(start, end), self.body.1);
        let past = (self.body.0 + coverage.len()).clamp(body, end);
        if start < body {
            work(start..body, None);
        }
        if body < past {
            let coverage = &coverage[body - self.body.0..past - self.body.0];
            if self.hides_below {
                // The row is hidden from the first full pixel to the next that is not.
                let mut at = 0;
                while at < coverage.len() {
                    let shown = coverage[at..].iter().take_while(|inside| **inside < 1.0).count();
                    if shown > 0 {
                        work(body + at..body + at + shown, None);
                    }
                    at += shown;
                    at += coverage[at..].iter().take_while(|inside| **inside >= 1.0).count();
                }
            } else {
                work(body..past, Some(coverage));
            }
        }
        if past < end {
            work(past..end, None);
        }
    }
}

impl PieceLayers {
    /// The pixels the surface may touch before it is softened.
    pub fn surface_rect(&self) -> Rect {
        self.outer.rect().around_both(self.silhouette.rect())
    }

    /// The whole surface, softened by its blur coats over the pixels of a window.
    pub fn painted(&self, window: Rect) -> Tile {
        let mut tile = Tile::empty(self.surface_rect());
        let left = tile.rect.x0;
        tile.each_row(|y, pixels| self.paint_surface(&mut PixelSpan { y, x0: left, pixels }));
        if self.surface_sigma > 0.0 {
            tile.blurred(self.surface_sigma, EdgeMode::Transparent, window)
        } else {
            tile
        }
    }

    /// The fill with what lies on it, as one group, bottom to top.
    ///
    /// Until a stroke comes, everything is painted as if it filled its pixels, and the silhouette's coverage is taken
    /// once: no lower coat shines through along the edge. Browsers cut each layer by itself.
    fn paint_surface(&self, span: &mut PixelSpan<'_>) {
        self.base(span);
        let mut covered = self.clips_each_layer;
        if covered {
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
        let (start, coverage) = self.silhouette.unblurred_span(span.y, span.x0, span.pixels.len());
        if let Some(fill) = &self.fill {
            paint_over(fill, self.to_piece, 1.0, BlendMode::Normal, span, (start, coverage), None);
        }
        if self.parts.is_empty() {
            return;
        }
        let (mut joined, mut filled) = (vec![[0.0; 4]; span.pixels.len()], vec![0.0_f32; span.pixels.len()]);
        for part in &self.parts {
            let mut own = vec![[0.0; 4]; span.pixels.len()];
            part.paint_surface(&mut PixelSpan { y: span.y, x0: span.x0, pixels: &mut own });
            part.apply_opacity_and_clip(span.y, span.x0, &mut own);
            composite(&mut joined, &own, part.blend);
            let (start, coverage) = part.outer.unblurred_span(span.y, span.x0, span.pixels.len());
            for (filled, coverage) in filled[start..].iter_mut().zip(coverage) {
                *filled += (1.0 - *filled) * coverage;
            }
        }
        for (i, (own, filled)) in joined.iter().zip(filled).enumerate() {
            let pixel = &mut span.pixels[i];
            match &self.gap_fill {
                // With no fill of its own, a join is its parts, and between them what the lowest is filled with.
                Some(gap_fill) if self.fill.is_none() => {
                    let colour = gap_fill.at(Point::ZERO);
                    *pixel = if filled > 0.0 { own.map(|part| part / filled) } else { colour };
                }
                _ if self.fill.is_none() && filled > 0.0 => *pixel = own.map(|part| part / filled),
                _ => composite_pixel(pixel, *own, BlendMode::Normal),
            }
        }
    }

    /// Takes the opacity of a part of a join, and what it is clipped to, off its surface.
    fn apply_opacity_and_clip(&self, y: i32, x0: i32, own: &mut [Pixel]) {
        let clip = self.clip.as_ref().map(|clip| clip.unblurred_span(y, x0, own.len()));
        if clip.is_none() && self.opacity >= 1.0 {
            return;
        }
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
        for (pixel, coverage) in span.pixels[start..end].iter_mut().zip(coverage) {
            *pixel = pixel.map(|part| part * coverage);
        }
    }

    /// What the group is cut to: with parts, their strokes belong to it.
    fn body(&self, span: &PixelSpan<'_>) -> (usize, &[f32]) {
        let body = if self.parts.is_empty() { &self.silhouette } else { &self.outer };
        body.unblurred_span(span.y, span.x0, span.pixels.len())
    }

    /// A coat on the surface, in whole pixels or, once the group is covered, within the silhouette.
    fn on_surface(&self, layer: &Layer, covered: bool, span: &mut PixelSpan<'_>) {
        let (start, silhouette) = self.body(span);
        let end = start + silhouette.len();
        let within = |i: usize| if covered { silhouette[i - start] } else { 1.0 };
        match &layer.content {
            LayerContent::Flat(colour, mask) => {
                let mut scratch = Scratch::default();
                let (from, coverage) = mask.span(span.y, span.x0, span.pixels.len(), &mut scratch);
                for (i, coverage) in coverage.iter().enumerate() {
                    let x = from + i;
                    if (start..end).contains(&x) && *coverage > 0.0 {
                        let share = coverage * layer.opacity * within(x);
                        composite_pixel(&mut span.pixels[x], colour.map(|part| part * share), layer.blend);
                    }
                }
            }
            LayerContent::AroundHole(colour, hole) => {
                let (inner_start, inner) = self.inner.unblurred_span(span.y, span.x0, span.pixels.len());
                let mut scratch = Scratch::default();
                let (hole_start, hole) = hole.span(span.y, span.x0, span.pixels.len(), &mut scratch);
                for (i, inside) in inner.iter().enumerate() {
                    let x = inner_start + i;
                    if !(start..end).contains(&x) || *inside <= 0.0 {
                        continue;
                    }
                    let hole = x.checked_sub(hole_start).and_then(|i| hole.get(i)).copied().unwrap_or(0.0);
                    // In whole pixels, the inner edge counts by its share of the outer one.
                    let inside = if covered { *inside } else { (inside / silhouette[x - start]).min(1.0) };
                    let share = (1.0 - hole) * inside * layer.opacity;
                    composite_pixel(&mut span.pixels[x], colour.map(|part| part * share), layer.blend);
                }
            }
            LayerContent::Paint(sampler, to_box) => {
                let coverage = covered.then_some(silhouette);
                paint_over(sampler, *to_box, layer.opacity, layer.blend, span, (start, silhouette), coverage);
            }
            LayerContent::Pixels(tile) => {
                let (from, pixels) = tile.span(span.y, span.x0, span.pixels.len());
                for (i, source) in pixels.iter().enumerate() {
                    let x = from + i;
                    if (start..end).contains(&x) {
                        let share = layer.opacity * within(x);
                        composite_pixel(&mut span.pixels[x], source.map(|part| part * share), layer.blend);
                    }
                }
            }
            LayerContent::Edge { .. } | LayerContent::Shadow { .. } => {}
        }
    }

    /// A stroke: what it covers of the surface is laid over, what it covers beside it is added, so that ground shines
    /// through neither along the inner nor along the outer edge.
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

/// Lays a paint over the pixels of a run that a body covers at all.
fn paint_over(
    sampler: &Sampler,
    to_box: Affine,
    opacity: f32,
    mode: BlendMode,
    span: &mut PixelSpan<'_>,
    (start, body): (usize, &[f32]),
    coverage: Option<&[f32]>,
) {
    let first = Point::new(f64::from(span.x0 + start as i32) + 0.5, f64::from(span.y) + 0.5);
    let step = to_box * (first + Vec2::new(1.0, 0.0)) - to_box * first;
    let pixels = &mut span.pixels[start..start + body.len()];
    let bare = opacity >= 1.0 && coverage.is_none() && mode == BlendMode::Normal;
    if bare && pixels.first() == Some(&[0.0; 4]) && pixels.iter().all(|pixel| pixel[3] == 0.0) {
        // Nothing is there yet.
        return sampler.row(to_box * first, step, pixels);
    }
    let mut colours = vec![[0.0; 4]; body.len()];
    sampler.row(to_box * first, step, &mut colours);
    for (i, (pixel, colour)) in pixels.iter_mut().zip(colours).enumerate() {
        if body[i] > 0.0 {
            let share = opacity * coverage.map_or(1.0, |coverage| coverage[i]);
            composite_pixel(pixel, colour.map(|part| part * share), mode);
        }
    }
}

/// Lays a group over a row.
fn composite(row: &mut [Pixel], group: &[Pixel], mode: BlendMode) {
    for (pixel, source) in row.iter_mut().zip(group) {
        composite_pixel(pixel, *source, mode);
    }
}

fn composite_tile(tile: &Tile, span: &mut PixelSpan<'_>, mode: BlendMode) {
    let (start, sources) = tile.span(span.y, span.x0, span.pixels.len());
    let pixels = &mut span.pixels[start..start + sources.len()];
    match mode {
        BlendMode::Normal => composite_pixels(pixels, sources, 1.0, None),
        mode => composite(pixels, sources, mode),
    }
}

/// Lays pixels over a row in normal blend; what the body covers of them may be taken off.
fn composite_pixels(row: &mut [Pixel], sources: &[Pixel], opacity: f32, body: Option<&[f32]>) {
    match body {
        None if opacity >= 1.0 => {
            for (pixel, source) in row.iter_mut().zip(sources) {
                *pixel = over(*source, *pixel);
            }
        }
        None => {
            for (pixel, source) in row.iter_mut().zip(sources) {
                *pixel = over(source.map(|part| part * opacity), *pixel);
            }
        }
        Some(body) => {
            for ((pixel, source), inside) in row.iter_mut().zip(sources).zip(body) {
                let share = opacity * (1.0 - inside);
                *pixel = over(source.map(|part| part * share), *pixel);
            }
        }
    }
}

#[inline]
fn composite_pixel(pixel: &mut Pixel, source: Pixel, mode: BlendMode) {
    if source[3] <= 0.0 {
        return;
    }
    *pixel = match mode {
        BlendMode::Normal => over(source, *pixel),
        mode => blend(mode, source, *pixel),
    };
}

fn composite_colour(pixels: &mut [Pixel], colour: Pixel, coverage: &[f32]) {
    let (alpha, colour) = (colour[3], f32x4::from(colour));
    for (pixel, coverage) in pixels.iter_mut().zip(coverage) {
        composite_covered(pixel, colour, alpha, *coverage);
    }
}

#[inline]
fn composite_covered(pixel: &mut Pixel, colour: f32x4, alpha: f32, coverage: f32) {
    let visible = f32x4::splat(1.0 - alpha * coverage);
    *pixel = (colour * f32x4::splat(coverage) + f32x4::from(*pixel) * visible).to_array();
}

fn composite_colour_outside(pixels: &mut [Pixel], colour: Pixel, coverage: &[f32], inside: &[f32]) {
    let (alpha, colour) = (colour[3], f32x4::from(colour));
    for ((pixel, coverage), inside) in pixels.iter_mut().zip(coverage).zip(inside) {
        composite_covered(pixel, colour, alpha, coverage * (1.0 - inside));
    }
}

/// Other renderers keep each layer in 8 bits.
pub(super) fn round_to_8_bits(pixels: &mut [Pixel]) {
    for pixel in pixels {
        *pixel = in_8_bits(*pixel);
    }
}
