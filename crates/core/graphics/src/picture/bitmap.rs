//! Decoded pictures: PNG, JPEG and WebP, with the properties that drawing needs.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::io::Cursor;
use std::sync::OnceLock;

use super::Picture;
use crate::colour::Rgba;
use crate::parallel::for_each_row;
use crate::{budget, limits};

/// A decoded picture, ready to be drawn.
#[derive(Debug, Clone)]
pub struct Bitmap {
    /// Its pixels.
    pub picture: Picture,
    /// Their mean colour, as browsers mix colours.
    pub mean: Rgba,
    /// Whether no pixel lets anything through.
    pub opaque: bool,
    /// Equal for equal pictures.
    pub fingerprint: u64,
    /// Half its size, a quarter and so on; made when it is drawn small.
    smaller: OnceLock<Vec<Picture>>,
}

/// A file that is no picture this reads.
#[derive(Debug, thiserror::Error)]
pub enum AssetError {
    /// It is of another kind, or broken.
    #[error("expected a PNG, JPEG or WebP picture: {0}")]
    Unreadable(#[from] image::ImageError),
    /// It is a PNG, and broken.
    #[error("expected a PNG, JPEG or WebP picture: {0}")]
    Png(#[from] super::PngError),
    /// It could not be read at all.
    #[error("expected a PNG, JPEG or WebP picture: {0}")]
    Read(#[from] std::io::Error),
    /// It has too many pixels.
    #[error(
        "expected a picture of at most {} px a side and {} million pixels, found {width} × {height}",
        limits::PICTURE_SIDE,
        limits::PICTURE_PIXELS / 1_000_000
    )]
    TooLarge {
        /// Pixels across.
        width: u32,
        /// Pixels down.
        height: u32,
    },
    /// It has too many bytes.
    #[error("expected at most {most} MB, found {0} bytes", most = limits::UPLOAD_BYTES >> 20)]
    TooLong(usize),
}

/// The media types of pictures that are read.
pub const MEDIA_TYPES: [&str; 3] = ["image/png", "image/jpeg", "image/webp"];

/// The media type of a picture by its first bytes, of [`MEDIA_TYPES`]; nothing for everything else.
#[must_use]
pub fn media_type(bytes: &[u8]) -> Option<&'static str> {
    let found = image::guess_format(bytes).ok()?.to_mime_type();
    MEDIA_TYPES.contains(&found).then_some(found)
}

impl Bitmap {
    /// A picture with its properties.
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
        Self { picture, mean, opaque, fingerprint: hasher.finish(), smaller: OnceLock::new() }
    }

    /// The picture at 1/2ⁿ of its size, or as small as it gets; and n.
    pub(crate) fn at_size(&self, halvings: u32) -> (&Picture, u32) {
        if halvings == 0 {
            return (&self.picture, 0);
        }
        let smaller = self.smaller.get_or_init(|| {
            // They are shared, so cancelling the first request does not stop them.
            let _everybody = budget::enter(None);
            std::iter::successors(halved(&self.picture), halved).collect()
        });
        let last = (halvings as usize).min(smaller.len());
        match last.checked_sub(1).and_then(|at| smaller.get(at)) {
            Some(picture) => (picture, last as u32),
            None => (&self.picture, 0),
        }
    }

    /// The size a file says it has, before anything of it is decoded.
    ///
    /// # Errors
    /// As [`Self::decode`], as far as that is known by then.
    pub fn size_of(bytes: &[u8]) -> Result<(u32, u32), AssetError> {
        if bytes.len() > limits::UPLOAD_BYTES {
            return Err(AssetError::TooLong(bytes.len()));
        }
        let reader = image::ImageReader::new(Cursor::new(bytes)).with_guessed_format()?;
        let is_png = reader.format() == Some(image::ImageFormat::Png);
        let (width, height) = if is_png { Picture::size_of_png(bytes)? } else { reader.into_dimensions()? };
        let pixels = u64::from(width) * u64::from(height);
        if width.max(height) > limits::PICTURE_SIDE || pixels > limits::PICTURE_PIXELS || pixels == 0 {
            return Err(AssetError::TooLarge { width, height });
        }
        Ok((width, height))
    }

    /// Reads a PNG, JPEG or WebP file.
    ///
    /// # Errors
    /// [`AssetError`] when it is none of them, broken, or too large.
    pub fn decode(bytes: &[u8]) -> Result<Self, AssetError> {
        let (width, height) = Self::size_of(bytes)?;
        // A PNG is read without its profile and texts, which may inflate to any size.
        if image::guess_format(bytes).is_ok_and(|format| format == image::ImageFormat::Png) {
            return Ok(Self::new(Picture::from_png(bytes)?));
        }
        let mut reader = image::ImageReader::new(Cursor::new(bytes)).with_guessed_format()?;
        let mut allowed = image::Limits::default();
        allowed.max_alloc = Some(MAX_MEMORY);
        reader.limits(allowed);
        let rgba = reader.decode()?.into_rgba8();
        Ok(Self::new(Picture { width, height, rgba: rgba.into_raw() }))
    }

    /// Bytes of memory it takes.
    #[must_use]
    pub fn bytes(&self) -> usize {
        // With what may be made of it: half the side is a quarter of the pixels.
        self.picture.rgba.len() / 3 * 4
    }
}

impl PartialEq for Bitmap {
    fn eq(&self, other: &Self) -> bool {
        self.fingerprint == other.fingerprint && self.picture == other.picture
    }
}

/// A picture at half its size, each pixel the mean of four; nothing of one that is a pixel already.
fn halved(picture: &Picture) -> Option<Picture> {
    if picture.width.max(picture.height) <= 1 {
        return None;
    }
    let (width, height) = (picture.width.div_ceil(2), picture.height.div_ceil(2));
    let mut rgba = vec![0; width as usize * height as usize * 4];
    for_each_row(&mut rgba, width as usize * 4, |y, row| {
        for (x, out) in row.chunks_exact_mut(4).enumerate() {
            // At an odd edge the last pixel stands for two.
            let at = |dx: u32, dy: u32| {
                let (x, y) = (x as u32 * 2 + dx, y as u32 * 2 + dy);
                picture.at(x.min(picture.width - 1), y.min(picture.height - 1))
            };
            let four = [at(0, 0), at(1, 0), at(0, 1), at(1, 1)];
            let alpha: u32 = four.iter().map(|pixel| u32::from(pixel[3])).sum();
            for channel in 0..3 {
                let sum: u32 = four.iter().map(|pixel| u32::from(pixel[channel]) * u32::from(pixel[3])).sum();
                out[channel] = ((sum + alpha / 2).checked_div(alpha).unwrap_or(0)) as u8;
            }
            out[3] = ((alpha + 2) / 4) as u8;
        }
    });
    Some(Picture { width, height, rgba })
}

/// Memory a decoder may use: that of the largest picture allowed, with some room.
const MAX_MEMORY: u64 = 300 << 20;
