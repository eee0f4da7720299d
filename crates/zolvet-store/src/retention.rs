//! Removal of data that nobody needs any more: revisions thinned with age, the trash, pictures that no revision names.

use std::collections::BTreeSet;

use time::{Duration, OffsetDateTime};

use super::projects::{purge, unpacked};
use super::{Store, StoreError, text_of};

/// All revisions are kept for so long.
const ALL: Duration = Duration::days(1);
/// After that, the last of every hour for so long; then the last of every day.
const HOURLY: Duration = Duration::days(30);
/// How long deleted projects stay in the trash.
const IN_TRASH: Duration = Duration::days(30);
/// A picture that was just uploaded is not named by any revision yet.
const UPLOADED: Duration = Duration::days(1);

/// The number of things that were removed.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Retained {
    /// Revisions that were thinned out.
    pub revisions: u64,
    /// Projects that left the trash for good.
    pub projects: u64,
    /// Pictures that nothing names any more.
    pub assets: u64,
}

impl Store {
    /// Removes data that is of no use at a time. The newest revision of a project, named ones and those that links show
    /// stay.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn tidy(&self, now: OffsetDateTime) -> Result<Retained, StoreError> {
        let projects = self.empty_trash(now).await?;
        let revisions = self.thin(now).await?;
        let assets = self.collect_assets(now).await?;
        Ok(Retained { revisions, projects, assets })
    }

    async fn empty_trash(&self, now: OffsetDateTime) -> Result<u64, StoreError> {
        let before = text_of(now - IN_TRASH);
        self.write(async |connection| {
            let old = sqlx::query_scalar!("SELECT id FROM projects WHERE deleted_at < ?", before);
            let mut gone = 0;
            for id in old.fetch_all(&mut *connection).await? {
                gone += u64::from(purge(&mut *connection, &id).await?);
            }
            Ok(gone)
        })
        .await
    }

    /// Keeps the last revision of every hour, and of every day of older ones; times are RFC 3339 in UTC, whose
    /// beginnings are days and hours.
    async fn thin(&self, now: OffsetDateTime) -> Result<u64, StoreError> {
        let (all, hourly) = (text_of(now - ALL), text_of(now - HOURLY));
        self.write(async |connection| {
            let thinned = sqlx::query!(
                "DELETE FROM revisions AS old WHERE created_at < ? AND name IS NULL
                 AND revision < (SELECT revision FROM projects WHERE id = old.project_id)
                 AND NOT EXISTS (SELECT 1 FROM shares
                     WHERE project_id = old.project_id AND revision = old.revision AND revoked_at IS NULL)
                 AND EXISTS (SELECT 1 FROM revisions AS later
                     WHERE later.project_id = old.project_id AND later.revision > old.revision
                     AND later.created_at < ?
                     AND substr(later.created_at, 1, CASE WHEN old.created_at < ? THEN 10 ELSE 13 END)
                       = substr(old.created_at, 1, CASE WHEN old.created_at < ? THEN 10 ELSE 13 END))",
                all,
                all,
                hourly,
                hourly
            )
            .execute(&mut *connection)
            .await?;
            sqlx::query!("DELETE FROM snapshots WHERE id NOT IN (SELECT snapshot_id FROM revisions)")
                .execute(connection)
                .await?;
            Ok(thinned.rows_affected())
        })
        .await
    }

    /// Deletes pictures that no revision of any project names, those in the trash among them.
    async fn collect_assets(&self, now: OffsetDateTime) -> Result<u64, StoreError> {
        let before = text_of(now - UPLOADED);
        let old = sqlx::query_scalar!("SELECT id FROM assets WHERE created_at < ?", before);
        let mut unused: BTreeSet<String> = old.fetch_all(&self.pool).await?.into_iter().collect();
        let (mut project, mut revision) = (String::new(), 0);
        while !unused.is_empty() {
            let query = sqlx::query!(
                "SELECT r.project_id, r.revision, s.bytes, r.difference FROM revisions r
                 JOIN snapshots s ON s.id = r.snapshot_id
                 WHERE (r.project_id, r.revision) > (?, ?) ORDER BY r.project_id, r.revision LIMIT 1",
                project,
                revision
            );
            let Some(row) = query.fetch_optional(&self.pool).await? else { break };
            let text = unpacked(row.bytes, row.difference).await?;
            unused.retain(|id| !text.contains(id.as_str()));
            (project, revision) = (row.project_id, row.revision);
        }
        self.write(async |connection| {
            for id in &unused {
                sqlx::query!("DELETE FROM assets WHERE id = ?", id).execute(&mut *connection).await?;
            }
            Ok(unused.len() as u64)
        })
        .await
    }
}
