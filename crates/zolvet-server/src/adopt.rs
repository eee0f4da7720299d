//! Documents that carry their pictures with them.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::Value;
use zolvet_core::asset::Bitmap;
use zolvet_store::{Document, Store, StoreError};

/// Makes a project from a checked document. Pictures it carries under the id of their content are kept in the store
/// instead, so that they need not travel with every request.
///
/// # Errors
/// When the store fails.
pub async fn adopt(store: &Store, name: &str, text: &str) -> Result<Document, StoreError> {
    let Ok(mut document) = serde_json::from_str::<Value>(text) else {
        return store.create(name, text).await;
    };
    let mut taken = false;
    for asset in document.get_mut("assets").and_then(Value::as_array_mut).into_iter().flatten() {
        let Some(bytes) = asset["data"].as_str().and_then(|data| STANDARD.decode(data).ok()) else {
            continue;
        };
        if Bitmap::decode(&bytes).is_err() {
            continue;
        }
        let media_type = asset["media_type"].as_str().unwrap_or("application/octet-stream").to_owned();
        let id = store.keep_asset(&media_type, &bytes).await?;
        if asset["id"] == id.as_str()
            && asset.as_object_mut().is_some_and(|asset| asset.remove("data").is_some())
        {
            taken = true;
        }
    }
    if !taken {
        return store.create(name, text).await;
    }
    store.create(name, &document.to_string()).await
}
