//! Projects, their revisions, shares and uploaded files, in SQLite.
//!
//! A document for which [`Store::save`] returned is on the disk: the journal is written ahead and synced at every
//! commit. Every save is a revision; nothing is ever overwritten, and revisions are thinned with age.

mod assets;
mod backup;
mod owner;
mod packing;
mod projects;
mod retention;
mod revisions;
mod saves;
mod shares;
mod verify;

use std::fs::{OpenOptions, Permissions};
use std::io::ErrorKind;
use std::os::unix::fs::{OpenOptionsExt, PermissionsExt};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use sqlx::migrate::Migrator;
use sqlx::sqlite::{
    SqliteConnectOptions, SqliteConnection, SqliteJournalMode, SqlitePoolOptions, SqliteSynchronous,
};
use sqlx::{Connection, SqlitePool};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use tokio::sync::{Semaphore, watch};

pub use assets::StoredAsset;
pub use backup::backup;
pub use retention::Retained;
pub use saves::{BeforeSave, PackedDocument};
pub use shares::{Live, Share};
pub use verify::{Verified, verify};

/// The database. Clones share it.
#[derive(Clone)]
pub struct Store {
    /// Connections that read.
    pool: SqlitePool,
    /// The one connection that writes: SQLite has one writer at a time, and who waits for it here has a turn.
    writer: SqlitePool,
    /// Large files are written one at a time, so that a save waits for one of them at most.
    large: Arc<Semaphore>,
    /// When something was written that may not be in the database file itself yet.
    written: Arc<Mutex<Option<Instant>>>,
    /// Tells of writes.
    writes: watch::Sender<()>,
    /// The journal that is written ahead, beside the database file.
    journal: Arc<PathBuf>,
}

/// An error of the store.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such project, revision or share.
    #[error("there is no such {0}")]
    Missing(&'static str),
    /// The project has moved on; this is the stored revision.
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

/// SQLite's result codes (sqlite.org, "Result and Error Codes"), without the parts that the extended ones add.
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
    pub const MAX: u32 = 500;

    /// All there is to a short list.
    pub const FIRST: Self = Self { from: 0, most: Self::MAX };
}

/// A project as lists show it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Listed {
    /// Its address.
    pub id: String,
    /// The product's name.
    pub name: String,
    /// The newest revision.
    pub revision: i64,
    /// When that was saved (RFC 3339, UTC).
    pub changed_at: String,
    /// When it was put into the trash; `None` outside of it.
    pub deleted_at: Option<String>,
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
    /// The name it was given, which keeps it for ever.
    pub name: Option<String>,
    /// When it was saved (RFC 3339, UTC).
    pub created_at: String,
}

/// Connections that read at the same time.
const READERS: u32 = 4;
/// How long nothing is written until everything is put into the database file itself.
const REST: Duration = Duration::from_secs(1);
/// Bytes of the journal from which on a writer waits until it is emptied.
const MAX_JOURNAL_BYTES: u64 = 64 << 20;
/// Bytes that a packed document takes, if it is large for an ordinary one.
const ORDINARY_BYTES: usize = 64 << 10;

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
            // Whoever saves does not wait for what was saved before to be put into the file: see `checkpoint_now_and_then`.
            .pragma("wal_autocheckpoint", "0")
            .busy_timeout(Duration::from_secs(5));
        let pool = |connections: u32| {
            let pool = SqlitePoolOptions::new().max_connections(connections);
            pool.acquire_timeout(Duration::from_secs(10)).connect_with(options.clone())
        };
        let (writer, readers) = (pool(1).await?, pool(READERS).await?);
        let (large, written) = (Arc::new(Semaphore::new(1)), Arc::default());
        let journal = Arc::new(PathBuf::from(format!("{}-wal", path.display())));
        let writes = watch::Sender::new(());
        let store = Self { pool: readers, writer, large, written, writes, journal };
        store.check().await?;
        let migrator = sqlx::migrate!();
        let moved = store.copy_before(path, &migrator).await?;
        migrator.run(&store.writer).await.map_err(|error| match error {
            sqlx::migrate::MigrateError::VersionMissing(_)
            | sqlx::migrate::MigrateError::VersionTooNew(..) => StoreError::Newer,
            sqlx::migrate::MigrateError::Execute(error) => error.into(),
            error => StoreError::Migration(error),
        })?;
        store.write(projects::move_over).await?;
        if moved {
            // What was moved left its room in the file; the copy has everything, should this be interrupted.
            sqlx::query("VACUUM").execute(&store.writer).await?;
        }
        // A copy of the file alone has everything from the beginning.
        store.checkpoint().await?;
        Ok(store)
    }

    /// Copies a database that is to be migrated, beside itself; says whether it was.
    async fn copy_before(&self, path: &Path, migrator: &Migrator) -> Result<bool, StoreError> {
        let known = sqlx::query_scalar::<_, i64>(
            "SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name = '_sqlx_migrations'",
        );
        if known.fetch_one(&self.pool).await? == 0 {
            return Ok(false);
        }
        let version = sqlx::query_scalar::<_, i64>("SELECT coalesce(max(version), 0) FROM _sqlx_migrations");
        let version = version.fetch_one(&self.pool).await?;
        if migrator.iter().all(|migration| migration.version <= version) {
            return Ok(false);
        }
        let copy = path.with_added_extension(format!("before-{}", version + 1));
        if !copy.exists() {
            // It has its name once it is whole.
            let part = copy.with_added_extension("part");
            let _ = std::fs::remove_file(&part);
            keep_to_owner(&part)?;
            let into = sqlx::query("VACUUM INTO ?").bind(part.to_string_lossy().into_owned());
            into.execute(&self.writer).await?;
            std::fs::rename(&part, &copy)?;
        }
        Ok(true)
    }

    /// Checks the file: one that is damaged is better not written to.
    async fn check(&self) -> Result<(), StoreError> {
        let said: Vec<String> = sqlx::query_scalar("PRAGMA quick_check(3)").fetch_all(&self.pool).await?;
        if said.iter().all(|line| line == "ok") { Ok(()) } else { Err(StoreError::Damaged(said.join("; "))) }
    }

    /// Puts everything into the database file itself, so that a copy of it alone is whole, and closes it.
    pub async fn close(&self) {
        // What cannot be put there now is put there when the database is opened next.
        let _ = self.checkpoint().await;
        self.pool.close().await;
        self.writer.close().await;
    }

    /// Writes everything into the database file itself, so that a copy of the file alone is whole. False while somebody reads the
    /// journal beside it.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn checkpoint(&self) -> Result<bool, StoreError> {
        let mut connection = self.writer.acquire().await?;
        let last = self.last_write();
        let (busy, _, _): (i64, i64, i64) =
            sqlx::query_as("PRAGMA wal_checkpoint(TRUNCATE)").fetch_one(&mut *connection).await?;
        let mut written = self.written.lock().unwrap_or_else(PoisonError::into_inner);
        if busy == 0 && *written == last {
            *written = None;
        }
        Ok(busy == 0)
    }

    /// Puts written pages into the database file itself, without keeping anybody from writing; and all of it once
    /// nothing was written for a second, so that a copy of the file alone is whole. To be called again and again.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn checkpoint_now_and_then(&self) -> Result<(), StoreError> {
        let Some(last) = self.last_write() else { return Ok(()) };
        let beside = std::fs::metadata(&*self.journal).map_or(0, |found| found.len());
        if last.elapsed() < REST && beside < MAX_JOURNAL_BYTES {
            sqlx::query("PRAGMA wal_checkpoint(PASSIVE)").execute(&self.pool).await?;
            return Ok(());
        }
        self.checkpoint().await.map(|_| ())
    }

    fn last_write(&self) -> Option<Instant> {
        *self.written.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Whether a document of ordinary size can be saved now.
    ///
    /// # Errors
    /// Why not.
    pub async fn can_write(&self) -> Result<(), StoreError> {
        let now = now() + &" ".repeat(ORDINARY_BYTES);
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

    /// Computes something that takes a moment where it keeps nobody waiting.
    async fn compute<T: Send + 'static>(
        work: impl FnOnce() -> Result<T, std::io::Error> + Send + 'static,
    ) -> Result<T, StoreError> {
        let done = tokio::task::spawn_blocking(work).await;
        Ok(done.map_err(std::io::Error::other)??)
    }

    /// Writes by a query that begins and commits its own transaction; gives the rows that come back.
    async fn write_at_once(
        &self,
        query: sqlx::query::Query<'_, sqlx::Sqlite, sqlx::sqlite::SqliteArguments>,
    ) -> Result<Vec<sqlx::sqlite::SqliteRow>, StoreError> {
        let mut connection = self.writer.acquire().await?;
        let outcome = query.fetch_all(&mut *connection).await;
        if outcome.is_err() {
            // It may be within a transaction still.
            connection.close_on_drop();
        }
        self.tell_of_write();
        Ok(outcome?)
    }

    /// Writes in one transaction, all or nothing.
    ///
    /// A connection on which something failed is thrown away: after a full disk, for instance, it may be left within a
    /// transaction that is neither committed nor rolled back.
    async fn write<T>(
        &self,
        work: impl AsyncFnOnce(&mut SqliteConnection) -> Result<T, StoreError>,
    ) -> Result<T, StoreError> {
        let mut connection = self.writer.acquire().await?;
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
        self.tell_of_write();
        outcome
    }

    fn tell_of_write(&self) {
        *self.written.lock().unwrap_or_else(PoisonError::into_inner) = Some(Instant::now());
        self.writes.send_replace(());
    }

    /// Changes whenever something was written by this process.
    #[must_use]
    pub fn writes(&self) -> watch::Receiver<()> {
        self.writes.subscribe()
    }
}

/// Creates the file where it is missing, and lets nobody but its owner read it; files that SQLite puts beside it get
/// the same permissions.
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
    Ok(hex::encode(random))
}

fn now() -> String {
    text_of(OffsetDateTime::now_utc())
}

fn text_of(time: OffsetDateTime) -> String {
    // A UTC time of our own clock always has a form; its absence would only cost the time shown in lists.
    time.format(&Rfc3339).unwrap_or_default()
}
