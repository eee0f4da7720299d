//! Whether a database is whole: its file, and everything that is kept in it.

use std::path::Path;

use sqlx::sqlite::SqliteConnection;
use sqlx::{AssertSqlSafe, Connection as _};

use super::backup::existing;
use super::projects::unpacked;
use super::{Store, StoreError};

/// The number of things that were checked, and the errors.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Verified {
    /// Projects, with those in the trash.
    pub projects: u64,
    /// Revisions of all projects, each unpacked.
    pub revisions: u64,
    /// Uploaded files, each compared with its hash.
    pub assets: u64,
    /// Links.
    pub links: u64,
    /// The errors, a sentence each.
    pub problems: Vec<String>,
}

/// Problems that are told.
const MAX_PROBLEMS: usize = 100;

/// Looks a database over, also while a service uses it: the file (as SQLite checks it), references, every revision,
/// every uploaded file. `check` names the faults of a document.
///
/// # Errors
/// When the file cannot be opened, or is no database of ours.
pub async fn verify(
    database: &Path,
    mut check: impl FnMut(&str) -> Option<String>,
) -> Result<Verified, StoreError> {
    let mut connection = existing(database).await?;
    let mut verified = Verified::default();
    verified.file(&mut connection).await?;
    verified.references(&mut connection).await?;
    verified.documents(&mut connection, &mut check).await?;
    verified.files(&mut connection).await?;
    connection.close().await?;
    Ok(verified)
}

impl Verified {
    fn problem(&mut self, problem: String) {
        if self.problems.len() < MAX_PROBLEMS {
            self.problems.push(problem);
        }
    }

    async fn file(&mut self, connection: &mut SqliteConnection) -> Result<(), StoreError> {
        let said: Vec<String> =
            sqlx::query_scalar("PRAGMA integrity_check(10)").fetch_all(connection).await?;
        for line in said.into_iter().filter(|line| line != "ok") {
            self.problem(format!("The file: {line}."));
        }
        Ok(())
    }

    async fn references(&mut self, connection: &mut SqliteConnection) -> Result<(), StoreError> {
        let lost: Vec<(String, Option<i64>, String, i64)> =
            sqlx::query_as("PRAGMA foreign_key_check").fetch_all(&mut *connection).await?;
        for (table, row, other, _) in lost {
            self.problem(format!("Row {} of {table} refers to nothing in {other}.", row.unwrap_or_default()));
        }
        let dangling = [
            (
                "Project {} has no document at its revision.",
                "SELECT id FROM projects p WHERE NOT EXISTS
                 (SELECT 1 FROM revisions r WHERE r.project_id = p.id AND r.revision = p.revision)",
            ),
            (
                "A link of project {} shows a revision that is not there.",
                "SELECT project_id FROM shares s WHERE revoked_at IS NULL AND NOT EXISTS
                 (SELECT 1 FROM revisions r WHERE r.project_id = s.project_id AND r.revision = s.revision)",
            ),
        ];
        for (problem, query) in dangling {
            let ids: Vec<String> = sqlx::query_scalar(query).fetch_all(&mut *connection).await?;
            for id in ids {
                self.problem(problem.replace("{}", &id));
            }
        }
        self.projects = count(connection, "projects").await?;
        self.links = count(connection, "shares").await?;
        Ok(())
    }

    async fn documents(
        &mut self,
        connection: &mut SqliteConnection,
        check: &mut impl FnMut(&str) -> Option<String>,
    ) -> Result<(), StoreError> {
        let (mut project, mut revision) = (String::new(), 0);
        loop {
            let query = sqlx::query_as::<_, (String, i64, Vec<u8>, Option<Vec<u8>>)>(
                "SELECT r.project_id, r.revision, s.bytes, r.difference FROM revisions r
                 JOIN snapshots s ON s.id = r.snapshot_id
                 WHERE (r.project_id, r.revision) > (?, ?) ORDER BY r.project_id, r.revision LIMIT 1",
            );
            let next = query.bind(&project).bind(revision).fetch_optional(&mut *connection).await?;
            let Some((id, number, bytes, difference)) = next else { return Ok(()) };
            (project, revision) = (id, number);
            self.revisions += 1;
            let wrong = match unpacked(bytes, difference).await {
                Ok(text) => check(&text),
                Err(error) => Some(error.to_string()),
            };
            if let Some(wrong) = wrong {
                self.problem(format!("Revision {revision} of project {project}: {wrong}"));
            }
        }
    }

    async fn files(&mut self, connection: &mut SqliteConnection) -> Result<(), StoreError> {
        let ids: Vec<String> =
            sqlx::query_scalar("SELECT id FROM assets").fetch_all(&mut *connection).await?;
        for id in ids {
            let query = sqlx::query_scalar::<_, Vec<u8>>("SELECT bytes FROM assets WHERE id = ?");
            let Some(bytes) = query.bind(&id).fetch_optional(&mut *connection).await? else { continue };
            self.assets += 1;
            if Store::asset_id(&bytes) != id {
                self.problem(format!("The uploaded file {id} is not what it was."));
            }
        }
        Ok(())
    }
}

async fn count(connection: &mut SqliteConnection, table: &'static str) -> Result<u64, StoreError> {
    let query = AssertSqlSafe(format!("SELECT count(*) FROM {table}"));
    let count: i64 = sqlx::query_scalar(query).fetch_one(connection).await?;
    Ok(count.unsigned_abs())
}
