//! Response bodies with a quota and a deadline: a slow reader holds neither memory nor a connection for ever.

use std::any::Any;
use std::pin::Pin;
use std::rc::Rc;
use std::sync::Arc;
use std::task::{Context, Poll};
use std::time::Duration;

use actix_web::HttpRequest;
use actix_web::body::{BodySize, MessageBody};
use actix_web::dev::Extensions;
use actix_web::rt::net::TcpStream;
use actix_web::web::Bytes;
use socket2::SockRef;

use crate::client::Client;
use crate::error::ApiError;
use crate::memory_quota::{MemoryQuota, Reservation};

/// Bytes of large responses that are being sent at the same time.
static QUOTA: MemoryQuota = MemoryQuota::new(256 << 20, 96 << 20);
/// A response above this is large.
const LARGE: usize = 256 << 10;
/// Bytes a second that a reader has to accept at least, after a time of grace.
const SLOWEST_BYTES_PER_SECOND: usize = 64 << 10;
const GRACE: Duration = Duration::from_secs(15);
/// How long a connection may stand still with something to be read.
const STALL_TIMEOUT: Duration = Duration::from_secs(20);

/// A connection's socket, to be shut from outside.
struct Connection(Rc<socket2::Socket>);

/// Watches a new connection.
pub fn on_connect(connection: &dyn Any, data: &mut Extensions) {
    let Some(stream) = connection.downcast_ref::<TcpStream>() else { return };
    let socket = SockRef::from(stream);
    // Where the system has no such option, the deadline of each answer still counts.
    let _ = socket.set_tcp_user_timeout(Some(STALL_TIMEOUT));
    if let Ok(socket) = socket.try_clone() {
        data.insert(Connection(Rc::new(socket)));
    }
}

/// A response body, sent within a deadline.
pub struct ResponseBody {
    bytes: Arc<Vec<u8>>,
    at: usize,
    _reservation: Reservation,
    _deadline: Option<Deadline>,
}

/// Bytes that are handed to the connection at a time.
const PART: usize = 128 << 10;

/// Shuts a connection when the time is up, unless this is dropped before.
struct Deadline(tokio::task::JoinHandle<()>);

impl Deadline {
    fn of(connection: &Connection, length: usize) -> Self {
        let socket = Rc::clone(&connection.0);
        let time = GRACE + Duration::from_secs((length / SLOWEST_BYTES_PER_SECOND) as u64);
        Self(actix_web::rt::spawn(async move {
            tokio::time::sleep(time).await;
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
    /// Bytes as an answer to a request.
    ///
    /// # Errors
    /// 503 when too many large answers are on their way already.
    pub fn new(bytes: Arc<Vec<u8>>, request: &HttpRequest) -> Result<Self, ApiError> {
        let length = bytes.len();
        let mut reservation = QUOTA.reserve_for(Client::of(request).name);
        if length > LARGE && !reservation.grow(length) {
            return Err(ApiError::busy("Too many large answers are on their way; ask again in a second."));
        }
        let deadline = request.conn_data::<Connection>().map(|connection| Deadline::of(connection, length));
        Ok(Self { bytes, at: 0, _reservation: reservation, _deadline: deadline })
    }
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
        let part = Bytes::copy_from_slice(&this.bytes[this.at..end]);
        this.at = end;
        Poll::Ready(Some(Ok(part)))
    }
}
