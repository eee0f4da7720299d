//! Computation, off the threads that answer requests, and no more of it at once than the machine can bear.

use std::sync::Arc;

use actix_web::http::StatusCode;
use actix_web::web;
use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use quick_cache::sync::Cache;
use serde_json::Value;
use tokio::runtime::Handle;
use tokio::sync::Semaphore;
use zolvet_core::asset::{Assets, Bitmap};
use zolvet_core::compose::MaskCache;
use zolvet_core::model::{Id, Project};
use zolvet_store::{Store, StoreError};

use crate::error::ApiError;

/// Pictures computed at the same time; each uses every core already.
const AT_ONCE: usize = 2;
/// Pictures computed or waiting; past this, the answer is 503.
const WAITING: usize = 32;

/// The computing that is going on, and what it has kept.
pub struct Work {
    running: Semaphore,
    admitted: Arc<Semaphore>,
    bench: Arc<Bench>,
}

/// What computations are done with.
pub struct Bench {
    /// What pictures are made from.
    pub cache: MaskCache,
    pictures: Cache<Id, Arc<Bitmap>>,
    store: Store,
}

/// Decoded pictures that are kept.
const PICTURES: usize = 24;

impl Bench {
    /// The pictures of a project: those it carries, and those that were uploaded. For threads of their own only.
    ///
    /// # Errors
    /// When the store fails; a picture that is not there is left out, and drawing says so.
    pub fn assets(&self, project: &Project) -> Result<Assets, ApiError> {
        let mut assets = Assets::default();
        for asset in &project.assets {
            if let Some(bitmap) = self.pictures.get(&asset.id) {
                assets.insert(asset.id.clone(), bitmap);
                continue;
            }
            let decoded = match &asset.data {
                // What a document carries may differ from document to document under one id.
                Some(data) => {
                    if let Ok(bitmap) = Bitmap::decode(data.bytes()) {
                        assets.insert(asset.id.clone(), Arc::new(bitmap));
                    }
                    continue;
                }
                None => match Handle::current().block_on(self.store.asset(asset.id.as_str())) {
                    Ok(stored) => Bitmap::decode(&stored.bytes).ok(),
                    Err(StoreError::Missing(_)) => None,
                    Err(error) => return Err(error.into()),
                },
            };
            if let Some(bitmap) = decoded.map(Arc::new) {
                self.pictures.insert(asset.id.clone(), Arc::clone(&bitmap));
                assets.insert(asset.id.clone(), bitmap);
            }
        }
        Ok(assets)
    }

    /// A project document with the files of its assets in it, as it is kept outside.
    ///
    /// # Errors
    /// When the store fails.
    pub fn with_files(&self, project: &Project, mut document: Value) -> Result<Value, ApiError> {
        let Some(assets) = document.get_mut("assets").and_then(Value::as_array_mut) else {
            return Ok(document);
        };
        for (asset, value) in project.assets.iter().zip(assets) {
            if asset.data.is_some() {
                continue;
            }
            match Handle::current().block_on(self.store.asset(asset.id.as_str())) {
                Ok(stored) => value["data"] = STANDARD.encode(stored.bytes).into(),
                Err(StoreError::Missing(_)) => {}
                Err(error) => return Err(error.into()),
            }
        }
        Ok(document)
    }
}

impl Work {
    /// Work on the projects and pictures of a store.
    #[must_use]
    pub fn new(store: Store) -> Self {
        let bench = Bench { cache: MaskCache::default(), pictures: Cache::new(PICTURES), store };
        Self {
            running: Semaphore::new(AT_ONCE),
            admitted: Arc::new(Semaphore::new(WAITING)),
            bench: Arc::new(bench),
        }
    }

    /// Runs a computation with the bench, when there is room for it.
    ///
    /// # Errors
    /// 503 when too much is waiting already; whatever the computation fails with.
    pub(crate) async fn run<T: Send + 'static>(
        &self,
        compute: impl FnOnce(&Bench) -> Result<T, ApiError> + Send + 'static,
    ) -> Result<T, ApiError> {
        let Ok(_admitted) = self.admitted.try_acquire() else {
            let detail = "Too many pictures are being computed; nothing is lost, ask again in a second.";
            return Err(ApiError::new(StatusCode::SERVICE_UNAVAILABLE, "busy", "Busy", detail));
        };
        let stopping = || ApiError::internal("the service is stopping");
        let _running = self.running.acquire().await.map_err(|_| stopping())?;
        let bench = Arc::clone(&self.bench);
        web::block(move || compute(&bench)).await.map_err(|_| stopping())?
    }
}
