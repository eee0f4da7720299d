//! `zolvet serve`.

use std::net::SocketAddr;
use std::path::PathBuf;

use tracing_subscriber::EnvFilter;
use zolvet_server::{DEMO, ReaderProcess, Settings};
use zolvet_store::{Page, Store};

use crate::error::CliError;

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet serve --demo
  zolvet serve --db team.db --listen 127.0.0.1:4180")]
pub struct Arguments {
    /// The database file; made when it is not there.
    #[arg(long, default_value = "zolvet.db")]
    db: PathBuf,
    /// Where to listen; port 0 takes a free one.
    #[arg(long, default_value = "127.0.0.1:4180")]
    listen: SocketAddr,
    /// A host name to answer to besides loopback; may be given again. Everything but links then wants the owner's key.
    #[arg(long)]
    allow_host: Vec<String>,
    /// Where others reach the service, such as https://depth.example.org. Everything but links then wants the owner's key.
    #[arg(long)]
    public_url: Option<String>,
    /// Make another owner's key; the one before and its sessions end.
    #[arg(long)]
    new_key: bool,
    /// A folder with the core for browsers, as `cargo xtask wasm` makes it; it may come there while the service runs.
    #[arg(long)]
    browser_core: Option<PathBuf>,
    /// Put the demo project into the database when there is none.
    #[arg(long)]
    demo: bool,
}

pub fn run(arguments: Arguments) -> Result<(), CliError> {
    let filter = EnvFilter::try_from_default_env().unwrap_or_else(|_| EnvFilter::new("info"));
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).init();
    if let Some(url) = &arguments.public_url
        && !(url.starts_with("http://") || url.starts_with("https://"))
    {
        let message =
            format!("--public-url: expected an address such as https://depth.example.org, found {url}");
        return Err(CliError::Argument(message));
    }
    let program = std::env::current_exe().map_err(CliError::Service)?;
    let settings = Settings {
        listen: arguments.listen,
        allowed_hosts: arguments.allow_host,
        public_url: arguments.public_url,
        reader_process: ReaderProcess::program(program),
        browser_core: arguments.browser_core,
    };
    actix_web::rt::System::new().block_on(async {
        let store = Store::open(&arguments.db).await?;
        if arguments.demo && store.projects(Page::FIRST).await?.0.is_empty() {
            let problems = |problems| CliError::Document { path: "the demo".into(), problems };
            let project = zolvet_core::model::Project::from_json(DEMO).map_err(problems)?;
            zolvet_server::adopt(&store, &project.name, DEMO).await?;
        }
        if (settings.wants_key() || arguments.new_key)
            && let Some(key) = store.make_owner_key(arguments.new_key).await?
        {
            println!("The owner's key, shown this once: {key}");
        }
        let ready = |address: SocketAddr| println!("Zolvet is ready: http://{address}/");
        zolvet_server::serve(store, settings, ready).await.map_err(CliError::Service)
    })
}
