//! Laying a piece's layers down, row by row.

use std::ops::Range;

use kurbo::{Affine, Point, Vec2};
use wide::f32x4;

use super::coverage::RenderMode;
use super::layers::{Laid, PieceLayers, What};
use super::placed::{Placed, Scratch};
use super::tile::{Around, Tile};
use crate::blend::{BlendMode, Pixel, blend, in_8_bits, in_255ths, over};
use crate::raster::Rect;
use crate::resolve::{Piece, Sampler};

/// A run of pixels in a row of the device.
struct Run<'a> {
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
        && layers.softened == 0.0
        && layers.clip.is_none()
}

/// Paints a piece onto the scene, bottom to top (DESIGN §4.3, steps 2 to 4).
pub(super) struct Brush<'a> {
    piece: &'a Piece,
    layers: &'a PieceLayers,
    /// Bottom to top.
    under: Vec<Step<'a>>,
    rows: Range<i32>,
    mode: RenderMode,
    /// The fill is opaque, so that shadows need not be drawn under it.
    hides_below: bool,
}

/// What is laid under a piece at a time.
enum Step<'a> {
    One(&'a Laid),
    Alike(Alike<'a>),
}

/// Shadows of one colour that lie next to one another in the stack.
struct Alike<'a> {
    /// Solid.
    colour: Pixel,
    knock_out: bool,
    /// The opacity of each, and its coverage.
    masks: Vec<(f32, &'a Placed)>,
}

/// Coats under a piece, bottom to top, those of one colour put together. Browsers round each by itself.
fn steps(under: &[Laid], mode: RenderMode) -> Vec<Step<'_>> {
    let mut steps: Vec<Step<'_>> = Vec::new();
    for laid in under.iter().rev() {
        let Some((knock_out, colour, alpha, mask)) = plain(laid).filter(|_| mode.is_exact()) else {
            steps.push(Step::One(laid));
            continue;
        };
        match steps.last_mut() {
            Some(Step::Alike(last)) if last.knock_out == knock_out && same(last.colour, colour) => {
                last.masks.push((alpha, mask));
            }
            _ => steps.push(Step::Alike(Alike { colour, knock_out, masks: vec![(alpha, mask)] })),
        }
    }
    steps
}

/// A shadow of one colour in normal blend: whether it is knocked out, its solid colour, opacity and coverage.
fn plain(laid: &Laid) -> Option<(bool, Pixel, f32, &Placed)> {
    let What::Shadow { knock_out, ink } = &laid.what else { return None };
    let What::Flat(colour, mask) = ink.as_ref() else { return None };
    let alpha = colour[3];
    (laid.blend == BlendMode::Normal && alpha > 0.0).then(|| {
        let solid = colour.map(|part| part / alpha);
        (*knock_out, solid, alpha * laid.opacity, mask)
    })
}

fn same(a: Pixel, b: Pixel) -> bool {
    a.iter().zip(b).all(|(a, b)| (a - b).abs() < 1e-6)
}

impl<'a> Brush<'a> {
    pub fn new(piece: &'a Piece, layers: &'a PieceLayers, mode: RenderMode) -> Self {
        let hides_below = hides_below(piece, layers);
        let under = steps(&layers.under, mode);
        Self { piece, layers, under, rows: layers.rows(), mode, hides_below }
    }

    /// Paints one row of the picture.
    pub fn paint(&self, y: i32, row: &mut [Pixel]) {
        self.paint_from(y, 0, row);
    }

    /// Paints a part of a row of the picture, which starts at `x0`.
    pub fn paint_from(&self, y: i32, x0: i32, pixels: &mut [Pixel]) {
        if self.rows.contains(&y) {
            self.row(&mut Run { y, x0, pixels });
        }
    }
}

impl<'a> Brush<'a> {
    fn row(&self, run: &mut Run<'_>) {
        if self.piece.opacity >= 1.0 && self.layers.clip.is_none() {
            self.layers_of(run);
            return;
        }
        // Steps 2 to 4 are scaled together: what they change is kept in part.
        let before = run.pixels.to_vec();
        self.layers_of(run);
        let opacity = self.piece.opacity as f32;
        let clip = self.layers.clip.as_ref().map(|clip| clip.sharp(run.y, run.x0, run.pixels.len()));
        for (i, (now, before)) in run.pixels.iter_mut().zip(before).enumerate() {
            let kept = clip.map_or(1.0, |(start, coverage)| {
                i.checked_sub(start).and_then(|i| coverage.get(i)).copied().unwrap_or(0.0)
            });
            *now = std::array::from_fn(|part| before[part] + (now[part] - before[part]) * opacity * kept);
        }
    }

    fn layers_of(&self, run: &mut Run<'_>) {
        for step in &self.under {
            match step {
                Step::One(laid) => self.under(laid, run),
                Step::Alike(alike) => self.alike(alike, run),
            }
            if !self.mode.is_exact() {
                round_to_8_bits(run.pixels);
            }
        }
        match (&self.layers.surface, &self.layers.fill) {
            (Some(tile), _) => lay_tile(tile, run, self.piece.blend),
            (None, Some(Sampler::Flat(colour))) if self.layers.is_plain() => self.plain_surface(*colour, run),
            (None, None) if self.layers.is_plain() => return,
            (None, _) => {
                let mut surface = vec![[0.0; 4]; run.pixels.len()];
                self.layers.paint_surface(&mut Run { pixels: &mut surface, ..*run });
                lay(run.pixels, &surface, self.piece.blend);
            }
        }
        if !self.mode.is_exact() {
            round_to_8_bits(run.pixels);
        }
    }

    /// A surface of one colour with nothing on it.
    fn plain_surface(&self, colour: Pixel, run: &mut Run<'_>) {
        let (start, coverage) = self.layers.silhouette.sharp(run.y, run.x0, run.pixels.len());
        let pixels = &mut run.pixels[start..start + coverage.len()];
        if self.piece.blend == BlendMode::Normal {
            return lay_flat(pixels, colour, coverage);
        }
        for (pixel, coverage) in pixels.iter_mut().zip(coverage) {
            put(pixel, colour.map(|part| part * coverage), self.piece.blend);
        }
    }

    /// How much of a coat under the piece is kept in a row.
    fn keep(&self, knock_out: bool, run: &Run<'_>) -> Keep<'a> {
        let body = if knock_out { &self.layers.outer } else { &self.layers.silhouette };
        let body = body.sharp(run.y, run.x0, run.pixels.len());
        Keep { body, knock_out, hides_below: self.hides_below }
    }

    /// Shadows of one colour over one another: what each lets through is multiplied, and the colour is laid once.
    fn alike(&self, alike: &Alike<'_>, run: &mut Run<'_>) {
        let width = run.pixels.len();
        let mut through = vec![1.0_f32; width];
        let (mut from, mut to, mut scratch) = (width, 0, Scratch::default());
        for (alpha, mask) in &alike.masks {
            let (start, coverage) = mask.part(run.y, run.x0, width, &mut scratch);
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
        self.keep(alike.knock_out, run).lay(alike.colour, from, &through[from..to], run);
    }

    /// A coat under the piece.
    fn under(&self, laid: &Laid, run: &mut Run<'_>) {
        let (knock_out, what) = match &laid.what {
            What::Shadow { knock_out, ink } => (*knock_out, ink.as_ref()),
            what => (false, what),
        };
        let y = run.y;
        let keep = self.keep(knock_out, run);
        match what {
            What::Flat(colour, mask) => {
                let mut scratch = Scratch::default();
                let (start, coverage) = mask.part(y, run.x0, run.pixels.len(), &mut scratch);
                let colour = colour.map(|part| part * laid.opacity);
                if laid.blend == BlendMode::Normal && self.mode.is_exact() {
                    return keep.lay(colour, start, coverage, run);
                }
                let solid = colour.map(in_255ths);
                for (i, coverage) in coverage.iter().enumerate() {
                    let (covered, pixel) = (coverage * keep.at(start + i), &mut run.pixels[start + i]);
                    match self.mode.other().filter(|_| laid.blend == BlendMode::Normal) {
                        Some(renderer) => *pixel = renderer.lay(solid, covered, *pixel),
                        None => put(pixel, colour.map(|part| part * covered), laid.blend),
                    }
                }
            }
            What::Pixels(tile) => {
                let (start, sources) = tile.part(y, run.x0, run.pixels.len());
                if laid.blend == BlendMode::Normal {
                    return keep.each(start, sources.len(), |range, kept| {
                        let pixels = &mut run.pixels[range.clone()];
                        lay_pixels(
                            pixels,
                            &sources[range.start - start..range.end - start],
                            laid.opacity,
                            kept,
                        );
                    });
                }
                for (i, source) in sources.iter().enumerate() {
                    let share = laid.opacity * keep.at(start + i);
                    put(&mut run.pixels[start + i], source.map(|part| part * share), laid.blend);
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

    /// Lays a colour through coverage that starts at a pixel of the run.
    fn lay(&self, colour: Pixel, start: usize, coverage: &[f32], run: &mut Run<'_>) {
        self.each(start, coverage.len(), |range, kept| {
            let pixels = &mut run.pixels[range.clone()];
            let coverage = &coverage[range.start - start..range.end - start];
            match kept {
                None => lay_flat(pixels, colour, coverage),
                Some(kept) => lay_flat_kept(pixels, colour, coverage, kept),
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
        tile.each_row(|y, pixels| self.paint_surface(&mut Run { y, x0: left, pixels }));
        if self.softened > 0.0 { tile.blurred(self.softened, Around::Clear, window) } else { tile }
    }

    /// The fill with what lies on it, as one group, bottom to top.
    ///
    /// Until a stroke comes, everything is painted as if it filled its pixels, and the silhouette's coverage is taken
    /// once: no lower coat shines through along the edge. Browsers cut each layer by itself.
    fn paint_surface(&self, run: &mut Run<'_>) {
        self.base(run);
        let mut covered = self.each_cut;
        if covered {
            self.cover(run);
        }
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
        let (start, coverage) = self.silhouette.sharp(run.y, run.x0, run.pixels.len());
        if let Some(fill) = &self.fill {
            paint_over(fill, self.to_piece, 1.0, BlendMode::Normal, run, (start, coverage), None);
        }
        if self.parts.is_empty() {
            return;
        }
        let (mut joined, mut filled) = (vec![[0.0; 4]; run.pixels.len()], vec![0.0_f32; run.pixels.len()]);
        for part in &self.parts {
            let mut own = vec![[0.0; 4]; run.pixels.len()];
            part.paint_surface(&mut Run { y: run.y, x0: run.x0, pixels: &mut own });
            part.keep_some(run.y, run.x0, &mut own);
            lay(&mut joined, &own, part.blend);
            let (start, coverage) = part.outer.sharp(run.y, run.x0, run.pixels.len());
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

    /// Takes the opacity of a part of a join, and what it is clipped to, off its surface.
    fn keep_some(&self, y: i32, x0: i32, own: &mut [Pixel]) {
        let clip = self.clip.as_ref().map(|clip| clip.sharp(y, x0, own.len()));
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
        body.sharp(run.y, run.x0, run.pixels.len())
    }

    /// A coat on the surface, in whole pixels or, once the group is covered, within the silhouette.
    fn on_surface(&self, laid: &Laid, covered: bool, run: &mut Run<'_>) {
        let (start, silhouette) = self.body(run);
        let end = start + silhouette.len();
        let within = |i: usize| if covered { silhouette[i - start] } else { 1.0 };
        match &laid.what {
            What::Flat(colour, mask) => {
                let mut scratch = Scratch::default();
                let (from, coverage) = mask.part(run.y, run.x0, run.pixels.len(), &mut scratch);
                for (i, coverage) in coverage.iter().enumerate() {
                    let x = from + i;
                    if (start..end).contains(&x) && *coverage > 0.0 {
                        let share = coverage * laid.opacity * within(x);
                        put(&mut run.pixels[x], colour.map(|part| part * share), laid.blend);
                    }
                }
            }
            What::AroundHole(colour, hole) => {
                let (inner_start, inner) = self.inner.sharp(run.y, run.x0, run.pixels.len());
                let mut scratch = Scratch::default();
                let (hole_start, hole) = hole.part(run.y, run.x0, run.pixels.len(), &mut scratch);
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
                let (from, pixels) = tile.part(run.y, run.x0, run.pixels.len());
                for (i, source) in pixels.iter().enumerate() {
                    let x = from + i;
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
        let (start, outer) = edges.0.sharp(run.y, run.x0, length);
        let at = |(from, coverage): (usize, &[f32]), x: usize| {
            x.checked_sub(from).and_then(|i| coverage.get(i)).copied().unwrap_or(0.0)
        };
        let (inner, body) =
            (edges.1.sharp(run.y, run.x0, length), self.silhouette.sharp(run.y, run.x0, length));
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
    let first = Point::new(f64::from(run.x0 + start as i32) + 0.5, f64::from(run.y) + 0.5);
    let step = to_box * (first + Vec2::new(1.0, 0.0)) - to_box * first;
    let pixels = &mut run.pixels[start..start + body.len()];
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
            put(pixel, colour.map(|part| part * share), mode);
        }
    }
}

/// Lays a group over a row.
fn lay(row: &mut [Pixel], group: &[Pixel], mode: BlendMode) {
    for (pixel, source) in row.iter_mut().zip(group) {
        put(pixel, *source, mode);
    }
}

fn lay_tile(tile: &Tile, run: &mut Run<'_>, mode: BlendMode) {
    let (start, sources) = tile.part(run.y, run.x0, run.pixels.len());
    let pixels = &mut run.pixels[start..start + sources.len()];
    match mode {
        BlendMode::Normal => lay_pixels(pixels, sources, 1.0, None),
        mode => lay(pixels, sources, mode),
    }
}

/// Lays pixels over a row in normal blend; what the body covers of them may be taken off.
fn lay_pixels(row: &mut [Pixel], sources: &[Pixel], opacity: f32, body: Option<&[f32]>) {
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
fn put(pixel: &mut Pixel, source: Pixel, mode: BlendMode) {
    if source[3] <= 0.0 {
        return;
    }
    *pixel = match mode {
        BlendMode::Normal => over(source, *pixel),
        mode => blend(mode, source, *pixel),
    };
}

fn lay_flat(pixels: &mut [Pixel], colour: Pixel, coverage: &[f32]) {
    let (alpha, colour) = (colour[3], f32x4::from(colour));
    for (pixel, coverage) in pixels.iter_mut().zip(coverage) {
        lay_one(pixel, colour, alpha, *coverage);
    }
}

#[inline]
fn lay_one(pixel: &mut Pixel, colour: f32x4, alpha: f32, coverage: f32) {
    let kept = f32x4::splat(1.0 - alpha * coverage);
    *pixel = (colour * f32x4::splat(coverage) + f32x4::from(*pixel) * kept).to_array();
}

fn lay_flat_kept(pixels: &mut [Pixel], colour: Pixel, coverage: &[f32], inside: &[f32]) {
    let (alpha, colour) = (colour[3], f32x4::from(colour));
    for ((pixel, coverage), inside) in pixels.iter_mut().zip(coverage).zip(inside) {
        lay_one(pixel, colour, alpha, coverage * (1.0 - inside));
    }
}

/// Other renderers keep each layer in 8 bits.
pub(super) fn round_to_8_bits(pixels: &mut [Pixel]) {
    for pixel in pixels {
        *pixel = in_8_bits(*pixel);
    }
}
