//! Runs computations within budgets, off the threads that answer requests.
//!
//! Every request first runs in the quick queue, with a budget of a few frames. When that budget does not suffice it runs
//! again in the long queue, whose threads have idle priority; so have those of a client that has used much lately while
//! others are active. A client that hangs up, or sends a newer request of the same name, cancels the older one.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use actix_web::http::StatusCode;
use rayon::{ThreadPool, ThreadPoolBuilder};
use serde::de::DeserializeOwned;
use tokio::sync::Notify;
use zolvet_core::budget::{Budget, Stopped};
use zolvet_store::Store;

use crate::client::Client;
use crate::error::ApiError;
use crate::queue::{FairQueue, Permit, QueueFull};
use crate::reader_process::ReaderProcess;
use crate::request::{BUSY_DELAY, JsonBody};
use crate::resources::Resources;

/// Slots of the quick queue; two, so that a client that fills one leaves another.
const QUICK_SLOTS: usize = 2;
/// Slots of the long queue, of one thread each.
const LONG_SLOTS: usize = 2;
/// Steps and bytes of what is quick: a third of a second on two cores at worst, and a tenth of that for most pictures.
const QUICK_STEPS: u64 = 600_000_000;
const QUICK_BYTES: u64 = 96 << 20;
/// Steps of an audit, which may be of a large project.
const AUDIT_STEPS: u64 = 300_000_000_000;
/// Queues, their threads, and the jobs that run.
pub struct Scheduler {
    quick: FairQueue,
    long: FairQueue,
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
    pub fn new(store: Store, reader_process: ReaderProcess) -> std::io::Result<Self> {
        let pool = |threads: usize, idle: bool| -> std::io::Result<Arc<ThreadPool>> {
            let builder = ThreadPoolBuilder::new().num_threads(threads);
            let builder = builder.start_handler(move |_| lower_priority(idle));
            builder.build().map(Arc::new).map_err(std::io::Error::other)
        };
        let pools = |count: usize, threads: usize, idle: bool| -> std::io::Result<Vec<Arc<ThreadPool>>> {
            (0..count).map(|_| pool(threads, idle)).collect()
        };
        // A pool for each slot: in one pool for all, a later job would wait for those that have begun.
        let cores = std::thread::available_parallelism().map_or(2, usize::from);
        Ok(Self {
            quick: FairQueue::new(QUICK_SLOTS, QUICK_SLOTS - 1),
            long: FairQueue::new(LONG_SLOTS, LONG_SLOTS - 1),
            quick_pools: SlotPools {
                normal: pools(QUICK_SLOTS, cores, false)?,
                idle: pools(QUICK_SLOTS, 1, true)?,
            },
            long_pools: SlotPools { normal: pools(LONG_SLOTS, 1, true)?, idle: Vec::new() },
            resources: Arc::new(Resources::new(store, reader_process)),
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
        answer: impl Fn(&Resources, &Q) -> Result<A, ApiError> + Send + Sync + 'static,
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
        answer: impl Fn(&Resources) -> Result<A, ApiError> + Send + Sync + 'static,
    ) -> Result<A, ApiError> {
        let answer = Arc::new(answer);
        let quick = Budget::of(QUICK_STEPS, QUICK_BYTES);
        let first =
            self.run_in(client.clone(), quick, &self.quick, &self.quick_pools, Arc::clone(&answer)).await;
        match first {
            Err(JobError::Stopped(Stopped::TooMuch { .. } | Stopped::TooLarge { .. })) => {
                let long = self.run_in(client, Budget::default(), &self.long, &self.long_pools, answer).await;
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
        answer: impl Fn(&Resources) -> Result<A, ApiError> + Send + Sync + 'static,
    ) -> Result<A, ApiError> {
        let budget = Budget::of_steps(AUDIT_STEPS);
        let outcome = self.run_in(client, budget, &self.long, &self.long_pools, Arc::new(answer)).await;
        outcome.map_err(JobError::into)
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
        if client.question.is_some()
            && let Some(older) = running_jobs.newest.insert(client.clone(), number)
        {
            running_jobs.cancel(older);
        }
        drop(running_jobs);
        Job { running_jobs: Arc::clone(&self.running_jobs), client, number, budget, cancelled }
    }

    async fn run_in<A: Send + 'static>(
        &self,
        client: Client,
        budget: Budget,
        queue: &FairQueue,
        pools: &SlotPools,
        answer: Arc<impl Fn(&Resources) -> Result<A, ApiError> + Send + Sync + 'static>,
    ) -> Result<A, JobError> {
        let job = self.job(client, budget.clone());
        let permit: Permit = tokio::select! {
            permit = queue.permit(&job.client) => match permit {
                Ok(permit) => permit,
                Err(QueueFull) => {
                    tokio::time::sleep(BUSY_DELAY).await;
                    let detail = "Too much is being computed; nothing is lost, ask again in a second.";
                    return Err(JobError::Answer(ApiError::busy(detail)));
                }
            },
            () = job.cancelled.notified() => return Err(JobError::Stopped(Stopped::Cancelled)),
        };
        let Some(pool) = pools.of(&permit) else {
            return Err(JobError::Answer(ApiError::internal("a queue has more slots than threads")));
        };
        let resources = Arc::clone(&self.resources);
        let done = tokio::task::spawn_blocking(move || {
            let outcome = pool.install(|| budget.run(|| answer(&resources)));
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
    idle: Vec<Arc<ThreadPool>>,
}

impl SlotPools {
    fn of(&self, permit: &Permit) -> Option<Arc<ThreadPool>> {
        let later = self.idle.get(permit.slot).filter(|_| permit.is_greedy);
        later.or_else(|| self.normal.get(permit.slot)).map(Arc::clone)
    }
}

/// Lets threads that answer go before this one, or, where it is to run when idle, all others. Where that is not to be had,
/// it is a thread like others.
fn lower_priority(idle: bool) {
    use thread_priority::{
        NormalThreadSchedulePolicy, ThreadPriority, ThreadPriorityValue, ThreadSchedulePolicy,
        set_thread_priority_and_policy, thread_native_id,
    };
    let (policy, priority) = if idle {
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

    /// What a bench shows on a screen of two device pixels for one px waits for no longer computation.
    #[test]
    fn scenes_of_the_demo_are_quick_at_two_device_pixels() {
        let project = Project::from_json(include_str!("../../../demo/quillmere.zolvet.json")).unwrap();
        let assets = Assets::carried_by(&project);
        for scene in &project.scenes {
            let resolved = resolve::scene(&project, scene, &assets);
            let (view, options) = (Viewport::whole(&resolved, 2.0), RenderOptions::default());
            let draw = || picture(&resolved, &view, &options, Rounding::Nearest, &MaskCache::default());
            let drawn = Budget::of(QUICK_STEPS, QUICK_BYTES).run(draw);
            assert_eq!(drawn.map(|drawn| (drawn.width, drawn.height)), Ok((view.width, view.height)));
        }
    }
}
