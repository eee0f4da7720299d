//! SVG files as they come: unpacked, and checked for what could do harm.

use std::borrow::Cow;
use std::hash::{DefaultHasher, Hash as _, Hasher as _};
use std::io::Read as _;
use std::sync::Arc;

use crate::geometry::svg_check::{Purpose, check, parsed};
use crate::geometry::svg_error::SvgError;
use crate::limits;

/// An SVG file that may be drawn: it runs nothing, and refers to nothing outside it.
#[derive(Debug, Clone)]
pub struct DrawingFile {
    text: Arc<str>,
    fingerprint: u64,
}

impl PartialEq for DrawingFile {
    fn eq(&self, other: &Self) -> bool {
        self.text == other.text
    }
}

impl DrawingFile {
    /// The media type of SVG files.
    pub const MEDIA_TYPE: &str = "image/svg+xml";

    /// Whether bytes look like an SVG file, packed or not.
    #[must_use]
    pub fn is_like(bytes: &[u8]) -> bool {
        let mut start = Vec::new();
        let read = if is_packed(bytes) {
            flate2::read::GzDecoder::new(bytes).take(START as u64).read_to_end(&mut start)
        } else {
            bytes.take(START as u64).read_to_end(&mut start)
        };
        read.is_ok() && decoded(&start).is_some_and(|text| root_tag(&text).is_some_and(|tag| tag == "svg"))
    }

    /// Reads a file, packed (SVGZ) or not.
    ///
    /// # Errors
    /// [`SvgError`], with the place where there is one.
    pub fn read(bytes: &[u8]) -> Result<Self, SvgError> {
        let unpacked = unpacked(bytes)?;
        let expected = || SvgError::Svg("it is no text in UTF-8 or UTF-16".to_owned());
        let text = decoded(&unpacked).ok_or_else(expected)?;
        let document = parsed(&text)?;
        check(&document, Purpose::Drawing)?;
        drop(document);
        let mut hasher = DefaultHasher::new();
        text.hash(&mut hasher);
        Ok(Self { text: text.into(), fingerprint: hasher.finish() })
    }

    /// The file as text.
    #[must_use]
    pub fn text(&self) -> &str {
        &self.text
    }

    /// Equal for files with the same text.
    #[must_use]
    pub fn fingerprint(&self) -> u64 {
        self.fingerprint
    }
}

/// Bytes in which an SVG file says that it is one.
const START: usize = 1 << 16;

/// The name of the first tag of an XML file, without its prefix.
fn root_tag(text: &str) -> Option<&str> {
    let mut rest = text.trim_start();
    loop {
        let end = match rest.as_bytes() {
            [b'<', b'?', ..] => "?>",
            [b'<', b'!', b'-', b'-', ..] => "-->",
            [b'<', b'!', ..] if rest.split('>').next()?.contains('[') => "]>",
            [b'<', b'!', ..] => ">",
            _ => break,
        };
        rest = rest[rest.find(end)? + end.len()..].trim_start();
    }
    let name =
        rest.strip_prefix('<')?.split(|letter: char| !letter.is_alphanumeric() && letter != ':').next()?;
    name.rsplit(':').next()
}

fn is_packed(bytes: &[u8]) -> bool {
    bytes.starts_with(&[0x1f, 0x8b])
}

/// The bytes of a file, of a packed one no more than a file may have.
fn unpacked(bytes: &[u8]) -> Result<Cow<'_, [u8]>, SvgError> {
    let too_large = |found: usize| SvgError::TooLarge {
        expected: format!("at most {} MB", limits::UPLOAD_BYTES >> 20),
        found,
    };
    if bytes.len() > limits::UPLOAD_BYTES {
        return Err(too_large(bytes.len()));
    }
    if !is_packed(bytes) {
        return Ok(bytes.into());
    }
    let mut inside = Vec::new();
    let mut reader = flate2::read::GzDecoder::new(bytes).take(limits::UPLOAD_BYTES as u64 + 1);
    reader
        .read_to_end(&mut inside)
        .map_err(|error| SvgError::Svg(format!("it cannot be unpacked: {error}")))?;
    if inside.len() > limits::UPLOAD_BYTES { Err(too_large(inside.len())) } else { Ok(inside.into()) }
}

/// Text in UTF-8, or in UTF-16 where it begins with a byte order mark.
fn decoded(bytes: &[u8]) -> Option<String> {
    let wide = |from: fn([u8; 2]) -> u16| {
        let units = bytes[2..].as_chunks::<2>().0.iter().map(|pair| from(*pair));
        char::decode_utf16(units).collect::<Result<String, _>>().ok()
    };
    match bytes {
        [0xff, 0xfe, ..] => wide(u16::from_le_bytes),
        [0xfe, 0xff, ..] => wide(u16::from_be_bytes),
        _ => {
            let text = bytes.strip_prefix(&[0xef, 0xbb, 0xbf]).unwrap_or(bytes);
            // The start of a file may end within a letter.
            match std::str::from_utf8(text) {
                Ok(text) => Some(text.to_owned()),
                Err(error) if bytes.len() == START && error.valid_up_to() + 4 > text.len() => {
                    std::str::from_utf8(&text[..error.valid_up_to()]).ok().map(str::to_owned)
                }
                Err(_) => None,
            }
        }
    }
}
