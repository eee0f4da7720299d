//! Drawing scenes: whole, in part, or one piece onto what is there.

use std::hash::Hash;

use kurbo::{Point, Vec2};

use super::backdrop;
use super::cache::{Key, MaskCache, content};
use super::canvas::{Canvas, Rounding, write_row};
use super::cost::{self, Cost};
use super::layers::PieceLayers;
use super::paint::Brush;
use super::scope::Scope;
use super::view::{Part, View};
use crate::blend::Pixel;
use crate::picture::Picture;
use crate::raster::Rect;
use crate::resolve::{Draws, Paint, Piece, Sampler, Scene};
use crate::rows::{each, for_each_row};
use crate::{blur, budget};

/// Draws a part of a scene.
#[must_use]
pub fn render(scene: &Scene, view: &View, part: &Part, cache: &MaskCache) -> Canvas {
    let window = view.window();
    let needed = behind_panes(scene, view, part, window);
    let cost = cost::of_scene(scene, &view.over(needed), part);
    let bytes = cost.bytes.saturating_add(needed.width() as u64 * needed.height() as u64 * PIXEL_BYTES);
    if !budget::take(cost.steps) || !budget::hold(bytes) {
        return Canvas::new(0, 0);
    }
    if needed == window {
        return draw(scene, view, part, cache);
    }
    // Frosted panes take in what lies around the picture.
    let whole = draw(scene, &view.over(needed), part, cache);
    let inset = |outer: i32, inner: i32| u32::try_from(inner - outer).unwrap_or(0);
    whole.part(inset(needed.x0, window.x0), inset(needed.y0, window.y0), view.width, view.height)
}

/// Draws a part of a scene straight to 8 bits, large pictures band by band so that they need little memory.
#[must_use]
pub fn picture(scene: &Scene, view: &View, part: &Part, rounding: Rounding, cache: &MaskCache) -> Picture {
    let (width, height) = (view.width, view.height);
    let cost = cost::of_scene(scene, view, part);
    let bytes = width as usize * height as usize * 4;
    if !budget::take(cost.steps) || !budget::hold(bytes as u64) {
        return Picture { width: 0, height: 0, rgba: Vec::new() };
    }
    let mut rgba = vec![0; bytes];
    let rows = band(view, cost);
    for (band, out) in rgba.chunks_mut((rows * width.max(1) * 4) as usize).enumerate() {
        let top = band as u32 * rows;
        let rect = Rect::new(0, top as i32, width as i32, (top + rows).min(height) as i32);
        let keeps = rows >= height;
        if budget::is_stopped() {
            break;
        }
        write(scene, &view.over(rect), part, (out, i64::from(top), rounding), keeps, cache);
    }
    Picture { width, height, rgba }
}

/// Rows that are drawn at a time.
fn band(view: &View, cost: Cost) -> u32 {
    let height = view.height.max(1);
    let rows = (BAND / view.width.max(1)).max(64).min(height);
    // Where much is laid over much, fewer: everything they are made from is there at the same time.
    let fit = u64::from(height) * BAND_BYTES / cost.bytes.max(1);
    rows.min(u32::try_from(fit).unwrap_or(u32::MAX).max(ROWS as u32))
}

/// Draws into rows of 8 bits, the first of which is row `top` of the whole picture; says whether to keep them.
fn write(
    scene: &Scene,
    view: &View,
    part: &Part,
    (out, top, rounding): (&mut [u8], i64, Rounding),
    keeps: bool,
    cache: &MaskCache,
) {
    let pieces = shown(scene, part);
    if pieces.iter().any(|piece| looks_behind(piece)) {
        return render(scene, view, part, cache).write(out, top, rounding);
    }
    // Nothing needs the picture below it as a whole: each row is painted from ground to top while it is at hand, and
    // rows that nothing has changed in are kept from the last picture.
    let layers = layers(&pieces, view, part, cache);
    let brushes = brushes(&pieces, &layers, part);
    let ground = Ground::new(scene, view, part);
    let width = view.width.max(1) as usize;
    let picture = content(|hasher| {
        (view.x.to_bits(), view.scale.to_bits(), rounding, part.mode, part.shadow_only).hash(hasher);
        (ground.fingerprint, scene.width.to_bits(), scene.height.to_bits(), width).hash(hasher);
    });
    for_each_row(out, width * 4 * ROWS, |block, out| {
        let first = block * ROWS as i32;
        let rows = Rect::new(0, first, width as i32, first + (out.len() / width / 4) as i32);
        let described = content(|hasher| {
            (picture, view.y.to_bits(), top).hash(hasher);
            layers.iter().for_each(|layers| layers.describe(rows, hasher));
        });
        cache.rows(Key { content: described, clip: rows }, keeps, out, |out| {
            let mut row = vec![[0.0; 4]; width];
            for (i, out) in out.chunks_mut(width * 4).enumerate() {
                let y = first + i as i32;
                ground.paint(y, &mut row);
                brushes.iter().for_each(|brush| brush.paint(y, &mut row));
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

/// The pixels that have to be painted so that those of `window` are right: more where a frosted pane, partly in it,
/// takes in what lies beyond it.
fn behind_panes(scene: &Scene, view: &View, part: &Part, window: Rect) -> Rect {
    let mut needed = window;
    for piece in shown(scene, part).into_iter().rev() {
        let area = box_of(piece, view);
        for coat in piece.coats.iter().filter(|coat| part.coats.includes(&coat.id)) {
            if let Draws::Backdrop(frost) = &coat.draws
                && !area.intersect(needed).is_empty()
            {
                let reach = blur::reach(frost.sigma * view.scale);
                needed = needed.around_both(area.intersect(needed.grown(reach)));
            }
        }
    }
    needed
}

fn shown<'a>(scene: &'a Scene, part: &Part) -> Vec<&'a Piece> {
    let chosen = |piece: &&Piece| part.piece.as_ref().is_none_or(|only| *only == piece.id);
    scene.pieces.iter().filter(chosen).collect()
}

/// The device pixels of a piece's box, with the strokes around it.
fn box_of(piece: &Piece, view: &View) -> Rect {
    let bounds = (view.transform() * piece.place()).transform_rect_bbox(piece.outer.bounds());
    Rect::around(bounds.x0, bounds.y0, bounds.x1, bounds.y1)
}

pub(super) fn looks_behind(piece: &Piece) -> bool {
    piece.coats.iter().any(|coat| matches!(coat.draws, Draws::Backdrop(_)))
}

/// Draws one piece onto a picture, in the same view, of what lies below it. Nothing when it is a frosted pane, which may
/// take in more than the view shows.
#[must_use]
pub fn render_onto(below: &Canvas, piece: &Piece, view: &View, cache: &MaskCache) -> Option<Canvas> {
    if looks_behind(piece) {
        return None;
    }
    let (part, mut canvas) = (Part::default(), below.clone());
    if !budget::take(cost::of_pieces([piece], view, &part).steps) {
        return Some(canvas);
    }
    let layers = layers(&[piece], view, &part, cache);
    for brush in brushes(&[piece], &layers, &part) {
        canvas.each_row(|y, row| brush.paint(y, row));
    }
    Some(canvas)
}

fn draw(scene: &Scene, view: &View, part: &Part, cache: &MaskCache) -> Canvas {
    let mut canvas = Canvas::new(view.width, view.height);
    let pieces = shown(scene, part);
    let layers = layers(&pieces, view, part, cache);
    let brushes = brushes(&pieces, &layers, part);
    let ground = Ground::new(scene, view, part);
    let mut done = 0;
    // A frosted pane needs everything below it finished.
    for (i, piece) in pieces.iter().enumerate().filter(|(_, piece)| looks_behind(piece)) {
        canvas.each_row(|y, row| {
            if done == 0 {
                ground.paint(y, row);
            }
            brushes[done..i].iter().for_each(|brush| brush.paint(y, row));
        });
        backdrop::frost(&mut canvas, &layers[i], box_of(piece, view), view.scale);
        canvas.each_row(|y, row| brushes[i].paint(y, row));
        done = i + 1;
    }
    canvas.each_row(|y, row| {
        if done == 0 {
            ground.paint(y, row);
        }
        brushes[done..].iter().for_each(|brush| brush.paint(y, row));
    });
    canvas
}

fn layers(pieces: &[&Piece], view: &View, part: &Part, cache: &MaskCache) -> Vec<PieceLayers> {
    let scope = Scope { part, cache, window: view.window(), scale: view.scale, to_device: view.transform() };
    each(pieces, |piece| PieceLayers::of(piece, view.transform() * piece.place(), &scope))
}

fn brushes<'a>(pieces: &[&'a Piece], layers: &'a [PieceLayers], part: &Part) -> Vec<Brush<'a>> {
    let brush = |(piece, layers): (&&'a Piece, &'a PieceLayers)| Brush::new(piece, layers, part.mode);
    pieces.iter().zip(layers).map(brush).collect()
}

/// What the scene lies on.
struct Ground<'a> {
    fingerprint: u64,
    view: &'a View,
    size: (f64, f64),
    sampler: Option<Sampler>,
}

impl<'a> Ground<'a> {
    fn new(scene: &Scene, view: &'a View, part: &Part) -> Self {
        let size = (scene.width, scene.height);
        let sampler = (!part.shadow_only && scene.ground != Paint::None)
            .then(|| scene.ground.sampler(size.0, size.1, view.scale));
        Self { fingerprint: scene.ground.fingerprint(), view, size, sampler }
    }

    /// Starts a row: every pixel of it is the ground's, or transparent where there is none.
    fn paint(&self, row_number: i32, row: &mut [Pixel]) {
        let (Some(sampler), View { x, y, scale, .. }) = (&self.sampler, self.view) else {
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
