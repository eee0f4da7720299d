//! Pictures: 8-bit pixels, and PNG.

use std::io::Cursor;

/// Pixels as files and screens have them: red, green, blue, alpha, not premultiplied, row by row.
#[derive(Clone, PartialEq, Eq)]
pub struct Picture {
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// Four bytes a pixel.
    pub rgba: Vec<u8>,
}

impl std::fmt::Debug for Picture {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "Picture({} × {})", self.width, self.height)
    }
}

/// A PNG could not be read or written.
#[derive(Debug, thiserror::Error)]
pub enum PngError {
    /// The bytes are not a PNG this reads.
    #[error("not a readable PNG: {0}")]
    Decode(#[from] png::DecodingError),
    /// The picture could not be written.
    #[error("the PNG could not be written: {0}")]
    Encode(#[from] png::EncodingError),
    /// The picture is not 8-bit RGB or RGBA, or too large to hold.
    #[error("expected an 8-bit RGB or RGBA PNG")]
    Format,
}

impl Picture {
    /// A pixel's four bytes; transparent black outside.
    #[must_use]
    pub fn at(&self, x: u32, y: u32) -> [u8; 4] {
        if x >= self.width || y >= self.height {
            return [0; 4];
        }
        let start = (y as usize * self.width as usize + x as usize) * 4;
        std::array::from_fn(|i| self.rgba[start + i])
    }

    /// The picture as a PNG with alpha, in sRGB.
    ///
    /// # Errors
    /// [`PngError::Encode`] when the encoder refuses it.
    pub fn to_png(&self) -> Result<Vec<u8>, PngError> {
        let mut bytes = Vec::new();
        let mut encoder = png::Encoder::new(Cursor::new(&mut bytes), self.width, self.height);
        encoder.set_color(png::ColorType::Rgba);
        encoder.set_depth(png::BitDepth::Eight);
        encoder.set_compression(png::Compression::Fast);
        encoder.set_source_srgb(png::SrgbRenderingIntent::Perceptual);
        let mut writer = encoder.write_header()?;
        writer.write_image_data(&self.rgba)?;
        writer.finish()?;
        Ok(bytes)
    }

    /// Reads a PNG.
    ///
    /// # Errors
    /// [`PngError`] when it is none, or of a form this does not read.
    pub fn from_png(bytes: &[u8]) -> Result<Self, PngError> {
        let mut reader = png::Decoder::new(Cursor::new(bytes)).read_info()?;
        let mut data = vec![0; reader.output_buffer_size().ok_or(PngError::Format)?];
        let info = reader.next_frame(&mut data)?;
        data.truncate(info.buffer_size());
        let rgba = match (info.color_type, info.bit_depth) {
            (png::ColorType::Rgba, png::BitDepth::Eight) => data,
            (png::ColorType::Rgb, png::BitDepth::Eight) => {
                data.chunks(3).flat_map(|rgb| [rgb[0], rgb[1], rgb[2], 255]).collect()
            }
            _ => return Err(PngError::Format),
        };
        Ok(Self { width: info.width, height: info.height, rgba })
    }
}
