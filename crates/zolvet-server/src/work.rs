//! Computation, off the threads that answer requests, in lanes, within budgets.
//!
//! Every question is first tried in the quick lane, with a budget of a few frames. What turns out to need more, before
//! it is begun, is asked again in the long lane, whose threads run only while nobody else has anything to do; so do those
//! for a client that has taken much lately while others are about. A client that hangs up, or asks something newer, ends
//! what it asked before.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use actix_web::http::StatusCode;
use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use quick_cache::Weighter;
use quick_cache::sync::Cache;
use rayon::{ThreadPool, ThreadPoolBuilder};
use serde::de::DeserializeOwned;
use serde_json::Value;
use tokio::runtime::Handle;
use tokio::sync::Notify;
use zolvet_core::asset::Assets;
use zolvet_core::budget::{Budget, Stopped};
use zolvet_core::compose::MaskCache;
use zolvet_core::limits;
use zolvet_core::model::{Asset, Project};
use zolvet_core::picture::Bitmap;
use zolvet_store::{Store, StoreError};

use crate::body::{PAUSE, Question};
use crate::error::ApiError;
use crate::helper::Helper;
use crate::lane::{Client, Crowded, Lane, Turn};

/// Places in the quick lane; two, so that a client that fills one leaves another.
const QUICK_PLACES: usize = 2;
/// Places in the long lane, of one thread each.
const LONG_PLACES: usize = 2;
/// Steps and bytes of what is quick: about a fifth of a second on two cores.
const QUICK_STEPS: u64 = 400_000_000;
const QUICK_BYTES: u64 = 96 << 20;
/// Steps of a project looked over, which may be a large one.
const AUDIT_STEPS: u64 = 300_000_000_000;
/// Bytes of masks and tiles that are kept.
const MASK_BYTES: u64 = 192 << 20;
/// Bytes of decoded pictures that are kept.
const PICTURE_BYTES: u64 = 192 << 20;
/// Bytes of answers about links that are kept.
const SHARED_BYTES: u64 = 32 << 20;

/// The computing that is going on, and what it has kept.
pub struct Work {
    quick: Lane,
    long: Lane,
    quick_pools: Pools,
    long_pools: Pools,
    bench: Arc<Bench>,
    asked: Arc<Mutex<Asked>>,
}

/// What computations are done with.
pub struct Bench {
    /// What pictures are made from.
    pub cache: MaskCache,
    /// Reads files of others, apart from this process.
    pub helper: Helper,
    /// Answers about links, by revision.
    pub shared: Cache<String, Arc<Vec<u8>>, Bytes>,
    pictures: Cache<String, Arc<Bitmap>, Pixels>,
    store: Store,
    runtime: Handle,
}

/// Weighs answers.
#[derive(Clone)]
pub struct Bytes;

impl Weighter<String, Arc<Vec<u8>>> for Bytes {
    fn weight(&self, key: &String, bytes: &Arc<Vec<u8>>) -> u64 {
        (key.len() + bytes.len() + 64) as u64
    }
}

/// Weighs decoded pictures.
#[derive(Clone)]
struct Pixels;

impl Weighter<String, Arc<Bitmap>> for Pixels {
    fn weight(&self, _key: &String, bitmap: &Arc<Bitmap>) -> u64 {
        (bitmap.bytes() + 128) as u64
    }
}

impl Bench {
    /// The pictures of a project: those it carries, and those that were uploaded.
    ///
    /// # Errors
    /// When they are too many pixels, or the store fails; a picture that is not there is left out, and drawing says so.
    pub fn assets(&self, project: &Project) -> Result<Assets, ApiError> {
        Assets::check(project).map_err(ApiError::invalid)?;
        let (mut assets, mut pixels) = (Assets::default(), 0);
        for (at, asset) in project.assets.iter().enumerate() {
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

    /// A picture, decoded only where it is not kept.
    fn picture(&self, asset: &Asset) -> Result<Option<Arc<Bitmap>>, ApiError> {
        // What a document carries may differ from document to document under one id.
        let key = match &asset.data {
            Some(data) => format!("carried {}", Store::asset_id(data.bytes())),
            None => asset.id.as_str().to_owned(),
        };
        if let Some(bitmap) = self.pictures.get(&key) {
            return Ok(Some(bitmap));
        }
        let decoded = match &asset.data {
            Some(data) => self.helper.picture(data.bytes()).ok(),
            None => match self.stored(asset)? {
                // It was read once already before it was kept.
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

    fn stored(&self, asset: &Asset) -> Result<Option<Vec<u8>>, ApiError> {
        match self.runtime.block_on(self.store.asset(asset.id.as_str())) {
            Ok(stored) => Ok(Some(stored.bytes)),
            Err(StoreError::Missing(_)) => Ok(None),
            Err(error) => Err(error.into()),
        }
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
            if asset.data.is_none()
                && let Some(bytes) = self.stored(asset)?
            {
                value["data"] = STANDARD.encode(bytes).into();
            }
        }
        Ok(document)
    }
}

/// What is being computed, so that it can be ended.
#[derive(Default)]
struct Asked {
    number: u64,
    running: HashMap<u64, (Budget, Arc<Notify>)>,
    /// The newest of each client's questions that have a name.
    newest: HashMap<Client, u64>,
}

impl Asked {
    fn end(&mut self, number: u64) {
        if let Some((budget, ended)) = self.running.get(&number) {
            budget.cancel();
            ended.notify_one();
        }
    }
}

/// A question that is being answered; dropped, which happens when the client hangs up, its work ends.
struct Answering {
    asked: Arc<Mutex<Asked>>,
    client: Client,
    number: u64,
    budget: Budget,
    ended: Arc<Notify>,
}

impl Drop for Answering {
    fn drop(&mut self) {
        self.budget.cancel();
        let mut asked = self.asked.lock().unwrap_or_else(PoisonError::into_inner);
        asked.running.remove(&self.number);
        if asked.newest.get(&self.client) == Some(&self.number) {
            asked.newest.remove(&self.client);
        }
    }
}

impl Work {
    /// Work on the projects and pictures of a store.
    ///
    /// # Errors
    /// When no threads can be had.
    pub fn new(store: Store, helper: Helper) -> std::io::Result<Self> {
        let pool = |threads: usize, idle: bool| -> std::io::Result<Arc<ThreadPool>> {
            let builder = ThreadPoolBuilder::new().num_threads(threads);
            let builder = builder.start_handler(move |_| yield_to_others(idle));
            builder.build().map(Arc::new).map_err(std::io::Error::other)
        };
        let bench = Bench {
            cache: MaskCache::with_capacity(MASK_BYTES),
            helper,
            shared: Cache::with_weighter(256, SHARED_BYTES, Bytes),
            pictures: Cache::with_weighter(64, PICTURE_BYTES, Pixels),
            store,
            runtime: Handle::current(),
        };
        let pools = |count: usize, threads: usize, idle: bool| -> std::io::Result<Vec<Arc<ThreadPool>>> {
            (0..count).map(|_| pool(threads, idle)).collect()
        };
        // A pool for each place: in a pool of several, what comes later would wait for all that is begun.
        let cores = std::thread::available_parallelism().map_or(2, usize::from);
        Ok(Self {
            quick: Lane::new(QUICK_PLACES, QUICK_PLACES - 1),
            long: Lane::new(LONG_PLACES, LONG_PLACES - 1),
            quick_pools: Pools {
                at_once: pools(QUICK_PLACES, cores, false)?,
                when_idle: pools(QUICK_PLACES, 1, true)?,
            },
            long_pools: Pools { at_once: pools(LONG_PLACES, 1, true)?, when_idle: Vec::new() },
            bench: Arc::new(bench),
            asked: Arc::default(),
        })
    }

    /// Answers a question, when there is room for it.
    ///
    /// # Errors
    /// 503 when too much is waiting already, 409 when a newer question took its place, 422 when it is too much; whatever
    /// the answer fails with.
    pub async fn ask<Q, A>(
        &self,
        client: Client,
        question: Question<Q>,
        answer: impl Fn(&Bench, &Q) -> Result<A, ApiError> + Send + Sync + 'static,
    ) -> Result<A, ApiError>
    where
        Q: DeserializeOwned + Send + Sync + 'static,
        A: Send + 'static,
    {
        self.run(client, move |bench| answer(bench, &question.read()?)).await
    }

    /// As [`Self::ask`], for what needs no question. It may be done twice, the first time in part.
    ///
    /// # Errors
    /// As [`Self::ask`].
    pub async fn run<A: Send + 'static>(
        &self,
        client: Client,
        answer: impl Fn(&Bench) -> Result<A, ApiError> + Send + Sync + 'static,
    ) -> Result<A, ApiError> {
        let answer = Arc::new(answer);
        let quick = Budget::of(QUICK_STEPS, QUICK_BYTES);
        let first =
            self.within(client.clone(), quick, &self.quick, &self.quick_pools, Arc::clone(&answer)).await;
        match first {
            Err(Failed::Stopped(Stopped::TooMuch { .. } | Stopped::TooLarge { .. })) => {
                let long = self.within(client, Budget::default(), &self.long, &self.long_pools, answer).await;
                long.map_err(Failed::into)
            }
            outcome => outcome.map_err(Failed::into),
        }
    }

    /// Looks a project over, which may take as long as it takes, as long as somebody listens.
    ///
    /// # Errors
    /// As [`Self::ask`].
    pub async fn look_over<A: Send + 'static>(
        &self,
        client: Client,
        answer: impl Fn(&Bench) -> Result<A, ApiError> + Send + Sync + 'static,
    ) -> Result<A, ApiError> {
        let budget = Budget::of_steps(AUDIT_STEPS);
        let outcome = self.within(client, budget, &self.long, &self.long_pools, Arc::new(answer)).await;
        outcome.map_err(Failed::into)
    }

    /// Ends everything: the service stops.
    pub fn stop(&self) {
        let mut asked = self.asked.lock().unwrap_or_else(PoisonError::into_inner);
        let numbers: Vec<u64> = asked.running.keys().copied().collect();
        numbers.into_iter().for_each(|number| asked.end(number));
    }

    fn answering(&self, client: Client, budget: Budget) -> Answering {
        let ended = Arc::new(Notify::new());
        let mut asked = self.asked.lock().unwrap_or_else(PoisonError::into_inner);
        asked.number += 1;
        let number = asked.number;
        asked.running.insert(number, (budget.clone(), Arc::clone(&ended)));
        if client.question.is_some()
            && let Some(older) = asked.newest.insert(client.clone(), number)
        {
            asked.end(older);
        }
        drop(asked);
        Answering { asked: Arc::clone(&self.asked), client, number, budget, ended }
    }

    async fn within<A: Send + 'static>(
        &self,
        client: Client,
        budget: Budget,
        lane: &Lane,
        pools: &Pools,
        answer: Arc<impl Fn(&Bench) -> Result<A, ApiError> + Send + Sync + 'static>,
    ) -> Result<A, Failed> {
        let answering = self.answering(client, budget.clone());
        let turn: Turn = tokio::select! {
            turn = lane.turn(&answering.client) => match turn {
                Ok(turn) => turn,
                Err(Crowded) => {
                    tokio::time::sleep(PAUSE).await;
                    let detail = "Too much is being computed; nothing is lost, ask again in a second.";
                    return Err(Failed::Answer(ApiError::busy(detail)));
                }
            },
            () = answering.ended.notified() => return Err(Failed::Stopped(Stopped::Cancelled)),
        };
        let Some(pool) = pools.of(&turn) else {
            return Err(Failed::Answer(ApiError::internal("a lane has more places than threads")));
        };
        let bench = Arc::clone(&self.bench);
        let done = tokio::task::spawn_blocking(move || {
            let outcome = pool.install(|| budget.run(|| answer(&bench)));
            // The place is free only once the work has really ended.
            drop(turn);
            outcome
        });
        match done.await {
            Ok(Ok(outcome)) => outcome.map_err(Failed::Answer),
            Ok(Err(stopped)) => Err(Failed::Stopped(stopped)),
            Err(broken) => Err(Failed::Answer(ApiError::internal(format!("a computation broke: {broken}")))),
        }
    }
}

/// The threads of a lane's places.
struct Pools {
    at_once: Vec<Arc<ThreadPool>>,
    /// For clients that let others go first.
    when_idle: Vec<Arc<ThreadPool>>,
}

impl Pools {
    fn of(&self, turn: &Turn) -> Option<Arc<ThreadPool>> {
        let later = self.when_idle.get(turn.place).filter(|_| turn.is_greedy);
        later.or_else(|| self.at_once.get(turn.place)).map(Arc::clone)
    }
}

/// Lets threads that answer go before this one, or, where it is to run when idle, all others. Where that is not to be had,
/// it is a thread like others.
fn yield_to_others(when_idle: bool) {
    use thread_priority::{
        NormalThreadSchedulePolicy, ThreadPriority, ThreadPriorityValue, ThreadSchedulePolicy,
        set_thread_priority_and_policy, thread_native_id,
    };
    let (policy, priority) = if when_idle {
        (NormalThreadSchedulePolicy::Idle, ThreadPriority::Min)
    } else {
        // A niceness of 4.
        let value = ThreadPriorityValue::try_from(40).unwrap_or_default();
        (NormalThreadSchedulePolicy::Other, ThreadPriority::Crossplatform(value))
    };
    let policy = ThreadSchedulePolicy::Normal(policy);
    if let Err(error) = set_thread_priority_and_policy(thread_native_id(), priority, policy) {
        tracing::warn!(?error, "computations run with the same priority as answers");
    }
}

/// Why a question has no answer.
enum Failed {
    Answer(ApiError),
    Stopped(Stopped),
}

impl From<Failed> for ApiError {
    fn from(failed: Failed) -> Self {
        match failed {
            Failed::Answer(error) => error,
            Failed::Stopped(Stopped::Cancelled) => {
                let detail = "A newer question came, or the service is stopping; this one was not answered.";
                Self::new(StatusCode::CONFLICT, "superseded", "Not wanted any more", detail)
            }
            Failed::Stopped(why) => {
                Self::new(StatusCode::UNPROCESSABLE_ENTITY, "too-much", "Too much", format!("{why}."))
            }
        }
    }
}
