//! Laying a piece's layers down, row by row.

use kurbo::{Affine, Point};

use super::canvas::Canvas;
use super::coverage::Placed;
use super::layers::{Laid, PieceLayers, What};
use super::tile::{Around, Tile};
use crate::blend::{BlendMode, Pixel, blend};
use crate::raster::Rect;
use crate::resolve::{Piece, Sampler};

/// A run of pixels in a row of the device.
struct Run<'a> {
    y: i32,
    x0: i32,
    pixels: &'a mut [Pixel],
}

/// Paints a piece onto the scene, bottom to top (DESIGN §4.3, steps 2 to 4).
pub(super) fn paint_piece(canvas: &mut Canvas, piece: &Piece, layers: &PieceLayers, as_browser: bool) {
    let softened = (layers.softened > 0.0).then(|| softened(canvas, layers));
    let brush = Brush { piece, layers, softened, as_browser, hides_below: hides_below(piece, layers) };
    let rows = layers.rows();
    canvas.each_row(|y, row| {
        if rows.contains(&y) {
            brush.row(&mut Run { y, x0: 0, pixels: row });
        }
    });
}

/// Whether nothing below shows through where the silhouette covers whole pixels.
fn hides_below(piece: &Piece, layers: &PieceLayers) -> bool {
    layers.fill.is_some()
        && piece.fill.is_opaque()
        && piece.opacity >= 1.0
        && piece.blend == BlendMode::Normal
        && layers.softened == 0.0
        && layers.clip.is_none()
}

/// The whole surface, softened by its blur coats.
fn softened(canvas: &Canvas, layers: &PieceLayers) -> Tile {
    let window = Rect::new(0, 0, canvas.width as i32, canvas.height as i32);
    let mut tile = Tile::empty(layers.surface_rect());
    let left = tile.rect.x0;
    tile.each_row(|y, pixels| layers.surface(&mut Run { y, x0: left, pixels }));
    tile.blurred(layers.softened, Around::Clear, window)
}

struct Brush<'a> {
    piece: &'a Piece,
    layers: &'a PieceLayers,
    softened: Option<Tile>,
    as_browser: bool,
    /// The fill is opaque, so that shadows need not be drawn under it.
    hides_below: bool,
}

impl Brush<'_> {
    fn row(&self, run: &mut Run<'_>) {
        if self.piece.opacity >= 1.0 && self.layers.clip.is_none() {
            self.layers_of(run);
            return;
        }
        // Steps 2 to 4 are scaled together: what they change is kept in part.
        let before = run.pixels.to_vec();
        self.layers_of(run);
        let opacity = self.piece.opacity as f32;
        let clip = self.layers.clip.as_ref().map(|clip| clip.part(run.y, run.x0, run.pixels.len()));
        for (i, (now, before)) in run.pixels.iter_mut().zip(before).enumerate() {
            let kept = clip.map_or(1.0, |(start, coverage)| {
                i.checked_sub(start).and_then(|i| coverage.get(i)).copied().unwrap_or(0.0)
            });
            *now = std::array::from_fn(|part| before[part] + (now[part] - before[part]) * opacity * kept);
        }
    }

    fn layers_of(&self, run: &mut Run<'_>) {
        for laid in self.layers.under.iter().rev() {
            self.under(laid, run);
            if self.as_browser {
                round_to_8_bits(run.pixels);
            }
        }
        if let Some(tile) = &self.softened {
            lay_tile(tile, run, self.piece.blend);
            return;
        }
        let rect = self.layers.surface_rect();
        let from = rect.x0.max(run.x0);
        let to = rect.x1.min(run.x0 + run.pixels.len() as i32);
        if from >= to || run.y < rect.y0 || run.y >= rect.y1 {
            return;
        }
        let mut group = vec![[0.0; 4]; (to - from) as usize];
        self.layers.surface(&mut Run { y: run.y, x0: from, pixels: &mut group });
        let shown = &mut run.pixels[(from - run.x0) as usize..(to - run.x0) as usize];
        lay(shown, &group, self.piece.blend);
        if self.as_browser {
            round_to_8_bits(shown);
        }
    }

    /// A coat under the piece.
    fn under(&self, laid: &Laid, run: &mut Run<'_>) {
        let (knock_out, what) = match &laid.what {
            What::Shadow { knock_out, ink } => (*knock_out, ink.as_ref()),
            what => (false, what),
        };
        let y = run.y;
        let keep = Keep {
            body: if knock_out { &self.layers.outer } else { &self.layers.silhouette }.part(
                y,
                run.x0,
                run.pixels.len(),
            ),
            knock_out,
            hides_below: self.hides_below,
        };
        match what {
            What::Flat(colour, mask) => {
                let (start, coverage) = mask.part(y, run.x0, run.pixels.len());
                let colour = colour.map(|part| part * laid.opacity);
                if laid.blend == BlendMode::Normal && !self.as_browser {
                    keep.each(start, coverage.len(), |range, kept| {
                        let pixels = &mut run.pixels[range.clone()];
                        let coverage = &coverage[range.start - start..range.end - start];
                        match kept {
                            None => lay_flat(pixels, colour, coverage),
                            Some(kept) => lay_flat_kept(pixels, colour, coverage, kept),
                        }
                    });
                    return;
                }
                for (i, coverage) in coverage.iter().enumerate() {
                    let mut source = colour.map(|part| part * coverage * keep.at(start + i));
                    if self.as_browser {
                        round_to_8_bits(std::slice::from_mut(&mut source));
                    }
                    put(&mut run.pixels[start + i], source, laid.blend);
                }
            }
            What::Pixels(tile) => {
                let (from, pixels) = tile.row(y);
                for (i, source) in pixels.iter().enumerate() {
                    let Ok(x) = usize::try_from(from + i as i32 - run.x0) else { continue };
                    let Some(pixel) = run.pixels.get_mut(x) else { break };
                    put(pixel, source.map(|part| part * laid.opacity * keep.at(x)), laid.blend);
                }
            }
            What::AroundHole(..) | What::Paint(..) | What::Edge { .. } | What::Shadow { .. } => {}
        }
    }
}

/// How much of a shadow is kept at the pixels of a run.
struct Keep<'a> {
    body: (usize, &'a [f32]),
    knock_out: bool,
    hides_below: bool,
}

impl<'a> Keep<'a> {
    fn at(&self, x: usize) -> f32 {
        let inside = x.checked_sub(self.body.0).and_then(|i| self.body.1.get(i)).copied().unwrap_or(0.0);
        self.kept(inside)
    }

    fn kept(&self, inside: f32) -> f32 {
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

    /// Calls `work` with the ranges of a run in which something is kept, and with the body's coverage where that has
    /// to be taken off.
    fn each(
        &self,
        start: usize,
        length: usize,
        mut work: impl FnMut(std::ops::Range<usize>, Option<&'a [f32]>),
    ) {
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
    /// The pixels the surface may touch.
    fn surface_rect(&self) -> Rect {
        self.outer.rect().around_both(self.silhouette.rect())
    }

    /// The fill with what lies on it, as one group, bottom to top.
    ///
    /// Until a stroke comes, everything is painted as if it filled its pixels, and the silhouette's coverage is taken
    /// once: no lower coat shines through along the edge.
    fn surface(&self, run: &mut Run<'_>) {
        self.base(run);
        let mut covered = false;
        for laid in self.on.iter().rev() {
            if let What::Edge { paint, to_box, outer, inner } = &laid.what {
                if !covered {
                    self.cover(run);
                    covered = true;
                }
                self.edge(laid, (paint, *to_box), (outer, inner), run);
            } else {
                self.on_surface(laid, covered, run);
            }
        }
        if !covered {
            self.cover(run);
        }
    }

    /// The fill, and the parts of a join on it.
    fn base(&self, run: &mut Run<'_>) {
        let (start, coverage) = self.silhouette.part(run.y, run.x0, run.pixels.len());
        if let Some(fill) = &self.fill {
            paint_over(fill, self.to_piece, 1.0, BlendMode::Normal, run, (start, coverage), None);
        }
        if self.parts.is_empty() {
            return;
        }
        let (mut joined, mut filled) = (vec![[0.0; 4]; run.pixels.len()], vec![0.0_f32; run.pixels.len()]);
        for part in &self.parts {
            let mut own = vec![[0.0; 4]; run.pixels.len()];
            part.surface(&mut Run { y: run.y, x0: run.x0, pixels: &mut own });
            lay(&mut joined, &own, BlendMode::Normal);
            let (start, coverage) = part.outer.part(run.y, run.x0, run.pixels.len());
            for (filled, coverage) in filled[start..].iter_mut().zip(coverage) {
                *filled += (1.0 - *filled) * coverage;
            }
        }
        for (i, (own, filled)) in joined.iter().zip(filled).enumerate() {
            let pixel = &mut run.pixels[i];
            match &self.between {
                // With no fill of its own, a join is its parts, and between them what the lowest is filled with.
                Some(between) if self.fill.is_none() => {
                    let colour = between.at(Point::ZERO);
                    *pixel = if filled > 0.0 { own.map(|part| part / filled) } else { colour };
                }
                _ if self.fill.is_none() && filled > 0.0 => *pixel = own.map(|part| part / filled),
                _ => put(pixel, *own, BlendMode::Normal),
            }
        }
    }

    /// Takes the silhouette's coverage; outside it nothing is left.
    fn cover(&self, run: &mut Run<'_>) {
        let (start, coverage) = self.body(run);
        run.pixels[..start].fill([0.0; 4]);
        let end = start + coverage.len();
        run.pixels[end..].fill([0.0; 4]);
        for (pixel, coverage) in run.pixels[start..end].iter_mut().zip(coverage) {
            *pixel = pixel.map(|part| part * coverage);
        }
    }

    /// What the group is cut to: with parts, their strokes belong to it.
    fn body(&self, run: &Run<'_>) -> (usize, &[f32]) {
        let body = if self.parts.is_empty() { &self.silhouette } else { &self.outer };
        body.part(run.y, run.x0, run.pixels.len())
    }

    /// A coat on the surface, in whole pixels or, once the group is covered, within the silhouette.
    fn on_surface(&self, laid: &Laid, covered: bool, run: &mut Run<'_>) {
        let (start, silhouette) = self.body(run);
        let end = start + silhouette.len();
        let within = |i: usize| if covered { silhouette[i - start] } else { 1.0 };
        match &laid.what {
            What::Flat(colour, mask) => {
                let (from, coverage) = mask.part(run.y, run.x0, run.pixels.len());
                for (i, coverage) in coverage.iter().enumerate() {
                    let x = from + i;
                    if (start..end).contains(&x) && *coverage > 0.0 {
                        let share = coverage * laid.opacity * within(x);
                        put(&mut run.pixels[x], colour.map(|part| part * share), laid.blend);
                    }
                }
            }
            What::AroundHole(colour, hole) => {
                let (inner_start, inner) = self.inner.part(run.y, run.x0, run.pixels.len());
                let (hole_start, hole) = hole.part(run.y, run.x0, run.pixels.len());
                for (i, inside) in inner.iter().enumerate() {
                    let x = inner_start + i;
                    if !(start..end).contains(&x) || *inside <= 0.0 {
                        continue;
                    }
                    let hole = x.checked_sub(hole_start).and_then(|i| hole.get(i)).copied().unwrap_or(0.0);
                    // In whole pixels, the inner edge counts by its share of the outer one.
                    let inside = if covered { *inside } else { (inside / silhouette[x - start]).min(1.0) };
                    let share = (1.0 - hole) * inside * laid.opacity;
                    put(&mut run.pixels[x], colour.map(|part| part * share), laid.blend);
                }
            }
            What::Paint(sampler, to_box) => {
                let coverage = covered.then_some(silhouette);
                paint_over(sampler, *to_box, laid.opacity, laid.blend, run, (start, silhouette), coverage);
            }
            What::Pixels(tile) => {
                let (from, pixels) = tile.row(run.y);
                for (i, source) in pixels.iter().enumerate() {
                    let Ok(x) = usize::try_from(from + i as i32 - run.x0) else { continue };
                    if (start..end).contains(&x) {
                        let share = laid.opacity * within(x);
                        put(&mut run.pixels[x], source.map(|part| part * share), laid.blend);
                    }
                }
            }
            What::Edge { .. } | What::Shadow { .. } => {}
        }
    }

    /// A stroke: what it covers of the surface is laid over, what it covers beside it is added, so that ground shines
    /// through neither along the inner nor along the outer edge.
    fn edge(
        &self,
        laid: &Laid,
        (paint, to_box): (&Sampler, Affine),
        edges: (&Placed, &Placed),
        run: &mut Run<'_>,
    ) {
        let length = run.pixels.len();
        let (start, outer) = edges.0.part(run.y, run.x0, length);
        let at = |(from, coverage): (usize, &[f32]), x: usize| {
            x.checked_sub(from).and_then(|i| coverage.get(i)).copied().unwrap_or(0.0)
        };
        let (inner, body) =
            (edges.1.part(run.y, run.x0, length), self.silhouette.part(run.y, run.x0, length));
        for (i, outer) in outer.iter().enumerate() {
            let x = start + i;
            let (inner, body) = (at(inner, x).min(*outer), at(body, x));
            let width = outer - inner;
            if width <= 0.0 {
                continue;
            }
            let place = Point::new(f64::from(run.x0 + x as i32) + 0.5, f64::from(run.y) + 0.5);
            let colour = paint.at(to_box * place).map(|part| part * laid.opacity);
            let pixel = &mut run.pixels[x];
            if laid.blend != BlendMode::Normal {
                put(pixel, colour.map(|part| part * width), laid.blend);
                continue;
            }
            let over = if body > 0.0 { ((body - inner) / body).clamp(0.0, 1.0) } else { 0.0 };
            let kept = 1.0 - colour[3] * over;
            *pixel = std::array::from_fn(|part| pixel[part] * kept + colour[part] * width);
        }
    }
}

/// Lays a paint over the pixels of a run that a body covers at all.
fn paint_over(
    sampler: &Sampler,
    to_box: Affine,
    opacity: f32,
    mode: BlendMode,
    run: &mut Run<'_>,
    (start, body): (usize, &[f32]),
    coverage: Option<&[f32]>,
) {
    let (y, x0) = (f64::from(run.y) + 0.5, f64::from(run.x0) + 0.5);
    for (i, inside) in body.iter().enumerate() {
        if *inside <= 0.0 {
            continue;
        }
        let x = start + i;
        let share = opacity * coverage.map_or(1.0, |coverage| coverage[i]);
        let source = match sampler {
            Sampler::Flat(colour) => *colour,
            sampler => sampler.at(to_box * Point::new(x0 + x as f64, y)),
        };
        put(&mut run.pixels[x], source.map(|part| part * share), mode);
    }
}

/// Lays a group over a row.
fn lay(row: &mut [Pixel], group: &[Pixel], mode: BlendMode) {
    for (pixel, source) in row.iter_mut().zip(group) {
        put(pixel, *source, mode);
    }
}

fn lay_tile(tile: &Tile, run: &mut Run<'_>, mode: BlendMode) {
    let (from, pixels) = tile.row(run.y);
    for (i, source) in pixels.iter().enumerate() {
        let Ok(x) = usize::try_from(from + i as i32 - run.x0) else { continue };
        let Some(pixel) = run.pixels.get_mut(x) else { break };
        put(pixel, *source, mode);
    }
}

#[inline]
fn put(pixel: &mut Pixel, source: Pixel, mode: BlendMode) {
    if source[3] <= 0.0 {
        return;
    }
    *pixel = match mode {
        BlendMode::Normal => over(source, *pixel),
        mode => blend(mode, source, *pixel),
    };
}

#[inline]
fn over(source: Pixel, below: Pixel) -> Pixel {
    let kept = 1.0 - source[3];
    std::array::from_fn(|part| source[part] + below[part] * kept)
}

fn lay_flat(pixels: &mut [Pixel], colour: Pixel, coverage: &[f32]) {
    for (pixel, coverage) in pixels.iter_mut().zip(coverage) {
        let kept = 1.0 - colour[3] * coverage;
        *pixel = std::array::from_fn(|part| colour[part] * coverage + pixel[part] * kept);
    }
}

fn lay_flat_kept(pixels: &mut [Pixel], colour: Pixel, coverage: &[f32], inside: &[f32]) {
    for ((pixel, coverage), inside) in pixels.iter_mut().zip(coverage).zip(inside) {
        let coverage = coverage * (1.0 - inside);
        let kept = 1.0 - colour[3] * coverage;
        *pixel = std::array::from_fn(|part| colour[part] * coverage + pixel[part] * kept);
    }
}

/// Browsers round each layer by itself (DESIGN §4.7).
fn round_to_8_bits(pixels: &mut [Pixel]) {
    for pixel in pixels {
        *pixel = pixel.map(|part| (part * 255.0).round() / 255.0);
    }
}
