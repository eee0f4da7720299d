//! `zolvet export`.

use std::io::Write as _;
use std::path::PathBuf;

use clap::ValueEnum;
use serde_json::Value;
use zolvet_core::asset::Assets;
use zolvet_core::budget::Budget;
use zolvet_core::handoff::{self, Forms, Pieces, SheetOptions, Style, bundle};
use zolvet_core::lower::Numbers;
use zolvet_core::model::{Id, Project};
use zolvet_core::svg::Backdrops;
use zolvet_core::tokens::TokenForm;

use crate::error::{CliError, read_document};

#[derive(clap::Args)]
pub struct Arguments {
    /// A project file.
    project: PathBuf,
    /// What to write.
    #[arg(long, value_enum, default_value_t = Format::Css)]
    format: Format,
    /// Only the finish of this name or id.
    #[arg(long)]
    finish: Option<String>,
    /// Only under the theme of this name or id; tokens are written under the first theme otherwise.
    #[arg(long)]
    theme: Option<String>,
    /// The scene that an SVG shows; the first otherwise.
    #[arg(long)]
    scene: Option<String>,
    /// How numbers are written.
    #[arg(long, value_enum, default_value_t = Written::Fewest)]
    numbers: Written,
    /// Whether lights, swatches, own fills and grounds stay linked in CSS.
    #[arg(long, value_enum, default_value_t = Linked::Living)]
    style: Linked,
    /// Write finishes for boxes, text and icons, not only for the kinds of pieces that wear them.
    #[arg(long)]
    all_forms: bool,
    /// Write pieces with their size, type and fill, not only their depth.
    #[arg(long)]
    whole_pieces: bool,
    /// Write tokens of all themes in one file, as modes of the resolver module, instead of those of one theme.
    #[arg(long)]
    modes: bool,
    /// Write colours and dimensions of tokens as text, as earlier drafts of the format had them.
    #[arg(long)]
    token_strings: bool,
    /// Draw what lies blurred behind a piece into an SVG, as a picture.
    #[arg(long)]
    draw_backdrops: bool,
    /// Where to; standard output when left out.
    #[arg(long)]
    out: Option<PathBuf>,
}

#[derive(Clone, Copy, ValueEnum)]
enum Format {
    Css,
    Scss,
    /// The values of utility classes, in an `@theme` block
    Theme,
    Tokens,
    Svg,
    Json,
    /// Everything, as an archive with a page to look at.
    Zip,
}

#[derive(Clone, Copy, ValueEnum)]
enum Written {
    /// The fewest decimals that draw the same picture in 8 bits.
    Fewest,
    Exact,
    TwoDecimals,
    Whole,
}

#[derive(Clone, Copy, ValueEnum)]
enum Linked {
    /// As custom properties, from which the browser computes offsets and colours.
    Living,
    /// As plain values, for old browsers and other programs.
    Flat,
}

pub fn run(arguments: &Arguments) -> Result<(), CliError> {
    let (project, document) = read_document(&arguments.project)?;
    let bytes = Budget::default().run(|| written(arguments, &project, &document))??;
    match &arguments.out {
        Some(path) => crate::files::write_whole(path, &bytes),
        None => std::io::stdout().write_all(&bytes).map_err(CliError::Output),
    }
}

fn written(arguments: &Arguments, project: &Project, document: &Value) -> Result<Vec<u8>, CliError> {
    let assets = Assets::carried_by(project);
    let wanted = SheetOptions {
        finish: arguments.finish.as_deref().map(|name| find_finish(project, name)).transpose()?,
        theme: arguments.theme.as_deref().map(|name| find_theme(project, name)).transpose()?,
        numbers: match arguments.numbers {
            Written::Fewest => Numbers::Fewest,
            Written::Exact => Numbers::Exact,
            Written::TwoDecimals => Numbers::TwoDecimals,
            Written::Whole => Numbers::Whole,
        },
        style: match arguments.style {
            Linked::Living => Style::Living,
            Linked::Flat => Style::Flat,
        },
        forms: if arguments.all_forms { Forms::All } else { Forms::Worn },
        pieces: if arguments.whole_pieces { Pieces::Whole } else { Pieces::Depth },
        token_form: if arguments.token_strings { TokenForm::Strings } else { TokenForm::Objects },
        modes: arguments.modes,
        backdrops: if arguments.draw_backdrops { Backdrops::Pictures } else { Backdrops::LeftOut },
    };
    if let Some(scene) = &arguments.scene
        && project.scene(scene).is_none()
    {
        return Err(CliError::Argument(format!("--scene: no scene \"{scene}\" in the project")));
    }
    let format = match arguments.format {
        Format::Css => handoff::Format::Css,
        Format::Scss => handoff::Format::Scss,
        Format::Theme => handoff::Format::Theme,
        Format::Tokens => handoff::Format::Tokens,
        Format::Svg => {
            let drawn = handoff::drawing(project, &assets, arguments.scene.as_deref(), &wanted);
            for note in &drawn.notes {
                eprintln!("{}", note.message);
            }
            return Ok(drawn.svg.into_bytes());
        }
        // The document as it is: fields that are not understood stay.
        Format::Json => {
            let mut text = serde_json::to_vec_pretty(document).map_err(CliError::Json)?;
            text.push(b'\n');
            return Ok(text);
        }
        Format::Zip => {
            let files = bundle(project, document, &assets, &wanted);
            return zolvet_server::zipped(&files)
                .map_err(|error| CliError::Output(std::io::Error::other(error)));
        }
    };
    let scene = arguments.scene.as_deref();
    Ok(handoff::export(project, &assets, format, scene, &wanted).into_bytes())
}

fn find_finish(project: &Project, name: &str) -> Result<Id, CliError> {
    let found = project.finishes.iter().find(|finish| finish.name == name || finish.id.as_str() == name);
    let found =
        found.ok_or_else(|| CliError::Argument(format!("--finish: no finish \"{name}\" in the project")))?;
    Ok(found.id.clone())
}

fn find_theme(project: &Project, name: &str) -> Result<Id, CliError> {
    let found = project.themes.iter().find(|theme| theme.name == name || theme.id.as_str() == name);
    let found =
        found.ok_or_else(|| CliError::Argument(format!("--theme: no theme \"{name}\" in the project")))?;
    Ok(found.id.clone())
}
