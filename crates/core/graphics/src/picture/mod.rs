//! Pictures in 8 bits: to and from PNG, and decoded from uploads.

mod bitmap;
mod rgba;

pub use bitmap::{AssetError, Bitmap, MEDIA_TYPES, media_type};
pub use rgba::{Picture, PngError, png_data_url};
