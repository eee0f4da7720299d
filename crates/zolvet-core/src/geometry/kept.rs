//! Outlines that take long to make and are asked for again with every picture.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::{Arc, OnceLock};

use quick_cache::sync::Cache;

use super::Outline;

/// How many outlines are kept.
const KEPT: usize = 512;

/// The outline made from what `key` says, made anew only when it is not there any more.
pub(super) fn outline(key: impl Hash, make: impl FnOnce() -> Outline) -> Arc<Outline> {
    static CACHE: OnceLock<Cache<[u64; 2], Arc<Outline>>> = OnceLock::new();
    let cache = CACHE.get_or_init(|| Cache::new(KEPT));
    let key = [1_u8, 2].map(|seed| {
        let mut hasher = DefaultHasher::new();
        (seed, &key).hash(&mut hasher);
        hasher.finish()
    });
    if let Some(outline) = cache.get(&key) {
        return outline;
    }
    let outline = Arc::new(make());
    cache.insert(key, Arc::clone(&outline));
    outline
}
