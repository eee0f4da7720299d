//! A limit on bytes held in memory at a time, for all clients together and for each of them.
//!
//! Where the limit is reached, the slowest holder gives way: a client that claims memory and stands still with it keeps
//! nobody else out.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use tokio::sync::Notify;

/// The limit, and the memory that is reserved of it.
pub struct MemoryQuota {
    total: usize,
    per_client: usize,
    state: Mutex<State>,
}

struct State {
    reserved: BTreeMap<u64, Reserved>,
    number: u64,
}

struct Reserved {
    client: String,
    bytes: usize,
    since: Instant,
    give_way: Arc<Notify>,
    gives_way: bool,
}

impl Reserved {
    /// Bytes a second that came or went so far.
    fn pace(&self) -> f64 {
        self.bytes as f64 / self.since.elapsed().as_secs_f64().max(1e-3)
    }
}

/// How long memory is held before its holder may have to give way.
const GRACE: Duration = Duration::from_millis(500);

/// Bytes reserved for a client, until this is dropped.
pub struct Reservation {
    quota: &'static MemoryQuota,
    number: u64,
    client: String,
    bytes: usize,
    give_way: Arc<Notify>,
}

impl MemoryQuota {
    /// A quota of `total` bytes, of which one client has `per_client` at most.
    pub const fn new(total: usize, per_client: usize) -> Self {
        Self { total, per_client, state: Mutex::new(State { reserved: BTreeMap::new(), number: 0 }) }
    }

    /// A reservation of no bytes yet, for a client.
    pub fn reserve_for(&'static self, client: &str) -> Reservation {
        let mut state = self.state();
        state.number += 1;
        let (number, client) = (state.number, client.to_owned());
        Reservation { quota: self, number, client, bytes: 0, give_way: Arc::default() }
    }

    fn state(&self) -> MutexGuard<'_, State> {
        self.state.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl State {
    fn bytes(&self, client: Option<&str>) -> usize {
        let held = self.reserved.values().filter(|one| client.is_none_or(|client| one.client == client));
        held.map(|one| one.bytes).sum()
    }

    /// Tells the slowest of those that hold memory to give way.
    fn make_room(&mut self, client: Option<&str>) {
        let held = self.reserved.values_mut().filter(|one| client.is_none_or(|client| one.client == client));
        let slow = held.filter(|one| !one.gives_way && one.since.elapsed() > GRACE);
        if let Some(slowest) = slow.min_by(|a, b| a.pace().total_cmp(&b.pace())) {
            slowest.gives_way = true;
            slowest.give_way.notify_one();
        }
    }
}

impl Reservation {
    /// Bytes that are reserved.
    pub fn bytes(&self) -> usize {
        self.bytes
    }

    /// Reserves more bytes; false when that would exceed the quota. Then the slowest of those that hold some gives way, so
    /// that there is room a moment later.
    pub fn grow(&mut self, more: usize) -> bool {
        let mut state = self.quota.state();
        if state.bytes(Some(&self.client)) + more > self.quota.per_client {
            state.make_room(Some(&self.client));
            return false;
        }
        if state.bytes(None) + more > self.quota.total {
            state.make_room(None);
            return false;
        }
        self.bytes += more;
        let held = state.reserved.entry(self.number).or_insert_with(|| Reserved {
            client: self.client.clone(),
            bytes: 0,
            since: Instant::now(),
            give_way: Arc::clone(&self.give_way),
            gives_way: false,
        });
        held.bytes = self.bytes;
        true
    }

    /// Told when the holder has to give way to others.
    pub fn give_way(&self) -> Arc<Notify> {
        Arc::clone(&self.give_way)
    }
}

impl Drop for Reservation {
    fn drop(&mut self) {
        self.quota.state().reserved.remove(&self.number);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_client_leaves_room_for_others() {
        static QUOTA: MemoryQuota = MemoryQuota::new(100, 60);
        let of = |client: &str| QUOTA.reserve_for(client);
        let (mut greedy, mut again, mut other) = (of("greedy"), of("greedy"), of("other"));
        assert!(greedy.grow(50) && !again.grow(20) && again.grow(10));
        assert!(!other.grow(50) && other.grow(40));
        drop(greedy);
        assert!(again.grow(50) && again.bytes() == 60);
    }

    #[actix_web::test]
    async fn the_slowest_gives_way() {
        static QUOTA: MemoryQuota = MemoryQuota::new(100, 100);
        let mut slow = QUOTA.reserve_for("a");
        let mut quick = QUOTA.reserve_for("b");
        assert!(slow.grow(10));
        std::thread::sleep(GRACE);
        assert!(quick.grow(90) && !quick.grow(10));
        let told = async |reservation: &Reservation| {
            tokio::time::timeout(Duration::from_millis(10), reservation.give_way().notified()).await.is_ok()
        };
        assert!(told(&slow).await && !told(&quick).await);
        drop(slow);
        assert!(quick.grow(10));
    }
}
