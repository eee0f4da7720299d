//! `zolvet serve`.

use std::io::{IsTerminal as _, Write as _};
use std::net::SocketAddr;
use std::path::{Path, PathBuf};

use tracing_subscriber::EnvFilter;
use zolvet_host::{DEMO, Helpers};
use zolvet_server::Settings;
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
    tracing_subscriber::fmt()
        .with_env_filter(filter)
        .with_ansi(std::io::stderr().is_terminal())
        .with_writer(std::io::stderr)
        .init();
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
        helpers: Helpers::new(program),
        browser_core: arguments.browser_core,
    };
    actix_web::rt::System::new().block_on(async {
        let failed = |source| CliError::Database { path: arguments.db.clone(), source };
        let store = Store::open(&arguments.db).await.map_err(failed)?;
        if arguments.demo && store.projects(Page::FIRST).await?.0.is_empty() {
            let problems = |problems| CliError::Document { path: "the demo".into(), problems };
            let project = zolvet_core::model::Project::from_json(DEMO).map_err(problems)?;
            zolvet_server::adopt(&store, &project.name, DEMO).await?;
        }
        if (settings.wants_key() || arguments.new_key)
            && let Some(key) = store.make_owner_key(arguments.new_key).await?
        {
            hand_over(&key, &arguments.db)?;
        }
        let ready = |address: SocketAddr| println!("Zolvet is ready: http://{address}/");
        zolvet_server::serve(store, settings, ready).await.map_err(CliError::Service)
    })
}

/// Shows the owner's key to whoever sits at the terminal. Where output goes elsewhere, it may be kept and read by others: then
/// the key lies in a file that only its owner can read.
fn hand_over(key: &str, database: &Path) -> Result<(), CliError> {
    if std::io::stdout().is_terminal() {
        println!("The owner's key, shown this once: {key}");
        return Ok(());
    }
    let path = database.with_added_extension("key");
    let failed = |source| CliError::File { path: path.clone(), source };
    let folder = path.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."));
    // A new file has the mode 0600, and takes the place of one that is there.
    let mut file = tempfile::NamedTempFile::new_in(folder).map_err(failed)?;
    writeln!(file, "{key}").map_err(failed)?;
    file.as_file().sync_all().map_err(failed)?;
    file.persist(&path).map_err(|error| failed(error.error))?;
    println!(
        "The owner's key is in {}, which only you can read: keep it, and remove the file.",
        path.display()
    );
    Ok(())
}
