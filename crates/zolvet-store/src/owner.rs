//! The owner's key, and the sessions it is exchanged for. Both are kept as hashes.

use sha2::{Digest, Sha256};
use time::OffsetDateTime;

use super::{Store, StoreError, now, random_id};

/// Bytes of chance in a key or session: nobody guesses either, so that a plain hash keeps them.
const KEY_BYTES: usize = 20;
/// Seconds a session lasts: thirty days.
const SESSION_SECONDS: i64 = 30 * 24 * 3600;

impl Store {
    /// Makes the owner's key where there is none yet, or, with `anew`, in place of the one there is, whose sessions end.
    /// The key is given this once and cannot be read again.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn make_owner_key(&self, anew: bool) -> Result<Option<String>, StoreError> {
        let key = random_id(KEY_BYTES)?;
        let (hash, now) = (hash(&key), now());
        let made = self
            .write(async |connection| {
                if anew {
                    sqlx::query!("DELETE FROM owner").execute(&mut *connection).await?;
                    sqlx::query!("DELETE FROM sessions").execute(&mut *connection).await?;
                }
                let made = sqlx::query!("INSERT OR IGNORE INTO owner VALUES (1, ?, ?)", hash, now)
                    .execute(connection)
                    .await?;
                Ok(made.rows_affected() > 0)
            })
            .await?;
        Ok(made.then_some(key))
    }

    /// A session for a client with the key; nothing for a wrong one.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn open_session(&self, key: &str) -> Result<Option<String>, StoreError> {
        let hash_of_key = hash(key);
        let known = sqlx::query_scalar!("SELECT count(*) FROM owner WHERE key_hash = ?", hash_of_key);
        if known.fetch_one(&self.pool).await? == 0 {
            return Ok(None);
        }
        let token = random_id(KEY_BYTES)?;
        let (hash_of_token, now, ends) = (hash(&token), now(), seconds() + SESSION_SECONDS);
        self.write(async |connection| {
            let today = seconds();
            sqlx::query!("DELETE FROM sessions WHERE ends_at < ?", today).execute(&mut *connection).await?;
            sqlx::query!("INSERT INTO sessions VALUES (?, ?, ?)", hash_of_token, now, ends)
                .execute(connection)
                .await?;
            Ok(())
        })
        .await?;
        Ok(Some(token))
    }

    /// Whether a session is open.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn session_is_open(&self, token: &str) -> Result<bool, StoreError> {
        let (hash, now) = (hash(token), seconds());
        let query = sqlx::query_scalar!(
            "SELECT count(*) FROM sessions WHERE token_hash = ? AND ends_at >= ?",
            hash,
            now
        );
        Ok(query.fetch_one(&self.pool).await? > 0)
    }

    /// Ends a session.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn close_session(&self, token: &str) -> Result<(), StoreError> {
        let hash = hash(token);
        self.write(async |connection| {
            sqlx::query!("DELETE FROM sessions WHERE token_hash = ?", hash).execute(connection).await?;
            Ok(())
        })
        .await
    }
}

fn hash(secret: &str) -> String {
    hex::encode(Sha256::digest(secret.as_bytes()))
}

fn seconds() -> i64 {
    OffsetDateTime::now_utc().unix_timestamp()
}
