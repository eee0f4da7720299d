//! Shares: links to one scene as it was when the link was made.

use super::{Document, Page, Store, StoreError, now, random_id};

/// A link to a scene.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Share {
    /// 128 random bits: nobody guesses it.
    pub token: String,
    /// The project it belongs to.
    pub project_id: String,
    /// The revision it shows.
    pub revision: i64,
    /// The scene it shows.
    pub scene_id: String,
    /// When it was made (RFC 3339, UTC).
    pub created_at: String,
    /// When it was revoked.
    pub revoked_at: Option<String>,
}

impl Store {
    /// Makes a link to a scene of the project's newest revision.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project.
    pub async fn share(&self, project_id: &str, scene_id: &str) -> Result<Share, StoreError> {
        let document = self.read(project_id).await?;
        let share = Share {
            token: random_id(16)?,
            project_id: document.id,
            revision: document.revision,
            scene_id: scene_id.to_owned(),
            created_at: now(),
            revoked_at: None,
        };
        self.write(async |connection| {
            sqlx::query!(
                "INSERT INTO shares VALUES (?, ?, ?, ?, ?, NULL)",
                share.token,
                share.project_id,
                share.revision,
                share.scene_id,
                share.created_at
            )
            .execute(connection)
            .await?;
            Ok(())
        })
        .await?;
        Ok(share)
    }

    /// A part of a project's links, newest first.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn shares(&self, project_id: &str, page: Page) -> Result<Vec<Share>, StoreError> {
        let query = sqlx::query_as!(
            Share,
            "SELECT token, project_id, revision, scene_id, created_at, revoked_at FROM shares
             WHERE project_id = ? ORDER BY created_at DESC, token LIMIT ? OFFSET ?",
            project_id,
            page.most,
            page.from
        );
        Ok(query.fetch_all(&self.pool).await?)
    }

    /// Ends a link for good.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such link.
    pub async fn revoke(&self, token: &str) -> Result<(), StoreError> {
        let now = now();
        self.write(async |connection| {
            let changed = sqlx::query!(
                "UPDATE shares SET revoked_at = coalesce(revoked_at, ?) WHERE token = ?",
                now,
                token
            )
            .execute(connection)
            .await?;
            if changed.rows_affected() == 0 { Err(StoreError::Missing("link")) } else { Ok(()) }
        })
        .await
    }

    /// The content of a link: its scene's id and the document; nothing once it is revoked.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when the link is unknown or revoked, which look the same from outside.
    pub async fn shared(&self, token: &str) -> Result<(String, Document), StoreError> {
        let row = sqlx::query!(
            "SELECT project_id, revision, scene_id FROM shares WHERE token = ? AND revoked_at IS NULL",
            token
        )
        .fetch_optional(&self.pool)
        .await?
        .ok_or(StoreError::Missing("link"))?;
        Ok((row.scene_id, self.read_revision(&row.project_id, row.revision).await?))
    }
}
