//! Uploaded files, kept by their content.

use sha2::{Digest, Sha256};

use super::{Store, StoreError, now};

/// An uploaded file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct StoredAsset {
    /// The SHA-256 of its bytes, in hexadecimal.
    pub id: String,
    /// Its media type.
    pub media_type: String,
    /// The file.
    pub bytes: Vec<u8>,
}

impl Store {
    /// The id that a file is kept under: the SHA-256 of its bytes, in hexadecimal.
    #[must_use]
    pub fn asset_id(bytes: &[u8]) -> String {
        hex::encode(Sha256::digest(bytes))
    }

    /// Keeps a file, one after another; the same bytes are kept once. Gives its id.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn keep_asset(&self, media_type: &str, bytes: &[u8]) -> Result<String, StoreError> {
        let id = Self::asset_id(bytes);
        let now = now();
        let _turn = self.large.acquire().await.map_err(std::io::Error::other)?;
        self.write(async |connection| {
            sqlx::query!("INSERT OR IGNORE INTO assets VALUES (?, ?, ?, ?)", id, media_type, bytes, now)
                .execute(connection)
                .await?;
            Ok(())
        })
        .await?;
        Ok(id)
    }

    /// How many bytes a file has.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such file.
    pub async fn asset_length(&self, id: &str) -> Result<usize, StoreError> {
        let query =
            sqlx::query_scalar!("SELECT length(bytes) AS \"length!: i64\" FROM assets WHERE id = ?", id);
        let length = query.fetch_optional(&self.pool).await?.ok_or(StoreError::Missing("asset"))?;
        Ok(usize::try_from(length).unwrap_or(usize::MAX))
    }

    /// A file by its id.
    ///
    /// # Errors
    /// [`StoreError::Missing`] when there is no such file.
    pub async fn asset(&self, id: &str) -> Result<StoredAsset, StoreError> {
        let query = sqlx::query_as!(StoredAsset, "SELECT id, media_type, bytes FROM assets WHERE id = ?", id);
        query.fetch_optional(&self.pool).await?.ok_or(StoreError::Missing("asset"))
    }
}
