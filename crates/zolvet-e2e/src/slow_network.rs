//! A network between a page and the service that is slower than loopback.

use std::time::Duration;

use tokio::io::{AsyncRead, AsyncReadExt, AsyncWrite, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::mpsc;
use tokio::time::{Instant, sleep_until};

use crate::Outcome;

/// How slow it is.
#[derive(Debug, Clone, Copy)]
pub struct SlowNetwork {
    /// From one end to the other, each way.
    pub delay: Duration,
    /// Bits a second, each way.
    pub bits: f64,
}

impl SlowNetwork {
    /// 80 ms there and back, 20 Mbit/s.
    pub const HOME: Self = Self { delay: Duration::from_millis(40), bits: 20e6 };

    /// Listens on a port of its own and hands on to an address such as `127.0.0.1:4180`; answers with where it listens.
    ///
    /// # Errors
    /// When no port is to be had.
    pub async fn before(self, service: &str) -> Outcome<String> {
        let listener = TcpListener::bind("127.0.0.1:0").await?;
        let address = listener.local_addr()?;
        let service = service.to_owned();
        tokio::spawn(async move {
            while let Ok((page, _)) = listener.accept().await {
                let Ok(behind) = TcpStream::connect(&service).await else { continue };
                let _ = (page.set_nodelay(true), behind.set_nodelay(true));
                let ((page_in, page_out), (in_behind, out_behind)) = (page.into_split(), behind.into_split());
                tokio::spawn(self.carry(page_in, out_behind));
                tokio::spawn(self.carry(in_behind, page_out));
            }
        });
        Ok(format!("http://{address}"))
    }

    /// Carries bytes one way: each part takes its time on the line and then the delay.
    async fn carry(
        self,
        mut from: impl AsyncRead + Unpin + Send + 'static,
        mut to: impl AsyncWrite + Unpin + Send + 'static,
    ) {
        let (sent, mut arriving) = mpsc::unbounded_channel::<(Instant, Vec<u8>)>();
        tokio::spawn(async move {
            let (mut buffer, mut free) = (vec![0; 16 << 10], Instant::now());
            while let Ok(bytes) = from.read(&mut buffer).await {
                if bytes == 0 {
                    break;
                }
                free = free.max(Instant::now()) + Duration::from_secs_f64(bytes as f64 * 8.0 / self.bits);
                sleep_until(free).await;
                if sent.send((free + self.delay, buffer[..bytes].to_vec())).is_err() {
                    break;
                }
            }
        });
        while let Some((at, bytes)) = arriving.recv().await {
            sleep_until(at).await;
            if to.write_all(&bytes).await.is_err() {
                break;
            }
        }
        let _ = to.shutdown().await;
    }
}
