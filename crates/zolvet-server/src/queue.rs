//! A queue that admits a few computations at a time, in fair shares: among kinds of clients, among clients of a kind, among
//! the editors of a client.

use std::collections::{HashMap, VecDeque};
use std::hash::{BuildHasher as _, RandomState};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use tokio::sync::oneshot;

use crate::client::{Client, OUTSIDE};

/// Slots, and the clients that wait for one.
pub struct FairQueue {
    state: Arc<Mutex<State>>,
}

/// The shares that a client is in, from the largest.
type Shares = [ShareKey; 3];

/// The key of a share: hashes that nobody outside can foresee.
#[derive(Clone, Copy, PartialEq, Eq)]
struct ShareKey {
    /// The larger share that it is a part of; 0 for the largest.
    within: u64,
    name: u64,
}

struct State {
    hasher: RandomState,
    /// The name of the share of all those outside.
    outside: u64,
    /// Slots that are free.
    free: Vec<usize>,
    slots: usize,
    /// Slots that one share holds while others beside it are active, and that those outside have at most.
    per_share: usize,
    /// Shares by the larger ones they are in.
    shares: HashMap<u64, HashMap<u64, Share>>,
    permits: u64,
    waiting: VecDeque<Waiting>,
}

/// The state of a share.
#[derive(Clone, Copy, Default)]
struct Share {
    running: usize,
    waiting: usize,
    /// The number of its last permit.
    last: u64,
    /// How much computing time it used lately.
    recent_use: Option<RecentUse>,
}

impl Share {
    /// Whether it waits or had a permit lately.
    fn is_active(&self) -> bool {
        self.waiting > 0 || self.was_served_lately()
    }

    fn was_served_lately(&self) -> bool {
        self.recent_use.is_some_and(|recent| recent.until.elapsed() < ACTIVE_FOR)
    }

    fn recent_seconds(&self) -> f64 {
        self.recent_use.as_ref().map_or(0.0, RecentUse::now)
    }
}

/// Computing time that counts for half as much after each [`HALF_LIFE`].
#[derive(Clone, Copy)]
struct RecentUse {
    seconds: f64,
    until: Instant,
}

/// Seconds after which computing time counts for half as much.
const HALF_LIFE: f64 = 1.0;
/// Recent seconds above which a share lets others go first; somebody who drags a value uses a tenth of that.
const GREEDY_SECONDS: f64 = 0.5;
/// How many times as much it uses as those beside it do on average.
const GREEDY_TIMES: f64 = 2.0;
/// How long after its last permit a share counts as active.
const ACTIVE_FOR: Duration = Duration::from_secs(2);

impl RecentUse {
    fn now(&self) -> f64 {
        self.seconds * 0.5_f64.powf(self.until.elapsed().as_secs_f64() / HALF_LIFE)
    }
}

struct Waiting {
    shares: Shares,
    number: u64,
    permit: oneshot::Sender<usize>,
}

/// Too many requests wait already.
#[derive(Debug)]
pub struct QueueFull;

/// Requests that may wait at a time: of one editor, of one client, and of all.
const MAX_WAITING_PER_EDITOR: usize = 24;
const MAX_WAITING_PER_CLIENT: usize = 96;
const MAX_WAITING: usize = 256;
/// Of those that wait, those outside have a quarter at most.
const MAX_WAITING_OUTSIDE: usize = 64;

impl FairQueue {
    /// A queue with so many slots, of which one share holds `per_share` at most while others are active.
    pub fn new(slots: usize, per_share: usize) -> Self {
        let hasher = RandomState::new();
        let (outside, free) = (hasher.hash_one([OUTSIDE]), (0..slots).collect());
        let (shares, permits, waiting) = Default::default();
        let state = State { hasher, outside, free, slots, per_share, shares, permits, waiting };
        Self { state: Arc::new(Mutex::new(state)) }
    }

    /// Waits for a permit. The share that holds the fewest comes first, and among those the one whose last permit is longest
    /// ago: first of the largest shares, then within them.
    ///
    /// # Errors
    /// [`QueueFull`] when too many wait.
    pub async fn permit(&self, client: &Client) -> Result<Permit, QueueFull> {
        let (shares, number, permit) = {
            let mut state = lock(&self.state);
            let shares = state.shares_of(client);
            if state.is_full(&shares) {
                return Err(QueueFull);
            }
            let (sender, receiver) = oneshot::channel();
            state.permits += 1;
            let number = state.permits;
            for key in &shares {
                state.share_mut(*key).waiting += 1;
            }
            state.waiting.push_back(Waiting { shares, number, permit: sender });
            state.hand_out();
            (shares, number, receiver)
        };
        let state = Arc::clone(&self.state);
        let mut pending = PendingPermit { state, shares, number, permit: Some(permit) };
        let slot = match &mut pending.permit {
            Some(permit) => permit.await.map_err(|_| QueueFull)?,
            None => return Err(QueueFull),
        };
        pending.permit = None;
        let is_greedy = lock(&self.state).is_greedy(&shares);
        Ok(Permit { state: Arc::clone(&self.state), shares, slot, is_greedy, used: Duration::ZERO })
    }
}

fn lock(state: &Mutex<State>) -> MutexGuard<'_, State> {
    state.lock().unwrap_or_else(PoisonError::into_inner)
}

impl State {
    fn shares_of(&self, client: &Client) -> Shares {
        let [kind, owner, editor] = &client.shares;
        let kind_key = self.hasher.hash_one([kind]);
        let owner_key = self.hasher.hash_one([kind, owner]);
        let editor_key = self.hasher.hash_one([kind, owner, editor]);
        [(0, kind_key), (kind_key, owner_key), (owner_key, editor_key)]
            .map(|(within, name)| ShareKey { within, name })
    }

    fn share(&self, key: ShareKey) -> Share {
        let share = self.shares.get(&key.within).and_then(|beside| beside.get(&key.name));
        share.copied().unwrap_or_default()
    }

    fn share_mut(&mut self, key: ShareKey) -> &mut Share {
        self.shares.entry(key.within).or_default().entry(key.name).or_default()
    }

    /// The shares that are active beside one, in the same larger one.
    fn active_beside(&self, key: ShareKey) -> impl Iterator<Item = &Share> {
        let beside = self.shares.get(&key.within).into_iter().flatten();
        beside.filter(move |(name, share)| **name != key.name && share.is_active()).map(|(_, share)| share)
    }

    fn is_full(&self, shares: &Shares) -> bool {
        let waits = shares.map(|key| self.share(key).waiting);
        let of_kind = if shares[0].name == self.outside { MAX_WAITING_OUTSIDE } else { MAX_WAITING };
        self.waiting.len() >= MAX_WAITING
            || waits[2] >= MAX_WAITING_PER_EDITOR
            || waits[1] >= MAX_WAITING_PER_CLIENT
            || waits[0] >= of_kind
    }

    /// Hands free slots to waiting clients.
    fn hand_out(&mut self) {
        while let (Some(slot), Some(next)) = (self.free.last().copied(), self.next()) {
            let Some(waiting) = self.waiting.remove(next) else { return };
            let is_taken = waiting.permit.send(slot).is_ok();
            if is_taken {
                self.free.pop();
                self.permits += 1;
            }
            let number = self.permits;
            for key in waiting.shares {
                let share = self.share_mut(key);
                share.waiting = share.waiting.saturating_sub(1);
                if is_taken {
                    share.running += 1;
                    share.last = number;
                }
            }
        }
    }

    /// The index of the waiting request that comes next.
    fn next(&self) -> Option<usize> {
        let may = self.waiting.iter().enumerate().filter_map(|(at, one)| {
            let shares = one.shares.map(|key| self.share(key));
            let has_room = |(key, share): (&ShareKey, &Share)| share.running < self.most(*key);
            let order = shares.map(|share| (share.running, share.last));
            one.shares.iter().zip(&shares).all(has_room).then_some((order, at))
        });
        may.min().map(|(_, at)| at)
    }

    /// How many slots a share may hold.
    fn most(&self, key: ShareKey) -> usize {
        let is_kind = key.within == 0;
        let is_bounded =
            if is_kind { key.name == self.outside } else { self.active_beside(key).next().is_some() };
        if is_bounded { self.per_share } else { self.slots }
    }

    /// Whether one of a client's shares has used much lately, and much more than those that are active beside it: then they
    /// come first.
    fn is_greedy(&self, shares: &Shares) -> bool {
        // Owners are not greedy for what all of them use together.
        shares[1..].iter().any(|key| {
            let own = self.share(*key).recent_seconds();
            if own <= GREEDY_SECONDS {
                return false;
            }
            let beside = self.active_beside(*key).map(Share::recent_seconds);
            let (count, seconds) = beside.fold((0, 0.0), |(count, sum), one| (count + 1, sum + one));
            count > 0 && own > GREEDY_TIMES * seconds / f64::from(count)
        })
    }

    fn release(&mut self, shares: &Shares, slot: usize, took: Duration) {
        self.free.push(slot);
        for key in shares {
            let share = self.share_mut(*key);
            let seconds = share.recent_seconds() + took.as_secs_f64();
            share.recent_use = Some(RecentUse { seconds, until: Instant::now() });
            share.running = share.running.saturating_sub(1);
        }
        // Clients that came once need not be remembered.
        if self.shares.values().map(HashMap::len).sum::<usize>() > MAX_SHARES {
            self.shares.retain(|_, beside| {
                beside.retain(|_, share| share.running > 0 || share.is_active());
                !beside.is_empty()
            });
        }
        self.hand_out();
    }

    /// Takes a request out that waits no more.
    fn withdraw(&mut self, number: u64) {
        let Some(at) = self.waiting.iter().position(|waiting| waiting.number == number) else { return };
        for key in self.waiting.remove(at).map(|waiting| waiting.shares).into_iter().flatten() {
            let share = self.share_mut(key);
            share.waiting = share.waiting.saturating_sub(1);
        }
    }
}

/// Shares that are remembered.
const MAX_SHARES: usize = 1_000;

/// A request that waits; dropped before it has its permit, it leaves the queue.
struct PendingPermit {
    state: Arc<Mutex<State>>,
    shares: Shares,
    number: u64,
    permit: Option<oneshot::Receiver<usize>>,
}

impl Drop for PendingPermit {
    fn drop(&mut self) {
        let Some(mut permit) = self.permit.take() else { return };
        let mut state = lock(&self.state);
        state.withdraw(self.number);
        // The permit may have been sent just now.
        if let Ok(slot) = permit.try_recv() {
            state.release(&self.shares, slot, Duration::ZERO);
        }
    }
}

/// A slot to compute in, until this is dropped.
pub struct Permit {
    state: Arc<Mutex<State>>,
    shares: Shares,
    /// The number of the slot.
    pub slot: usize,
    /// Whether its client has used so much lately that others come first.
    pub is_greedy: bool,
    /// Computing time that was used in it. Time that a computation waited is not counted.
    pub used: Duration,
}

impl Drop for Permit {
    fn drop(&mut self) {
        lock(&self.state).release(&self.shares, self.slot, self.used);
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]

    use super::*;

    fn client(name: &str) -> Client {
        client_of("inside", name, "")
    }

    fn client_of(kind: &str, owner: &str, editor: &str) -> Client {
        Client { shares: [kind, owner, editor].map(str::to_owned), request: None }
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
        for _ in 0..MAX_WAITING_PER_EDITOR {
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
        permit.used = Duration::from_secs(1);
        drop(permit);
        assert!(!queue.permit(&much).await.unwrap().is_greedy, "nobody else is about");
        assert!(!queue.permit(&little).await.unwrap().is_greedy);
        assert!(queue.permit(&much).await.unwrap().is_greedy);
    }

    /// Names that change with each request share one turn; known names have a turn of their own.
    #[actix_web::test]
    async fn many_names_of_one_client_take_one_share() {
        let queue = Arc::new(FairQueue::new(1, 1));
        let order = Arc::new(Mutex::new(Vec::new()));
        let first = queue.permit(&client("somebody")).await.unwrap();
        let mut asked: Vec<Client> =
            (0..6).map(|number| client_of("inside", "crowd", &number.to_string())).collect();
        asked.push(client_of("inside", "one", ""));
        asked.push(client_of("inside", "one", ""));
        let waiting: Vec<_> = asked
            .into_iter()
            .map(|client| {
                let (queue, order) = (Arc::clone(&queue), Arc::clone(&order));
                actix_web::rt::spawn(async move {
                    let _permit = queue.permit(&client).await.unwrap();
                    order.lock().unwrap().push(client.shares[1].clone());
                })
            })
            .collect();
        tokio::task::yield_now().await;
        drop(first);
        for one in waiting {
            one.await.unwrap();
        }
        assert_eq!(order.lock().unwrap()[..4], ["crowd", "one", "crowd", "one"]);
    }

    /// Visitors of links never hold every slot, and their waiting leaves room.
    #[actix_web::test]
    async fn those_outside_have_a_part_at_most() {
        let queue = FairQueue::new(2, 1);
        let visitor = |number: usize| client_of(OUTSIDE, &number.to_string(), "");
        let _first = queue.permit(&visitor(0)).await.unwrap();
        let next = visitor(1);
        let mut second = Box::pin(queue.permit(&next));
        assert!(futures_util::poll!(&mut second).is_pending(), "although a slot is free");
        let visitors: Vec<Client> = (2..=MAX_WAITING_OUTSIDE).map(visitor).collect();
        let mut waiting: Vec<_> = visitors.iter().map(|visitor| Box::pin(queue.permit(visitor))).collect();
        for one in &mut waiting {
            assert!(futures_util::poll!(one).is_pending());
        }
        assert!(queue.permit(&visitor(1_000)).await.is_err(), "as many wait as may");
        assert!(queue.permit(&client("owner")).await.is_ok());
    }

    /// Visitors take no more from owners than their own part.
    #[actix_web::test]
    async fn owners_have_the_rest_together() {
        let queue = FairQueue::new(4, 1);
        let _visitor = queue.permit(&client_of(OUTSIDE, "v", "")).await.unwrap();
        let mut held = Vec::new();
        for owner in ["a", "b", "c"] {
            let mut permit = queue.permit(&client(owner)).await.unwrap();
            permit.used = Duration::from_millis(400);
            held.push(permit);
        }
        drop(held);
        assert!(!queue.permit(&client("a")).await.unwrap().is_greedy, "for what others used");
    }
}
