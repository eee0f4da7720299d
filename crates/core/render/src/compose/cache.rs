//! A content-addressed cache of masks and tiles: a changed coat costs only that coat.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use quick_cache::Weighter;
use quick_cache::sync::Cache;

use super::masks::tile::Tile;
use crate::blend::Pixel;
use crate::blur::Blurred;
use crate::budget::is_stopped;
use crate::raster::Rect;

/// Coverage and pixels under keys of their inputs. Shared between threads; the oldest unused go first.
pub struct MaskCache {
    kept: Cache<Key, Cached, Bytes>,
    largest: usize,
}

/// The key of an entry: a hash of everything it is made from, and the pixels it covers.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(super) struct Key {
    pub content: [u64; 2],
    pub clip: Rect,
}

#[derive(Clone)]
enum Cached {
    Cover(Arc<Blurred>),
    Tile(Arc<Tile>),
}

#[derive(Clone)]
struct Bytes;

impl Weighter<Key, Cached> for Bytes {
    fn weight(&self, _key: &Key, kept: &Cached) -> u64 {
        let bytes = match kept {
            Cached::Cover(cover) => cover.bytes(),
            Cached::Tile(tile) => tile.bytes(),
        };
        (bytes + 128) as u64
    }
}

impl MaskCache {
    /// A cache that holds about this many bytes.
    #[must_use]
    pub fn with_capacity(bytes: u64) -> Self {
        let expected = usize::try_from(bytes / 200_000).unwrap_or(usize::MAX).max(16);
        // One thing too large for all the others would be worth less than they are.
        let largest = usize::try_from(bytes / 3).unwrap_or(usize::MAX);
        Self { kept: Cache::with_weighter(expected, bytes, Bytes), largest }
    }

    pub(super) fn cover(&self, key: Key, make: impl FnOnce() -> Blurred) -> Arc<Blurred> {
        if let Some(Cached::Cover(cover)) = self.kept.get(&key) {
            return cover;
        }
        let cover = Arc::new(make());
        // What was ended early is not what the key says.
        if cover.bytes() <= self.largest && !is_stopped() {
            self.kept.insert(key, Cached::Cover(Arc::clone(&cover)));
        }
        cover
    }

    /// Whether a tile of these pixels is kept.
    pub(super) fn keeps_tile(&self, rect: Rect) -> bool {
        rect.width() * rect.height() * size_of::<Pixel>() <= self.largest
    }

    /// A tile that is kept.
    pub(super) fn kept_tile(&self, key: &Key) -> Option<Arc<Tile>> {
        match self.kept.get(key) {
            Some(Cached::Tile(tile)) => Some(tile),
            Some(Cached::Cover(_)) | None => None,
        }
    }

    pub(super) fn tile(&self, key: Key, make: impl FnOnce() -> Tile) -> Arc<Tile> {
        if let Some(tile) = self.kept_tile(&key) {
            return tile;
        }
        let tile = Arc::new(make());
        if tile.bytes() <= self.largest && !is_stopped() {
            self.kept.insert(key, Cached::Tile(Arc::clone(&tile)));
        }
        tile
    }
}

impl Default for MaskCache {
    /// 256 MB.
    fn default() -> Self {
        Self::with_capacity(256 << 20)
    }
}

/// Two independent hashes of the inputs of something.
pub(super) fn content_hash(describe: impl Fn(&mut DefaultHasher)) -> [u64; 2] {
    [1_u8, 2].map(|seed| {
        let mut hasher = DefaultHasher::new();
        seed.hash(&mut hasher);
        describe(&mut hasher);
        hasher.finish()
    })
}
