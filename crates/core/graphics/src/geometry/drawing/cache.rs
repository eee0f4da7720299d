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
const KEPT_BYTES: u64 = 32 << 20;
/// Drawings, and pictures, about.
const KEPT: usize = 256;

type Read = Result<Arc<Drawing>, SvgError>;

impl Drawing {
    /// Reads a file, or takes it as it was read before.
    ///
    /// # Errors
    /// As [`Self::read`].
    pub fn cached(file: &DrawingFile, fonts: &[Font]) -> Read {
        static CACHE: OnceLock<Cache<u64, Read, DrawingBytes>> = OnceLock::new();
        let cache = CACHE.get_or_init(|| Cache::with_weighter(KEPT, KEPT_BYTES, DrawingBytes));
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
    /// A picture of it from which its colours are told.
    #[must_use]
    pub fn colours(&self) -> Arc<Bitmap> {
        self.kept_picture(COLOURS)
    }

    /// A picture of it from which its outline is traced.
    pub(super) fn traced(&self) -> Arc<Bitmap> {
        self.kept_picture(TRACED)
    }

    fn kept_picture(&self, longest: u32) -> Arc<Bitmap> {
        static CACHE: OnceLock<Cache<u64, Arc<Bitmap>, BitmapBytes>> = OnceLock::new();
        let cache = CACHE.get_or_init(|| Cache::with_weighter(KEPT, KEPT_BYTES, BitmapBytes));
        let mut hasher = DefaultHasher::new();
        (self, longest).hash(&mut hasher);
        let key = hasher.finish();
        if let Some(bitmap) = cache.get(&key) {
            return bitmap;
        }
        let bitmap = Arc::new(Bitmap::new(self.picture(f64::from(longest))));
        if !is_stopped() {
            cache.insert(key, Arc::clone(&bitmap));
        }
        bitmap
    }
}

/// Pixels on the longer side of the picture that colours are told from.
const COLOURS: u32 = 96;
/// Pixels on the longer side of the picture that an outline is traced from.
const TRACED: u32 = 768;

/// Weighs drawings by their memory.
#[derive(Clone)]
struct DrawingBytes;

impl Weighter<u64, Read> for DrawingBytes {
    fn weight(&self, _key: &u64, read: &Read) -> u64 {
        read.as_ref().map_or(256, |drawing| drawing.bytes as u64 + 256)
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
