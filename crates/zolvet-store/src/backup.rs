//! Copies of a database that is in use.

use std::fs::File;
use std::path::Path;
use std::time::Duration;

use sqlx::sqlite::{SqliteConnectOptions, SqliteConnection};
use sqlx::{ConnectOptions as _, Connection as _};

use super::{StoreError, keep_to_owner};

/// Copies a database as it is at one moment, also while a service uses it. The copy has its name once it is whole and on the
/// disk; only its owner may read it.
///
/// # Errors
/// When the database cannot be read or the copy cannot be written; then there is no copy, or still the one before.
pub async fn backup(database: &Path, copy: &Path) -> Result<(), StoreError> {
    if std::fs::canonicalize(copy)
        .is_ok_and(|copy| std::fs::canonicalize(database).is_ok_and(|own| own == copy))
    {
        return Err(std::io::Error::other("expected another file than the database itself").into());
    }
    let mut connection = existing(database).await?;
    let part = copy.with_added_extension("part");
    let _ = std::fs::remove_file(&part);
    keep_to_owner(&part)?;
    let copied = sqlx::query("VACUUM INTO ?")
        .bind(part.to_string_lossy().into_owned())
        .execute(&mut connection)
        .await
        .map_err(StoreError::from)
        .and_then(|_| {
            File::open(&part)?.sync_all()?;
            std::fs::rename(&part, copy)?;
            let folder =
                copy.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."));
            Ok(File::open(folder)?.sync_all()?)
        });
    if copied.is_err() {
        // What was begun is of no use.
        let _ = std::fs::remove_file(&part);
    }
    connection.close().await?;
    copied
}

/// A connection to an existing database of any version.
pub(super) async fn existing(database: &Path) -> Result<SqliteConnection, StoreError> {
    std::fs::metadata(database)?;
    let options = SqliteConnectOptions::new().filename(database).busy_timeout(Duration::from_secs(5));
    Ok(options.connect().await?)
}
