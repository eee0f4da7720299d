//! A cache of outlines that take long to compute and are needed for every picture.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::{Arc, OnceLock};

use kurbo::Size;
use quick_cache::Weighter;
use quick_cache::sync::Cache;

use super::Outline;
use super::crossings::TooComplex;
use crate::budget::is_stopped;

/// Outlines in the cache, about.
const KEPT: usize = 1024;
/// Bytes of them.
const KEPT_BYTES: u64 = 64 << 20;

/// The outline for a key, computed only when it is not in the cache. Where it is too complex to
/// be made, an empty one that says so, in a box of a size.
pub(super) fn outline(
    key: impl Hash,
    Size { width, height }: Size,
    make: impl FnOnce() -> Result<Outline, TooComplex>,
) -> Arc<Outline> {
    static CACHE: OnceLock<Cache<[u64; 2], Arc<Outline>, Points>> = OnceLock::new();
    let cache = CACHE.get_or_init(|| Cache::with_weighter(KEPT, KEPT_BYTES, Points));
    let key = [1_u8, 2].map(|seed| {
        let mut hasher = DefaultHasher::new();
        (seed, &key).hash(&mut hasher);
        hasher.finish()
    });
    if let Some(outline) = cache.get(&key) {
        return outline;
    }
    let outline = Arc::new(make().unwrap_or_else(|TooComplex| Outline::too_complex(width, height)));
    // What was ended early is not what the key says.
    if !is_stopped() {
        cache.insert(key, Arc::clone(&outline));
    }
    outline
}

/// Weighs outlines by their memory.
#[derive(Clone)]
struct Points;

impl<K> Weighter<K, Arc<Outline>> for Points {
    fn weight(&self, _key: &K, outline: &Arc<Outline>) -> u64 {
        (size_of_val(outline.path.elements()) + 256) as u64
    }
}
