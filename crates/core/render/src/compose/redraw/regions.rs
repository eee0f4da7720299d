//! Drawing only the differences from the last picture of the same view.

use std::collections::HashMap;
use std::collections::hash_map::Entry;
use std::hash::Hash;

use super::cells::Cells;
use super::hidden::hidden_under;
use super::parts::Painted;
use super::source::Compared;
use crate::compose::cache::{MaskCache, content_hash};
use crate::compose::canvas::Rounding;
use crate::compose::paint::scene::{Ground, Painting};
use crate::compose::render::{prepare, with_painting};
use crate::compose::viewport::{RenderOptions, Viewport};
use crate::parallel::made_rows;
use crate::raster::{Rect, RowStart};
use crate::resolve::Scene;

/// The sources of a picture, so that the next one of the same view is drawn only where it differs.
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

/// The changed parts of a picture, and its new sources.
#[derive(Debug)]
pub struct Redrawn {
    /// The rectangles that are drawn anew; the others are as they were.
    pub regions: Vec<Region>,
    /// To be given when the next one is drawn.
    pub shown: Shown,
}

/// The last picture of a view, and the rounding of this one.
#[derive(Debug, Clone, Copy)]
pub struct LastPicture<'a> {
    /// How colours become 8 bits.
    pub rounding: Rounding,
    /// The last picture; `None` where none is known.
    pub last: Option<&'a Shown>,
}

/// Draws what has changed since the last picture of a view: all of it where that is not known, or was of another view. Nothing
/// is drawn where the budget is used up.
#[must_use]
pub fn redraw(
    scene: &Scene,
    viewport: &Viewport,
    options: &RenderOptions,
    LastPicture { rounding, last }: LastPicture<'_>,
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
        let draw = |rect: &Rect| render_region(painting, *rect, rounding);
        Redrawn { regions: changed.iter().map(draw).collect(), shown: Shown { view, parts } }
    }))
}

/// Draws a rectangle.
fn render_region(painting: &Painting<'_>, rect: Rect, rounding: Rounding) -> Region {
    let width = rect.width();
    let rgba = made_rows(rect.height(), width * 4, |row, out| {
        painting.write(RowStart { y: rect.y0 + row, x0: rect.x0 }, out, rounding, &mut Vec::new());
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
    let changes = changes(before, after);
    let mut covers: HashMap<u64, Cells> = HashMap::new();
    for under in changes.iter().filter_map(|change| change.under) {
        if let (Entry::Vacant(vacant), Some(mask)) = (covers.entry(under), painting.cover(under)) {
            vacant.insert(hidden_under(mask, window));
        }
    }
    let mut changed = Cells::new(window, false);
    let is_compared = |change: &&Change| change.compared.is_some();
    // Cells that are drawn anew in any case need not be compared.
    let in_any_case = changes.iter().filter(|change| !is_compared(change));
    for Change { rect, under, compared } in in_any_case.chain(changes.iter().filter(is_compared)) {
        let hidden = under.and_then(|under| covers.get(&under));
        changed.add(*rect, |cell| {
            !hidden.is_some_and(|hidden| hidden.hold(cell.x0, cell.y0))
                && compared.as_ref().is_none_or(|compared| compared.differs(cell))
        });
    }
    changed.rectangles()
}

/// Pixels that may differ.
struct Change {
    rect: Rect,
    /// The layers above them, before and after.
    under: Option<u64>,
    /// A test for whether they do, where that is known.
    compared: Option<Compared>,
}

/// The pixels that parts touch which are in one list and not in the other, or in another place of it.
fn changes(before: &[Painted], after: &[Painted]) -> Vec<Change> {
    let same = |pair: &(&Painted, &Painted)| pair.0 == pair.1;
    let first = before.iter().zip(after).take_while(same).count();
    let (before, after) = (&before[first..], &after[first..]);
    let last = before.iter().rev().zip(after.iter().rev()).take_while(same).count();
    let (before, after) = (&before[..before.len() - last], &after[..after.len() - last]);
    if before.len() == after.len() {
        let pairs = before.iter().zip(after).filter(|pair| pair.0 != pair.1);
        return pairs.flat_map(|(before, after)| change(before, after)).collect();
    }
    let whole = |part: &Painted| Change { rect: part.rect, under: None, compared: None };
    before.iter().chain(after).map(whole).collect()
}

/// Where a part may differ from its last picture: anywhere in both, or in some cells around both.
fn change(before: &Painted, after: &Painted) -> Vec<Change> {
    let under = after.under.filter(|_| before.under == after.under);
    let sources = before.source.as_ref().zip(after.source.as_ref());
    if let Some(compared) = sources.and_then(|(before, after)| after.compared(before)) {
        let rect = before.rect.around_both(after.rect);
        return vec![Change { rect, under, compared: Some(compared) }];
    }
    [before, after].map(|part| Change { rect: part.rect, under, compared: None }).into()
}
