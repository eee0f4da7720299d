//! Rendering a scene, all of it or as options say, or one piece onto a canvas.

use super::cache::MaskCache;
use super::canvas::{Canvas, Rounding, in_bytes};
use super::context::RenderContext;
use super::cost::{self, Cost};
use super::paint::group::extent;
use super::paint::scene::{Ground, InitialBackdrop, Painting, has_backdrop, layers};
use super::viewport::{Part, RenderOptions, Viewport};
use crate::budget;
use crate::parallel::for_each_row;
use crate::picture::Picture;
use crate::raster::{Rect, RowStart};
use crate::resolve::{Piece, Scene};

/// Draws a part of a scene.
#[must_use]
pub fn render(scene: &Scene, viewport: &Viewport, options: &RenderOptions, cache: &MaskCache) -> Canvas {
    let Some(needed) = prepare(scene, viewport.whole_part(), options) else { return Canvas::new(0, 0) };
    let mut canvas = Canvas::new(viewport.width, viewport.height);
    let ground = Ground::new(scene, viewport, options);
    with_painting((scene, ground), viewport.part(needed), options, cache, |painting| {
        canvas.each_row(|y, row| painting.span(y, 0, row));
    });
    canvas
}

/// The pixels that have to be known so that a part of a view is right, where the budget allows for them.
pub(super) fn prepare(scene: &Scene, part: Part<'_>, options: &RenderOptions) -> Option<Rect> {
    let needed = backdrop_extent(scene, part, options);
    let cost = cost::scene_cost(scene, part.viewport.part(needed), options);
    let bytes = cost.bytes.saturating_add(needed.width() as u64 * needed.height() as u64 * PIXEL_BYTES);
    (budget::spend(cost.steps) && budget::allow_memory(bytes)).then_some(needed)
}

/// Makes everything that a part of a view of a scene is painted with, over its ground.
pub(super) fn with_painting<T>(
    (scene, ground): (&Scene, Ground<'_>),
    part: Part<'_>,
    options: &RenderOptions,
    cache: &MaskCache,
    paint: impl FnOnce(&Painting<'_>) -> T,
) -> T {
    let pieces = visible_pieces(scene, options);
    let context = RenderContext::new(part, options, cache);
    let layers = layers(&pieces, &context);
    let painting = Painting::new(InitialBackdrop::Ground(ground), &pieces, &layers, &context);
    paint(&painting)
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
    let cost = cost::scene_cost(scene, viewport.whole_part(), options);
    let bytes = width as usize * height as usize * 4;
    if !budget::spend(cost.steps) || !budget::allow_memory(bytes as u64) {
        return Picture { width: 0, height: 0, rgba: Vec::new() };
    }
    let blank = blank(scene, viewport, options, rounding);
    let mut rgba = vec![blank.unwrap_or_default(); bytes / 4].into_flattened();
    let rows = band(viewport, cost);
    for (band, out) in rgba.chunks_mut((rows * width.max(1) * 4) as usize).enumerate() {
        let top = band as u32 * rows;
        let rect = Rect::new(0, top as i32, width as i32, (top + rows).min(height) as i32);
        if budget::is_stopped() {
            break;
        }
        write(scene, viewport.part(rect), options, (out, rounding, blank.is_some()), cache);
    }
    Picture { width, height, rgba }
}

/// The colour of a pixel that only the ground covers.
fn blank(scene: &Scene, viewport: &Viewport, options: &RenderOptions, rounding: Rounding) -> Option<[u8; 4]> {
    let exact = rounding == Rounding::Nearest && options.mode.is_exact();
    Ground::new(scene, viewport, options).flat().filter(|_| exact).map(in_bytes)
}

/// Rows that are drawn at a time.
fn band(viewport: &Viewport, cost: Cost) -> u32 {
    let height = viewport.height.max(1);
    let rows = (BAND / viewport.width.max(1)).max(64).min(height);
    // Fewer where many layers overlap: everything they are made from is in memory at the same time.
    let fit = u64::from(height) * BAND_BYTES / cost.bytes.max(1);
    rows.min(u32::try_from(fit).unwrap_or(u32::MAX).max(ROWS_AT_A_TIME as u32))
}

/// Draws a band of a picture into its 8 bits, in which the ground is there already or not.
fn write(
    scene: &Scene,
    band: Part<'_>,
    options: &RenderOptions,
    (out, rounding, is_blank): (&mut [u8], Rounding, bool),
    cache: &MaskCache,
) {
    let has_backdrops = visible_pieces(scene, options).iter().any(|piece| has_backdrop(piece));
    let needed = if has_backdrops { prepare(scene, band, options) } else { Some(band.window) };
    let Some(needed) = needed else { return };
    let (left, width) = (band.window.x0, band.window.width().max(1));
    // Each row is painted from ground to top at once.
    let ground = Ground::new(scene, band.viewport, options);
    with_painting((scene, ground), band.viewport.part(needed), options, cache, |painting| {
        let touched = if is_blank { painting.touched().intersect(band.window) } else { band.window };
        for_each_row(out, width * 4 * ROWS_AT_A_TIME, |block, out| {
            let mut room = Vec::new();
            for (i, out) in out.chunks_mut(width * 4).enumerate() {
                let y = band.window.y0 + block * ROWS_AT_A_TIME as i32 + i as i32;
                let columns = touched.columns(y, left, width);
                let x0 = left + columns.start as i32;
                painting.write(
                    RowStart { y, x0 },
                    &mut out[columns.start * 4..columns.end * 4],
                    rounding,
                    &mut room,
                );
            }
        });
    });
}

/// Rows painted one after the other in the scratch memory of the first.
const ROWS_AT_A_TIME: usize = 16;
/// Pixels painted at a time.
const BAND: u32 = 4 << 20;
/// Bytes of masks and tiles that these are painted with.
const BAND_BYTES: u64 = 128 << 20;
/// Bytes of a pixel that is painted.
const PIXEL_BYTES: u64 = 16;

/// The pixels that have to be painted so that those of a part are right: more where a piece with a backdrop blur,
/// partly in it, samples pixels beyond it.
fn backdrop_extent(scene: &Scene, Part { viewport, window }: Part<'_>, options: &RenderOptions) -> Rect {
    let pieces = visible_pieces(scene, options);
    extent(&pieces, options, (viewport.transform(), viewport.scale), window)
}

fn visible_pieces<'a>(scene: &'a Scene, options: &RenderOptions) -> Vec<&'a Piece> {
    let chosen = |piece: &&Piece| options.piece.as_ref().is_none_or(|only| *only == piece.id);
    scene.pieces.iter().filter(chosen).collect()
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
    below: Canvas,
    pieces: &[Piece],
    viewport: &Viewport,
    options: &RenderOptions,
    cache: &MaskCache,
) -> Canvas {
    if budget::spend(cost::pieces_cost(pieces, viewport.whole_part(), options).steps) {
        let pieces: Vec<&Piece> = pieces.iter().collect();
        let context = RenderContext::new(viewport.whole_part(), options, cache);
        let layers = layers(&pieces, &context);
        let painting = Painting::new(InitialBackdrop::Canvas(&below), &pieces, &layers, &context);
        let mut painted = Canvas::new(below.width, below.height);
        painted.each_row(|y, row| painting.span(y, 0, row));
        return painted;
    }
    below
}
