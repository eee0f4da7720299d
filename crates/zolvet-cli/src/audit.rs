//! `zolvet audit`.

use std::path::PathBuf;

use clap::ValueEnum;
use serde::Deserialize;
use zolvet_core::asset::Assets;
use zolvet_core::audit::{Audit, Finding, Limits, Severity, audit};
use zolvet_core::compose::MaskCache;
use zolvet_core::model::Accepted;

use crate::error::{CliError, read_document};

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet audit project.zolvet.json
  zolvet audit project.zolvet.json --format json --settings audit.json")]
pub struct Arguments {
    /// A project file.
    project: PathBuf,
    /// How findings are written.
    #[arg(long, value_enum, default_value_t = Format::Text)]
    format: Format,
    /// A JSON file with `limits` and `accepted` findings, besides those the project accepts itself.
    #[arg(long)]
    settings: Option<PathBuf>,
}

#[derive(Clone, Copy, ValueEnum)]
enum Format {
    Text,
    Json,
}

#[derive(Default, Deserialize)]
#[serde(default, deny_unknown_fields)]
struct Settings {
    limits: Limits,
    accepted: Vec<Accepted>,
}

/// Whether a finding that is not accepted is an error.
pub fn run(arguments: &Arguments) -> Result<bool, CliError> {
    let (mut project, _) = read_document(&arguments.project)?;
    let settings = settings(arguments)?;
    project.accepted.extend(settings.accepted);
    let (assets, cache) = (Assets::carried_by(&project), MaskCache::default());
    let found = audit(&project, &assets, &settings.limits, &cache, &mut |_, _| true).unwrap_or_default();
    match arguments.format {
        Format::Json => println!("{}", serde_json::to_string_pretty(&found).map_err(CliError::Json)?),
        Format::Text => print!("{}", text(&found)),
    }
    Ok(found.findings.iter().any(|finding| finding.severity == Severity::Error && finding.accepted.is_none()))
}

fn settings(arguments: &Arguments) -> Result<Settings, CliError> {
    let Some(path) = &arguments.settings else { return Ok(Settings::default()) };
    let text =
        std::fs::read_to_string(path).map_err(|source| CliError::File { path: path.clone(), source })?;
    serde_json::from_str(&text).map_err(|error| CliError::Argument(format!("{}: {error}", path.display())))
}

fn text(audit: &Audit) -> String {
    let mut text: String = audit.findings.iter().map(finding_text).collect();
    let accepted = audit.findings.iter().filter(|finding| finding.accepted.is_some()).count();
    let open = audit.findings.len() - accepted;
    text.push_str(&format!("{open} findings, {accepted} accepted\n"));
    text
}

fn finding_text(finding: &Finding) -> String {
    let severity = match (finding.accepted.is_some(), finding.severity) {
        (true, _) => "accepted",
        (_, Severity::Error) => "error",
        (_, Severity::Warning) => "warning",
        (_, Severity::Hint) => "hint",
    };
    let fix = finding.fix.as_ref().map_or_else(String::new, |fix| format!("          fix: {}\n", fix.title));
    format!(
        "{severity:9} {}: {}\n          {}\n{fix}          {}\n",
        finding.place.name, finding.message, finding.why, finding.key
    )
}
