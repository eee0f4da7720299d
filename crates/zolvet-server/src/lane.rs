//! Turns at computing: few at a time, and fair among those who ask.

use std::collections::{HashMap, VecDeque};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest};
use std::future::{Ready, ready};
use tokio::sync::oneshot;

/// Who asks: an open editor, or else everybody at an address.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Client {
    /// Its address, and what it calls itself.
    pub name: String,
    /// Which of its questions this is; a newer one of the same name takes its place.
    pub question: Option<String>,
}

/// What an editor calls itself, so that several behind one address get a turn each.
const EDITOR: &str = "zolvet-editor";
/// What a question is called whose older answers are not wanted any more.
const QUESTION: &str = "zolvet-question";
/// Characters of these that count.
const NAME: usize = 64;

impl Client {
    /// Who sent a request.
    pub fn of(request: &HttpRequest) -> Self {
        let said = |name: &str| {
            let value = request.headers().get(name)?.to_str().ok()?;
            Some(value.chars().take(NAME).collect::<String>())
        };
        let address = request.peer_addr().map_or_else(String::new, |peer| peer.ip().to_string());
        let name = format!("{address} {}", said(EDITOR).unwrap_or_default());
        Self { name, question: said(QUESTION) }
    }
}

impl FromRequest for Client {
    type Error = std::convert::Infallible;
    type Future = Ready<Result<Self, Self::Error>>;

    fn from_request(request: &HttpRequest, _payload: &mut Payload) -> Self::Future {
        ready(Ok(Self::of(request)))
    }
}

/// So many turns at a time, and who waits for one.
pub struct Lane {
    state: Arc<Mutex<State>>,
}

struct State {
    /// The places that are free.
    unique: Vec<usize>,
    places: usize,
    /// Turns one client may have while others are about.
    each: usize,
    running: HashMap<String, usize>,
    /// When each client's last turn began, counted in turns.
    last: HashMap<String, u64>,
    turns: u64,
    /// How long each client's turns took lately.
    used: HashMap<String, Used>,
    waiting: VecDeque<Waiting>,
}

/// Time in turns, which counts for half as much after each [`HALF_LIFE`].
#[derive(Clone, Copy)]
struct Used {
    seconds: f64,
    until: Instant,
}

/// After how many seconds time in turns counts for half as much.
const HALF_LIFE: f64 = 1.0;
/// How many seconds of turns make a client wait for others: somebody who drags takes a tenth of that.
const GREEDY: f64 = 0.5;
/// How long after its last turn a client still counts as being about.
const ABOUT: Duration = Duration::from_secs(2);

impl Used {
    fn now(&self) -> f64 {
        self.seconds * 0.5_f64.powf(self.until.elapsed().as_secs_f64() / HALF_LIFE)
    }
}

struct Waiting {
    client: String,
    number: u64,
    turn: oneshot::Sender<usize>,
}

/// Too many wait already.
#[derive(Debug)]
pub struct Crowded;

/// Waiting that one client may do at a time, and all together.
const WAITING_EACH: usize = 24;
const WAITING: usize = 256;

impl Lane {
    /// A lane of so many places, of which one client has `each` at most while others are about.
    pub fn new(places: usize, each: usize) -> Self {
        let (running, last, turns, used, waiting) = Default::default();
        let unique = (0..places).collect();
        let state = State { unique, places, each, running, last, turns, used, waiting };
        Self { state: Arc::new(Mutex::new(state)) }
    }

    /// Waits for a turn. Among those who wait, the client with the fewest turns under way comes first, and then the one
    /// whose last turn is longest ago.
    ///
    /// # Errors
    /// [`Crowded`] when too many wait.
    pub async fn turn(&self, client: &Client) -> Result<Turn, Crowded> {
        let (number, turn) = {
            let mut state = lock(&self.state);
            let own = state.waiting.iter().filter(|waiting| waiting.client == client.name).count();
            if own >= WAITING_EACH || state.waiting.len() >= WAITING {
                return Err(Crowded);
            }
            let (sender, receiver) = oneshot::channel();
            state.turns += 1;
            let number = state.turns;
            state.waiting.push_back(Waiting { client: client.name.clone(), number, turn: sender });
            state.grant();
            (number, receiver)
        };
        let mut gone =
            Gone { state: Arc::clone(&self.state), client: client.name.clone(), number, turn: Some(turn) };
        let place = match &mut gone.turn {
            Some(turn) => turn.await.map_err(|_| Crowded)?,
            None => return Err(Crowded),
        };
        gone.turn = None;
        let is_greedy = lock(&self.state).is_greedy(&client.name);
        let (state, client, since) = (Arc::clone(&self.state), client.name.clone(), Instant::now());
        Ok(Turn { state, client, place, is_greedy, since })
    }
}

fn lock(state: &Mutex<State>) -> MutexGuard<'_, State> {
    state.lock().unwrap_or_else(PoisonError::into_inner)
}

impl State {
    /// Gives the places that are free to those who wait.
    fn grant(&mut self) {
        while let (Some(place), Some(next)) = (self.unique.last().copied(), self.next()) {
            let Some(waiting) = self.waiting.remove(next) else { return };
            let client = waiting.client.clone();
            if waiting.turn.send(place).is_ok() {
                self.unique.pop();
                *self.running.entry(client.clone()).or_default() += 1;
                self.turns += 1;
                self.last.insert(client, self.turns);
            }
        }
    }

    /// Who comes next, as a place among those who wait.
    fn next(&self) -> Option<usize> {
        let running = |client: &str| self.running.get(client).copied().unwrap_or(0);
        let most = |client: &str| if self.others_are_about(client) { self.each } else { self.places };
        let may = self.waiting.iter().enumerate().filter(|(_, one)| running(&one.client) < most(&one.client));
        let order = |one: &Waiting| (running(&one.client), self.last.get(&one.client).copied().unwrap_or(0));
        may.min_by_key(|(at, one)| (order(one), *at)).map(|(at, _)| at)
    }

    fn others_are_about(&self, client: &str) -> bool {
        let waits = self.waiting.iter().any(|other| other.client != client);
        waits || self.used.iter().any(|(other, used)| other != client && used.until.elapsed() < ABOUT)
    }

    /// Whether a client has taken so much lately that others, who are about, come first.
    fn is_greedy(&self, client: &str) -> bool {
        self.used.get(client).is_some_and(|used| used.now() > GREEDY) && self.others_are_about(client)
    }

    fn give_back(&mut self, client: &str, place: usize, took: Duration) {
        self.unique.push(place);
        let before = self.used.get(client).map_or(0.0, Used::now);
        let used = Used { seconds: before + took.as_secs_f64(), until: Instant::now() };
        self.used.insert(client.to_owned(), used);
        if let Some(running) = self.running.get_mut(client) {
            *running -= 1;
            if *running == 0 {
                self.running.remove(client);
            }
        }
        // Clients that came once need not be remembered.
        if self.last.len() > 10_000 {
            self.last.clear();
            self.used.clear();
        }
        self.grant();
    }
}

/// Somebody who waits, and may go before the turn comes.
struct Gone {
    state: Arc<Mutex<State>>,
    client: String,
    number: u64,
    turn: Option<oneshot::Receiver<usize>>,
}

impl Drop for Gone {
    fn drop(&mut self) {
        let Some(mut turn) = self.turn.take() else { return };
        let mut state = lock(&self.state);
        state.waiting.retain(|waiting| waiting.number != self.number);
        // The turn may have come just now.
        if let Ok(place) = turn.try_recv() {
            state.give_back(&self.client, place, Duration::ZERO);
        }
    }
}

/// A turn; it ends when this is dropped.
pub struct Turn {
    state: Arc<Mutex<State>>,
    client: String,
    /// Which of the lane's places it is at.
    pub place: usize,
    /// Whether its client has taken so much lately that others come first.
    pub is_greedy: bool,
    since: Instant,
}

impl Drop for Turn {
    fn drop(&mut self) {
        lock(&self.state).give_back(&self.client, self.place, self.since.elapsed());
    }
}

#[cfg(test)]
mod tests {
    #![allow(clippy::unwrap_used)]

    use super::*;

    fn client(name: &str) -> Client {
        Client { name: name.to_owned(), question: None }
    }

    /// One who asks again and again gets a turn after everybody else has had one.
    #[actix_web::test]
    async fn turns_go_round() {
        let lane = Arc::new(Lane::new(1, 1));
        let order = Arc::new(Mutex::new(Vec::new()));
        let first = lane.turn(&client("greedy")).await.unwrap();
        let asked = ["greedy", "greedy", "greedy", "a", "b", "greedy", "a"];
        let waiting: Vec<_> = asked
            .into_iter()
            .map(|name| {
                let (lane, order) = (Arc::clone(&lane), Arc::clone(&order));
                actix_web::rt::spawn(async move {
                    let _turn = lane.turn(&client(name)).await.unwrap();
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
        let lane = Lane::new(2, 1);
        let (a, b, c) = (client("a"), client("b"), client("c"));
        let alone = (lane.turn(&a).await.unwrap(), lane.turn(&a).await.unwrap());
        assert_ne!(alone.0.place, alone.1.place, "who is alone has every place");
        drop(alone);
        drop(lane.turn(&c).await.unwrap());
        let lowered = lane.turn(&a).await.unwrap();
        // A second one of the same client waits, although a place is free.
        let mut second = Box::pin(lane.turn(&a));
        assert!(futures_util::poll!(&mut second).is_pending());
        let other = lane.turn(&b).await.unwrap();
        drop(second);
        drop((lowered, other));
        let both = (lane.turn(&a).await.unwrap(), lane.turn(&b).await.unwrap());
        assert_ne!(both.0.place, both.1.place);
        for _ in 0..WAITING_EACH {
            let mut waits = Box::pin(lane.turn(&a));
            assert!(futures_util::poll!(&mut waits).is_pending());
            std::mem::forget(waits);
        }
        assert!(lane.turn(&a).await.is_err(), "as many wait as may");
        let mut another = Box::pin(lane.turn(&c));
        assert!(futures_util::poll!(&mut another).is_pending(), "others may still wait");
    }

    /// Who has had a second of turns while another was about comes after that one for a while.
    #[actix_web::test]
    async fn who_takes_much_is_greedy() {
        let lane = Lane::new(2, 1);
        let (much, little) = (client("much"), client("little"));
        let mut turn = lane.turn(&much).await.unwrap();
        turn.since = Instant::now().checked_sub(Duration::from_secs(1)).unwrap();
        drop(turn);
        assert!(!lane.turn(&much).await.unwrap().is_greedy, "nobody else is about");
        assert!(!lane.turn(&little).await.unwrap().is_greedy);
        assert!(lane.turn(&much).await.unwrap().is_greedy);
    }
}
