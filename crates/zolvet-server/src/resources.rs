//! Resources of computations: caches, uploaded pictures, and the process that reads files.

use std::hash::{BuildHasher as _, RandomState};
use std::ops::Deref;
use std::sync::Arc;

use actix_web::web::Bytes;
use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use quick_cache::Weighter;
use quick_cache::sync::Cache;
use serde_json::Value;
use tokio::runtime::Handle;
use zolvet_core::budget;
use zolvet_core::compose::MaskCache;
use zolvet_core::font::Font;
use zolvet_core::geometry::drawing::DrawingFile;
use zolvet_core::model::{Asset, Project};
use zolvet_core::picture::Bitmap;
use zolvet_host::{Helpers, Task};
use zolvet_queries::{Files, OpenProjects, QueryContext, QueryError};
use zolvet_store::{Document, Page, Revision, Store, StoreError};

use crate::error::ApiError;

/// Bytes of cached masks and tiles.
const MASK_BYTES: u64 = 128 << 20;
/// Bytes of cached decoded pictures.
const PICTURE_BYTES: u64 = 96 << 20;
/// Bytes of cached fonts.
const FONT_BYTES: u64 = 64 << 20;
/// Bytes of cached drawings.
const DRAWING_BYTES: u64 = 32 << 20;
/// Bytes of cached answers about links.
const SHARED_BYTES: u64 = 32 << 20;

/// Bytes of documents that are held for sessions, as text.
const HELD_BYTES: usize = 24 << 20;

/// Steps that a file read by a helper counts for.
const HELPED_STEPS: u64 = 700_000_000;

/// Shared by all computations.
pub struct Resources {
    /// The cache of masks.
    pub cache: MaskCache,
    /// Do work apart from this process.
    pub helpers: Helpers,
    /// Answers about links, by revision.
    pub shared: Cache<String, Bytes, AnswerWeight>,
    pictures: Cache<String, Arc<Bitmap>, PictureWeight>,
    fonts: Cache<String, Font, FontWeight>,
    drawings: Cache<String, DrawingFile, DrawingWeight>,
    hasher: RandomState,
    held: OpenProjects,
    store: Store,
    runtime: Handle,
}

/// Resources as one client has them.
#[derive(Clone, Copy)]
pub struct ClientResources<'a> {
    resources: &'a Resources,
    owner: &'a str,
}

impl Deref for ClientResources<'_> {
    type Target = Resources;

    fn deref(&self) -> &Resources {
        self.resources
    }
}

impl ClientResources<'_> {
    /// The context of requests to the core.
    pub fn query_context(&self) -> QueryContext<'_> {
        let Self { resources, owner } = *self;
        QueryContext { files: resources, held: &resources.held, owner, cache: &resources.cache }
    }
}

/// Weighs answers.
#[derive(Clone)]
pub struct AnswerWeight;

impl Weighter<String, Bytes> for AnswerWeight {
    fn weight(&self, key: &String, bytes: &Bytes) -> u64 {
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

/// Weighs drawings.
#[derive(Clone)]
struct DrawingWeight;

impl Weighter<String, DrawingFile> for DrawingWeight {
    fn weight(&self, _key: &String, file: &DrawingFile) -> u64 {
        (file.text().len() + 128) as u64
    }
}

impl Resources {
    /// Empty caches beside a store. Called within the runtime that the store's queries are to run in.
    pub fn new(store: Store, helpers: Helpers) -> Self {
        Self {
            cache: MaskCache::with_capacity(MASK_BYTES),
            helpers,
            shared: Cache::with_weighter(256, SHARED_BYTES, AnswerWeight),
            pictures: Cache::with_weighter(64, PICTURE_BYTES, PictureWeight),
            fonts: Cache::with_weighter(32, FONT_BYTES, FontWeight),
            drawings: Cache::with_weighter(64, DRAWING_BYTES, DrawingWeight),
            hasher: RandomState::new(),
            held: OpenProjects::with_capacity(HELD_BYTES),
            store,
            runtime: Handle::current(),
        }
    }

    /// What a file is known by in the caches. What a document carries may differ from document to document under one id, and is
    /// told apart by a hash that nobody outside can foresee: each request asks for it, and a digest would take 20 times as long.
    fn key_of(&self, asset: &Asset) -> String {
        match &asset.data {
            Some(data) => {
                let (id, bytes) = (asset.id.as_str(), data.bytes());
                format!("carried {id} {} {:x}", bytes.len(), self.hasher.hash_one(bytes))
            }
            None => asset.id.as_str().to_owned(),
        }
    }

    /// The resources as one client has them.
    pub fn for_client<'a>(&'a self, owner: &'a str) -> ClientResources<'a> {
        ClientResources { resources: self, owner }
    }

    /// Has a helper read a file that a document carries. A computation that waits for one is no quick one.
    fn read_by_helper(&self, task: Task, file: &[u8]) -> Result<Vec<u8>, QueryError> {
        if !budget::spend(HELPED_STEPS) {
            return Err(QueryError::Cannot("stopped".to_owned()));
        }
        self.helpers.run_blocking(task, file, &self.runtime)
    }

    /// A project at a revision, or as it is now.
    ///
    /// # Errors
    /// When there is no such project or revision, or the store fails.
    pub fn read(&self, id: &str, revision: Option<i64>) -> Result<Document, StoreError> {
        self.runtime.block_on(async {
            match revision {
                Some(revision) => self.store.read_revision(id, revision).await,
                None => self.store.read(id).await,
            }
        })
    }

    /// A part of a project's revisions, newest first.
    ///
    /// # Errors
    /// When there is no such project, or the store fails.
    pub fn revisions(&self, id: &str, page: Page) -> Result<Vec<Revision>, StoreError> {
        Ok(self.runtime.block_on(self.store.revisions(id, page))?.0)
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

impl Files for Resources {
    fn picture(&self, asset: &Asset) -> Result<Option<Arc<Bitmap>>, QueryError> {
        let key = self.key_of(asset);
        if let Some(bitmap) = self.pictures.get(&key) {
            return Ok(Some(bitmap));
        }
        let decoded = match &asset.data {
            Some(data) => {
                let pixels = self.read_by_helper(Task::Picture, data.bytes());
                pixels.and_then(|pixels| zolvet_host::bitmap(data.bytes(), pixels)).ok()
            }
            // It was decoded once already before it was stored.
            None => self
                .stored(asset)
                .map_err(QueryError::internal)?
                .and_then(|bytes| Bitmap::decode(&bytes).ok()),
        };
        let decoded = decoded.map(Arc::new);
        if let Some(bitmap) = &decoded {
            self.pictures.insert(key, Arc::clone(bitmap));
        }
        Ok(decoded)
    }

    fn drawing(&self, asset: &Asset) -> Result<Option<DrawingFile>, QueryError> {
        let key = self.key_of(asset);
        if let Some(file) = self.drawings.get(&key) {
            return Ok(Some(file));
        }
        let read = match &asset.data {
            // It is drawn where it can do no harm before it is drawn here.
            Some(data) => {
                let tried = self.read_by_helper(Task::Drawing, data.bytes());
                tried.ok().and_then(|_| DrawingFile::read(data.bytes()).ok())
            }
            None => {
                let stored = self.stored(asset).map_err(QueryError::internal)?;
                stored.and_then(|bytes| DrawingFile::read(&bytes).ok())
            }
        };
        if let Some(file) = &read {
            self.drawings.insert(key, file.clone());
        }
        Ok(read)
    }

    fn font(&self, asset: &Asset) -> Result<Option<Font>, QueryError> {
        let key = self.key_of(asset);
        if let Some(font) = self.fonts.get(&key) {
            return Ok(Some(font));
        }
        let read = match &asset.data {
            Some(data) => self.read_by_helper(Task::Font, data.bytes()).and_then(zolvet_host::font).ok(),
            // It was read once already before it was stored.
            None => {
                self.stored(asset).map_err(QueryError::internal)?.and_then(|bytes| Font::read(&bytes).ok())
            }
        };
        if let Some(font) = &read {
            self.fonts.insert(key, font.clone());
        }
        Ok(read)
    }
}
