//! The revisions of projects.

use super::projects::unpacked;
use super::{Document, Page, Revision, Store, StoreError};

impl Store {
    /// A part of a project's revisions, newest first; and how many there are.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project.
    pub async fn revisions(&self, id: &str, page: Page) -> Result<(Vec<Revision>, i64), StoreError> {
        let query = sqlx::query_as!(
            Revision,
            "SELECT r.revision, r.note, r.name, r.created_at FROM revisions r
             JOIN projects p ON p.id = r.project_id AND p.deleted_at IS NULL
             WHERE r.project_id = ? ORDER BY r.revision DESC LIMIT ? OFFSET ?",
            id,
            page.most,
            page.from
        );
        let count = sqlx::query_scalar!(
            "SELECT count(*) FROM revisions r JOIN projects p ON p.id = r.project_id AND p.deleted_at IS NULL
             WHERE r.project_id = ?",
            id
        );
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
        let query = sqlx::query!(
            "SELECT s.bytes, r.difference FROM revisions r JOIN snapshots s ON s.id = r.snapshot_id
             JOIN projects p ON p.id = r.project_id AND p.deleted_at IS NULL
             WHERE r.project_id = ? AND r.revision = ?",
            id,
            revision
        );
        let row = query.fetch_optional(&self.pool).await?.ok_or(StoreError::Missing("revision"))?;
        let text = unpacked(row.bytes, row.difference).await?;
        Ok(Document { id: id.to_owned(), revision, text })
    }

    /// Names a revision, which keeps it for ever; without a name it is thinned with age like the others.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such revision.
    pub async fn name_revision(&self, id: &str, revision: i64, name: Option<&str>) -> Result<(), StoreError> {
        self.write(async |connection| {
            let named = sqlx::query!(
                "UPDATE revisions SET name = ? WHERE project_id = ? AND revision = ?",
                name,
                id,
                revision
            )
            .execute(connection)
            .await?;
            if named.rows_affected() > 0 { Ok(()) } else { Err(StoreError::Missing("revision")) }
        })
        .await
    }
}
