//! `zolvet export`.

use std::path::{Path, PathBuf};

use clap::ValueEnum;
use serde_json::Value;
use zolvet_core::asset::Assets;
use zolvet_core::budget::Budget;
use zolvet_core::handoff::{self, Forms, Pieces, SheetOptions, Style, bundle};
use zolvet_core::lower::Numbers;
use zolvet_core::model::{Id, Prefix, Project};
use zolvet_core::svg::Backdrops;
use zolvet_core::tokens::TokenForm;

use crate::error::{CliError, read_document};

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet export project.zolvet.json --out depth.css
  zolvet export project.zolvet.json --format tokens --theme Dusk --out dusk.tokens.json
  zolvet export project.zolvet.json --format svg --scene 'Kiosk panel' | less
  zolvet export project.zolvet.json --out handoff.zip")]
pub struct Arguments {
    /// A project file, or - for standard input.
    project: PathBuf,
    /// The format to write; by the ending of --out, else CSS.
    #[arg(long, value_enum)]
    format: Option<Format>,
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
    /// Write the pieces of scenes too, not the library alone.
    #[arg(long)]
    scenes: bool,
    /// Write the pieces of scenes with their size, type and fill, not only their depth.
    #[arg(long)]
    whole_pieces: bool,
    /// Put everything into a cascade layer of this name.
    #[arg(long, value_parser = layer)]
    layer: Option<Prefix>,
    /// Register the angles of lights, so that they can be animated.
    #[arg(long)]
    register_lights: bool,
    /// Write colours that alone differ between a light and a dark theme with light-dark().
    #[arg(long)]
    light_dark: bool,
    /// Write plain values before living ones, for browsers without relative colours.
    #[arg(long)]
    older_colours: bool,
    /// Write a CSS module: classes are local to it.
    #[arg(long)]
    module: bool,
    /// Write tokens of all themes in one file, as modes of the resolver module, instead of those of one theme.
    #[arg(long)]
    modes: bool,
    /// Write colours and dimensions of tokens as text, as earlier drafts of the format had them.
    #[arg(long)]
    token_strings: bool,
    /// Draw the blurred backdrop of a piece into an SVG, as a picture.
    #[arg(long)]
    draw_backdrops: bool,
    /// Where to; standard output when left out or -.
    #[arg(long)]
    out: Option<PathBuf>,
}

#[derive(Clone, Copy, PartialEq, ValueEnum)]
enum Format {
    Css,
    Scss,
    /// A utility class for each finish, as an `@utility`.
    Theme,
    Tokens,
    Svg,
    Json,
    /// Everything, as an archive with a page to look at.
    Zip,
}

#[derive(Clone, Copy, PartialEq, ValueEnum)]
enum Written {
    /// The fewest decimals that draw the same picture in 8 bits.
    Fewest,
    Exact,
    TwoDecimals,
    Whole,
}

#[derive(Clone, Copy, PartialEq, ValueEnum)]
enum Linked {
    /// As custom properties, from which the browser computes offsets and colours.
    Living,
    /// As plain values, for old browsers and other programs.
    Flat,
}

fn layer(text: &str) -> Result<Prefix, String> {
    Prefix::new(text)
}

pub fn run(arguments: &Arguments) -> Result<(), CliError> {
    let (project, document) = read_document(&arguments.project)?;
    let format = format(arguments)?;
    without_effect(arguments, format)?;
    let bytes = Budget::default().run(|| write_export(arguments, format, &project, &document))??;
    crate::files::write_whole(arguments.out.as_deref().unwrap_or(Path::new("-")), &bytes)
}

/// The format that is given, or that the ending of the file says.
fn format(arguments: &Arguments) -> Result<Format, CliError> {
    let by_name = arguments.out.as_deref().map_or(Some(Format::Css), format_of_file);
    arguments.format.or(by_name).ok_or_else(|| {
        let path = arguments.out.as_deref().unwrap_or(Path::new("-")).display();
        CliError::Argument(format!("{path}: its name does not say what to write: --format is needed"))
    })
}

fn format_of_file(path: &Path) -> Option<Format> {
    let name = path.file_name()?.to_str()?.to_ascii_lowercase();
    let endings = [
        (".css", Format::Css),
        (".scss", Format::Scss),
        (".tokens.json", Format::Tokens),
        (".resolver.json", Format::Tokens),
        (".zolvet.json", Format::Json),
        (".svg", Format::Svg),
        (".zip", Format::Zip),
    ];
    let found = endings.iter().find(|(ending, _)| name.ends_with(ending)).map(|(_, format)| *format);
    found.or((name == "-").then_some(Format::Css))
}

/// Refuses options that change nothing of a format.
fn without_effect(arguments: &Arguments, format: Format) -> Result<(), CliError> {
    use Format::{Css, Scss, Svg, Theme, Tokens, Zip};
    let sheets: &[Format] = &[Css, Scss, Theme, Zip];
    let options: [(&str, bool, &[Format]); 15] = [
        ("--finish", arguments.finish.is_some(), &[Css, Scss, Theme, Tokens]),
        ("--theme", arguments.theme.is_some(), &[Css, Scss, Theme, Tokens]),
        ("--scene", arguments.scene.is_some(), &[Svg]),
        ("--numbers", arguments.numbers != Written::Fewest, &[Css, Scss, Theme, Tokens, Svg, Zip]),
        ("--style", arguments.style != Linked::Living, sheets),
        ("--all-forms", arguments.all_forms, sheets),
        ("--scenes", arguments.scenes, &[Css, Zip]),
        ("--layer", arguments.layer.is_some(), &[Css, Zip]),
        ("--register-lights", arguments.register_lights, sheets),
        ("--light-dark", arguments.light_dark, sheets),
        ("--older-colours", arguments.older_colours, &[Css, Zip]),
        ("--module", arguments.module, &[Css]),
        ("--whole-pieces", arguments.whole_pieces, &[Css, Zip]),
        ("--modes", arguments.modes, &[Tokens]),
        ("--token-strings", arguments.token_strings, &[Tokens, Zip]),
    ];
    let pictures = ("--draw-backdrops", arguments.draw_backdrops, [Svg, Zip].as_slice());
    let idle =
        options.iter().chain([&pictures]).find(|(_, given, formats)| *given && !formats.contains(&format));
    let value = format.to_possible_value();
    let name = value.as_ref().map_or("this format", |value| value.get_name());
    match idle {
        Some((option, ..)) => Err(CliError::Argument(format!("{option} changes nothing of {name}"))),
        None => Ok(()),
    }
}

fn options(arguments: &Arguments, project: &Project) -> Result<SheetOptions, CliError> {
    Ok(SheetOptions {
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
        scenes: arguments.scenes || arguments.whole_pieces,
        layer: arguments.layer.clone(),
        register_lights: arguments.register_lights,
        light_dark: arguments.light_dark,
        older_colours: arguments.older_colours,
        module: arguments.module,
        pieces: if arguments.whole_pieces { Pieces::Whole } else { Pieces::Depth },
        token_form: if arguments.token_strings { TokenForm::Strings } else { TokenForm::Objects },
        modes: arguments.modes,
        backdrops: if arguments.draw_backdrops { Backdrops::Pictures } else { Backdrops::LeftOut },
    })
}

fn write_export(
    arguments: &Arguments,
    format: Format,
    project: &Project,
    document: &Value,
) -> Result<Vec<u8>, CliError> {
    let assets = Assets::carried_by(project);
    let wanted = options(arguments, project)?;
    if let Some(scene) = &arguments.scene
        && project.scene(scene).is_none()
    {
        return Err(CliError::Argument(format!("--scene: no scene \"{scene}\" in the project")));
    }
    let format = match format {
        Format::Css => handoff::Format::Css,
        Format::Scss => handoff::Format::Scss,
        Format::Theme => handoff::Format::Theme,
        Format::Tokens => handoff::Format::Tokens,
        Format::Svg => {
            let drawn = handoff::drawing(project, &assets, arguments.scene.as_deref(), &wanted);
            for note in &drawn.notes {
                crate::note!("{}", note.message);
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
            return zolvet_host::zip(&files).map_err(|error| CliError::Output(std::io::Error::other(error)));
        }
    };
    if matches!(format, handoff::Format::Css | handoff::Format::Scss | handoff::Format::Theme) {
        for line in handoff::omissions(project, &assets, &wanted) {
            crate::note!("{line}");
        }
    }
    if format == handoff::Format::Tokens {
        for line in handoff::token_omissions(project, &wanted) {
            crate::note!("{line}");
        }
    }
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
