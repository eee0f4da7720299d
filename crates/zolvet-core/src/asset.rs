//! Pictures that belong to a project: decoded, measured, and found by their id.

use std::collections::HashMap;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::io::Cursor;
use std::sync::Arc;

use crate::colour::Rgba;
use crate::model::{Id, limits};
use crate::picture::Picture;

/// A decoded picture, ready to be drawn.
#[derive(Debug, Clone, PartialEq)]
pub struct Bitmap {
    /// Its pixels.
    pub picture: Picture,
    /// Their mean colour, as browsers mix colours.
    pub mean: Rgba,
    /// Whether no pixel lets anything through.
    pub opaque: bool,
    /// Equal for equal pictures.
    pub fingerprint: u64,
}

/// A file that is no picture this reads.
#[derive(Debug, thiserror::Error)]
pub enum AssetError {
    /// It is of another kind, or broken.
    #[error("expected a PNG, JPEG or WebP picture: {0}")]
    Unreadable(#[from] image::ImageError),
    /// It could not be read at all.
    #[error("expected a PNG, JPEG or WebP picture: {0}")]
    Read(#[from] std::io::Error),
    /// It has too many pixels.
    #[error("expected a picture of at most {limit} px a side, found {width} × {height}", limit = limits::PICTURE_SIDE)]
    TooLarge {
        /// Pixels across.
        width: u32,
        /// Pixels down.
        height: u32,
    },
    /// It has too many bytes.
    #[error("expected at most 16 MB, found {0} bytes")]
    TooLong(usize),
}

impl Bitmap {
    /// A picture with what is worth knowing about it.
    #[must_use]
    pub fn new(picture: Picture) -> Self {
        let mut sum = [0.0_f64; 4];
        let mut hasher = DefaultHasher::new();
        (picture.width, picture.height).hash(&mut hasher);
        picture.rgba.hash(&mut hasher);
        for pixel in picture.rgba.chunks_exact(4) {
            let alpha = f64::from(pixel[3]) / 255.0;
            for (sum, part) in sum.iter_mut().zip(pixel) {
                *sum += f64::from(*part) / 255.0 * alpha;
            }
            sum[3] += alpha - alpha * alpha;
        }
        let count = (picture.rgba.len() / 4).max(1) as f64;
        let mean = Rgba::from_premultiplied(sum.map(|part| (part / count) as f32));
        let opaque = picture.rgba.chunks_exact(4).all(|pixel| pixel[3] == 255);
        Self { picture, mean, opaque, fingerprint: hasher.finish() }
    }

    /// Reads a PNG, JPEG or WebP file.
    ///
    /// # Errors
    /// [`AssetError`] when it is none of them, broken, or too large.
    pub fn decode(bytes: &[u8]) -> Result<Self, AssetError> {
        if bytes.len() > limits::UPLOAD_BYTES {
            return Err(AssetError::TooLong(bytes.len()));
        }
        let reader = image::ImageReader::new(Cursor::new(bytes)).with_guessed_format()?;
        let (width, height) = reader.into_dimensions()?;
        if width.max(height) > limits::PICTURE_SIDE || width == 0 || height == 0 {
            return Err(AssetError::TooLarge { width, height });
        }
        let mut reader = image::ImageReader::new(Cursor::new(bytes)).with_guessed_format()?;
        let mut allowed = image::Limits::default();
        allowed.max_alloc = Some(MOST_MEMORY);
        reader.limits(allowed);
        let rgba = reader.decode()?.into_rgba8();
        Ok(Self::new(Picture { width, height, rgba: rgba.into_raw() }))
    }
}

/// What a decoder may use: the largest picture there is, with some room.
const MOST_MEMORY: u64 = 700 << 20;

/// The pictures of a project, by their asset's id.
#[derive(Debug, Clone, Default)]
pub struct Assets(HashMap<Id, Arc<Bitmap>>);

impl Assets {
    /// The pictures a document carries in itself. What cannot be read is left out; drawing says so.
    #[must_use]
    pub fn carried_by(project: &crate::model::Project) -> Self {
        let mut assets = Self::default();
        for asset in &project.assets {
            if let Some(bitmap) = asset.data.as_ref().and_then(|data| Bitmap::decode(data.bytes()).ok()) {
                assets.insert(asset.id.clone(), Arc::new(bitmap));
            }
        }
        assets
    }

    /// Adds a picture.
    pub fn insert(&mut self, id: Id, bitmap: Arc<Bitmap>) {
        self.0.insert(id, bitmap);
    }

    /// A picture.
    #[must_use]
    pub fn get(&self, id: &Id) -> Option<&Arc<Bitmap>> {
        self.0.get(id)
    }
}
