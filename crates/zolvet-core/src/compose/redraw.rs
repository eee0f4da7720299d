//! Drawing only what differs from the last picture of the same view.

use std::collections::HashMap;
use std::collections::hash_map::Entry;
use std::hash::Hash;

use super::cache::{MaskCache, content_hash};
use super::canvas::Rounding;
use super::hidden::{COLUMNS, HiddenCells, ROWS};
use super::paint::Painted;
use super::painting::{Ground, Painting};
use super::render::{prepare, with_painting};
use super::viewport::{RenderOptions, Viewport};
use crate::parallel::made_rows;
use crate::raster::Rect;
use crate::resolve::Scene;

/// What a picture was made from, so that the next one of the same view is drawn only where it differs.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Shown {
    view: [u64; 2],
    /// Everything that was painted, in order.
    parts: Vec<Painted>,
}

/// A rectangle of a picture.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Region {
    /// Its place in the picture: x, y, width, height.
    pub place: [u32; 4],
    /// Its pixels, row by row, in 8 bits.
    pub rgba: Vec<u8>,
}

/// What changes on a picture, and what it is made from then.
#[derive(Debug)]
pub struct Redrawn {
    /// The rectangles that are drawn anew; the others are as they were.
    pub regions: Vec<Region>,
    /// To be given when the next one is drawn.
    pub shown: Shown,
}

/// Draws what has changed since the last picture of a view: all of it where that is not known, or was of another view. Nothing
/// is drawn where the budget is used up.
#[must_use]
pub fn redraw(
    scene: &Scene,
    viewport: &Viewport,
    options: &RenderOptions,
    (rounding, last): (Rounding, Option<&Shown>),
    cache: &MaskCache,
) -> Option<Redrawn> {
    let needed = prepare(scene, viewport.whole_part(), options)?;
    let ground = Ground::new(scene, viewport, options).kept_in(cache);
    let view = content_hash(|hasher| {
        (viewport.x.to_bits(), viewport.y.to_bits(), viewport.scale.to_bits()).hash(hasher);
        (viewport.width, viewport.height, rounding, options.mode, options.shadow_only).hash(hasher);
        (ground.fingerprint(), &options.piece, &options.coats).hash(hasher);
    });
    Some(with_painting((scene, ground), viewport.part(needed), options, cache, |painting| {
        let window = viewport.window();
        let mut parts = painting.parts();
        parts.iter_mut().for_each(|part| part.rect = part.rect.intersect(window));
        let changed = match last.filter(|last| last.view == view) {
            Some(last) => changed_regions(painting, &last.parts, &parts, window),
            None => vec![window],
        };
        let draw = |rect: &Rect| drawn(painting, *rect, rounding);
        Redrawn { regions: changed.iter().map(draw).collect(), shown: Shown { view, parts } }
    }))
}

/// Draws a rectangle.
fn drawn(painting: &Painting<'_>, rect: Rect, rounding: Rounding) -> Region {
    let width = rect.width();
    let rgba = made_rows(rect.height(), width * 4, |row, out| {
        painting.write((rect.y0 + row, rect.x0), out, rounding, &mut Vec::new());
    });
    let side = |length: usize| u32::try_from(length).unwrap_or(0);
    Region { place: [rect.x0 as u32, rect.y0 as u32, side(width), side(rect.height())], rgba }
}

/// Disjoint rectangles that hold all that differs.
fn changed_regions(
    painting: &Painting<'_>,
    before: &[Painted],
    after: &[Painted],
    window: Rect,
) -> Vec<Rect> {
    let differing = differing(before, after);
    let mut covers: HashMap<u64, HiddenCells> = HashMap::new();
    for under in differing.iter().filter_map(|(_, under)| *under) {
        if let (Entry::Vacant(vacant), Some(mask)) = (covers.entry(under), painting.cover(under)) {
            vacant.insert(HiddenCells::under(mask, window));
        }
    }
    let seen: Vec<_> =
        differing.iter().map(|(rect, under)| (*rect, under.and_then(|under| covers.get(&under)))).collect();
    tidied(&seen, window)
}

/// The pixels that parts touch which are in one list and not in the other, or in another place of it, and what they lie
/// under before and after.
fn differing(before: &[Painted], after: &[Painted]) -> Vec<(Rect, Option<u64>)> {
    let same = |pair: &(&Painted, &Painted)| pair.0 == pair.1;
    let first = before.iter().zip(after).take_while(same).count();
    let (before, after) = (&before[first..], &after[first..]);
    let last = before.iter().rev().zip(after.iter().rev()).take_while(same).count();
    let (before, after) = (&before[..before.len() - last], &after[..after.len() - last]);
    if before.len() == after.len() {
        let pairs = before.iter().zip(after).filter(|pair| pair.0 != pair.1);
        return pairs
            .flat_map(|(before, after)| {
                let under = after.under.filter(|_| before.under == after.under);
                [(before.rect, under), (after.rect, under)]
            })
            .collect();
    }
    before.iter().chain(after).map(|part| (part.rect, None)).collect()
}

/// A rectangle, and where nothing in it is seen.
type Seen<'a> = (Rect, Option<&'a HiddenCells>);

/// Disjoint rectangles that hold all that is seen of these.
fn tidied(rects: &[Seen<'_>], window: Rect) -> Vec<Rect> {
    let mut regions: Vec<Rect> = Vec::new();
    let mut above: Vec<usize> = Vec::new();
    for top in (window.y0..window.y1).step_by(ROWS as usize) {
        let rows = Rect::new(window.x0, top, window.x1, (top + ROWS).min(window.y1));
        let mut here = Vec::new();
        for (x0, x1) in columns(rects, rows) {
            let grown = above.iter().copied().find(|at| (regions[*at].x0, regions[*at].x1) == (x0, x1));
            let at = grown.unwrap_or_else(|| {
                regions.push(Rect::new(x0, rows.y0, x1, rows.y0));
                regions.len() - 1
            });
            regions[at].y1 = rows.y1;
            here.push(at);
        }
        above = here;
    }
    regions
}

/// The columns of some rows that any of the rectangles touch, as disjoint ranges in order.
fn columns(rects: &[Seen<'_>], rows: Rect) -> Vec<(i32, i32)> {
    let mut ranges: Vec<(i32, i32)> = Vec::new();
    for (rect, hidden) in rects {
        let rect = rect.intersect(rows);
        if rect.is_empty() {
            continue;
        }
        let cells = rect.x0.div_euclid(COLUMNS)..(rect.x1 + COLUMNS - 1).div_euclid(COLUMNS);
        let on_grid = |from: i32, to: i32| ((from * COLUMNS).max(rows.x0), (to * COLUMNS).min(rows.x1));
        match hidden {
            None => ranges.push(on_grid(cells.start, cells.end)),
            Some(hidden) => {
                let seen = cells.filter(|cell| !hidden.covers(cell * COLUMNS, rows.y0));
                ranges.extend(seen.map(|cell| on_grid(cell, cell + 1)));
            }
        }
    }
    ranges.sort_unstable();
    let mut together: Vec<(i32, i32)> = Vec::new();
    for (x0, x1) in ranges {
        match together.last_mut() {
            Some(last) if x0 <= last.1 => last.1 = last.1.max(x1),
            _ => together.push((x0, x1)),
        }
    }
    together
}
