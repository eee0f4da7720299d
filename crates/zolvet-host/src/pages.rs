//! Pages of somebody's own, for helpers.

use std::io::{Cursor, Read as _};

use zip::ZipArchive;
use zolvet_page::{Offers, PageFile, ReadPage, rebuild};
use zolvet_queries::QueryError;

/// Bytes of all files of an archive, unpacked.
const MAX_BYTES: u64 = 16 << 20;
/// Files of an archive.
const MAX_FILES: usize = 2_000;

/// Reads a page: a file, or a ZIP archive of a page and the files it refers to.
///
/// # Errors
/// What was expected instead.
pub fn read(input: &[u8]) -> Result<ReadPage, QueryError> {
    let files = if input.starts_with(b"PK\x03\x04") {
        unpacked(input)?
    } else {
        vec![PageFile { name: "page.html".to_owned(), bytes: input.to_vec() }]
    };
    zolvet_page::read(&files).map_err(expected)
}

/// A page for a frame.
pub fn frame(input: &[u8]) -> String {
    rebuild(&String::from_utf8_lossy(input))
}

/// Selectors for an element of a page.
///
/// # Errors
/// What was expected instead.
pub fn offers(input: &[u8]) -> Result<Offers, QueryError> {
    let text = String::from_utf8_lossy(input);
    let (number, html) = text.split_once('\n').unwrap_or_default();
    let found = number.parse().ok().and_then(|number| zolvet_page::offers(&rebuild(html), number));
    found.ok_or_else(|| QueryError::invalid_at("/element", "expected the number of an element of the page"))
}

fn unpacked(input: &[u8]) -> Result<Vec<PageFile>, QueryError> {
    let mut archive = ZipArchive::new(Cursor::new(input)).map_err(expected)?;
    if archive.len() > MAX_FILES {
        return Err(expected(format!("expected at most {MAX_FILES} files, found {}", archive.len())));
    }
    let (mut files, mut left) = (Vec::new(), MAX_BYTES);
    for at in 0..archive.len() {
        let file = archive.by_index(at).map_err(expected)?;
        if !file.is_file() {
            continue;
        }
        let name = file.name().to_owned();
        let mut bytes = Vec::new();
        file.take(left + 1).read_to_end(&mut bytes).map_err(expected)?;
        let read = bytes.len() as u64;
        if read > left {
            return Err(expected(format!("expected files of at most {} MB in all", MAX_BYTES >> 20)));
        }
        left -= read;
        files.push(PageFile { name, bytes });
    }
    Ok(files)
}

fn expected(error: impl std::fmt::Display) -> QueryError {
    QueryError::invalid_at("", error.to_string())
}
