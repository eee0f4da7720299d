//! Response bodies with a quota and a deadline: a slow reader holds neither memory nor a connection for ever.

use std::any::Any;
use std::collections::BTreeMap;
use std::net::IpAddr;
use std::pin::Pin;
use std::rc::Rc;
use std::sync::{Mutex, PoisonError};
use std::task::{Context, Poll};
use std::time::Duration;

use actix_web::body::{BodySize, BoxBody, MessageBody};
use actix_web::dev::{Extensions, ServiceResponse};
use actix_web::rt::net::TcpStream;
use actix_web::web::Bytes;
use actix_web::{HttpRequest, ResponseError as _};
use socket2::SockRef;

use crate::access::address;
use crate::client::Client;
use crate::error::ApiError;
use crate::memory_quota::{MemoryQuota, Reservation};

/// Bytes of large responses that are being sent at the same time.
static QUOTA: MemoryQuota = MemoryQuota::new(192 << 20, 96 << 20);
/// A response above this is large.
const LARGE: usize = 256 << 10;
/// Bytes a second that a reader has to accept at least, after a time of grace.
const SLOWEST_BYTES_PER_SECOND: usize = 64 << 10;
const GRACE: Duration = Duration::from_secs(15);
/// How long a connection may stand still with something to be read.
const STALL_TIMEOUT: Duration = Duration::from_secs(20);

/// A connection's socket, to be shut from outside.
struct Connection(Rc<socket2::Socket>);

/// Connections of one address at the same time, a part of those of all.
const MAX_PER_ADDRESS: usize = 1_000;

/// Open connections by address.
static OPEN: Mutex<BTreeMap<IpAddr, usize>> = Mutex::new(BTreeMap::new());

/// A connection that counts for its address until this is dropped.
struct CountedConnection(IpAddr);

impl CountedConnection {
    /// Nothing where the address has too many already.
    fn admit(address: IpAddr) -> Option<Self> {
        let mut open = OPEN.lock().unwrap_or_else(PoisonError::into_inner);
        let count = open.entry(address).or_default();
        if *count >= MAX_PER_ADDRESS {
            return None;
        }
        *count += 1;
        Some(Self(address))
    }
}

impl Drop for CountedConnection {
    fn drop(&mut self) {
        let mut open = OPEN.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(count) = open.get_mut(&self.0) {
            *count -= 1;
            if *count == 0 {
                open.remove(&self.0);
            }
        }
    }
}

/// Watches a new connection; one too many of an address is shut.
pub fn on_connect(connection: &dyn Any, data: &mut Extensions) {
    let Some(stream) = connection.downcast_ref::<TcpStream>() else { return };
    let socket = SockRef::from(stream);
    match CountedConnection::admit(address(stream.peer_addr().ok().map(|peer| peer.ip()))) {
        Some(counted) => drop(data.insert(counted)),
        None => {
            // It may be closed already.
            let _ = socket.shutdown(std::net::Shutdown::Both);
            return;
        }
    }
    // Where the system has no such option, the deadline of each answer still counts.
    let _ = socket.set_tcp_user_timeout(Some(STALL_TIMEOUT));
    if let Ok(socket) = socket.try_clone() {
        data.insert(Connection(Rc::new(socket)));
    }
}

/// Room for a large response, to be had before it is made.
pub struct ResponseRoom(Reservation);

impl ResponseRoom {
    /// Room for so many bytes.
    ///
    /// # Errors
    /// 503 when too many large answers are on their way already.
    pub async fn reserve(length: usize, request: &HttpRequest) -> Result<Self, ApiError> {
        let mut reservation = QUOTA.reserve_for(Client::identify(request)?.owner());
        for wait in ROOM_DELAYS {
            if length <= LARGE || reservation.grow(length) {
                return Ok(Self(reservation));
            }
            tokio::time::sleep(wait).await;
        }
        Err(ApiError::busy("Too many large answers are on their way; ask again in a second."))
    }
}

/// How long it is waited for others to give way.
const ROOM_DELAYS: [Duration; 4] = [
    Duration::from_millis(20),
    Duration::from_millis(40),
    Duration::from_millis(80),
    Duration::from_millis(160),
];

/// A response body, sent within a deadline.
pub struct ResponseBody {
    bytes: Bytes,
    at: usize,
    _room: ResponseRoom,
    _deadline: Option<Deadline>,
}

/// Bytes that are handed to the connection at a time.
const PART: usize = 128 << 10;

/// Shuts a connection when the time is up or others need the room, unless this is dropped before.
struct Deadline(tokio::task::JoinHandle<()>);

impl Deadline {
    fn for_answer(connection: &Connection, length: usize, room: &ResponseRoom) -> Self {
        let socket = Rc::clone(&connection.0);
        let time = GRACE + Duration::from_secs((length / SLOWEST_BYTES_PER_SECOND) as u64);
        let give_way = room.0.give_way();
        Self(actix_web::rt::spawn(async move {
            // Either ends it.
            let _ = tokio::time::timeout(time, give_way.notified()).await;
            // It may be closed already.
            let _ = socket.shutdown(std::net::Shutdown::Both);
        }))
    }
}

impl Drop for Deadline {
    fn drop(&mut self) {
        self.0.abort();
    }
}

impl ResponseBody {
    /// Bytes as an answer to a request, for which there is room.
    pub fn new(bytes: impl Into<Bytes>, request: &HttpRequest, room: ResponseRoom) -> Self {
        let bytes = bytes.into();
        let connection = request.conn_data::<Connection>();
        let deadline = connection.map(|connection| Deadline::for_answer(connection, bytes.len(), &room));
        Self { bytes, at: 0, _room: room, _deadline: deadline }
    }
}

/// Counts the body of a response that came as one piece. A body that is made in parts is counted where it is made.
pub async fn count_response_bytes(response: ServiceResponse<BoxBody>) -> ServiceResponse<BoxBody> {
    let length = match response.response().body().size() {
        BodySize::Sized(length) if length > LARGE as u64 => length as usize,
        _ => return response,
    };
    let (request, response) = response.into_parts();
    let (response, body) = response.into_parts();
    let response = match body.try_into_bytes() {
        Ok(bytes) => match ResponseRoom::reserve(length, &request).await {
            Ok(room) => response.set_body(BoxBody::new(ResponseBody::new(bytes, &request, room))),
            Err(error) => error.error_response(),
        },
        Err(body) => response.set_body(body),
    };
    ServiceResponse::new(request, response)
}

impl MessageBody for ResponseBody {
    type Error = std::convert::Infallible;

    fn size(&self) -> BodySize {
        BodySize::Sized(self.bytes.len() as u64)
    }

    fn poll_next(
        self: Pin<&mut Self>,
        _context: &mut Context<'_>,
    ) -> Poll<Option<Result<Bytes, Self::Error>>> {
        let this = self.get_mut();
        if this.at >= this.bytes.len() {
            return Poll::Ready(None);
        }
        let end = (this.at + PART).min(this.bytes.len());
        let part = this.bytes.slice(this.at..end);
        this.at = end;
        Poll::Ready(Some(Ok(part)))
    }
}
