//! Computation, off the threads that answer requests, and no more of it at once than the machine can bear.

use std::sync::Arc;

use actix_web::http::StatusCode;
use actix_web::web;
use tokio::sync::Semaphore;
use zolvet_core::compose::MaskCache;

use crate::error::ApiError;

/// Pictures computed at the same time; each uses every core already.
const AT_ONCE: usize = 2;
/// Pictures computed or waiting; past this, the answer is 503.
const WAITING: usize = 32;

/// The computing that is going on, and what it has kept.
pub struct Work {
    running: Semaphore,
    admitted: Arc<Semaphore>,
    cache: Arc<MaskCache>,
}

impl Default for Work {
    fn default() -> Self {
        Self {
            running: Semaphore::new(AT_ONCE),
            admitted: Arc::new(Semaphore::new(WAITING)),
            cache: Arc::default(),
        }
    }
}

impl Work {
    /// Runs a computation with the cache, when there is room for it.
    ///
    /// # Errors
    /// 503 when too much is waiting already; whatever the computation fails with.
    pub(crate) async fn run<T: Send + 'static>(
        &self,
        compute: impl FnOnce(&MaskCache) -> Result<T, ApiError> + Send + 'static,
    ) -> Result<T, ApiError> {
        let Ok(_admitted) = self.admitted.try_acquire() else {
            let detail = "Too many pictures are being computed; nothing is lost, ask again in a second.";
            return Err(ApiError::new(StatusCode::SERVICE_UNAVAILABLE, "busy", "Busy", detail));
        };
        let stopping = || ApiError::internal("the service is stopping");
        let _running = self.running.acquire().await.map_err(|_| stopping())?;
        let cache = Arc::clone(&self.cache);
        web::block(move || compute(&cache)).await.map_err(|_| stopping())?
    }
}
