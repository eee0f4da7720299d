//! Runs computations within budgets, off the threads that answer requests.
//!
//! Every request first runs in the quick queue, with a budget of a few frames. When that budget does not suffice it runs
//! again in the long queue, whose threads come after those that somebody waits for; so do those of a client that has used
//! much lately while others are active. What is saved has a queue of its own, and waits for no request. What helpers do waits in another. A client that hangs up, or sends a newer request of the same name, cancels the older one.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use actix_web::http::StatusCode;
use cpu_time::ThreadTime;
use rayon::{ThreadPool, ThreadPoolBuilder};
use serde::de::DeserializeOwned;
use tokio::sync::Notify;
use zolvet_core::budget::{Budget, Stopped};
use zolvet_host::{Helpers, Priority, Task, lower_priority};
use zolvet_store::{Document, Store};

use crate::client::Client;
use crate::error::ApiError;
use crate::queue::{FairQueue, Permit, QueueFull};
use crate::request::{BUSY_DELAY, JsonBody};
use crate::resources::{ClientResources, Resources};

/// Slots of the quick queue. One client has one while others are active, so that nobody fills them all.
const QUICK_SLOTS: usize = 4;
/// Slots of the long queue, of one thread each.
const LONG_SLOTS: usize = 2;
/// Steps and bytes of a quick request: a third of a second on two cores at worst, and a tenth of that for most
/// pictures.
const QUICK_STEPS: u64 = 600_000_000;
const QUICK_BYTES: u64 = 96 << 20;
/// Slots of the queue of saves, which are computed by threads of the same priority as those that answer.
const SAVE_SLOTS: usize = 2;
/// Helpers that work on requests at the same time.
const HELPER_SLOTS: usize = 2;
/// Steps of an audit, which may be of a large project.
const AUDIT_STEPS: u64 = 300_000_000_000;
/// Queues, their threads, and the jobs that run.
pub struct Scheduler {
    quick: FairQueue,
    long: FairQueue,
    saves: FairQueue,
    helpers: FairQueue,
    quick_pools: SlotPools,
    long_pools: SlotPools,
    resources: Arc<Resources>,
    running_jobs: Arc<Mutex<RunningJobs>>,
}

/// Jobs that run, so that they can be cancelled.
#[derive(Default)]
struct RunningJobs {
    number: u64,
    running: HashMap<u64, (Budget, Arc<Notify>)>,
    /// The newest of each client's named requests.
    newest: HashMap<Client, u64>,
}

impl RunningJobs {
    fn cancel(&mut self, number: u64) {
        if let Some((budget, cancelled)) = self.running.get(&number) {
            budget.cancel();
            cancelled.notify_one();
        }
    }
}

/// A request that is being answered; dropped when the client hangs up, which cancels it.
struct Job {
    running_jobs: Arc<Mutex<RunningJobs>>,
    client: Client,
    number: u64,
    budget: Budget,
    cancelled: Arc<Notify>,
}

impl Drop for Job {
    fn drop(&mut self) {
        self.budget.cancel();
        let mut running_jobs = self.running_jobs.lock().unwrap_or_else(PoisonError::into_inner);
        running_jobs.running.remove(&self.number);
        if running_jobs.newest.get(&self.client) == Some(&self.number) {
            running_jobs.newest.remove(&self.client);
        }
    }
}

impl Scheduler {
    /// A scheduler for computations on the projects and pictures of a store.
    ///
    /// # Errors
    /// When no threads can be had.
    pub fn new(store: Store, helpers: Helpers) -> std::io::Result<Self> {
        use Priority::{Background, Normal};
        let pool = |threads: usize, priority: Priority| -> std::io::Result<Arc<ThreadPool>> {
            let builder = ThreadPoolBuilder::new().num_threads(threads);
            let builder = builder.start_handler(move |_| lower_priority(priority));
            builder.build().map(Arc::new).map_err(std::io::Error::other)
        };
        let pools = |count, threads, priority| -> std::io::Result<Vec<Arc<ThreadPool>>> {
            (0..count).map(|_| pool(threads, priority)).collect()
        };
        // A pool for each slot: in one pool for all, a later job would wait for those that have begun.
        let cores = std::thread::available_parallelism().map_or(2, usize::from);
        Ok(Self {
            quick: FairQueue::new(QUICK_SLOTS, 1),
            long: FairQueue::new(LONG_SLOTS, 1),
            quick_pools: SlotPools {
                normal: pools(QUICK_SLOTS, cores, Normal)?,
                greedy: pools(QUICK_SLOTS, 1, Background)?,
            },
            saves: FairQueue::new(SAVE_SLOTS, 1),
            helpers: FairQueue::new(HELPER_SLOTS, 1),
            long_pools: SlotPools { normal: pools(LONG_SLOTS, 1, Background)?, greedy: Vec::new() },
            resources: Arc::new(Resources::new(store, helpers)),
            running_jobs: Arc::default(),
        })
    }

    /// Parses a request and answers it.
    ///
    /// # Errors
    /// 503 when too much is waiting already, 409 when a newer request cancelled it, 422 when it is too much; whatever
    /// the answer fails with.
    pub async fn run_request<Q, A>(
        &self,
        client: Client,
        body: JsonBody<Q>,
        answer: impl Fn(&ClientResources<'_>, &Q) -> Result<A, ApiError> + Send + Sync + 'static,
    ) -> Result<A, ApiError>
    where
        Q: DeserializeOwned + Send + Sync + 'static,
        A: Send + 'static,
    {
        self.run(client, move |resources| answer(resources, &body.read()?)).await
    }

    /// Runs a computation; twice where the budget of the quick queue does not suffice.
    ///
    /// # Errors
    /// As [`Self::run_request`].
    pub async fn run<A: Send + 'static>(
        &self,
        client: Client,
        answer: impl Fn(&ClientResources<'_>) -> Result<A, ApiError> + Send + Sync + 'static,
    ) -> Result<A, ApiError> {
        let answer = Arc::new(answer);
        let quick = Budget::new(QUICK_STEPS, QUICK_BYTES);
        let first = self
            .run_in(client.clone(), quick, &self.quick, Some(&self.quick_pools), Arc::clone(&answer))
            .await;
        match first {
            Err(JobError::Stopped(Stopped::TooMuch { .. } | Stopped::TooLarge { .. })) => {
                let long =
                    self.run_in(client, Budget::default(), &self.long, Some(&self.long_pools), answer).await;
                long.map_err(JobError::into)
            }
            outcome => outcome.map_err(JobError::into),
        }
    }

    /// Runs a computation in the long queue with the budget of an audit.
    ///
    /// # Errors
    /// As [`Self::run_request`].
    pub async fn run_long<A: Send + 'static>(
        &self,
        client: Client,
        answer: impl Fn(&ClientResources<'_>) -> Result<A, ApiError> + Send + Sync + 'static,
    ) -> Result<A, ApiError> {
        let budget = Budget::with_steps(AUDIT_STEPS);
        let outcome = self.run_in(client, budget, &self.long, Some(&self.long_pools), Arc::new(answer)).await;
        outcome.map_err(JobError::into)
    }

    /// Computes on documents that are kept: they are read, checked, packed and unpacked.
    ///
    /// # Errors
    /// As [`Self::run_request`].
    pub async fn run_document<A: Send + 'static>(
        &self,
        client: Client,
        answer: impl Fn(&ClientResources<'_>) -> Result<A, ApiError> + Send + Sync + 'static,
    ) -> Result<A, ApiError> {
        // A newer save is no reason to give up an older one.
        let client = Client { request: None, ..client };
        let budget = Budget::default();
        let outcome = self.run_in(client, budget, &self.saves, None, Arc::new(answer)).await;
        outcome.map_err(JobError::into)
    }

    /// A project at a revision, or as it is now.
    ///
    /// # Errors
    /// As [`Self::run_request`]; 404 when there is no such project or revision.
    pub async fn read_project(
        &self,
        client: Client,
        id: &str,
        revision: Option<i64>,
    ) -> Result<Document, ApiError> {
        let id = id.to_owned();
        self.run_document(client, move |resources| Ok(resources.read(&id, revision)?)).await
    }

    /// Has a helper do a task.
    ///
    /// # Errors
    /// As [`Self::run_request`]; what the helper refuses it with.
    pub async fn run_helper(&self, client: Client, task: Task, input: &[u8]) -> Result<Vec<u8>, ApiError> {
        let job = self.job(client, Budget::default());
        let _permit = self.permit(&job, &self.helpers).await?;
        tokio::select! {
            answer = self.resources.helpers.run(task, input) => Ok(answer?),
            () = job.cancelled.notified() => Err(JobError::Stopped(Stopped::Cancelled).into()),
        }
    }

    /// Cancels every job: the service stops.
    pub fn stop(&self) {
        let mut running_jobs = self.running_jobs.lock().unwrap_or_else(PoisonError::into_inner);
        let numbers: Vec<u64> = running_jobs.running.keys().copied().collect();
        numbers.into_iter().for_each(|number| running_jobs.cancel(number));
    }

    fn job(&self, client: Client, budget: Budget) -> Job {
        let cancelled = Arc::new(Notify::new());
        let mut running_jobs = self.running_jobs.lock().unwrap_or_else(PoisonError::into_inner);
        running_jobs.number += 1;
        let number = running_jobs.number;
        running_jobs.running.insert(number, (budget.clone(), Arc::clone(&cancelled)));
        if client.request.is_some()
            && let Some(older) = running_jobs.newest.insert(client.clone(), number)
        {
            running_jobs.cancel(older);
        }
        drop(running_jobs);
        Job { running_jobs: Arc::clone(&self.running_jobs), client, number, budget, cancelled }
    }

    /// Waits for a place in a queue.
    async fn permit(&self, job: &Job, queue: &FairQueue) -> Result<Permit, JobError> {
        tokio::select! {
            permit = queue.permit(&job.client) => match permit {
                Ok(permit) => Ok(permit),
                Err(QueueFull) => {
                    tokio::time::sleep(BUSY_DELAY).await;
                    let detail = "Too much is being computed; nothing is lost, ask again in a second.";
                    Err(JobError::Answer(ApiError::busy(detail)))
                }
            },
            () = job.cancelled.notified() => Err(JobError::Stopped(Stopped::Cancelled)),
        }
    }

    async fn run_in<A: Send + 'static>(
        &self,
        client: Client,
        budget: Budget,
        queue: &FairQueue,
        pools: Option<&SlotPools>,
        answer: Arc<impl Fn(&ClientResources<'_>) -> Result<A, ApiError> + Send + Sync + 'static>,
    ) -> Result<A, JobError> {
        let job = self.job(client, budget.clone());
        let mut permit = self.permit(&job, queue).await?;
        let pool = pools.and_then(|pools| pools.pool_for(&permit));
        let (resources, owner) = (Arc::clone(&self.resources), job.client.owner().to_owned());
        let done = tokio::task::spawn_blocking(move || {
            let work = || {
                let begun = ThreadTime::try_now();
                let outcome = budget.run(|| answer(&resources.for_client(&owner)));
                (outcome, begun.and_then(|begun| begun.try_elapsed()))
            };
            // What is saved is computed at once, by this thread alone.
            let (outcome, used) = pool.map_or_else(work, |pool| pool.install(work));
            // Where the system does not tell, nobody is greedy.
            permit.used = used.unwrap_or_default();
            // The slot is free only when the work has really ended.
            drop(permit);
            outcome
        });
        match done.await {
            Ok(Ok(outcome)) => outcome.map_err(JobError::Answer),
            Ok(Err(stopped)) => Err(JobError::Stopped(stopped)),
            Err(broken) => {
                Err(JobError::Answer(ApiError::internal(format!("a computation broke: {broken}"))))
            }
        }
    }
}

/// The threads of a queue's slots.
struct SlotPools {
    normal: Vec<Arc<ThreadPool>>,
    /// For clients that let others go first.
    greedy: Vec<Arc<ThreadPool>>,
}

impl SlotPools {
    fn pool_for(&self, permit: &Permit) -> Option<Arc<ThreadPool>> {
        let later = self.greedy.get(permit.slot).filter(|_| permit.is_greedy);
        later.or_else(|| self.normal.get(permit.slot)).map(Arc::clone)
    }
}

/// Why a job has no answer.
enum JobError {
    Answer(ApiError),
    Stopped(Stopped),
}

impl From<JobError> for ApiError {
    fn from(failed: JobError) -> Self {
        match failed {
            JobError::Answer(error) => error,
            JobError::Stopped(Stopped::Cancelled) => {
                let detail = "A newer request came, or the service is stopping; this one was not answered.";
                Self::new(StatusCode::CONFLICT, "superseded", "Not wanted any more", detail)
            }
            JobError::Stopped(why) => {
                Self::new(StatusCode::UNPROCESSABLE_ENTITY, "too-much", "Too much", format!("{why}."))
            }
        }
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]

    use zolvet_core::asset::Assets;
    use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
    use zolvet_core::model::Project;
    use zolvet_core::resolve;

    use super::*;

    /// A scene on a screen of two device pixels for one px does not wait for longer computations.
    #[test]
    fn scenes_of_the_demo_are_quick_at_two_device_pixels() {
        let project = Project::from_json(zolvet_host::DEMO).unwrap();
        let assets = Assets::carried_by(&project);
        for scene in &project.scenes {
            let resolved = resolve::scene(&project, scene, &assets);
            let (view, options) = (Viewport::whole(&resolved, 2.0), RenderOptions::default());
            let draw = || picture(&resolved, &view, &options, Rounding::Nearest, &MaskCache::default());
            let drawn = Budget::new(QUICK_STEPS, QUICK_BYTES).run(draw);
            assert_eq!(drawn.map(|drawn| (drawn.width, drawn.height)), Ok((view.width, view.height)));
        }
    }
}
