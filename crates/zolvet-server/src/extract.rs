//! Pictures and fonts that a project document carries are stored apart from it.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::Value;
use zolvet_store::{Document, Store, StoreError};

use crate::reader_process::ReaderProcess;

/// A document, and the pictures that were in it.
pub struct ExtractedAssets {
    /// What is stored.
    pub text: String,
    /// Media type and bytes of each picture.
    pub pictures: Vec<(String, Vec<u8>)>,
}

/// Takes pictures and fonts out of a checked document, so that they are not sent with every request. Only those are taken
/// whose id is the hash of their content; what cannot be read stays in the document.
#[must_use]
pub fn extract_assets(text: &str, reader_process: &ReaderProcess) -> ExtractedAssets {
    let untouched = || ExtractedAssets { text: text.to_owned(), pictures: Vec::new() };
    let Ok(mut document) = serde_json::from_str::<Value>(text) else { return untouched() };
    let mut pictures = Vec::new();
    for asset in document.get_mut("assets").and_then(Value::as_array_mut).into_iter().flatten() {
        let Some(bytes) = asset["data"].as_str().and_then(|data| STANDARD.decode(data).ok()) else {
            continue;
        };
        if asset["id"] != Store::asset_id(&bytes).as_str() || !is_read(asset, &bytes, reader_process) {
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
    ExtractedAssets { text: document.to_string(), pictures }
}

fn is_read(asset: &Value, bytes: &[u8], reader_process: &ReaderProcess) -> bool {
    if asset.get("font").is_some() {
        return reader_process.font(bytes).is_ok();
    }
    reader_process.picture(bytes).is_ok()
}

/// Makes a project from a checked document.
///
/// # Errors
/// When the store fails.
pub async fn adopt(store: &Store, name: &str, text: &str) -> Result<Document, StoreError> {
    keep(store, name, extract_assets(text, &ReaderProcess::default())).await
}

/// Makes a project from a document and its pictures.
///
/// # Errors
/// When the store fails.
pub async fn keep(store: &Store, name: &str, extracted: ExtractedAssets) -> Result<Document, StoreError> {
    for (media_type, bytes) in &extracted.pictures {
        store.keep_asset(media_type, bytes).await?;
    }
    store.create(name, &extracted.text).await
}
