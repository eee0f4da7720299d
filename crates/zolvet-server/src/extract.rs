//! Pictures and fonts that a project document carries are stored apart from it.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde_json::Value;
use zolvet_core::asset::media_type;
use zolvet_core::model::PageGround;
use zolvet_host::Task;
use zolvet_store::{Document, Store, StoreError};

/// A document, and the files that are to be taken out of it.
pub struct Carrying {
    document: Value,
    /// Each with its place in the list of assets.
    pub files: Vec<CarriedFile>,
}

/// A file that a document carries.
pub struct CarriedFile {
    at: usize,
    /// The format of its bytes.
    pub media_type: &'static str,
    /// The file.
    pub bytes: Vec<u8>,
}

impl CarriedFile {
    /// What a helper does to see whether it can be read.
    pub fn task(&self) -> Task {
        match self.media_type {
            PageGround::MEDIA_TYPE => Task::PageFrame,
            font if font.starts_with("font/") => Task::Font,
            _ => Task::PictureSize,
        }
    }
}

impl Carrying {
    /// The files of a checked document, so that they are not sent with every request. Only those are taken whose id is the
    /// hash of their content and whose bytes are of a kind that is kept.
    pub fn from_document(text: &str) -> Result<Self, serde_json::Error> {
        let document: Value = serde_json::from_str(text)?;
        let assets = document.get("assets").and_then(Value::as_array);
        let files = assets.into_iter().flatten().enumerate().filter_map(|(at, asset)| {
            let bytes = asset["data"].as_str().and_then(|data| STANDARD.decode(data).ok())?;
            // A page is what its document says, where it is nothing else.
            let page = (asset["media_type"] == PageGround::MEDIA_TYPE).then_some(PageGround::MEDIA_TYPE);
            let media_type = media_type(&bytes).or(page)?;
            let is_own = asset["id"] == Store::asset_id(&bytes).as_str();
            let is_alike = asset.get("font").is_some() == media_type.starts_with("font/");
            (is_own && is_alike).then_some(CarriedFile { at, media_type, bytes })
        });
        let files = files.collect();
        Ok(Self { document, files })
    }

    /// The document without its files, which lie in the store then.
    pub fn without_files(mut self) -> String {
        for file in &self.files {
            let asset =
                self.document.pointer_mut(&format!("/assets/{}", file.at)).and_then(Value::as_object_mut);
            if let Some(asset) = asset {
                asset.remove("data");
                asset.insert("media_type".to_owned(), file.media_type.into());
            }
        }
        self.document.to_string()
    }
}

/// Makes a project from a document of our own.
///
/// # Errors
/// When the store fails.
pub async fn adopt(store: &Store, name: &str, text: &str) -> Result<Document, StoreError> {
    match Carrying::from_document(text) {
        Ok(carrying) => keep(store, name, carrying).await,
        Err(_) => store.create(name, text).await,
    }
}

/// Makes a project from a document, and keeps its files.
///
/// # Errors
/// When the store fails.
pub async fn keep(store: &Store, name: &str, carrying: Carrying) -> Result<Document, StoreError> {
    for file in &carrying.files {
        store.keep_asset(file.media_type, &file.bytes).await?;
    }
    store.create(name, &carrying.without_files()).await
}
