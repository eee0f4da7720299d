//! Projects, their revisions, shares and uploaded files, in SQLite.
//!
//! What [`Store::save`] returned for is on the disk: the journal is written ahead and synced at every commit. Every
//! save is a revision; nothing is ever overwritten.

mod assets;
mod owner;
mod shares;

use std::fs::{OpenOptions, Permissions};
use std::io::ErrorKind;
use std::os::unix::fs::{OpenOptionsExt, PermissionsExt};
use std::path::Path;
use std::time::Duration;

use sqlx::sqlite::{
    SqliteConnectOptions, SqliteConnection, SqliteJournalMode, SqlitePoolOptions, SqliteSynchronous,
};
use sqlx::{Connection, SqlitePool};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;

pub use assets::StoredAsset;
pub use shares::Share;

/// The database.
#[derive(Clone)]
pub struct Store {
    pool: SqlitePool,
}

/// What the store can fail with.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such project, revision or share.
    #[error("there is no such {0}")]
    Missing(&'static str),
    /// The project has moved on; here is what is stored.
    #[error("the project is at revision {} now", .0.revision)]
    Stale(Box<Document>),
    /// There is no space left to write to.
    #[error("there is no space left for the database")]
    Full,
    /// Somebody else writes to the database for too long.
    #[error("the database is busy")]
    Busy,
    /// The database failed.
    #[error("the database failed: {0}")]
    Database(#[source] sqlx::Error),
    /// The database file is damaged.
    #[error("the database is damaged and is not opened, so that nothing more is lost: {0}")]
    Damaged(String),
    /// A newer version made the database.
    #[error("the database was made by a newer version of Zolvet; this one does not open it")]
    Newer,
    /// The database could not be brought up to date.
    #[error("the database could not be brought up to date: {0}")]
    Migration(#[source] sqlx::migrate::MigrateError),
    /// The file could not be made, or kept to its owner.
    #[error("the database file: {0}")]
    File(#[from] std::io::Error),
    /// No randomness to make an id from.
    #[error("no randomness to make an id from: {0}")]
    Randomness(#[from] getrandom::Error),
}

/// SQLite's result codes (sqlite.org, "Result and Error Codes"), without what the extended ones add.
mod codes {
    pub const BUSY: i32 = 5;
    pub const LOCKED: i32 = 6;
    pub const CORRUPT: i32 = 11;
    pub const FULL: i32 = 13;
    pub const NOT_A_DATABASE: i32 = 26;
}

impl From<sqlx::Error> for StoreError {
    fn from(error: sqlx::Error) -> Self {
        let code = error.as_database_error().and_then(|error| error.code());
        let code = code.and_then(|code| code.parse::<i32>().ok()).map(|code| code & 0xFF);
        match (code, &error) {
            (Some(codes::FULL), _) => Self::Full,
            (Some(codes::BUSY | codes::LOCKED), _) | (_, sqlx::Error::PoolTimedOut) => Self::Busy,
            (Some(codes::CORRUPT | codes::NOT_A_DATABASE), _) => Self::Damaged(error.to_string()),
            _ => Self::Database(error),
        }
    }
}

/// Part of a list: from a place on, so many.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Page {
    /// How many come before it.
    pub from: u32,
    /// How many there are at most.
    pub most: u32,
}

impl Page {
    /// Entries of a list that are given at a time, at most.
    pub const MOST: u32 = 500;

    /// All there is to a short list.
    pub const FIRST: Self = Self { from: 0, most: Self::MOST };
}

/// A project as lists show it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Listed {
    /// What it is addressed by.
    pub id: String,
    /// The product's name.
    pub name: String,
    /// The newest revision.
    pub revision: i64,
    /// When that was saved (RFC 3339, UTC).
    pub changed_at: String,
}

/// A project's document at a revision.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Document {
    /// The project's id.
    pub id: String,
    /// Which revision.
    pub revision: i64,
    /// The document, as it was sent.
    pub text: String,
}

/// A revision as lists show it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Revision {
    /// From 1.
    pub revision: i64,
    /// How it came about.
    pub note: String,
    /// When it was saved (RFC 3339, UTC).
    pub created_at: String,
}

impl Store {
    /// Opens a database, making it or bringing it up to date where needed. Its file can be read by its owner only.
    ///
    /// # Errors
    /// When the file cannot be opened or migrated, is damaged, or was made by a newer version.
    pub async fn open(path: &Path) -> Result<Self, StoreError> {
        keep_to_owner(path)?;
        let options = SqliteConnectOptions::new()
            .filename(path)
            .create_if_missing(true)
            .journal_mode(SqliteJournalMode::Wal)
            .synchronous(SqliteSynchronous::Full)
            .foreign_keys(true)
            .busy_timeout(Duration::from_secs(5));
        let pool = SqlitePoolOptions::new()
            .max_connections(4)
            .acquire_timeout(Duration::from_secs(10))
            .connect_with(options)
            .await?;
        let store = Self { pool };
        store.check().await?;
        sqlx::migrate!().run(&store.pool).await.map_err(|error| match error {
            sqlx::migrate::MigrateError::VersionMissing(_)
            | sqlx::migrate::MigrateError::VersionTooNew(..) => StoreError::Newer,
            sqlx::migrate::MigrateError::Execute(error) => error.into(),
            error => StoreError::Migration(error),
        })?;
        Ok(store)
    }

    /// Looks the file over: what is damaged is better not written to.
    async fn check(&self) -> Result<(), StoreError> {
        let said: Vec<String> = sqlx::query_scalar("PRAGMA quick_check(3)").fetch_all(&self.pool).await?;
        if said.iter().all(|line| line == "ok") { Ok(()) } else { Err(StoreError::Damaged(said.join("; "))) }
    }

    /// Puts everything into the database file itself, so that a copy of it alone is whole, and closes it.
    pub async fn close(&self) {
        // What cannot be put there now is put there when the database is opened next.
        let _ = sqlx::query("PRAGMA wal_checkpoint(TRUNCATE)").execute(&self.pool).await;
        self.pool.close().await;
    }

    /// Whether something can be saved now.
    ///
    /// # Errors
    /// Why not.
    pub async fn can_write(&self) -> Result<(), StoreError> {
        let now = now();
        self.write(async |connection| {
            sqlx::query!(
                "INSERT INTO probe VALUES (1, ?) ON CONFLICT (id) DO UPDATE SET at = excluded.at",
                now
            )
            .execute(connection)
            .await?;
            Ok(())
        })
        .await
    }

    /// Writes in one transaction, all or nothing.
    ///
    /// A connection on which something failed is thrown away: after a full disk, for instance, it may be left within a
    /// transaction that is neither committed nor rolled back.
    async fn write<T>(
        &self,
        work: impl AsyncFnOnce(&mut SqliteConnection) -> Result<T, StoreError>,
    ) -> Result<T, StoreError> {
        let mut connection = self.pool.acquire().await?;
        let outcome = async {
            let mut transaction = connection.begin_with("BEGIN IMMEDIATE").await?;
            let made = work(&mut transaction).await?;
            transaction.commit().await?;
            Ok(made)
        }
        .await;
        match &outcome {
            Ok(_) | Err(StoreError::Missing(_) | StoreError::Stale(_)) => {}
            Err(_) => connection.close_on_drop(),
        }
        outcome
    }

    /// A part of all projects, last changed first; and how many there are.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn projects(&self, page: Page) -> Result<(Vec<Listed>, i64), StoreError> {
        let listed = sqlx::query_as!(
            Listed,
            "SELECT id, name, revision, changed_at FROM projects ORDER BY changed_at DESC, id LIMIT ? OFFSET ?",
            page.most,
            page.from
        );
        let count = sqlx::query_scalar!("SELECT count(*) FROM projects").fetch_one(&self.pool).await?;
        Ok((listed.fetch_all(&self.pool).await?, count))
    }

    /// Makes a project from its first document.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn create(&self, name: &str, text: &str) -> Result<Document, StoreError> {
        let id = random_id(8)?;
        let now = now();
        self.write(async |connection| {
            sqlx::query!("INSERT INTO projects VALUES (?, ?, 1, ?)", id, name, now)
                .execute(&mut *connection)
                .await?;
            sqlx::query!("INSERT INTO revisions VALUES (?, 1, ?, 'created', ?)", id, text, now)
                .execute(connection)
                .await?;
            Ok(())
        })
        .await?;
        Ok(Document { id, revision: 1, text: text.to_owned() })
    }

    /// The newest document of a project.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project.
    pub async fn read(&self, id: &str) -> Result<Document, StoreError> {
        let query = sqlx::query_as!(
            Document,
            "SELECT p.id, p.revision, r.document AS text FROM projects p
             JOIN revisions r ON r.project_id = p.id AND r.revision = p.revision WHERE p.id = ?",
            id
        );
        query.fetch_optional(&self.pool).await?.ok_or(StoreError::Missing("project"))
    }

    /// Saves a document as the next revision, if the project is still at revision `base`.
    ///
    /// # Errors
    /// [`StoreError::Stale`] with what is stored when it is not; [`StoreError::Missing`] without such a project.
    pub async fn save(
        &self,
        id: &str,
        base: i64,
        name: &str,
        text: &str,
        note: &str,
    ) -> Result<i64, StoreError> {
        let next = base + 1;
        let now = now();
        let moved_on = self
            .write(async |connection| {
                let changed = sqlx::query!(
                    "UPDATE projects SET name = ?, revision = ?, changed_at = ? WHERE id = ? AND revision = ?",
                    name,
                    next,
                    now,
                    id,
                    base
                )
                .execute(&mut *connection)
                .await?;
                if changed.rows_affected() == 0 {
                    return Ok(true);
                }
                sqlx::query!("INSERT INTO revisions VALUES (?, ?, ?, ?, ?)", id, next, text, note, now)
                    .execute(connection)
                    .await?;
                Ok(false)
            })
            .await?;
        if moved_on { Err(StoreError::Stale(Box::new(self.read(id).await?))) } else { Ok(next) }
    }

    /// Deletes a project with its revisions and shares, if it is still at revision `base` where one is given.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project; [`StoreError::Stale`] when it has moved on.
    pub async fn delete(&self, id: &str, base: Option<i64>) -> Result<(), StoreError> {
        let gone = self
            .write(async |connection| {
                let gone = sqlx::query!(
                    "DELETE FROM projects WHERE id = ? AND (? IS NULL OR revision = ?)",
                    id,
                    base,
                    base
                )
                .execute(connection)
                .await?;
                Ok(gone.rows_affected() > 0)
            })
            .await?;
        if gone { Ok(()) } else { Err(StoreError::Stale(Box::new(self.read(id).await?))) }
    }

    /// A part of a project's revisions, newest first; and how many there are.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project.
    pub async fn revisions(&self, id: &str, page: Page) -> Result<(Vec<Revision>, i64), StoreError> {
        let query = sqlx::query_as!(
            Revision,
            "SELECT revision, note, created_at FROM revisions WHERE project_id = ?
             ORDER BY revision DESC LIMIT ? OFFSET ?",
            id,
            page.most,
            page.from
        );
        let count = sqlx::query_scalar!("SELECT count(*) FROM revisions WHERE project_id = ?", id);
        let count = count.fetch_one(&self.pool).await?;
        if count == 0 {
            return Err(StoreError::Missing("project"));
        }
        Ok((query.fetch_all(&self.pool).await?, count))
    }

    /// A project's document as it was at a revision.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such revision.
    pub async fn read_revision(&self, id: &str, revision: i64) -> Result<Document, StoreError> {
        let query = sqlx::query_as!(
            Document,
            "SELECT project_id AS id, revision, document AS text FROM revisions
             WHERE project_id = ? AND revision = ?",
            id,
            revision
        );
        query.fetch_optional(&self.pool).await?.ok_or(StoreError::Missing("revision"))
    }
}

/// Makes the file where it is not there, and lets nobody but its owner read it; what SQLite puts beside it gets the same
/// permissions.
fn keep_to_owner(path: &Path) -> Result<(), std::io::Error> {
    const OWNER_ONLY: u32 = 0o600;
    match OpenOptions::new().write(true).create_new(true).mode(OWNER_ONLY).open(path) {
        Ok(_) => Ok(()),
        Err(error) if error.kind() == ErrorKind::AlreadyExists => {
            std::fs::set_permissions(path, Permissions::from_mode(OWNER_ONLY))
        }
        Err(error) => Err(error),
    }
}

/// An id of `bytes` random bytes, in hexadecimal.
fn random_id(bytes: usize) -> Result<String, StoreError> {
    let mut random = vec![0; bytes];
    getrandom::fill(&mut random)?;
    Ok(random.iter().map(|byte| format!("{byte:02x}")).collect())
}

fn now() -> String {
    // A UTC time of our own clock always has a form; its absence would only cost the time shown in lists.
    OffsetDateTime::now_utc().format(&Rfc3339).unwrap_or_default()
}
