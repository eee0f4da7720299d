//! Coverage kept by content, so that one changed coat costs one coat.

use std::sync::Arc;

use quick_cache::Weighter;
use quick_cache::sync::Cache;

use super::coverage::Key;
use crate::raster::Mask;

/// Masks by what they were made from. Shared between threads; the oldest unused go first.
pub struct MaskCache {
    masks: Cache<Key, Arc<Mask>, Bytes>,
}

#[derive(Clone)]
struct Bytes;

impl Weighter<Key, Arc<Mask>> for Bytes {
    fn weight(&self, _key: &Key, mask: &Arc<Mask>) -> u64 {
        (mask.data.len() * size_of::<f32>() + 128) as u64
    }
}

impl MaskCache {
    /// A cache that holds about this many bytes.
    #[must_use]
    pub fn with_capacity(bytes: u64) -> Self {
        let expected = usize::try_from(bytes / 200_000).unwrap_or(usize::MAX).max(16);
        Self { masks: Cache::with_weighter(expected, bytes, Bytes) }
    }

    pub(super) fn get_or_make(&self, key: Key, make: impl FnOnce() -> Mask) -> Arc<Mask> {
        if let Some(mask) = self.masks.get(&key) {
            return mask;
        }
        let mask = Arc::new(make());
        self.masks.insert(key, Arc::clone(&mask));
        mask
    }
}

impl Default for MaskCache {
    /// 256 MB.
    fn default() -> Self {
        Self::with_capacity(256 << 20)
    }
}
