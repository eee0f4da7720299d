//! Files written whole or not at all.

use std::io::Write as _;
use std::path::Path;

use crate::error::CliError;

/// Writes beside the file and then over it, so that it is whole or as it was.
///
/// # Errors
/// When the file cannot be written.
pub fn write_whole(path: &Path, bytes: &[u8]) -> Result<(), CliError> {
    let failed = |source| CliError::File { path: path.to_owned(), source };
    let folder = path.parent().filter(|folder| !folder.as_os_str().is_empty());
    let mut file = tempfile::NamedTempFile::new_in(folder.unwrap_or(Path::new("."))).map_err(failed)?;
    file.write_all(bytes).map_err(failed)?;
    file.persist(path).map_err(|error| failed(error.error))?;
    Ok(())
}
