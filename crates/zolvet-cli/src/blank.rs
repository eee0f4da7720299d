//! `zolvet new`, and the project that an import begins where there is none.

use std::path::{Path, PathBuf};

use serde_json::{Value, json};
use zolvet_core::model::{Prefix, Project};

use crate::error::CliError;
use crate::files::{print, write_whole};

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet new project.zolvet.json
  zolvet new kiosk.zolvet.json --name 'Field kiosk'
  zolvet new tour.zolvet.json --demo")]
pub struct Arguments {
    /// The project file to make; one that is there is left as it is.
    out: PathBuf,
    /// The name of the project; after its file when left out.
    #[arg(long, conflicts_with = "demo")]
    name: Option<String>,
    /// The demo project instead of one with nothing in it.
    #[arg(long)]
    demo: bool,
}

pub fn run(arguments: &Arguments) -> Result<(), CliError> {
    let path = &arguments.out;
    if path != Path::new("-") && path.symlink_metadata().is_ok() {
        return Err(CliError::Argument(format!(
            "{}: it is there already: it is left as it is",
            path.display()
        )));
    }
    let document = if arguments.demo {
        serde_json::from_str(zolvet_host::DEMO).map_err(CliError::Json)?
    } else {
        blank(&arguments.name.clone().unwrap_or_else(|| name_of(path)))
    };
    let wrong = |problems| CliError::Document { path: path.clone(), problems };
    Project::from_value(&document).map_err(wrong)?;
    let mut bytes = serde_json::to_vec_pretty(&document).map_err(CliError::Json)?;
    bytes.push(b'\n');
    write_whole(path, &bytes)?;
    match path == Path::new("-") {
        true => Ok(()),
        false => print(format!("{} is a project now\n", path.display()).as_bytes()),
    }
}

/// A project with a light and a dark theme and nothing else.
pub fn blank(name: &str) -> Value {
    json!({
        "schema": 3,
        "name": name,
        "prefix": Prefix::proposed(name).as_str(),
        "themes": [
            {"id": "light", "name": "Light", "scheme": "light"},
            {"id": "dark", "name": "Dark", "scheme": "dark"},
        ],
        "scale": [],
        "scenes": [],
    })
}

/// The name of a project after its file: `field-kiosk.zolvet.json` is "Field kiosk".
pub fn name_of(path: &Path) -> String {
    let file = path.file_name().map(|name| name.to_string_lossy().into_owned()).unwrap_or_default();
    let stem = file.split('.').next().unwrap_or_default().replace(['-', '_'], " ");
    let mut letters = stem.trim().chars().take(60);
    match letters.next() {
        Some(first) => first.to_uppercase().chain(letters).collect(),
        None => "New".to_owned(),
    }
}
