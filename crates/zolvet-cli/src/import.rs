//! `zolvet import`.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use clap::ValueEnum;
use serde_json::{Value, json};
use zolvet_core::import::{Diagnostic, DiagnosticKind, Incoming};
use zolvet_core::incoming::{IncomingFile, IncomingFormat, IncomingSettings};
use zolvet_core::limits;
use zolvet_core::model::Project;
use zolvet_core::svg::NO_FILTER;
use zolvet_host::Task;
use zolvet_queries::QueryError;

use crate::blank::{blank, name_of};
use crate::drawings::IncomingDrawing;
use crate::error::{CliError, read_document};
use crate::files::{print, read_bytes, write_whole};
use crate::run_in_helper::run_in_helper;

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet import site.css --into project.zolvet.json
  zolvet import base.css theme.css --into project.zolvet.json --set --accent=#2f7d6b
  zolvet import mock-up.svg --into project.zolvet.json
  zolvet import tokens/*.json --format tokens --into project.zolvet.json --strict
  cat icons.svg | zolvet import - --format svg --into project.zolvet.json --dry-run --report json")]
pub struct Arguments {
    /// Files, or - for standard input. Several are read as one: sheets in this order, tokens as one set.
    #[arg(required = true)]
    files: Vec<PathBuf>,
    /// Their format; by their endings when left out.
    #[arg(long, value_enum)]
    format: Option<Format>,
    /// The project file it goes into, made where it is not there; it is written whole or not at all.
    #[arg(long, required_unless_present = "dry_run")]
    into: Option<PathBuf>,
    /// The font size in px that browsers are set to.
    #[arg(long, default_value_t = 16.0)]
    root_font_size: f64,
    /// A custom property that the sheets do not set, such as --accent=#2f7d6b.
    #[arg(long, value_name = "--NAME=VALUE", allow_hyphen_values = true)]
    set: Vec<String>,
    /// Keep every name of a look, not only the first.
    #[arg(long)]
    every_name: bool,
    /// How the report is written.
    #[arg(long, value_enum, default_value_t = Report::Text)]
    report: Report,
    /// Only report; write nothing.
    #[arg(long)]
    dry_run: bool,
    /// Exit with 1, and write nothing, when something was dropped.
    #[arg(long)]
    strict: bool,
    /// Report nothing.
    #[arg(long, conflicts_with = "report")]
    quiet: bool,
}

#[derive(Clone, Copy, PartialEq, ValueEnum)]
enum Format {
    Css,
    Tokens,
    /// An SVG file as a drawing in a scene of its own, and its filters as finishes.
    Svg,
    /// The finishes of another project.
    Json,
}

#[derive(Clone, Copy, PartialEq, ValueEnum)]
enum Report {
    Text,
    Json,
}

/// Whether something was dropped that should not have been.
pub fn run(arguments: &Arguments) -> Result<bool, CliError> {
    let format = format(arguments)?;
    let files = arguments.files.iter().map(|path| file(path)).collect::<Result<Vec<_>, _>>()?;
    let mut document = match &arguments.into {
        Some(path) if path == Path::new("-") || path.exists() => read_document(path)?.1,
        Some(path) => blank(&name_of(path)),
        None => blank("New"),
    };
    let settings = settings(arguments, format)?;
    let request =
        json!({"project": document, "format": format.incoming(), "files": files, "settings": settings});
    let mut incoming = read_by_helper(&request).map_err(|error| refused(error, format, arguments))?;
    let drawings: Vec<IncomingDrawing> = if format == Format::Svg {
        arguments
            .files
            .iter()
            .zip(&files)
            .filter_map(|(path, file)| IncomingDrawing::read(path, &file.text))
            .collect()
    } else {
        Vec::new()
    };
    if !drawings.is_empty() {
        incoming.diagnostics.retain(|one| one.message != NO_FILTER);
    }
    let dropped = incoming.diagnostics.iter().any(|one| one.kind == DiagnosticKind::Dropped);
    let stops = arguments.strict && dropped;
    let mut report = match arguments.report {
        _ if arguments.quiet => String::new(),
        Report::Json => json_report(&incoming, arguments, stops)?,
        Report::Text => text_report(&incoming, arguments, stops),
    };
    if let Some(into) = arguments.into.as_ref().filter(|_| !arguments.dry_run && !stops) {
        incoming.put_into(&mut document);
        drawings.iter().for_each(|drawing| drawing.put_into(&mut document));
        write_whole(into, &checked(&document, into)?)?;
    }
    if !arguments.quiet && arguments.report == Report::Text {
        for IncomingDrawing { name, elements, .. } in &drawings {
            let _ = writeln!(report, "drawing {name}: elements that can be taken out: {elements}");
        }
    }
    // Last, so that nobody who stops listening keeps the project from being written.
    print(report.as_bytes())?;
    Ok(stops)
}

/// The content of files for a project, read in a process of their own as the service reads them.
fn read_by_helper(request: &Value) -> Result<Incoming, QueryError> {
    let mut incoming = run_in_helper(Task::Import, request)?;
    // What stands at one place only is written without the list of further places.
    for diagnostic in incoming["diagnostics"].as_array_mut().into_iter().flatten() {
        if let Some(diagnostic) = diagnostic.as_object_mut() {
            diagnostic.entry("places").or_insert_with(|| json!([]));
        }
    }
    serde_json::from_value(incoming)
        .map_err(|error| QueryError::Cannot(format!("the files could not be read: {error}")))
}

/// The bytes of a document that can be opened again.
fn checked(document: &serde_json::Value, path: &Path) -> Result<Vec<u8>, CliError> {
    let wrong = |problems| CliError::Document { path: path.to_owned(), problems };
    Project::from_value(document).map_err(wrong)?;
    let mut bytes = serde_json::to_vec_pretty(document).map_err(CliError::Json)?;
    bytes.push(b'\n');
    if bytes.len() > limits::DOCUMENT_BYTES {
        let mb = bytes.len() as f64 / f64::from(1 << 20);
        return Err(CliError::Argument(format!(
            "{}: expected a project of at most 8 MB, with what was read it has {mb:.1} MB: nothing was written",
            path.display()
        )));
    }
    Ok(bytes)
}

impl Format {
    fn incoming(self) -> IncomingFormat {
        match self {
            Self::Css => IncomingFormat::Css,
            Self::Tokens => IncomingFormat::Tokens,
            Self::Svg => IncomingFormat::Svg,
            Self::Json => IncomingFormat::Json,
        }
    }

    fn from_file_name(path: &Path) -> Option<Self> {
        let name = path.file_name()?.to_str()?.to_ascii_lowercase();
        let ends = |endings: &[&str]| endings.iter().any(|ending| name.ends_with(ending));
        if ends(&[".css"]) {
            Some(Self::Css)
        } else if ends(&[".svg", ".svgz"]) {
            Some(Self::Svg)
        } else if ends(&[".zolvet.json"]) {
            Some(Self::Json)
        } else if ends(&[".json", ".jsonc", ".tokens"]) {
            Some(Self::Tokens)
        } else {
            None
        }
    }
}

/// The format that is given, or that all endings agree on.
fn format(arguments: &Arguments) -> Result<Format, CliError> {
    if let Some(format) = arguments.format {
        return Ok(format);
    }
    let mut found = None;
    for path in &arguments.files {
        let own = Format::from_file_name(path).ok_or_else(|| {
            CliError::Argument(format!(
                "{}: its name does not say what it is: --format is needed",
                path.display()
            ))
        })?;
        if found.is_some_and(|found| found != own) {
            return Err(CliError::Argument("expected files of one kind, found several".to_owned()));
        }
        found = Some(own);
    }
    found.ok_or_else(|| CliError::Argument("a file is needed".to_owned()))
}

fn file(path: &Path) -> Result<IncomingFile, CliError> {
    let text = String::from_utf8(read_bytes(path)?).map_err(|error| {
        let at = error.utf8_error().valid_up_to();
        CliError::Argument(format!("{}: expected UTF-8 text, found another byte at {at}", path.display()))
    })?;
    Ok(IncomingFile { name: path.display().to_string(), text })
}

fn settings(arguments: &Arguments, format: Format) -> Result<IncomingSettings, CliError> {
    if format != Format::Css && (!arguments.set.is_empty() || arguments.root_font_size != 16.0) {
        return Err(CliError::Argument("--set and --root-font-size are for style sheets".to_owned()));
    }
    if !(1.0..=200.0).contains(&arguments.root_font_size) {
        let found = arguments.root_font_size;
        return Err(CliError::Argument(format!("--root-font-size: expected 1 to 200 px, found {found}")));
    }
    let mut set = BTreeMap::new();
    for one in &arguments.set {
        let (name, value) = one
            .split_once('=')
            .filter(|(name, _)| name.starts_with("--"))
            .ok_or_else(|| CliError::Argument(format!("--set: expected --NAME=VALUE, found {one}")))?;
        set.insert(name.to_owned(), value.to_owned());
    }
    Ok(IncomingSettings {
        root_font_size: Some(arguments.root_font_size),
        set,
        by_look: !arguments.every_name,
    })
}

fn refused(error: QueryError, format: Format, arguments: &Arguments) -> CliError {
    let path = arguments.files.first().cloned().unwrap_or_default();
    match error {
        QueryError::Invalid(problems) if format == Format::Json => CliError::Document { path, problems },
        // The first place follows the path.
        QueryError::Invalid(_) => CliError::Argument(format!("{}:{error}", path.display())),
        QueryError::TooMuch(reason) => CliError::Argument(format!("{}: {reason}", path.display())),
        other => CliError::Argument(format!("{}: {other}", path.display())),
    }
}

/// The parts of the files that were understood, and the outcome for the rest.
fn text_report(incoming: &Incoming, arguments: &Arguments, stops: bool) -> String {
    let mut text = String::new();
    for finish in &incoming.finishes {
        let coats: Vec<_> = finish.coats.iter().map(|coat| coat.kind.name()).collect();
        let states: String = finish.states.keys().map(|state| format!("; {}", state.name())).collect();
        let uses = incoming
            .uses
            .get(&finish.id)
            .map_or_else(String::new, |uses| format!(" ({})", count_text(*uses, "rule", "rules")));
        let _ = writeln!(text, "understood    {}: {}{states}{uses}", finish.name, coats.join(", "));
    }
    for swatch in &incoming.swatches {
        let _ = writeln!(text, "understood    {} (a colour)", swatch.name);
    }
    for one in &incoming.diagnostics {
        let more = one.count.saturating_sub(1 + one.places.len());
        let others = if more > 0 { format!(" and {more} more") } else { String::new() };
        let places = std::iter::once(&one.place).chain(&one.places).cloned().collect::<Vec<_>>().join(", ");
        let _ = writeln!(text, "{:13} {places}{others}: {}", kind(one), one.message);
    }
    for (name, uses) in &incoming.asked {
        let times = count_text(*uses, "time", "times");
        let _ = writeln!(text, "missing       {name}, {times}: give it with --set {name}=…");
    }
    let brought = format!(
        "{} and {}",
        count_text(incoming.finishes.len(), "finish", "finishes"),
        count_text(incoming.swatches.len(), "swatch", "swatches")
    );
    let into =
        arguments.into.as_ref().map_or_else(|| "a project".to_owned(), |path| path.display().to_string());
    let _ = match (stops, arguments.dry_run) {
        (true, _) => writeln!(text, "something was dropped: {into} is as it was"),
        (false, true) => writeln!(text, "{brought} would be added to {into}"),
        (false, false) => writeln!(text, "{brought} added to {into}"),
    };
    text
}

fn count_text(count: usize, one: &str, several: &str) -> String {
    format!("{count} {}", if count == 1 { one } else { several })
}

fn kind(one: &Diagnostic) -> &'static str {
    match one.kind {
        DiagnosticKind::Approximated => "approximated",
        DiagnosticKind::Dropped => "dropped",
    }
}

fn json_report(incoming: &Incoming, arguments: &Arguments, stops: bool) -> Result<String, CliError> {
    let mut report = serde_json::to_value(incoming).map_err(CliError::Json)?;
    report["written"] = json!(!stops && !arguments.dry_run);
    let mut text = serde_json::to_string_pretty(&report).map_err(CliError::Json)?;
    text.push('\n');
    Ok(text)
}
