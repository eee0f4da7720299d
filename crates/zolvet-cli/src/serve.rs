//! `zolvet serve`.

use std::net::SocketAddr;
use std::path::PathBuf;

use tracing_subscriber::EnvFilter;
use zolvet_server::Settings;
use zolvet_store::Store;

use crate::error::CliError;

/// The demo project, put into an empty database on request.
const DEMO: &str = include_str!("../../../demo/quillmere.zolvet.json");

#[derive(clap::Args)]
pub struct Arguments {
    /// The database file; made when it is not there.
    #[arg(long, default_value = "zolvet.db")]
    db: PathBuf,
    /// Where to listen; port 0 takes a free one.
    #[arg(long, default_value = "127.0.0.1:4180")]
    listen: SocketAddr,
    /// A host name to answer to besides loopback; may be given again.
    #[arg(long)]
    allow_host: Vec<String>,
    /// Put the demo project into the database when there is none.
    #[arg(long)]
    demo: bool,
}

pub fn run(arguments: Arguments) -> Result<(), CliError> {
    let filter = EnvFilter::try_from_default_env().unwrap_or_else(|_| EnvFilter::new("warn"));
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).init();
    actix_web::rt::System::new().block_on(async {
        let store = Store::open(&arguments.db).await?;
        if arguments.demo && store.projects().await?.is_empty() {
            let problems = |problems| CliError::Document { path: "the demo".into(), problems };
            let project = zolvet_core::model::Project::from_json(DEMO).map_err(problems)?;
            zolvet_server::adopt(&store, &project.name, DEMO).await?;
        }
        let settings = Settings { listen: arguments.listen, allowed_hosts: arguments.allow_host };
        let ready = |address: SocketAddr| println!("Zolvet is ready: http://{address}/");
        zolvet_server::serve(store, settings, ready).await.map_err(CliError::Service)
    })
}
