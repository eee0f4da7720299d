//! Pictures: 8-bit pixels, and PNG.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
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
    /// It is too large.
    #[error("expected a PNG that memory can hold")]
    Format,
}

/// A PNG file as a data URL (RFC 2397).
#[must_use]
pub fn png_data_url(png: &[u8]) -> String {
    format!("data:image/png;base64,{}", STANDARD.encode(png))
}

impl Picture {
    /// A pixel's four bytes; transparent black outside.
    #[inline]
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

    /// The size a PNG says it has, before anything of it is decoded.
    ///
    /// # Errors
    /// [`PngError`] when it is none.
    pub fn size_of_png(bytes: &[u8]) -> Result<(u32, u32), PngError> {
        Ok(decoder(bytes).read_header_info()?.size())
    }

    /// The pixels of a PNG for one CSS px, as its `pHYs` chunk says (PNG, Third Edition, §11.3.4.3): whole ones of 96 or of 72
    /// pixels per inch, from 1 to 4, as screenshots have them; nothing where it says something else, or is none.
    #[must_use]
    pub fn density_of_png(bytes: &[u8]) -> Option<f64> {
        const METRES_PER_INCH: f64 = 0.0254;
        let reader = decoder(bytes).read_info().ok()?;
        let dims = reader.info().pixel_dims.filter(|dims| dims.unit == png::Unit::Meter)?;
        let per_inch = f64::from(dims.xppu) * METRES_PER_INCH;
        let times = [96.0, 72.0].map(|one| per_inch / one);
        let is_whole = |times: &f64| (1.0..4.5).contains(times) && (times - times.round()).abs() < 0.01;
        times.into_iter().find(is_whole).map(f64::round)
    }

    /// Reads a PNG of any colour type and depth.
    ///
    /// # Errors
    /// [`PngError`] when it is no PNG, or too large.
    pub fn from_png(bytes: &[u8]) -> Result<Self, PngError> {
        let mut reader = decoder(bytes).read_info()?;
        let mut data = vec![0; reader.output_buffer_size().ok_or(PngError::Format)?];
        let info = reader.next_frame(&mut data)?;
        data.truncate(info.buffer_size());
        let rgba = match (info.color_type, info.bit_depth) {
            (png::ColorType::Rgba, png::BitDepth::Eight) => data,
            (png::ColorType::Rgb, png::BitDepth::Eight) => {
                data.chunks_exact(3).flat_map(|rgb| [rgb[0], rgb[1], rgb[2], 255]).collect()
            }
            (png::ColorType::Grayscale, png::BitDepth::Eight) => {
                data.iter().flat_map(|grey| [*grey, *grey, *grey, 255]).collect()
            }
            (png::ColorType::GrayscaleAlpha, png::BitDepth::Eight) => {
                data.chunks_exact(2).flat_map(|pair| [pair[0], pair[0], pair[0], pair[1]]).collect()
            }
            _ => return Err(PngError::Format),
        };
        Ok(Self { width: info.width, height: info.height, rgba })
    }
}

/// Reads pixels as 8 bits without a palette. Profiles and texts, which may inflate to any size, are passed over: colours
/// are taken as sRGB.
fn decoder(bytes: &[u8]) -> png::Decoder<Cursor<&[u8]>> {
    let mut decoder = png::Decoder::new(Cursor::new(bytes));
    decoder.set_transformations(png::Transformations::normalize_to_color8());
    decoder.set_ignore_iccp_chunk(true);
    decoder.set_ignore_text_chunk(true);
    decoder
}
