//! Zolvet's HTTP service: projects, pictures, reports and links under `/api`, the front end everywhere else.

mod adopt;
mod api;
mod error;
mod front;
mod guard;
mod work;

use std::net::{SocketAddr, TcpListener};
use std::sync::Arc;

use actix_web::middleware::{Compress, from_fn};
use actix_web::{App, HttpServer, web};
use utoipa::OpenApi;
use zolvet_store::Store;

pub use adopt::adopt;
pub use api::zipped;
pub use work::{Bench, Work};

/// How the service is run.
pub struct Settings {
    /// Where it listens; port 0 takes a free one.
    pub listen: SocketAddr,
    /// Host names it answers to besides loopback.
    pub allowed_hosts: Vec<String>,
}

/// Serves until the process is told to stop; `ready` is called with the address once it answers.
///
/// # Errors
/// When the address cannot be listened on.
pub async fn serve(store: Store, settings: Settings, ready: impl FnOnce(SocketAddr)) -> std::io::Result<()> {
    let listener = TcpListener::bind(settings.listen)?;
    let address = listener.local_addr()?;
    let work = web::Data::new(Work::new(store.clone()));
    let store = web::Data::new(store);
    let guard = web::Data::new(guard::Allowed(Arc::new(settings.allowed_hosts)));
    let server = HttpServer::new(move || {
        App::new()
            .app_data(work.clone())
            .app_data(store.clone())
            .app_data(guard.clone())
            .configure(error::limits)
            .wrap(from_fn(guard::check))
            .wrap(Compress::default())
            .configure(api::routes)
            .default_service(web::to(front::file))
    })
    .workers(2)
    // Answers written in parts would wait for the other side to confirm the first, for 40 ms and more.
    .tcp_nodelay(true)
    .shutdown_timeout(3)
    .listen(listener)?;
    ready(address);
    server.run().await
}

/// The description of the interface, as JSON.
///
/// # Errors
/// When it cannot be written as JSON.
pub fn openapi() -> Result<String, serde_json::Error> {
    api::Description::openapi().to_pretty_json()
}
