//! Documents that carry their pictures with them.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::Value;
use zolvet_store::{Document, Store, StoreError};

use crate::helper::Helper;

/// A document, and the pictures that are kept apart from it.
pub struct Unpacked {
    /// What is stored.
    pub text: String,
    /// Media type and bytes of each picture.
    pub pictures: Vec<(String, Vec<u8>)>,
}

/// Takes the pictures out of a checked document that are listed under the id of their content, so that they need not
/// travel with every request. What cannot be read as a picture stays where it is.
#[must_use]
pub fn unpacked(text: &str, helper: &Helper) -> Unpacked {
    let untouched = || Unpacked { text: text.to_owned(), pictures: Vec::new() };
    let Ok(mut document) = serde_json::from_str::<Value>(text) else { return untouched() };
    let mut pictures = Vec::new();
    for asset in document.get_mut("assets").and_then(Value::as_array_mut).into_iter().flatten() {
        let Some(bytes) = asset["data"].as_str().and_then(|data| STANDARD.decode(data).ok()) else {
            continue;
        };
        if asset["id"] != Store::asset_id(&bytes).as_str() || helper.picture(&bytes).is_err() {
            continue;
        }
        let media_type = asset["media_type"].as_str().unwrap_or("application/octet-stream").to_owned();
        if asset.as_object_mut().is_some_and(|asset| asset.remove("data").is_some()) {
            pictures.push((media_type, bytes));
        }
    }
    if pictures.is_empty() {
        return untouched();
    }
    Unpacked { text: document.to_string(), pictures }
}

/// Makes a project from a checked document.
///
/// # Errors
/// When the store fails.
pub async fn adopt(store: &Store, name: &str, text: &str) -> Result<Document, StoreError> {
    keep(store, name, unpacked(text, &Helper::default())).await
}

/// Makes a project from a document and its pictures.
///
/// # Errors
/// When the store fails.
pub async fn keep(store: &Store, name: &str, unpacked: Unpacked) -> Result<Document, StoreError> {
    for (media_type, bytes) in &unpacked.pictures {
        store.keep_asset(media_type, bytes).await?;
    }
    store.create(name, &unpacked.text).await
}
