//! Projects: listed, made, saved, put into the trash and taken out of it.

use sqlx::SqliteConnection;

use super::packing::{Packed, pack, pack_whole, unpack};
use super::{Document, Listed, Page, Store, StoreError, now, random_id};

/// A revision that is to be stored.
struct NewRevision<'a> {
    project: &'a str,
    revision: i64,
    note: &'a str,
    at: &'a str,
}

/// The snapshot that new revisions are differences from.
struct Snapshot {
    id: i64,
    text: String,
    /// Of its packed form, in bytes.
    size: usize,
}

impl Store {
    /// A part of all projects, last changed first; and how many there are.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn projects(&self, page: Page) -> Result<(Vec<Listed>, i64), StoreError> {
        let listed = sqlx::query_as!(
            Listed,
            "SELECT id, name, revision, changed_at, deleted_at FROM projects WHERE deleted_at IS NULL
             ORDER BY changed_at DESC, id LIMIT ? OFFSET ?",
            page.most,
            page.from
        );
        let count = sqlx::query_scalar!("SELECT count(*) FROM projects WHERE deleted_at IS NULL");
        Ok((listed.fetch_all(&self.pool).await?, count.fetch_one(&self.pool).await?))
    }

    /// A part of the projects in the trash, last deleted first; and how many there are.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn trash(&self, page: Page) -> Result<(Vec<Listed>, i64), StoreError> {
        let listed = sqlx::query_as!(
            Listed,
            "SELECT id, name, revision, changed_at, deleted_at FROM projects WHERE deleted_at IS NOT NULL
             ORDER BY deleted_at DESC, id LIMIT ? OFFSET ?",
            page.most,
            page.from
        );
        let count = sqlx::query_scalar!("SELECT count(*) FROM projects WHERE deleted_at IS NOT NULL");
        Ok((listed.fetch_all(&self.pool).await?, count.fetch_one(&self.pool).await?))
    }

    /// Makes a project from its first document.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn create(&self, name: &str, text: &str) -> Result<Document, StoreError> {
        let id = random_id(8)?;
        let now = now();
        let whole = text.to_owned();
        let packed = Packed::Whole(Self::compute(move || pack_whole(&whole)).await?);
        self.write(async |connection| {
            sqlx::query!(
                "INSERT INTO projects (id, name, revision, changed_at) VALUES (?, ?, 1, ?)",
                id,
                name,
                now
            )
            .execute(&mut *connection)
            .await?;
            let first = NewRevision { project: &id, revision: 1, note: "created", at: &now };
            first.insert(connection, packed, None).await
        })
        .await?;
        Ok(Document { id, revision: 1, text: text.to_owned() })
    }

    /// The newest document of a project.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project, or it is in the trash.
    pub async fn read(&self, id: &str) -> Result<Document, StoreError> {
        let query = sqlx::query!(
            "SELECT p.revision, s.bytes, r.difference FROM projects p
             JOIN revisions r ON r.project_id = p.id AND r.revision = p.revision
             JOIN snapshots s ON s.id = r.snapshot_id
             WHERE p.id = ? AND p.deleted_at IS NULL",
            id
        );
        let row = query.fetch_optional(&self.pool).await?.ok_or(StoreError::Missing("project"))?;
        let text = unpacked(row.bytes, row.difference).await?;
        Ok(Document { id: id.to_owned(), revision: row.revision, text })
    }

    /// Puts a project into the trash, if it is still at revision `base` where one is given. Its links show nothing from
    /// then on, until it is taken out again.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such project; [`StoreError::Stale`] when it has moved on.
    pub async fn delete(&self, id: &str, base: Option<i64>) -> Result<(), StoreError> {
        let now = now();
        let gone = self
            .write(async |connection| {
                let gone = sqlx::query!(
                    "UPDATE projects SET deleted_at = ?
                     WHERE id = ? AND deleted_at IS NULL AND (? IS NULL OR revision = ?)",
                    now,
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

    /// Takes a project out of the trash, as it was.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when it is not in the trash.
    pub async fn undelete(&self, id: &str) -> Result<(), StoreError> {
        self.write(async |connection| {
            let back = sqlx::query!(
                "UPDATE projects SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL",
                id
            )
            .execute(connection)
            .await?;
            if back.rows_affected() > 0 { Ok(()) } else { Err(StoreError::Missing("project in the trash")) }
        })
        .await
    }

    /// Deletes a project in the trash for good, with its revisions and links.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when it is not in the trash.
    pub async fn purge(&self, id: &str) -> Result<(), StoreError> {
        self.write(async |connection| {
            let gone = purge(connection, id).await?;
            if gone { Ok(()) } else { Err(StoreError::Missing("project in the trash")) }
        })
        .await
    }
}

/// The document of a snapshot, or of a revision that is a difference from it.
pub(super) async fn unpacked(snapshot: Vec<u8>, difference: Option<Vec<u8>>) -> Result<String, StoreError> {
    Store::compute(move || unpack(&snapshot, difference.as_deref())).await
}

impl NewRevision<'_> {
    async fn insert(
        &self,
        connection: &mut SqliteConnection,
        packed: Packed,
        snapshot: Option<i64>,
    ) -> Result<(), StoreError> {
        let (snapshot, difference) = match (packed, snapshot) {
            (Packed::Difference(difference), Some(snapshot)) => (snapshot, difference),
            (Packed::Whole(bytes), _) => {
                let made = sqlx::query!(
                    "INSERT INTO snapshots (project_id, bytes) VALUES (?, ?)",
                    self.project,
                    bytes
                )
                .execute(&mut *connection)
                .await?;
                (made.last_insert_rowid(), None)
            }
            (Packed::Difference(_), None) => return Err(StoreError::Missing("snapshot")),
        };
        sqlx::query!(
            "INSERT INTO revisions (project_id, revision, snapshot_id, difference, note, created_at)
             VALUES (?, ?, ?, ?, ?, ?)",
            self.project,
            self.revision,
            snapshot,
            difference,
            self.note,
            self.at
        )
        .execute(connection)
        .await?;
        Ok(())
    }
}

/// Deletes a project in the trash for good; says whether it was there.
pub(super) async fn purge(connection: &mut SqliteConnection, id: &str) -> Result<bool, StoreError> {
    // Revisions first: they point at the snapshots that go with the project.
    sqlx::query!(
        "DELETE FROM revisions WHERE project_id IN
         (SELECT id FROM projects WHERE id = ? AND deleted_at IS NOT NULL)",
        id
    )
    .execute(&mut *connection)
    .await?;
    let gone = sqlx::query!("DELETE FROM projects WHERE id = ? AND deleted_at IS NOT NULL", id)
        .execute(connection)
        .await?;
    Ok(gone.rows_affected() > 0)
}

/// Moves revisions over that lie whole, as they did before there were snapshots. All of them or none.
pub(super) async fn move_over(connection: &mut SqliteConnection) -> Result<(), StoreError> {
    let there = sqlx::query_scalar!(
        "SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name = 'revisions_before'"
    );
    if there.fetch_one(&mut *connection).await? == 0 {
        return Ok(());
    }
    let mut last: Option<(String, Snapshot)> = None;
    let (mut project, mut revision) = (String::new(), 0);
    loop {
        let query = sqlx::query_as::<_, (String, i64, String, String, String)>(
            "SELECT project_id, revision, document, note, created_at FROM revisions_before
             WHERE (project_id, revision) > (?, ?) ORDER BY project_id, revision LIMIT 1",
        );
        let Some((id, number, text, note, at)) =
            query.bind(&project).bind(revision).fetch_optional(&mut *connection).await?
        else {
            break;
        };
        (project, revision) = (id, number);
        let known = last.as_ref().filter(|(of, _)| *of == project).map(|(_, snapshot)| snapshot);
        let packed = pack(&text, known.map(|snapshot| (snapshot.text.as_str(), snapshot.size)))?;
        let size = if let Packed::Whole(bytes) = &packed { Some(bytes.len()) } else { None };
        let new = NewRevision { project: &project, revision, note: &note, at: &at };
        new.insert(&mut *connection, packed, known.map(|snapshot| snapshot.id)).await?;
        if let Some(size) = size {
            let id = sqlx::query_scalar!("SELECT max(id) AS \"id!: i64\" FROM snapshots");
            let id = id.fetch_one(&mut *connection).await?;
            last = Some((project.clone(), Snapshot { id, text, size }));
        }
    }
    sqlx::query("DROP TABLE revisions_before").execute(connection).await?;
    Ok(())
}
