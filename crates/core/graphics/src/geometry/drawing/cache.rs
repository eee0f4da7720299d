//! Drawings and their pictures that are kept, since reading a file takes longer than drawing it.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::{Arc, OnceLock};

use quick_cache::Weighter;
use quick_cache::sync::Cache;

use super::file::DrawingFile;
use super::read::Drawing;
use super::shape::DrawnShape;
use crate::budget::is_stopped;
use crate::font::Font;
use crate::geometry::svg_error::SvgError;
use crate::picture::Bitmap;

/// Bytes of drawings, and of their pictures, that are kept.
const KEPT_BYTES: u64 = 64 << 20;
/// Drawings, and pictures, about.
const KEPT: usize = 256;

type Read = Result<Arc<Drawing>, SvgError>;

impl Drawing {
    /// Reads a file, or takes it as it was read before.
    ///
    /// # Errors
    /// As [`Self::read`].
    pub fn cached(file: &DrawingFile, fonts: &[Font]) -> Read {
        static CACHE: OnceLock<Cache<u64, Read, FileBytes>> = OnceLock::new();
        let cache = CACHE.get_or_init(|| Cache::with_weighter(KEPT, KEPT_BYTES, FileBytes));
        let key = Self::key_of(file, fonts);
        if let Some(read) = cache.get(&key) {
            return read;
        }
        let read = Self::read(file, fonts).map(Arc::new);
        if !is_stopped() {
            cache.insert(key, read.clone());
        }
        read
    }

    /// Equal for drawings that look the same.
    pub(super) fn key_of(file: &DrawingFile, fonts: &[Font]) -> u64 {
        let mut hasher = DefaultHasher::new();
        (file.fingerprint(), fonts).hash(&mut hasher);
        hasher.finish()
    }
}

impl DrawnShape {
    /// A picture of it, from which its outline is traced and its colours are told.
    #[must_use]
    pub fn bitmap(&self) -> Arc<Bitmap> {
        static CACHE: OnceLock<Cache<u64, Arc<Bitmap>, BitmapBytes>> = OnceLock::new();
        let cache = CACHE.get_or_init(|| Cache::with_weighter(KEPT, KEPT_BYTES, BitmapBytes));
        let mut hasher = DefaultHasher::new();
        self.hash(&mut hasher);
        let key = hasher.finish();
        if let Some(bitmap) = cache.get(&key) {
            return bitmap;
        }
        let bitmap = Arc::new(Bitmap::new(self.picture(TRACED)));
        if !is_stopped() {
            cache.insert(key, Arc::clone(&bitmap));
        }
        bitmap
    }
}

/// Pixels on the longer side of the picture that an outline is traced from.
const TRACED: f64 = 768.0;

/// Weighs drawings: what is read from a file takes some ten times as much memory as the file.
#[derive(Clone)]
struct FileBytes;

impl Weighter<u64, Read> for FileBytes {
    fn weight(&self, _key: &u64, read: &Read) -> u64 {
        read.as_ref().map_or(256, |drawing| drawing.file_bytes as u64 * 10 + 4096)
    }
}

/// Weighs pictures by their memory.
#[derive(Clone)]
struct BitmapBytes;

impl Weighter<u64, Arc<Bitmap>> for BitmapBytes {
    fn weight(&self, _key: &u64, bitmap: &Arc<Bitmap>) -> u64 {
        bitmap.bytes() as u64 + 256
    }
}
