//! What computations use: caches, uploaded pictures, and the process that reads files.

use std::sync::Arc;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use quick_cache::Weighter;
use quick_cache::sync::Cache;
use serde_json::Value;
use tokio::runtime::Handle;
use zolvet_core::asset::Assets;
use zolvet_core::compose::MaskCache;
use zolvet_core::font::Font;
use zolvet_core::limits;
use zolvet_core::model::{Asset, Project};
use zolvet_core::picture::Bitmap;
use zolvet_store::{Store, StoreError};

use crate::error::ApiError;
use crate::reader_process::ReaderProcess;

/// Bytes of cached masks and tiles.
const MASK_BYTES: u64 = 192 << 20;
/// Bytes of cached decoded pictures.
const PICTURE_BYTES: u64 = 192 << 20;
/// Bytes of cached fonts.
const FONT_BYTES: u64 = 64 << 20;
/// Bytes of cached answers about links.
const SHARED_BYTES: u64 = 32 << 20;

/// Shared by all computations.
pub struct Resources {
    /// What pictures are made from.
    pub cache: MaskCache,
    /// Reads files of others, apart from this process.
    pub reader_process: ReaderProcess,
    /// Answers about links, by revision.
    pub shared: Cache<String, Arc<Vec<u8>>, AnswerWeight>,
    pictures: Cache<String, Arc<Bitmap>, PictureWeight>,
    fonts: Cache<String, Font, FontWeight>,
    store: Store,
    runtime: Handle,
}

/// Weighs answers.
#[derive(Clone)]
pub struct AnswerWeight;

impl Weighter<String, Arc<Vec<u8>>> for AnswerWeight {
    fn weight(&self, key: &String, bytes: &Arc<Vec<u8>>) -> u64 {
        (key.len() + bytes.len() + 64) as u64
    }
}

/// Weighs decoded pictures.
#[derive(Clone)]
struct PictureWeight;

impl Weighter<String, Arc<Bitmap>> for PictureWeight {
    fn weight(&self, _key: &String, bitmap: &Arc<Bitmap>) -> u64 {
        (bitmap.bytes() + 128) as u64
    }
}

/// Weighs fonts.
#[derive(Clone)]
struct FontWeight;

impl Weighter<String, Font> for FontWeight {
    fn weight(&self, _key: &String, font: &Font) -> u64 {
        (font.data().len() + 128) as u64
    }
}

/// What a document carries may differ from document to document under one id.
fn key_of(asset: &Asset) -> String {
    match &asset.data {
        Some(data) => format!("carried {}", Store::asset_id(data.bytes())),
        None => asset.id.as_str().to_owned(),
    }
}

impl Resources {
    /// Empty caches beside a store. Called within the runtime that the store's queries are to run in.
    pub fn new(store: Store, reader_process: ReaderProcess) -> Self {
        Self {
            cache: MaskCache::with_capacity(MASK_BYTES),
            reader_process,
            shared: Cache::with_weighter(256, SHARED_BYTES, AnswerWeight),
            pictures: Cache::with_weighter(64, PICTURE_BYTES, PictureWeight),
            fonts: Cache::with_weighter(32, FONT_BYTES, FontWeight),
            store,
            runtime: Handle::current(),
        }
    }

    /// The pictures and fonts of a project: those it carries, and those that were uploaded.
    ///
    /// # Errors
    /// When they are too many pixels or bytes, or the store fails; a picture that is not there is left out, and drawing says so.
    pub fn assets(&self, project: &Project) -> Result<Assets, ApiError> {
        Assets::check(project).map_err(ApiError::invalid)?;
        let (mut assets, mut pixels) = (Assets::default(), 0);
        for (at, asset) in project.assets.iter().enumerate() {
            if let Some(said) = &asset.font {
                if let Some(font) = self.font(asset)? {
                    let added = assets.insert_font(font.called(&said.family));
                    added.map_err(|message| ApiError::invalid_at(&format!("/assets/{at}"), message))?;
                }
                continue;
            }
            let Some(bitmap) = self.picture(asset)? else { continue };
            pixels += u64::from(bitmap.picture.width) * u64::from(bitmap.picture.height);
            if pixels > limits::DOCUMENT_PIXELS {
                let most = limits::DOCUMENT_PIXELS / 1_000_000;
                let message = format!("expected pictures of at most {most} million pixels in all");
                return Err(ApiError::invalid_at(&format!("/assets/{at}"), message));
            }
            assets.insert(asset.id.clone(), bitmap);
        }
        Ok(assets)
    }

    /// A picture, decoded unless it is cached.
    fn picture(&self, asset: &Asset) -> Result<Option<Arc<Bitmap>>, ApiError> {
        let key = key_of(asset);
        if let Some(bitmap) = self.pictures.get(&key) {
            return Ok(Some(bitmap));
        }
        let decoded = match &asset.data {
            Some(data) => self.reader_process.picture(data.bytes()).ok(),
            None => match self.stored(asset)? {
                // It was decoded once already before it was stored.
                Some(bytes) => Bitmap::decode(&bytes).ok(),
                None => None,
            },
        };
        let decoded = decoded.map(Arc::new);
        if let Some(bitmap) = &decoded {
            self.pictures.insert(key, Arc::clone(bitmap));
        }
        Ok(decoded)
    }

    /// A font, read unless it is cached.
    fn font(&self, asset: &Asset) -> Result<Option<Font>, ApiError> {
        let key = key_of(asset);
        if let Some(font) = self.fonts.get(&key) {
            return Ok(Some(font));
        }
        let read = match &asset.data {
            Some(data) => self.reader_process.font(data.bytes()).ok(),
            // It was read once already before it was stored.
            None => self.stored(asset)?.and_then(|bytes| Font::read(&bytes).ok()),
        };
        if let Some(font) = &read {
            self.fonts.insert(key, font.clone());
        }
        Ok(read)
    }

    fn stored(&self, asset: &Asset) -> Result<Option<Vec<u8>>, ApiError> {
        match self.runtime.block_on(self.store.asset(asset.id.as_str())) {
            Ok(stored) => Ok(Some(stored.bytes)),
            Err(StoreError::Missing(_)) => Ok(None),
            Err(error) => Err(error.into()),
        }
    }

    /// A project document with the files of its assets in it, as other programs and backups get it.
    ///
    /// # Errors
    /// When the store fails.
    pub fn with_files(&self, project: &Project, mut document: Value) -> Result<Value, ApiError> {
        let Some(assets) = document.get_mut("assets").and_then(Value::as_array_mut) else {
            return Ok(document);
        };
        for (asset, value) in project.assets.iter().zip(assets) {
            if asset.data.is_none()
                && let Some(bytes) = self.stored(asset)?
            {
                value["data"] = STANDARD.encode(bytes).into();
            }
        }
        Ok(document)
    }
}
