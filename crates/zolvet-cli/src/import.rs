//! `zolvet import`.

use std::io::Read as _;
use std::path::{Path, PathBuf};

use clap::ValueEnum;
use zolvet_core::budget::Budget;
use zolvet_core::import::{DiagnosticKind, Incoming};
use zolvet_core::incoming::{self, IncomingError, IncomingFormat};
use zolvet_core::model::Project;

use crate::error::{CliError, read_document};
use crate::files::write_whole;

#[derive(clap::Args)]
pub struct Arguments {
    /// A file, or - for standard input.
    file: PathBuf,
    /// What it is.
    #[arg(long, value_enum)]
    format: Format,
    /// The project file it goes into; it is written whole or not at all.
    #[arg(long)]
    into: PathBuf,
}

#[derive(Clone, Copy, ValueEnum)]
enum Format {
    Css,
    Tokens,
    /// The filters of an SVG file.
    Svg,
    /// The finishes of another project.
    Json,
}

pub fn run(arguments: &Arguments) -> Result<(), CliError> {
    let text = read_text(&arguments.file)?;
    let (project, mut document) = read_document(&arguments.into)?;
    let read = || Ok::<_, CliError>(read(&text, arguments)?.fitted_to(&project));
    let incoming = Budget::default().run(read)??;
    report(&incoming);
    let (finishes, swatches) = (incoming.finishes.len(), incoming.swatches.len());
    incoming.put_into(&mut document);
    // What would not be a project is not written.
    Project::from_value(&document)
        .map_err(|problems| CliError::Document { path: arguments.into.clone(), problems })?;
    let mut bytes = serde_json::to_vec_pretty(&document).map_err(CliError::Json)?;
    bytes.push(b'\n');
    write_whole(&arguments.into, &bytes)?;
    println!("{finishes} finishes and {swatches} swatches are now in {}", arguments.into.display());
    Ok(())
}

fn read_text(path: &Path) -> Result<String, CliError> {
    let mut text = String::new();
    let read = if path == Path::new("-") {
        std::io::stdin().read_to_string(&mut text).map(|_| text)
    } else {
        std::fs::read_to_string(path)
    };
    read.map_err(|source| CliError::File { path: path.to_owned(), source })
}

fn read(text: &str, arguments: &Arguments) -> Result<Incoming, CliError> {
    let format = match arguments.format {
        Format::Css => IncomingFormat::Css,
        Format::Tokens => IncomingFormat::Tokens,
        Format::Svg => IncomingFormat::Svg,
        Format::Json => IncomingFormat::Json,
    };
    incoming::read(format, text).map_err(|error| match error {
        IncomingError::At { place, message } => {
            CliError::Argument(format!("{}:{place}: {message}", arguments.file.display()))
        }
        IncomingError::Document(problems) => CliError::Document { path: arguments.file.clone(), problems },
    })
}

/// What was understood, and what became of the rest.
fn report(incoming: &Incoming) {
    for finish in &incoming.finishes {
        let coats: Vec<_> = finish.coats.iter().map(|coat| coat.kind.name()).collect();
        println!("understood    {}: {}", finish.name, coats.join(", "));
    }
    for swatch in &incoming.swatches {
        println!("understood    {} (a colour)", swatch.name);
    }
    for diagnostic in &incoming.diagnostics {
        let what = match diagnostic.kind {
            DiagnosticKind::Approximated => "approximated",
            DiagnosticKind::Dropped => "dropped",
        };
        println!("{what:13} {}: {}", diagnostic.place, diagnostic.message);
    }
}
