//! Streams of news about links that follow their project: few a link, few in all, and over when the link is revoked.

use std::collections::HashMap;
use std::convert::Infallible;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use actix_web::web::Bytes;
use futures_util::Stream;
use futures_util::stream::unfold;
use tokio::sync::watch;
use zolvet_store::Store;

use crate::error::ApiError;

/// Streams of one link at the same time, and of all.
const MAX_PER_LINK: usize = 8;
const MAX: usize = 64;
/// How often a stream says that it is there, so that nothing between cuts it off.
const KEEP_ALIVE: Duration = Duration::from_secs(15);

/// The streams that are open, and whether they are to end.
pub struct LiveStreams {
    open: Arc<Mutex<HashMap<String, usize>>>,
    ended: watch::Sender<bool>,
}

impl Default for LiveStreams {
    fn default() -> Self {
        Self { open: Arc::default(), ended: watch::Sender::new(false) }
    }
}

impl LiveStreams {
    /// Ends all streams, also those that are opened later: the service stops.
    pub fn end(&self) {
        self.ended.send_replace(true);
    }

    /// The news of a link, from a revision on that its reader knows, or else from now on.
    ///
    /// # Errors
    /// 404 where there is no such link, 503 where too many listen already.
    pub async fn open(
        &self,
        store: &Store,
        token: &str,
        known: Option<i64>,
    ) -> Result<impl Stream<Item = Result<Bytes, Infallible>> + use<>, ApiError> {
        // Listened before it is looked, so that nothing happens between.
        let writes = store.writes();
        let revision = store.live(token).await?.revision;
        let place = self.place(token)?;
        let listener = Listener {
            store: store.clone(),
            place,
            writes,
            ended: self.ended.subscribe(),
            told: known.unwrap_or(revision),
            greeting: Some(format!("id: {revision}\n\n")),
        };
        Ok(unfold(listener, async |mut listener| {
            let text = listener.next().await?;
            Some((Ok(Bytes::from(text)), listener))
        }))
    }

    fn place(&self, token: &str) -> Result<Place, ApiError> {
        let mut open = self.open.lock().unwrap_or_else(PoisonError::into_inner);
        let of_link = open.get(token).copied().unwrap_or_default();
        if of_link >= MAX_PER_LINK || open.values().sum::<usize>() >= MAX {
            return Err(ApiError::busy("As many pages as may listen to this link already."));
        }
        *open.entry(token.to_owned()).or_default() += 1;
        Ok(Place { open: Arc::clone(&self.open), token: token.to_owned() })
    }
}

/// A place among the streams of a link, until this is dropped.
struct Place {
    open: Arc<Mutex<HashMap<String, usize>>>,
    token: String,
}

impl Drop for Place {
    fn drop(&mut self) {
        let mut open = self.open.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(count) = open.get_mut(&self.token) {
            *count -= 1;
            if *count == 0 {
                open.remove(&self.token);
            }
        }
    }
}

struct Listener {
    store: Store,
    place: Place,
    writes: watch::Receiver<()>,
    ended: watch::Receiver<bool>,
    /// The revision that the reader knows of.
    told: i64,
    /// An id without data: it is kept by the reader, and nothing happens (HTML, section 9.2.6).
    greeting: Option<String>,
}

impl Listener {
    /// What is sent next; nothing once the link is revoked or the service stops.
    async fn next(&mut self) -> Option<String> {
        let greeting = self.greeting.take();
        if greeting.is_some() {
            return greeting;
        }
        loop {
            if *self.ended.borrow() {
                return None;
            }
            // Marked as seen before it is looked at, so that a write meanwhile is looked at again.
            self.writes.borrow_and_update();
            let revision = self.store.live(&self.place.token).await.ok()?.revision;
            if revision != self.told {
                self.told = revision;
                return Some(format!("id: {revision}\ndata: {revision}\n\n"));
            }
            tokio::select! {
                written = self.writes.changed() => written.ok()?,
                ended = self.ended.changed() => ended.ok()?,
                () = tokio::time::sleep(KEEP_ALIVE) => return Some(":\n\n".to_owned()),
            }
        }
    }
}
