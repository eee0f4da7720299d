//! A limit on bytes held in memory at a time, for all clients together and for each of them.

use std::collections::BTreeMap;
use std::sync::{Mutex, MutexGuard, PoisonError};

/// The limit, and what is reserved of it.
pub struct MemoryQuota {
    total: usize,
    per_client: usize,
    reserved: Mutex<BTreeMap<String, usize>>,
}

/// Bytes reserved for a client, until this is dropped.
pub struct Reservation {
    quota: &'static MemoryQuota,
    client: String,
    bytes: usize,
}

impl MemoryQuota {
    /// A quota of `total` bytes, of which one client has `per_client` at most.
    pub const fn new(total: usize, per_client: usize) -> Self {
        Self { total, per_client, reserved: Mutex::new(BTreeMap::new()) }
    }

    /// A reservation of no bytes yet, for a client.
    pub fn reserve_for(&'static self, client: String) -> Reservation {
        Reservation { quota: self, client, bytes: 0 }
    }

    fn reserved(&self) -> MutexGuard<'_, BTreeMap<String, usize>> {
        self.reserved.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl Reservation {
    /// Bytes that are reserved.
    pub fn bytes(&self) -> usize {
        self.bytes
    }

    /// Reserves more bytes; false when that would exceed the quota.
    pub fn grow(&mut self, more: usize) -> bool {
        let mut reserved = self.quota.reserved();
        let (total, own) =
            (reserved.values().sum::<usize>(), reserved.get(&self.client).copied().unwrap_or(0));
        if total + more > self.quota.total || own + more > self.quota.per_client {
            return false;
        }
        reserved.insert(self.client.clone(), own + more);
        self.bytes += more;
        true
    }
}

impl Drop for Reservation {
    fn drop(&mut self) {
        let mut reserved = self.quota.reserved();
        let left = reserved.get(&self.client).map_or(0, |own| own.saturating_sub(self.bytes));
        if left == 0 {
            reserved.remove(&self.client);
        } else {
            reserved.insert(self.client.clone(), left);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_client_leaves_room_for_others() {
        static QUOTA: MemoryQuota = MemoryQuota::new(100, 60);
        let of = |client: &str| QUOTA.reserve_for(client.to_owned());
        let (mut greedy, mut again, mut other) = (of("greedy"), of("greedy"), of("other"));
        assert!(greedy.grow(50) && !again.grow(20) && again.grow(10));
        assert!(!other.grow(50) && other.grow(40));
        drop(greedy);
        assert!(again.grow(50) && again.bytes() == 60);
    }
}
