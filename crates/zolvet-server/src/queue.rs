//! A queue that admits a few computations at a time, in fair shares among clients.

use std::collections::{HashMap, VecDeque};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use tokio::sync::oneshot;

use crate::client::Client;

/// So many slots, and the clients that wait for one.
pub struct FairQueue {
    state: Arc<Mutex<State>>,
}

struct State {
    /// Slots that are free.
    free: Vec<usize>,
    slots: usize,
    /// Slots one client may hold while others are active.
    per_client: usize,
    running: HashMap<String, usize>,
    /// The number of each client's last permit.
    last: HashMap<String, u64>,
    permits: u64,
    /// How much computing time each client used lately.
    recent_use: HashMap<String, RecentUse>,
    waiting: VecDeque<Waiting>,
}

/// Computing time that counts for half as much after each [`HALF_LIFE`].
#[derive(Clone, Copy)]
struct RecentUse {
    seconds: f64,
    until: Instant,
}

/// Seconds after which computing time counts for half as much.
const HALF_LIFE: f64 = 1.0;
/// Recent seconds above which a client lets others go first; somebody who drags a value uses a tenth of that.
const GREEDY_SECONDS: f64 = 0.5;
/// How long after its last permit a client counts as active.
const ACTIVE_FOR: Duration = Duration::from_secs(2);

impl RecentUse {
    fn now(&self) -> f64 {
        self.seconds * 0.5_f64.powf(self.until.elapsed().as_secs_f64() / HALF_LIFE)
    }
}

struct Waiting {
    client: String,
    number: u64,
    permit: oneshot::Sender<usize>,
}

/// Too many requests wait already.
#[derive(Debug)]
pub struct QueueFull;

/// Requests of one client that may wait at a time, and of all clients.
const MAX_WAITING_PER_CLIENT: usize = 24;
const MAX_WAITING: usize = 256;

impl FairQueue {
    /// A queue with so many slots, of which one client holds `per_client` at most while others are active.
    pub fn new(slots: usize, per_client: usize) -> Self {
        let (running, last, permits, recent_use, waiting) = Default::default();
        let free = (0..slots).collect();
        let state = State { free, slots, per_client, running, last, permits, recent_use, waiting };
        Self { state: Arc::new(Mutex::new(state)) }
    }

    /// Waits for a permit. The client that holds the fewest comes first, and among those the one whose last permit is
    /// longest ago.
    ///
    /// # Errors
    /// [`QueueFull`] when too many wait.
    pub async fn permit(&self, client: &Client) -> Result<Permit, QueueFull> {
        let (number, permit) = {
            let mut state = lock(&self.state);
            let own = state.waiting.iter().filter(|waiting| waiting.client == client.name).count();
            if own >= MAX_WAITING_PER_CLIENT || state.waiting.len() >= MAX_WAITING {
                return Err(QueueFull);
            }
            let (sender, receiver) = oneshot::channel();
            state.permits += 1;
            let number = state.permits;
            state.waiting.push_back(Waiting { client: client.name.clone(), number, permit: sender });
            state.hand_out();
            (number, receiver)
        };
        let mut pending = PendingPermit {
            state: Arc::clone(&self.state),
            client: client.name.clone(),
            number,
            permit: Some(permit),
        };
        let slot = match &mut pending.permit {
            Some(permit) => permit.await.map_err(|_| QueueFull)?,
            None => return Err(QueueFull),
        };
        pending.permit = None;
        let is_greedy = lock(&self.state).is_greedy(&client.name);
        let (state, client, since) = (Arc::clone(&self.state), client.name.clone(), Instant::now());
        Ok(Permit { state, client, slot, is_greedy, since })
    }
}

fn lock(state: &Mutex<State>) -> MutexGuard<'_, State> {
    state.lock().unwrap_or_else(PoisonError::into_inner)
}

impl State {
    /// Hands free slots to waiting clients.
    fn hand_out(&mut self) {
        while let (Some(slot), Some(next)) = (self.free.last().copied(), self.next()) {
            let Some(waiting) = self.waiting.remove(next) else { return };
            let client = waiting.client.clone();
            if waiting.permit.send(slot).is_ok() {
                self.free.pop();
                *self.running.entry(client.clone()).or_default() += 1;
                self.permits += 1;
                self.last.insert(client, self.permits);
            }
        }
    }

    /// The index of the waiting request that comes next.
    fn next(&self) -> Option<usize> {
        let running = |client: &str| self.running.get(client).copied().unwrap_or(0);
        let most = |client: &str| if self.others_are_active(client) { self.per_client } else { self.slots };
        let may = self.waiting.iter().enumerate().filter(|(_, one)| running(&one.client) < most(&one.client));
        let order = |one: &Waiting| (running(&one.client), self.last.get(&one.client).copied().unwrap_or(0));
        may.min_by_key(|(at, one)| (order(one), *at)).map(|(at, _)| at)
    }

    fn others_are_active(&self, client: &str) -> bool {
        let waits = self.waiting.iter().any(|other| other.client != client);
        waits
            || self
                .recent_use
                .iter()
                .any(|(other, recent_use)| other != client && recent_use.until.elapsed() < ACTIVE_FOR)
    }

    /// Whether a client has used so much lately that other active clients come first.
    fn is_greedy(&self, client: &str) -> bool {
        self.recent_use.get(client).is_some_and(|recent_use| recent_use.now() > GREEDY_SECONDS)
            && self.others_are_active(client)
    }

    fn release(&mut self, client: &str, slot: usize, took: Duration) {
        self.free.push(slot);
        let before = self.recent_use.get(client).map_or(0.0, RecentUse::now);
        let recent_use = RecentUse { seconds: before + took.as_secs_f64(), until: Instant::now() };
        self.recent_use.insert(client.to_owned(), recent_use);
        if let Some(running) = self.running.get_mut(client) {
            *running -= 1;
            if *running == 0 {
                self.running.remove(client);
            }
        }
        // Clients that came once need not be remembered.
        if self.last.len() > 10_000 {
            self.last.clear();
            self.recent_use.clear();
        }
        self.hand_out();
    }
}

/// A request that waits; dropped before it has its permit, it leaves the queue.
struct PendingPermit {
    state: Arc<Mutex<State>>,
    client: String,
    number: u64,
    permit: Option<oneshot::Receiver<usize>>,
}

impl Drop for PendingPermit {
    fn drop(&mut self) {
        let Some(mut permit) = self.permit.take() else { return };
        let mut state = lock(&self.state);
        state.waiting.retain(|waiting| waiting.number != self.number);
        // The permit may have been sent just now.
        if let Ok(slot) = permit.try_recv() {
            state.release(&self.client, slot, Duration::ZERO);
        }
    }
}

/// A slot to compute in, until this is dropped.
pub struct Permit {
    state: Arc<Mutex<State>>,
    client: String,
    /// The number of the slot.
    pub slot: usize,
    /// Whether its client has used so much lately that others come first.
    pub is_greedy: bool,
    since: Instant,
}

impl Drop for Permit {
    fn drop(&mut self) {
        lock(&self.state).release(&self.client, self.slot, self.since.elapsed());
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]

    use super::*;

    fn client(name: &str) -> Client {
        Client { name: name.to_owned(), question: None }
    }

    /// A client with many requests gets its next permit after every other client has had one.
    #[actix_web::test]
    async fn turns_go_round() {
        let queue = Arc::new(FairQueue::new(1, 1));
        let order = Arc::new(Mutex::new(Vec::new()));
        let first = queue.permit(&client("greedy")).await.unwrap();
        let asked = ["greedy", "greedy", "greedy", "a", "b", "greedy", "a"];
        let waiting: Vec<_> = asked
            .into_iter()
            .map(|name| {
                let (queue, order) = (Arc::clone(&queue), Arc::clone(&order));
                actix_web::rt::spawn(async move {
                    let _permit = queue.permit(&client(name)).await.unwrap();
                    order.lock().unwrap().push(name);
                })
            })
            .collect();
        tokio::task::yield_now().await;
        drop(first);
        for one in waiting {
            one.await.unwrap();
        }
        assert_eq!(*order.lock().unwrap(), ["a", "b", "greedy", "a", "greedy", "greedy", "greedy"]);
    }

    #[actix_web::test]
    async fn who_goes_away_holds_no_place() {
        let queue = FairQueue::new(2, 1);
        let (a, b, c) = (client("a"), client("b"), client("c"));
        let alone = (queue.permit(&a).await.unwrap(), queue.permit(&a).await.unwrap());
        assert_ne!(alone.0.slot, alone.1.slot, "a client alone may hold every slot");
        drop(alone);
        drop(queue.permit(&c).await.unwrap());
        let first = queue.permit(&a).await.unwrap();
        // A second request of the same client waits, although a slot is free.
        let mut second = Box::pin(queue.permit(&a));
        assert!(futures_util::poll!(&mut second).is_pending());
        let other = queue.permit(&b).await.unwrap();
        drop(second);
        drop((first, other));
        let both = (queue.permit(&a).await.unwrap(), queue.permit(&b).await.unwrap());
        assert_ne!(both.0.slot, both.1.slot);
        for _ in 0..MAX_WAITING_PER_CLIENT {
            let mut waits = Box::pin(queue.permit(&a));
            assert!(futures_util::poll!(&mut waits).is_pending());
            std::mem::forget(waits);
        }
        assert!(queue.permit(&a).await.is_err(), "as many wait as may");
        let mut another = Box::pin(queue.permit(&c));
        assert!(futures_util::poll!(&mut another).is_pending(), "others may still wait");
    }

    /// A client that used a second while another was active comes after that one for a while.
    #[actix_web::test]
    async fn who_takes_much_is_greedy() {
        let queue = FairQueue::new(2, 1);
        let (much, little) = (client("much"), client("little"));
        let mut permit = queue.permit(&much).await.unwrap();
        permit.since = Instant::now().checked_sub(Duration::from_secs(1)).unwrap();
        drop(permit);
        assert!(!queue.permit(&much).await.unwrap().is_greedy, "nobody else is about");
        assert!(!queue.permit(&little).await.unwrap().is_greedy);
        assert!(queue.permit(&much).await.unwrap().is_greedy);
    }
}
