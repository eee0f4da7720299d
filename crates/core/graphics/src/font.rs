//! Fonts that a project brings: TrueType and OpenType (ISO/IEC 14496-22), plain or packed as WOFF 2 (WOFF File Format
//! 2.0). The fonts that ship are in [`crate::geometry::text`].

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use skrifa::raw::TableProvider as _;
use skrifa::string::StringId;
use skrifa::{FontRef, MetadataProvider as _};

use crate::limits;

/// A font file, read.
#[derive(Clone)]
pub struct Font {
    /// The name in documents and CSS: its family, with its style where that is neither a weight nor upright.
    pub family: String,
    /// The lowest and the highest weight it has, from 1 to 1000; both the same unless it is variable.
    pub weights: [f32; 2],
    /// The text of its licence, or else of its copyright; empty where it has none.
    pub licence: String,
    /// As TrueType or OpenType.
    data: Arc<Vec<u8>>,
    /// Of its bytes: equal for equal files.
    fingerprint: [u64; 2],
}

impl PartialEq for Font {
    fn eq(&self, other: &Self) -> bool {
        let told = |font: &Self| (font.fingerprint, font.weights);
        self.family == other.family && told(self) == told(other)
    }
}

impl Hash for Font {
    fn hash<H: Hasher>(&self, state: &mut H) {
        (&self.family, self.fingerprint, self.weights.map(f32::to_bits)).hash(state);
    }
}

impl std::fmt::Debug for Font {
    fn fmt(&self, formatter: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(formatter, "Font({}, {:?}, {:x?})", self.family, self.weights, self.fingerprint)
    }
}

/// Why a file is no font that text can be set in.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum FontError {
    /// It begins like no font, or like one that is not read.
    #[error("expected a font: TrueType, OpenType or WOFF 2")]
    Unknown,
    /// It is none that can be read.
    #[error("the font cannot be read: {0}")]
    Broken(String),
    /// It has no outlines to draw, such as a font of pictures.
    #[error("expected a font with outlines")]
    NoOutlines,
    /// It takes too much memory.
    #[error("expected a font of at most {} MB, unpacked", limits::FONT_BYTES >> 20)]
    TooLarge,
}

/// The media types of fonts that are read (RFC 8081).
pub const MEDIA_TYPES: [&str; 3] = ["font/ttf", "font/otf", "font/woff2"];

/// The media type of a font file (RFC 8081), by how it begins.
#[must_use]
pub fn media_type(bytes: &[u8]) -> Option<&'static str> {
    match bytes.get(..4)? {
        [0, 1, 0, 0] | b"true" => Some("font/ttf"),
        b"OTTO" => Some("font/otf"),
        b"wOF2" => Some("font/woff2"),
        _ => None,
    }
}

impl Font {
    /// Reads a font file.
    ///
    /// # Errors
    /// When it is none, or has no outlines.
    pub fn read(bytes: &[u8]) -> Result<Self, FontError> {
        match media_type(bytes) {
            Some("font/woff2") => Self::unpacked(unpack(bytes)?),
            Some(_) => Self::unpacked(bytes.to_vec()),
            None => Err(FontError::Unknown),
        }
    }

    /// A font as TrueType or OpenType.
    ///
    /// # Errors
    /// As [`Self::read`].
    pub fn unpacked(data: Vec<u8>) -> Result<Self, FontError> {
        if data.len() > limits::FONT_BYTES {
            return Err(FontError::TooLarge);
        }
        guarded(|| Self::from_tables(data))
            .unwrap_or_else(|| Err(FontError::Broken("its tables disagree".to_owned())))
    }

    fn from_tables(data: Vec<u8>) -> Result<Self, FontError> {
        let font = FontRef::new(&data).map_err(|error| FontError::Broken(error.to_string()))?;
        let head = font.head().map_err(|error| FontError::Broken(error.to_string()))?;
        // OpenType, "head": all lengths are divided by it.
        if !(16..=16_384).contains(&head.units_per_em()) {
            return Err(FontError::Broken("expected from 16 to 16384 units per em".to_owned()));
        }
        if font.outline_glyphs().format().is_none()
            || font.charmap().map('a').is_none() && font.charmap().mappings().next().is_none()
        {
            return Err(FontError::NoOutlines);
        }
        let family = family_of(&font);
        let (weights, licence) = (weights_of(&font), licence_of(&font));
        let fingerprint = [1_u8, 2].map(|seed| {
            let mut hasher = DefaultHasher::new();
            (seed, &data).hash(&mut hasher);
            hasher.finish()
        });
        Ok(Self { family, weights, licence, data: Arc::new(data), fingerprint })
    }

    /// As TrueType or OpenType.
    #[must_use]
    pub fn data(&self) -> &Arc<Vec<u8>> {
        &self.data
    }

    /// The same font under another name.
    #[must_use]
    pub fn called(&self, family: &str) -> Self {
        Self { family: family.to_owned(), ..self.clone() }
    }
}

/// The result of reading a user's font; nothing where a library that reads it panics, as they do on files whose tables
/// disagree (read-fonts 0.41 on glyphs without contours, for example).
pub(crate) fn guarded<R>(work: impl FnOnce() -> R) -> Option<R> {
    // Nothing that the work leaves half done is used again.
    std::panic::catch_unwind(std::panic::AssertUnwindSafe(work)).ok()
}

fn unpack(bytes: &[u8]) -> Result<Vec<u8>, FontError> {
    // WOFF 2, "WOFF2Header": `totalSfntSize` is the seventh field. It is a hint; the reader checks what comes out.
    let said = bytes.get(16..20).and_then(|size| size.try_into().ok()).map(u32::from_be_bytes);
    if said.is_none_or(|size| size as usize > limits::FONT_BYTES) {
        return Err(FontError::TooLarge);
    }
    let unpacked = guarded(|| wuff::decompress_woff2(bytes).map_err(|error| format!("{error:?}")));
    unpacked.unwrap_or_else(|| Err("its tables disagree".to_owned())).map_err(FontError::Broken)
}

/// OpenType, "name": the typographic family and style where there are such, else the plain ones.
fn family_of(font: &FontRef<'_>) -> String {
    let text = |id: StringId| {
        let text = font.localized_strings(id).english_or_first().map(|text| text.to_string());
        text.map(|text| readable(&text, limits::NAME_CHARACTERS / 2)).filter(|text| !text.is_empty())
    };
    let family = text(StringId::TYPOGRAPHIC_FAMILY_NAME).or_else(|| text(StringId::FAMILY_NAME));
    let family = family.unwrap_or_else(|| "Unnamed font".to_owned());
    let attributes = font.attributes();
    match attributes.style {
        skrifa::attribute::Style::Normal => family,
        _ => format!("{family} Italic"),
    }
}

fn weights_of(font: &FontRef<'_>) -> [f32; 2] {
    let axis = font.axes().iter().find(|axis| axis.tag() == skrifa::Tag::new(b"wght"));
    let weight = font.attributes().weight.value();
    let (low, high) = axis.map_or((weight, weight), |axis| (axis.min_value(), axis.max_value()));
    let usable = |weight: f32| if weight.is_finite() { weight.clamp(1.0, 1000.0) } else { 400.0 };
    [usable(low.min(high)), usable(high.max(low))]
}

fn licence_of(font: &FontRef<'_>) -> String {
    let ids = [StringId::LICENSE_DESCRIPTION, StringId::LICENSE_URL, StringId::COPYRIGHT_NOTICE];
    let texts = ids.into_iter().filter_map(|id| font.localized_strings(id).english_or_first());
    let texts = texts.map(|text| readable(&text.to_string(), 400));
    texts.into_iter().find(|text| !text.is_empty()).unwrap_or_default()
}

/// Letters that a family's name does not have: they mean something where it is written, in CSS and HTML.
pub const NOT_IN_NAMES: [char; 4] = ['"', '\\', '<', '>'];

/// A text of a font on one line, of so many characters at most.
fn readable(text: &str, most: usize) -> String {
    let plain =
        |letter: char| !letter.is_control() && !NOT_IN_NAMES.contains(&letter) && letter != '\u{fffd}';
    let text: String = text.chars().map(|letter| if letter.is_whitespace() { ' ' } else { letter }).collect();
    text.trim().chars().filter(|letter| plain(*letter)).take(most).collect()
}
