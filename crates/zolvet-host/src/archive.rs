//! Files as one archive.

use std::io::Write as _;

/// Files as a ZIP archive whose bytes depend on nothing but them.
///
/// # Errors
/// When an entry cannot be written.
pub fn zip(files: &[zolvet_core::handoff::File]) -> std::io::Result<Vec<u8>> {
    let mut archive = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for file in files {
        let options = zip::write::SimpleFileOptions::default()
            .compression_method(zip::CompressionMethod::Deflated)
            .last_modified_time(zip::DateTime::default());
        archive.start_file(&file.path, options)?;
        archive.write_all(&file.bytes)?;
    }
    Ok(archive.finish()?.into_inner())
}
