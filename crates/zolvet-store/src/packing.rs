//! Documents in little room: Zstandard (RFC 8878), whole or as the difference from an earlier one.

use std::io::{Error, ErrorKind};

use zstd::bulk::{Compressor, Decompressor};

/// How hard it is tried; more gains little on documents and costs a multiple.
const LEVEL: i32 = 3;
/// Largest size of an unpacked document: twice the limit of documents that are taken.
const MAX_BYTES: usize = 16 << 20;
/// Differences up to so many bytes are never worth a snapshot.
const SMALL: usize = 512;

/// A document as it is stored.
pub(super) enum Packed {
    /// By itself.
    Whole(Vec<u8>),
    /// As the difference from the one before; none where they are the same.
    Difference(Option<Vec<u8>>),
}

/// Packs a document; as the difference from a snapshot and its packed size, where that is worth it.
pub(super) fn pack(text: &str, snapshot: Option<(&str, usize)>) -> Result<Packed, Error> {
    if let Some((before, size)) = snapshot {
        if before == text {
            return Ok(Packed::Difference(None));
        }
        let difference = difference(before, text)?;
        // Differences grow the farther a document goes from its snapshot: at a quarter of it, another one pays.
        if difference.len() <= SMALL.max(size / 4) {
            return Ok(Packed::Difference(Some(difference)));
        }
    }
    Ok(Packed::Whole(pack_whole(text)?))
}

/// Packs a document by itself.
pub(super) fn pack_whole(text: &str) -> Result<Vec<u8>, Error> {
    zstd::bulk::compress(text.as_bytes(), LEVEL)
}

fn difference(before: &str, text: &str) -> Result<Vec<u8>, Error> {
    let mut compressor = Compressor::new(LEVEL)?;
    // What is used once costs less as a prefix than as a dictionary, and is read as one.
    let taken = compressor.context_mut().ref_prefix(before.as_bytes());
    taken.map_err(|code| Error::other(zstd::zstd_safe::get_error_name(code)))?;
    compressor.compress(text.as_bytes())
}

/// The document of a snapshot, or of a revision that is a difference from it.
pub(super) fn unpack(snapshot: &[u8], difference: Option<&[u8]>) -> Result<String, Error> {
    let whole = zstd::bulk::decompress(snapshot, MAX_BYTES)?;
    let bytes = match difference {
        Some(difference) => Decompressor::with_dictionary(&whole)?.decompress(difference, MAX_BYTES)?,
        None => whole,
    };
    String::from_utf8(bytes).map_err(|error| Error::new(ErrorKind::InvalidData, error))
}
