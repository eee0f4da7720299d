//! Projects, their revisions, shares and uploaded files, in SQLite.
//!
//! What [`Store::save`] returned for is on the disk: the journal is written ahead and synced at every commit. Every
//! save is a revision; nothing is ever overwritten.

mod assets;
mod shares;

use std::path::Path;
use std::time::Duration;

use sqlx::SqlitePool;
use sqlx::sqlite::{SqliteConnectOptions, SqliteJournalMode, SqlitePoolOptions, SqliteSynchronous};
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
    /// The database failed.
    #[error("the database failed: {0}")]
    Database(#[from] sqlx::Error),
    /// The database could not be brought up to date.
    #[error("the database could not be brought up to date: {0}")]
    Migration(#[from] sqlx::migrate::MigrateError),
    /// No randomness to make an id from.
    #[error("no randomness to make an id from: {0}")]
    Randomness(#[from] getrandom::Error),
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
    /// Opens a database, making it or bringing it up to date where needed.
    ///
    /// # Errors
    /// When the file cannot be opened or migrated.
    pub async fn open(path: &Path) -> Result<Self, StoreError> {
        let options = SqliteConnectOptions::new()
            .filename(path)
            .create_if_missing(true)
            .journal_mode(SqliteJournalMode::Wal)
            .synchronous(SqliteSynchronous::Full)
            .foreign_keys(true)
            .busy_timeout(Duration::from_secs(5));
        let pool = SqlitePoolOptions::new().max_connections(4).connect_with(options).await?;
        sqlx::migrate!().run(&pool).await?;
        Ok(Self { pool })
    }

    /// All projects, last changed first.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn projects(&self) -> Result<Vec<Listed>, StoreError> {
        let query = sqlx::query_as!(
            Listed,
            "SELECT id, name, revision, changed_at FROM projects ORDER BY changed_at DESC, id"
        );
        Ok(query.fetch_all(&self.pool).await?)
    }

    /// Makes a project from its first document.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn create(&self, name: &str, text: &str) -> Result<Document, StoreError> {
        let id = random_id(8)?;
        let now = now();
        let mut transaction = self.pool.begin_with("BEGIN IMMEDIATE").await?;
        sqlx::query!("INSERT INTO projects VALUES (?, ?, 1, ?)", id, name, now)
            .execute(&mut *transaction)
            .await?;
        sqlx::query!("INSERT INTO revisions VALUES (?, 1, ?, 'created', ?)", id, text, now)
            .execute(&mut *transaction)
            .await?;
        transaction.commit().await?;
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
        let mut transaction = self.pool.begin_with("BEGIN IMMEDIATE").await?;
        let changed = sqlx::query!(
            "UPDATE projects SET name = ?, revision = ?, changed_at = ? WHERE id = ? AND revision = ?",
            name,
            next,
            now,
            id,
            base
        )
        .execute(&mut *transaction)
        .await?;
        if changed.rows_affected() == 0 {
            transaction.rollback().await?;
            return Err(StoreError::Stale(Box::new(self.read(id).await?)));
        }
        sqlx::query!("INSERT INTO revisions VALUES (?, ?, ?, ?, ?)", id, next, text, note, now)
            .execute(&mut *transaction)
            .await?;
        transaction.commit().await?;
        Ok(next)
    }

    /// Deletes a project with its revisions and shares.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project.
    pub async fn delete(&self, id: &str) -> Result<(), StoreError> {
        let gone = sqlx::query!("DELETE FROM projects WHERE id = ?", id).execute(&self.pool).await?;
        if gone.rows_affected() == 0 { Err(StoreError::Missing("project")) } else { Ok(()) }
    }

    /// A project's revisions, newest first.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project.
    pub async fn revisions(&self, id: &str) -> Result<Vec<Revision>, StoreError> {
        let query = sqlx::query_as!(
            Revision,
            "SELECT revision, note, created_at FROM revisions WHERE project_id = ? ORDER BY revision DESC",
            id
        );
        let found = query.fetch_all(&self.pool).await?;
        if found.is_empty() { Err(StoreError::Missing("project")) } else { Ok(found) }
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
