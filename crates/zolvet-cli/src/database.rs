//! `zolvet backup` and `zolvet verify`.

use std::path::PathBuf;

use zolvet_core::model::Project;

use crate::error::CliError;
use crate::files::print;

#[derive(clap::Args)]
#[command(after_help = "Example:
  zolvet backup --db zolvet.db zolvet-$(date +%F).db")]
pub struct BackupArguments {
    /// The database file.
    #[arg(long, default_value = "zolvet.db")]
    db: PathBuf,
    /// Where the copy goes; a file that is there is replaced once the copy is whole.
    out: PathBuf,
}

#[derive(clap::Args)]
#[command(after_help = "Example:
  zolvet verify --db zolvet-2026-11-29.db")]
pub struct VerifyArguments {
    /// The database file, or a copy of one.
    #[arg(long, default_value = "zolvet.db")]
    db: PathBuf,
}

/// Copies a database.
///
/// # Errors
/// When it cannot be read, or the copy cannot be written.
pub fn backup(arguments: &BackupArguments) -> Result<(), CliError> {
    let copied = zolvet_store::backup(&arguments.db, &arguments.out);
    let failed = |source| CliError::Database { path: arguments.db.clone(), source };
    actix_web::rt::System::new().block_on(copied).map_err(failed)
}

/// Looks a database over; true when something is wrong with it.
///
/// # Errors
/// When it cannot be opened.
pub fn verify(arguments: &VerifyArguments) -> Result<bool, CliError> {
    let wrong = |text: &str| {
        let problems = Project::from_json(text).err()?;
        Some(problems.first().map(ToString::to_string).unwrap_or_default())
    };
    let failed = |source| CliError::Database { path: arguments.db.clone(), source };
    let looked = zolvet_store::verify(&arguments.db, wrong);
    let found = actix_web::rt::System::new().block_on(looked).map_err(failed)?;
    let mut text = format!(
        "{} projects, {} revisions, {} uploaded files, {} links: ",
        found.projects, found.revisions, found.assets, found.links
    );
    if found.problems.is_empty() {
        text.push_str("all whole.\n");
    } else {
        text.push_str("something is wrong.\n");
    }
    for problem in &found.problems {
        text.push_str(problem);
        text.push('\n');
    }
    print(text.as_bytes())?;
    Ok(!found.problems.is_empty())
}
