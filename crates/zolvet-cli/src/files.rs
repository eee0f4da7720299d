//! Files read, and written whole or not at all.

use std::fs::Permissions;
use std::io::{ErrorKind, IsTerminal as _, Read as _, Write as _};
use std::os::unix::fs::{FileTypeExt as _, PermissionsExt as _};
use std::path::{Path, PathBuf};

use crate::error::CliError;

/// Writes to a file, or to standard output for `-`. A file is written beside its place and then put there, so that it is whole
/// or as it was; it keeps its permissions, and a link leads where it led. Pipes and devices are written to.
///
/// # Errors
/// When it cannot be written.
pub fn write_whole(path: &Path, bytes: &[u8]) -> Result<(), CliError> {
    if path == Path::new("-") {
        return print(bytes);
    }
    let failed = |error: std::io::Error| CliError::File { path: path.to_owned(), source: plain(error) };
    let there = std::fs::metadata(path).ok();
    if there.as_ref().is_some_and(|found| is_stream(&found.file_type())) {
        let mut stream = std::fs::OpenOptions::new().write(true).open(path).map_err(failed)?;
        return stream.write_all(bytes).map_err(failed);
    }
    let target = led_to(path).map_err(failed)?;
    let folder = target.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."));
    if there.as_ref().is_some_and(|found| found.permissions().readonly()) {
        return Err(failed(ErrorKind::PermissionDenied.into()));
    }
    // The system takes from these what new files are not to have.
    let usual = Permissions::from_mode(0o666);
    let mut file = tempfile::Builder::new().permissions(usual).tempfile_in(folder).map_err(failed)?;
    file.write_all(bytes).map_err(failed)?;
    if let Some(found) = there {
        file.as_file().set_permissions(found.permissions()).map_err(failed)?;
    }
    file.persist(&target).map_err(|error| failed(error.error))?;
    Ok(())
}

/// Writes to standard output. When nobody reads it any more, there is nothing left to do.
///
/// # Errors
/// When it cannot be written for another reason.
pub fn print(bytes: &[u8]) -> Result<(), CliError> {
    crate::progress::end();
    if std::io::stdout().is_terminal() && std::str::from_utf8(bytes).is_err() {
        return Err(CliError::Argument(
            "expected a file or another program to write this to: it is no text, which a terminal could show"
                .to_owned(),
        ));
    }
    let mut out = std::io::stdout().lock();
    match out.write_all(bytes).and_then(|()| out.flush()) {
        Err(error) if error.kind() == ErrorKind::BrokenPipe => Ok(()),
        written => written.map_err(CliError::Output),
    }
}

/// The bytes of a file, or of standard input for `-`; unpacked where they are packed with gzip.
///
/// # Errors
/// When it cannot be read.
pub fn read_bytes(path: &Path) -> Result<Vec<u8>, CliError> {
    let failed = |source| CliError::File { path: path.to_owned(), source };
    let mut bytes = Vec::new();
    if path == Path::new("-") {
        std::io::stdin().lock().read_to_end(&mut bytes).map_err(failed)?;
    } else {
        bytes = std::fs::read(path).map_err(failed)?;
    }
    if !bytes.starts_with(&[0x1f, 0x8b]) {
        return Ok(bytes);
    }
    let most = zolvet_core::limits::UPLOAD_BYTES as u64;
    let mut unpacked = Vec::new();
    flate2::read::GzDecoder::new(bytes.as_slice())
        .take(most + 1)
        .read_to_end(&mut unpacked)
        .map_err(failed)?;
    if unpacked.len() as u64 > most {
        return Err(CliError::Argument(format!(
            "{}: expected at most {} MB, unpacked",
            path.display(),
            most >> 20
        )));
    }
    Ok(unpacked)
}

fn is_stream(kind: &std::fs::FileType) -> bool {
    kind.is_char_device() || kind.is_block_device() || kind.is_fifo() || kind.is_socket()
}

/// Where a path leads if it is a link; a link to nothing leads to where the file would be.
fn led_to(path: &Path) -> std::io::Result<PathBuf> {
    let mut path = path.to_owned();
    for _ in 0..40 {
        match std::fs::read_link(&path) {
            Ok(next) => path = path.parent().map_or_else(|| next.clone(), |folder| folder.join(&next)),
            Err(_) => return Ok(path),
        }
    }
    Err(std::io::Error::other("too many links"))
}

/// An error without the name of the file beside, which is none of the reader's.
fn plain(error: std::io::Error) -> std::io::Error {
    match error.raw_os_error() {
        Some(code) => std::io::Error::from_raw_os_error(code),
        None if error.kind() == ErrorKind::Other => error,
        None => error.kind().into(),
    }
}
