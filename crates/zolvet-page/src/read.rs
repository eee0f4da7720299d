//! A page from the files that it comes in.

use serde::{Deserialize, Serialize};

use crate::files::{Files, PageFile, address_of};
use crate::mhtml;
use crate::rebuild::rebuilt;

/// A page as it is kept.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct ReadPage {
    /// One HTML file with all that it needs.
    pub html: String,
    /// Its title, or the name of its file.
    pub title: String,
    /// How many elements it has.
    pub elements: usize,
    /// What it refers to and is not in it.
    pub missing: Vec<String>,
}

/// Why files are no page.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum PageError {
    /// None of them is HTML.
    #[error("expected an HTML file, or a page saved as one file (MHTML)")]
    NoPage,
    /// They are too large together.
    #[error("expected files of at most {} MB in all, found {found} bytes", MAX_BYTES >> 20)]
    TooLarge {
        /// Bytes.
        found: usize,
    },
    /// It has too many elements.
    #[error("expected at most {MAX_ELEMENTS} elements, found {found}")]
    TooMany {
        /// Elements.
        found: usize,
    },
}

/// Bytes of all files of a page.
pub const MAX_BYTES: usize = 16 << 20;
/// Elements of a page.
pub const MAX_ELEMENTS: usize = 20_000;

/// Reads a page: an HTML file with the files beside it, or one that holds all.
///
/// # Errors
/// [`PageError`] where they are no page, or too much of one.
pub fn read(files: &[PageFile]) -> Result<ReadPage, PageError> {
    let bytes: usize = files.iter().map(|file| file.bytes.len()).sum();
    if bytes > MAX_BYTES {
        return Err(PageError::TooLarge { found: bytes });
    }
    let saved = match files.iter().find(|file| mhtml::is_like(&file.bytes)) {
        Some(saved) => Some(mhtml::parts(&saved.bytes).ok_or(PageError::NoPage)?),
        None => None,
    };
    let page = saved.as_ref().map_or_else(|| page_of(files), |parts| parts.first());
    let page = page.ok_or(PageError::NoPage)?;
    let files = saved.as_deref().unwrap_or(files);
    let base = address_of(&page.name).ok_or(PageError::NoPage)?;
    let mut found = Files::new(files);
    let rebuilt = rebuilt(&decoded(&page.bytes), &base, &mut found);
    if rebuilt.elements > MAX_ELEMENTS {
        return Err(PageError::TooMany { found: rebuilt.elements });
    }
    // What several elements refer to stands in the page several times.
    if rebuilt.html.len() > 2 * MAX_BYTES {
        return Err(PageError::TooLarge { found: rebuilt.html.len() });
    }
    let name = page.name.rsplit('/').next().unwrap_or_default().to_owned();
    let title = if rebuilt.title.is_empty() { name } else { rebuilt.title };
    Ok(ReadPage { html: rebuilt.html, title, elements: rebuilt.elements, missing: found.missing() })
}

/// The page among its files: the index, or the HTML file that lies nearest to the top.
fn page_of(files: &[PageFile]) -> Option<&PageFile> {
    let is_html = |file: &&PageFile| {
        let start = String::from_utf8_lossy(&file.bytes[..file.bytes.len().min(4096)]).to_ascii_lowercase();
        let path = file.name.split(['?', '#']).next().unwrap_or_default().to_ascii_lowercase();
        let named = [".html", ".htm", ".xhtml"].iter().any(|ending| path.ends_with(ending));
        named || ["<!doctype html", "<html", "<body"].iter().any(|tag| start.contains(tag))
    };
    let rank = |file: &&PageFile| {
        let name = file.name.to_ascii_lowercase();
        let is_index = name.ends_with("index.html") || name.ends_with("index.htm");
        (name.matches('/').count(), !is_index)
    };
    files.iter().filter(is_html).min_by_key(rank)
}

/// The text of a file: UTF-8, UTF-16 with a byte order mark, else bytes as they are in Western Europe.
fn decoded(bytes: &[u8]) -> String {
    let wide = |from: fn([u8; 2]) -> u16| {
        let units = bytes[2..].as_chunks::<2>().0.iter().map(|pair| from(*pair));
        char::decode_utf16(units).map(|letter| letter.unwrap_or('\u{fffd}')).collect()
    };
    match bytes {
        [0xff, 0xfe, ..] => wide(u16::from_le_bytes),
        [0xfe, 0xff, ..] => wide(u16::from_be_bytes),
        _ => {
            let text = bytes.strip_prefix(&[0xef, 0xbb, 0xbf]).unwrap_or(bytes);
            std::str::from_utf8(text)
                .map_or_else(|_| text.iter().map(|byte| char::from(*byte)).collect(), str::to_owned)
        }
    }
}
