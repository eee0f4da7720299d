//! Shares: links to one scene, as it was when the link was made or as it is.

use super::{Document, Page, Store, StoreError, now, random_id};

/// A link to a scene.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Share {
    /// 128 random bits: nobody guesses it.
    pub token: String,
    /// The project it belongs to.
    pub project_id: String,
    /// The revision it was made at.
    pub revision: i64,
    /// Whether it shows the newest revision instead.
    pub follows: bool,
    /// The scene it shows.
    pub scene_id: String,
    /// When it was made (RFC 3339, UTC).
    pub created_at: String,
    /// When it was revoked.
    pub revoked_at: Option<String>,
}

/// What a link that follows its project shows now.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Live {
    /// The project it belongs to.
    pub project_id: String,
    /// The project's newest revision.
    pub revision: i64,
    /// The scene it shows.
    pub scene_id: String,
}

impl Store {
    /// Makes a link to a scene of the project's newest revision, or of each newest one in turn.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project.
    pub async fn share(&self, project_id: &str, scene_id: &str, follows: bool) -> Result<Share, StoreError> {
        let document = self.read(project_id).await?;
        let share = Share {
            token: random_id(16)?,
            project_id: document.id,
            revision: document.revision,
            follows,
            scene_id: scene_id.to_owned(),
            created_at: now(),
            revoked_at: None,
        };
        self.write(async |connection| {
            sqlx::query!(
                "INSERT INTO shares (token, project_id, revision, scene_id, created_at, follows)
                 VALUES (?, ?, ?, ?, ?, ?)",
                share.token,
                share.project_id,
                share.revision,
                share.scene_id,
                share.created_at,
                share.follows
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
            "SELECT token, project_id, revision, follows AS \"follows: bool\", scene_id, created_at, revoked_at
             FROM shares
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
            "SELECT s.project_id, s.scene_id,
                 CASE s.follows WHEN 1 THEN p.revision ELSE s.revision END AS \"revision!: i64\"
             FROM shares s JOIN projects p ON p.id = s.project_id
             WHERE s.token = ? AND s.revoked_at IS NULL",
            token
        )
        .fetch_optional(&self.pool)
        .await?
        .ok_or(StoreError::Missing("link"))?;
        Ok((row.scene_id, self.read_revision(&row.project_id, row.revision).await?))
    }

    /// What a link that follows its project shows now.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when the link is unknown, revoked or of another kind, or its project is in the trash: all look the
    /// same from outside.
    pub async fn live(&self, token: &str) -> Result<Live, StoreError> {
        let live = sqlx::query_as!(
            Live,
            "SELECT s.project_id, s.scene_id, p.revision
             FROM shares s JOIN projects p ON p.id = s.project_id AND p.deleted_at IS NULL
             WHERE s.token = ? AND s.follows = 1 AND s.revoked_at IS NULL",
            token
        );
        live.fetch_optional(&self.pool).await?.ok_or(StoreError::Missing("link"))
    }
}
