//! Saves: a document becomes the next revision of its project.

use sqlx::AssertSqlSafe;

use super::packing::{Packed, pack, pack_whole, unpack};
use super::{Store, StoreError, now};

/// A save, in one transaction that is sent as a whole: where there is much to do, each statement by itself would wait for a core
/// twice. A row comes back where the project was at the revision that the save is based on.
const UPDATE_PROJECT: &str = "UPDATE projects SET name = ?, revision = ?, changed_at = ?
    WHERE id = ? AND revision = ? AND deleted_at IS NULL RETURNING revision";
const INSERT_DIFFERENCE: &str =
    "INSERT INTO revisions (project_id, revision, snapshot_id, difference, note, created_at)
    SELECT ?, ?, ?, ?, ?, ? WHERE changes() = 1";
const INSERT_SNAPSHOT: &str = "INSERT INTO snapshots (project_id, bytes) SELECT ?, ? WHERE changes() = 1;
    INSERT INTO revisions (project_id, revision, snapshot_id, difference, note, created_at)
    SELECT ?, ?, last_insert_rowid(), NULL, ?, ? WHERE changes() = 1";

impl Store {
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
        let (before, text) = (self.before_save(id).await?, text.to_owned());
        let packed = Store::compute(move || before.pack(&text)).await?;
        self.save_packed(id, base, name, packed, note).await
    }

    /// The base that the next revision of a project is packed with.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn before_save(&self, id: &str) -> Result<BeforeSave, StoreError> {
        let query = sqlx::query!(
            "SELECT s.id, s.bytes FROM projects p
             JOIN revisions r ON r.project_id = p.id AND r.revision = p.revision
             JOIN snapshots s ON s.id = r.snapshot_id WHERE p.id = ?",
            id
        );
        Ok(BeforeSave(query.fetch_optional(&self.pool).await?.map(|row| (row.id, row.bytes))))
    }

    /// As [`Self::save`], with a document that is packed already.
    ///
    /// # Errors
    /// As [`Self::save`].
    pub async fn save_packed(
        &self,
        id: &str,
        base: i64,
        name: &str,
        document: PackedDocument,
        note: &str,
    ) -> Result<i64, StoreError> {
        let next = base.saturating_add(1);
        let now = now();
        let (snapshot, bytes, insert) = match document {
            PackedDocument::Difference { snapshot, bytes } => (snapshot, bytes, INSERT_DIFFERENCE),
            PackedDocument::Whole(bytes) => (0, Some(bytes), INSERT_SNAPSHOT),
        };
        let text = AssertSqlSafe(format!("BEGIN IMMEDIATE; {UPDATE_PROJECT}; {insert}; COMMIT"));
        let query = sqlx::query(text).bind(name).bind(next).bind(&now).bind(id).bind(base);
        let query = match insert {
            INSERT_SNAPSHOT => query.bind(id).bind(bytes).bind(id).bind(next),
            _ => query.bind(id).bind(next).bind(snapshot).bind(bytes),
        };
        let moved_on = self.write_at_once(query.bind(note).bind(&now)).await?.is_empty();
        if moved_on { Err(StoreError::Stale(Box::new(self.read(id).await?))) } else { Ok(next) }
    }
}

/// The snapshot of a project's newest revision, which the next is packed with: its id, and its bytes as they lie.
pub struct BeforeSave(Option<(i64, Vec<u8>)>);

/// A document as it is stored.
pub enum PackedDocument {
    /// By itself.
    Whole(Vec<u8>),
    /// As the difference from a snapshot.
    Difference {
        /// The id of the snapshot.
        snapshot: i64,
        /// None where they are the same.
        bytes: Option<Vec<u8>>,
    },
}

impl BeforeSave {
    /// Packs a document, as the difference from the snapshot where that is worth it. Takes a moment.
    ///
    /// # Errors
    /// When what is stored cannot be unpacked.
    pub fn pack(&self, text: &str) -> Result<PackedDocument, std::io::Error> {
        let Some((snapshot, bytes)) = &self.0 else {
            return Ok(PackedDocument::Whole(pack_whole(text)?));
        };
        let before = unpack(bytes, None)?;
        Ok(match pack(text, Some((&before, bytes.len())))? {
            Packed::Whole(bytes) => PackedDocument::Whole(bytes),
            Packed::Difference(bytes) => PackedDocument::Difference { snapshot: *snapshot, bytes },
        })
    }
}
