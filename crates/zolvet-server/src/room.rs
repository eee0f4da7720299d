//! Room in memory that clients share: all of them together, and each of them, hold so many bytes at a time.

use std::collections::BTreeMap;
use std::sync::{Mutex, MutexGuard, PoisonError};

/// So many bytes.
pub struct Room {
    all: usize,
    each: usize,
    taken: Mutex<BTreeMap<String, usize>>,
}

/// Bytes that somebody holds, until this is dropped.
pub struct Lowered {
    room: &'static Room,
    client: String,
    bytes: usize,
}

impl Room {
    /// Room for `all` bytes, of which one client has `each` at most.
    pub const fn new(all: usize, each: usize) -> Self {
        Self { all, each, taken: Mutex::new(BTreeMap::new()) }
    }

    /// Nothing yet, for a client.
    pub fn none(&'static self, client: String) -> Lowered {
        Lowered { room: self, client, bytes: 0 }
    }

    fn taken(&self) -> MutexGuard<'_, BTreeMap<String, usize>> {
        self.taken.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl Lowered {
    /// Bytes that are held.
    pub fn bytes(&self) -> usize {
        self.bytes
    }

    /// Takes more bytes; false where there is no room for them.
    pub fn take(&mut self, more: usize) -> bool {
        let mut taken = self.room.taken();
        let (all, own) = (taken.values().sum::<usize>(), taken.get(&self.client).copied().unwrap_or(0));
        if all + more > self.room.all || own + more > self.room.each {
            return false;
        }
        taken.insert(self.client.clone(), own + more);
        self.bytes += more;
        true
    }
}

impl Drop for Lowered {
    fn drop(&mut self) {
        let mut taken = self.room.taken();
        let left = taken.get(&self.client).map_or(0, |own| own.saturating_sub(self.bytes));
        if left == 0 {
            taken.remove(&self.client);
        } else {
            taken.insert(self.client.clone(), left);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_client_leaves_room_for_others() {
        static ROOM: Room = Room::new(100, 60);
        let of = |client: &str| ROOM.none(client.to_owned());
        let (mut greedy, mut again, mut other) = (of("greedy"), of("greedy"), of("other"));
        assert!(greedy.take(50) && !again.take(20) && again.take(10));
        assert!(!other.take(50) && other.take(40));
        drop(greedy);
        assert!(again.take(50) && again.bytes() == 60);
    }
}
