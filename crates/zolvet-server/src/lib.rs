//! Zolvet's HTTP service: projects, pictures, reports and links under `/api`, the front end everywhere else.

mod access;
mod api;
mod browser_core;
mod client;
mod error;
mod extract;
mod health;
mod live_streams;
mod log;
mod memory_quota;
mod queue;
mod request;
mod resources;
mod response;
mod scheduler;
mod static_files;

use std::net::{SocketAddr, TcpListener};
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;

use actix_web::middleware::{Compress, from_fn};
use actix_web::{App, HttpServer, web};
use time::OffsetDateTime;
use tokio::signal::unix::{SignalKind, signal};
use tracing_actix_web::TracingLogger;
use zolvet_host::Helpers;
use zolvet_store::Store;

pub use api::openapi;
pub use extract::adopt;

/// How the service is run.
pub struct Settings {
    /// Where it listens; port 0 takes a free one.
    pub listen: SocketAddr,
    /// Host names it answers to besides loopback.
    pub allowed_hosts: Vec<String>,
    /// Where others reach it.
    pub public_url: Option<String>,
    /// Do work apart from the service.
    pub helpers: Helpers,
    /// A folder that the core for browsers is in, or will be.
    pub browser_core: Option<PathBuf>,
}

impl Settings {
    /// Whether anybody but this machine can reach the service: then everything but links wants the owner's key.
    #[must_use]
    pub fn wants_key(&self) -> bool {
        !self.listen.ip().is_loopback() || !self.allowed_hosts.is_empty() || self.public_url.is_some()
    }

    fn access(&self) -> access::Access {
        let url = self.public_url.as_deref();
        let host = url.and_then(|url| url.split_once("://")).map(|(_, rest)| rest);
        let host = host.map(|rest| rest.split(['/', ':']).next().unwrap_or_default().to_owned());
        let hosts = self.allowed_hosts.iter().cloned().chain(host).collect();
        let secure = url.is_some_and(|url| url.starts_with("https://"));
        access::Access { hosts: Arc::new(hosts), wants_key: self.wants_key(), secure }
    }
}

/// Tidies the database when the service starts, and every hour.
async fn tidy_hourly(store: Store) {
    let mut hours = tokio::time::interval(Duration::from_secs(3600));
    loop {
        hours.tick().await;
        match store.tidy(OffsetDateTime::now_utc()).await {
            Ok(tidied) => tracing::info!(?tidied, "the database is tidy"),
            Err(error) => tracing::error!(%error, "the database could not be tidied"),
        }
    }
}

/// A copy of the file that is taken as soon as the service is ready contains the writes of its start, too.
async fn checkpoint_at_start(store: &Store) {
    if let Err(error) = store.checkpoint().await {
        tracing::warn!(%error, "the database file lacks what was written at the start");
    }
}

/// Moves the journal into the database file.
async fn checkpoint(store: Store) {
    let mut moments = tokio::time::interval(Duration::from_millis(500));
    loop {
        moments.tick().await;
        if let Err(error) = store.checkpoint_now_and_then().await {
            tracing::warn!(%error, "the database file lacks what was written last");
        }
    }
}

/// Threads that answer.
const WORKERS: usize = 2;
/// Connections of each at the same time, where the system allows as many files.
const MAX_CONNECTIONS: u64 = 2_000;
/// Files that are open besides: the database's, helpers' pipes, and files that are read.
const OTHER_FILES: u64 = 256;

/// Connections that each thread may have, so that there are files left for everything else: each takes two.
fn connections() -> std::io::Result<usize> {
    let files = rlimit::increase_nofile_limit(2 * WORKERS as u64 * MAX_CONNECTIONS + OTHER_FILES)?;
    let each = files.saturating_sub(OTHER_FILES) / (2 * WORKERS as u64);
    Ok(each.clamp(16, MAX_CONNECTIONS) as usize)
}

/// Seconds that requests may still take when the service is told to stop.
const STOPPING: u64 = 3;

/// Waits for SIGTERM or Ctrl-C.
fn told_to_stop() -> std::io::Result<impl Future<Output = ()>> {
    let (mut terminated, mut interrupted) =
        (signal(SignalKind::terminate())?, signal(SignalKind::interrupt())?);
    Ok(async move {
        tokio::select! {
            _ = terminated.recv() => {}
            _ = interrupted.recv() => {}
        }
    })
}

/// Serves until the process is told to stop, by SIGTERM or Ctrl-C; requests that have arrived by then are answered.
/// `ready` is called with the address once it answers.
///
/// # Errors
/// When the address cannot be listened on.
pub async fn serve(store: Store, settings: Settings, ready: impl FnOnce(SocketAddr)) -> std::io::Result<()> {
    let listener = TcpListener::bind(settings.listen)?;
    let address = listener.local_addr()?;
    let scheduler = web::Data::new(scheduler::Scheduler::new(store.clone(), settings.helpers.clone())?);
    settings.helpers.prepare();
    let access = web::Data::new(settings.access());
    let (stored, working) = (store.clone(), web::Data::clone(&scheduler));
    let store = web::Data::new(store);
    let readiness = web::Data::new(health::Readiness::default());
    let attempts = web::Data::new(api::KeyAttempts::default());
    let streams = web::Data::new(live_streams::LiveStreams::default());
    let listened = web::Data::clone(&streams);
    let browser_core = web::Data::new(browser_core::BrowserCore::new(settings.browser_core));
    let server = HttpServer::new(move || {
        App::new()
            .app_data(web::Data::clone(&scheduler))
            .app_data(web::Data::clone(&store))
            .app_data(web::Data::clone(&access))
            .app_data(web::Data::clone(&readiness))
            .app_data(web::Data::clone(&attempts))
            .app_data(web::Data::clone(&streams))
            .configure(error::addresses)
            .wrap(from_fn(access::check))
            .wrap(Compress::default())
            .wrap(TracingLogger::<log::RequestLog>::new())
            .app_data(web::Data::clone(&browser_core))
            .configure(api::routes)
            .route("/core.wasm", api::for_anyone(browser_core::browser_core))
            .default_service(api::for_anyone(static_files::file))
    })
    .workers(WORKERS)
    .max_connections(connections()?)
    .client_request_timeout(Duration::from_secs(10))
    // A client that closes its side has gone; its request is cancelled.
    .h1_allow_half_closed(false)
    // Answers written in parts would wait for the other side to confirm the first, for 40 ms and more.
    .tcp_nodelay(true)
    .on_connect(response::on_connect)
    .shutdown_timeout(STOPPING)
    .disable_signals()
    .listen(listener)?
    .run();
    let handle = server.handle();
    let told = told_to_stop()?;
    actix_web::rt::spawn(async move {
        told.await;
        listened.end();
        handle.stop(true).await;
    });
    checkpoint_at_start(&stored).await;
    actix_web::rt::spawn(tidy_hourly(stored.clone()));
    actix_web::rt::spawn(checkpoint(stored.clone()));
    ready(address);
    let outcome = server.await;
    working.stop();
    stored.close().await;
    outcome
}
