//! The source of a painted part, to be compared with the one painted before in its place.

use crate::blend::Pixel;
use crate::compose::masks::placed_mask::{PlacedMask, WeakMask};
use crate::compose::masks::tile::Tile;
use crate::raster::{Rect, WeakRows, same};

/// Masks and pixels that a part of a picture is painted from, as long as the cache keeps them. Every pixel of the part depends on
/// the same pixel of these alone.
#[derive(Debug, Clone)]
pub(in crate::compose) struct Source {
    /// Equal for parts that paint the same where the masks and pixels are the same.
    way: u64,
    /// The silhouette of the piece that it is a part of.
    body: WeakMask,
    masks: Vec<WeakMask>,
    tile: Option<WeakRows<Pixel>>,
}

impl Source {
    pub fn new(way: u64, body: &PlacedMask, masks: &[&PlacedMask], tile: Option<&Tile>) -> Self {
        let masks = masks.iter().map(|mask| mask.weak()).collect();
        Self { way, body: body.weak(), masks, tile: tile.map(Tile::weak) }
    }

    /// This and what was painted before, to be compared pixel by pixel: where another part of a piece's outline is where it was.
    /// `None` where they have nothing in common to be looked for.
    pub fn compared(&self, before: &Self) -> Option<Compared> {
        let (body, body_before) = (self.body.upgrade()?, before.body.upgrade()?);
        // A piece that is moved, or whose coats change, differs nearly everywhere.
        let is_other_shape = body.is_in_place_of(&body_before) && !body.is_same_as(&body_before);
        if self.way != before.way || self.masks.len() != before.masks.len() || !is_other_shape {
            return None;
        }
        let compared = Compared { own: self.cache_entry()?, before: before.cache_entry()? };
        let mut masks = compared.own.masks.iter().zip(&compared.before.masks);
        let are_in_place = masks.all(|(own, before)| own.is_in_place_of(before));
        let have_tiles = [&compared.own, &compared.before].map(|kept| kept.tile.is_some());
        (are_in_place && have_tiles[0] == have_tiles[1]).then_some(compared)
    }

    fn cache_entry(&self) -> Option<CachedSource> {
        let masks = self.masks.iter().map(WeakMask::upgrade).collect::<Option<_>>()?;
        let tile = match &self.tile {
            Some(tile) => Some(tile.upgrade()?),
            None => None,
        };
        Some(CachedSource { masks, tile })
    }
}

/// A source, held.
struct CachedSource {
    masks: Vec<PlacedMask>,
    tile: Option<Tile>,
}

/// The source of a part, now and before.
pub(in crate::compose) struct Compared {
    own: CachedSource,
    before: CachedSource,
}

impl Compared {
    /// Whether pixels of a rectangle may differ.
    pub fn differs(&self, rect: Rect) -> bool {
        let tiles = self.own.tile.as_ref().zip(self.before.tile.as_ref());
        let mut masks = self.own.masks.iter().zip(&self.before.masks);
        masks.any(|(own, before)| !own.is_like(before, rect))
            || tiles.is_some_and(|(own, before)| !are_alike(own, before, rect))
    }
}

/// Whether two tiles have the same pixels in a rectangle.
fn are_alike(a: &Tile, b: &Tile, rect: Rect) -> bool {
    (rect.y0..rect.y1).all(|y| {
        let (first, row) = a.span(y, rect.x0, rect.width());
        let (other_first, other) = b.span(y, rect.x0, rect.width());
        first == other_first && same(row.as_flattened(), other.as_flattened())
    })
}
