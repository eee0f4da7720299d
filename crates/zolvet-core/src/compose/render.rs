//! Rendering a scene, all of it or as options say, or one piece onto a canvas.

use std::hash::Hash;

use kurbo::{Point, Vec2};

use super::backdrop;
use super::cache::{Key, MaskCache, content_hash};
use super::canvas::{Canvas, Rounding, write_row};
use super::context::RenderContext;
use super::cost::{self, Cost};
use super::layer::PieceLayers;
use super::paint::PiecePainter;
use super::viewport::{RenderOptions, Viewport};
use crate::blend::Pixel;
use crate::parallel::{for_each_row, parallel_map};
use crate::picture::Picture;
use crate::raster::Rect;
use crate::resolve::{Paint, PaintOp, Piece, Sampler, Scene};
use crate::{blur, budget};

/// Draws a part of a scene.
#[must_use]
pub fn render(scene: &Scene, viewport: &Viewport, options: &RenderOptions, cache: &MaskCache) -> Canvas {
    let window = viewport.window();
    let needed = backdrop_extent(scene, viewport, options, window);
    let cost = cost::of_scene(scene, &viewport.over(needed), options);
    let bytes = cost.bytes.saturating_add(needed.width() as u64 * needed.height() as u64 * PIXEL_BYTES);
    if !budget::spend(cost.steps) || !budget::allow_memory(bytes) {
        return Canvas::new(0, 0);
    }
    if needed == window {
        return draw(scene, viewport, options, cache);
    }
    // Backdrop blurs sample what lies around the picture.
    let whole = draw(scene, &viewport.over(needed), options, cache);
    let inset = |outer: i32, inner: i32| u32::try_from(inner - outer).unwrap_or(0);
    whole.crop(inset(needed.x0, window.x0), inset(needed.y0, window.y0), viewport.width, viewport.height)
}

/// Draws a part of a scene straight to 8 bits, large pictures band by band so that they need little memory.
#[must_use]
pub fn picture(
    scene: &Scene,
    viewport: &Viewport,
    options: &RenderOptions,
    rounding: Rounding,
    cache: &MaskCache,
) -> Picture {
    let (width, height) = (viewport.width, viewport.height);
    let cost = cost::of_scene(scene, viewport, options);
    let bytes = width as usize * height as usize * 4;
    if !budget::spend(cost.steps) || !budget::allow_memory(bytes as u64) {
        return Picture { width: 0, height: 0, rgba: Vec::new() };
    }
    let mut rgba = vec![0; bytes];
    let rows = band(viewport, cost);
    for (band, out) in rgba.chunks_mut((rows * width.max(1) * 4) as usize).enumerate() {
        let top = band as u32 * rows;
        let rect = Rect::new(0, top as i32, width as i32, (top + rows).min(height) as i32);
        let is_cached = rows >= height;
        if budget::is_stopped() {
            break;
        }
        let band = Band { out, top: i64::from(top), rounding, is_cached };
        write(scene, &viewport.over(rect), options, band, cache);
    }
    Picture { width, height, rgba }
}

/// Rows that are drawn at a time.
fn band(viewport: &Viewport, cost: Cost) -> u32 {
    let height = viewport.height.max(1);
    let rows = (BAND / viewport.width.max(1)).max(64).min(height);
    // Fewer where many layers overlap: everything they are made from is in memory at the same time.
    let fit = u64::from(height) * BAND_BYTES / cost.bytes.max(1);
    rows.min(u32::try_from(fit).unwrap_or(u32::MAX).max(ROWS as u32))
}

/// Rows of a picture in 8 bits.
struct Band<'a> {
    out: &'a mut [u8],
    /// The number of the first row in the whole picture.
    top: i64,
    rounding: Rounding,
    /// Whether finished rows are cached.
    is_cached: bool,
}

/// Draws into a band of a picture.
fn write(scene: &Scene, viewport: &Viewport, options: &RenderOptions, band: Band<'_>, cache: &MaskCache) {
    let Band { out, top, rounding, is_cached } = band;
    let pieces = visible_pieces(scene, options);
    if pieces.iter().any(|piece| has_backdrop(piece)) {
        return render(scene, viewport, options, cache).write(out, top, rounding);
    }
    // No backdrop blur needs the picture below it as a whole: each row is painted from ground to top at once, and
    // unchanged rows are reused from the last picture.
    let layers = layers(&pieces, viewport, options, cache);
    let painters = painters(&pieces, &layers, options);
    let ground = Ground::new(scene, viewport, options);
    let width = viewport.width.max(1) as usize;
    let picture = content_hash(|hasher| {
        (viewport.x.to_bits(), viewport.scale.to_bits(), rounding, options.mode, options.shadow_only)
            .hash(hasher);
        (ground.fingerprint, scene.width.to_bits(), scene.height.to_bits(), width).hash(hasher);
    });
    for_each_row(out, width * 4 * ROWS, |block, out| {
        let first = block * ROWS as i32;
        let rows = Rect::new(0, first, width as i32, first + (out.len() / width / 4) as i32);
        let described = content_hash(|hasher| {
            (picture, viewport.y.to_bits(), top).hash(hasher);
            layers.iter().for_each(|layers| layers.describe(rows, hasher));
        });
        cache.rows(Key { content: described, clip: rows }, is_cached, out, |out| {
            let mut row = vec![[0.0; 4]; width];
            for (i, out) in out.chunks_mut(width * 4).enumerate() {
                let y = first + i as i32;
                ground.paint(y, &mut row);
                painters.iter().for_each(|painter| painter.paint(y, &mut row));
                write_row(out, &row, top + i64::from(y), rounding);
            }
        });
    });
}

/// Rows painted one after the other with what the first needed.
const ROWS: usize = 16;
/// Pixels painted at a time.
const BAND: u32 = 4 << 20;
/// Bytes of masks and tiles that these are painted with.
const BAND_BYTES: u64 = 128 << 20;
/// Bytes of a pixel that is painted.
const PIXEL_BYTES: u64 = 16;

/// The pixels that have to be painted so that those of `window` are right: more where a piece with a backdrop blur, partly in it,
/// samples what lies beyond it.
fn backdrop_extent(scene: &Scene, viewport: &Viewport, options: &RenderOptions, window: Rect) -> Rect {
    let mut needed = window;
    for piece in visible_pieces(scene, options).into_iter().rev() {
        let area = device_box(piece, viewport);
        for coat in piece.coats.iter().filter(|coat| options.coats.includes(&coat.id)) {
            if let PaintOp::Backdrop(backdrop) = &coat.op
                && !area.intersect(needed).is_empty()
            {
                let reach = blur::reach(backdrop.sigma * viewport.scale);
                needed = needed.around_both(area.intersect(needed.grown(reach)));
            }
        }
    }
    needed
}

fn visible_pieces<'a>(scene: &'a Scene, options: &RenderOptions) -> Vec<&'a Piece> {
    let chosen = |piece: &&Piece| options.piece.as_ref().is_none_or(|only| *only == piece.id);
    scene.pieces.iter().filter(chosen).collect()
}

/// The device pixels of a piece's box, with the strokes around it.
fn device_box(piece: &Piece, viewport: &Viewport) -> Rect {
    let bounds = (viewport.transform() * piece.place()).transform_rect_bbox(piece.outer.bounds());
    Rect::around(bounds.x0, bounds.y0, bounds.x1, bounds.y1)
}

pub(super) fn has_backdrop(piece: &Piece) -> bool {
    piece.coats.iter().any(|coat| matches!(coat.op, PaintOp::Backdrop(_)))
}

/// Draws one piece onto a picture, in the same view, of what lies below it. `None` for a piece with a backdrop blur, which may
/// take in more than the view shows.
#[must_use]
pub fn render_onto(below: &Canvas, piece: &Piece, viewport: &Viewport, cache: &MaskCache) -> Option<Canvas> {
    if has_backdrop(piece) {
        return None;
    }
    Some(render_over(below.clone(), std::slice::from_ref(piece), viewport, &RenderOptions::default(), cache))
}

/// Draws pieces, lowest first, onto a picture, in the same view, of all that lies below them.
#[must_use]
pub fn render_over(
    mut below: Canvas,
    pieces: &[Piece],
    viewport: &Viewport,
    options: &RenderOptions,
    cache: &MaskCache,
) -> Canvas {
    if budget::spend(cost::of_pieces(pieces, viewport, options).steps) {
        let pieces: Vec<&Piece> = pieces.iter().collect();
        paint(&mut below, &pieces, None, (viewport, options, cache));
    }
    below
}

fn draw(scene: &Scene, viewport: &Viewport, options: &RenderOptions, cache: &MaskCache) -> Canvas {
    let mut canvas = Canvas::new(viewport.width, viewport.height);
    let ground = Ground::new(scene, viewport, options);
    paint(&mut canvas, &visible_pieces(scene, options), Some(&ground), (viewport, options, cache));
    canvas
}

/// Paints a ground, where there is one, and pieces over it.
fn paint(
    canvas: &mut Canvas,
    pieces: &[&Piece],
    ground: Option<&Ground<'_>>,
    (viewport, options, cache): (&Viewport, &RenderOptions, &MaskCache),
) {
    let layers = layers(pieces, viewport, options, cache);
    let painters = painters(pieces, &layers, options);
    let mut done = 0;
    let ground = |done: usize, y: i32, row: &mut [Pixel]| {
        if let Some(ground) = ground.filter(|_| done == 0) {
            ground.paint(y, row);
        }
    };
    // A backdrop blur needs everything below it finished.
    for (i, piece) in pieces.iter().enumerate().filter(|(_, piece)| has_backdrop(piece)) {
        canvas.each_row(|y, row| {
            ground(done, y, row);
            painters[done..i].iter().for_each(|painter| painter.paint(y, row));
        });
        backdrop::backdrop(canvas, &layers[i], device_box(piece, viewport), viewport.scale);
        canvas.each_row(|y, row| painters[i].paint(y, row));
        done = i + 1;
    }
    canvas.each_row(|y, row| {
        ground(done, y, row);
        painters[done..].iter().for_each(|painter| painter.paint(y, row));
    });
}

fn layers(
    pieces: &[&Piece],
    viewport: &Viewport,
    options: &RenderOptions,
    cache: &MaskCache,
) -> Vec<PieceLayers> {
    let context = RenderContext {
        options,
        cache,
        window: viewport.window(),
        scale: viewport.scale,
        to_device: viewport.transform(),
    };
    parallel_map(pieces, |piece| PieceLayers::of(piece, viewport.transform() * piece.place(), &context))
}

fn painters<'a>(
    pieces: &[&'a Piece],
    layers: &'a [PieceLayers],
    options: &RenderOptions,
) -> Vec<PiecePainter<'a>> {
    let painter =
        |(piece, layers): (&&'a Piece, &'a PieceLayers)| PiecePainter::new(piece, layers, options.mode);
    pieces.iter().zip(layers).map(painter).collect()
}

/// The ground of a scene.
struct Ground<'a> {
    fingerprint: u64,
    viewport: &'a Viewport,
    size: (f64, f64),
    sampler: Option<Sampler>,
}

impl<'a> Ground<'a> {
    fn new(scene: &Scene, viewport: &'a Viewport, options: &RenderOptions) -> Self {
        let size = (scene.width, scene.height);
        let sampler = (!options.shadow_only && scene.ground != Paint::None)
            .then(|| scene.ground.sampler(size.0, size.1, viewport.scale));
        Self { fingerprint: scene.ground.fingerprint(), viewport, size, sampler }
    }

    /// Starts a row: every pixel of it is the ground's, or transparent where there is none.
    fn paint(&self, row_number: i32, row: &mut [Pixel]) {
        let (Some(sampler), Viewport { x, y, scale, .. }) = (&self.sampler, self.viewport) else {
            return row.fill([0.0; 4]);
        };
        let y = y + (f64::from(row_number) + 0.5) / scale;
        let first = ((-x * scale - 0.5).ceil().max(0.0) as usize).min(row.len());
        let last = (((self.size.0 - x) * scale - 0.5).ceil().max(0.0) as usize).min(row.len());
        if first >= last || !(0.0..self.size.1).contains(&y) {
            return row.fill([0.0; 4]);
        }
        row[..first].fill([0.0; 4]);
        row[last..].fill([0.0; 4]);
        let start = Point::new(x + (first as f64 + 0.5) / scale, y);
        sampler.row(start, Vec2::new(1.0 / scale, 0.0), &mut row[first..last]);
    }
}
