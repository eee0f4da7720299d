//! `zolvet render`.

use std::path::PathBuf;
use std::time::Instant;

use clap::ValueEnum;
use zolvet_core::asset::Assets;
use zolvet_core::budget::Budget;
use zolvet_core::chromium::shown_as_css;
use zolvet_core::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use zolvet_core::css::Specimen;
use zolvet_core::model::{CssColour, Id, Project};
use zolvet_core::resolve;

use crate::error::{CliError, read_project};
use crate::files::{print, write_whole};

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet render project.zolvet.json --scene 'Kiosk panel' --scale 2 --out kiosk.png
  zolvet render project.zolvet.json --piece 'Open valve box' --part shadow --out valve.png
  zolvet render --css 'box-shadow: 0 6px 10px #0006' --piece 240x160 --radius 16 --out card.png")]
pub struct Arguments {
    /// A project file; left out with --css.
    #[arg(required_unless_present = "css", conflicts_with = "css")]
    project: Option<PathBuf>,
    /// The name of a scene; the first when left out.
    #[arg(long, conflicts_with = "css")]
    scene: Option<String>,
    /// Only the piece of this name; with --css, WIDTHxHEIGHT of the specimen.
    #[arg(long)]
    piece: Option<String>,
    /// The parts to draw: everything, or the coats alone on transparency.
    #[arg(long, value_enum, default_value_t = Shown::All)]
    part: Shown,
    /// As browsers draw shadows: each layer rounded to 8 bits by itself, none softer than they can.
    #[arg(long)]
    as_browser: bool,
    /// Round to 8 bits with seeded noise, against bands in wide faint shadows.
    #[arg(long)]
    dither: bool,
    /// Device pixels for one CSS px.
    #[arg(long, default_value_t = 1.0)]
    scale: f64,
    /// Declarations separated by `;`, worn by a specimen.
    #[arg(long)]
    css: Option<String>,
    /// The specimen's corner radius in px.
    #[arg(long, default_value_t = 16.0, requires = "css")]
    radius: f64,
    /// The specimen's fill.
    #[arg(long, default_value = "#fff", requires = "css")]
    fill: String,
    /// The ground of the specimen.
    #[arg(long, default_value = "#e8e4da", requires = "css")]
    ground: String,
    /// WIDTHxHEIGHT of the specimen's scene.
    #[arg(long, default_value = "480x360", requires = "css")]
    size: String,
    /// Set this text instead of a box.
    #[arg(long, requires = "css")]
    text: Option<String>,
    /// The PNG to write, or - for standard output.
    #[arg(long)]
    out: PathBuf,
    /// Draw it this many times and print how long that took.
    #[arg(long)]
    repeat: Option<u32>,
}

#[derive(Clone, Copy, PartialEq, ValueEnum)]
enum Shown {
    All,
    Shadow,
}

pub fn run(arguments: &Arguments) -> Result<(), CliError> {
    if arguments.out.extension().is_some_and(|ending| !ending.eq_ignore_ascii_case("png")) {
        let path = arguments.out.display();
        return Err(CliError::Argument(format!(
            "--out: expected a .png, found {path}: pictures are written as PNG"
        )));
    }
    let project = match (&arguments.project, &arguments.css) {
        (Some(path), _) => read_project(path)?,
        (None, Some(css)) => {
            let specimen = specimen(arguments, css)?;
            for note in specimen.notes()? {
                crate::note!("zolvet: --css {note}");
            }
            specimen.project()?
        }
        (None, None) => {
            return Err(CliError::Argument("a project file or --css is needed".to_owned()));
        }
    };
    let scene = match &arguments.scene {
        Some(name) => project.scene(name).ok_or_else(|| missing("scene", name))?,
        None => project.scenes.first().ok_or_else(|| missing("scene", "any"))?,
    };
    let assets = Assets::carried_by(&project);
    let resolved = Budget::default().run(|| resolve::scene(&project, scene, &assets))?;
    for note in &resolved.notes {
        crate::note!("zolvet: {}: {}", note.piece, note.message);
    }
    let view = Viewport::whole(&resolved, scale(arguments)?);
    view.check_size().map_err(|message| CliError::Argument(format!("--scale: {message}")))?;
    let piece = piece(arguments, &project, scene)?;
    let part =
        RenderOptions { piece, shadow_only: arguments.part == Shown::Shadow, ..RenderOptions::default() };
    // A new cache each time, so that what is timed is the whole picture.
    let rounding = if arguments.dither { Rounding::Dithered } else { Rounding::Nearest };
    let filters = match &arguments.css {
        Some(css) => specimen(arguments, css)?.filters()?,
        None => Vec::new(),
    };
    let draw = || {
        let cache = MaskCache::with_capacity(CACHE_BYTES);
        Budget::default().run(|| match arguments.as_browser {
            true => shown_as_css(&resolved, &filters, &view, &part, &cache),
            false => picture(&resolved, &view, &part, rounding, &cache),
        })
    };
    let drawn = draw()?;
    write_whole(&arguments.out, &drawn.to_png()?)?;
    match arguments.repeat {
        Some(runs) => print(times(runs.max(1), draw).as_bytes()),
        None => Ok(()),
    }
}

/// Bytes of masks that one picture keeps while it is drawn.
const CACHE_BYTES: u64 = 64 << 20;

fn specimen(arguments: &Arguments, css: &str) -> Result<Specimen, CliError> {
    let colour = |name: &str, text: &str| {
        CssColour::parse(text).map_err(|message| CliError::Argument(format!("--{name}: {message}")))
    };
    Ok(Specimen {
        css: css.to_owned(),
        piece: pair("piece", arguments.piece.as_deref().unwrap_or("240x160"))?,
        radius: arguments.radius,
        fill: colour("fill", &arguments.fill)?,
        ground: colour("ground", &arguments.ground)?,
        size: pair("size", &arguments.size)?,
        text: arguments.text.clone(),
    })
}

/// WIDTHxHEIGHT.
pub fn pair(name: &str, text: &str) -> Result<(f64, f64), CliError> {
    let parsed = text.split_once('x').and_then(|(w, h)| Some((w.parse().ok()?, h.parse().ok()?)));
    parsed.ok_or_else(|| {
        CliError::Argument(format!("--{name}: expected WIDTHxHEIGHT such as 240x160, found {text}"))
    })
}

fn scale(arguments: &Arguments) -> Result<f64, CliError> {
    let scale = arguments.scale;
    if (0.05..=16.0).contains(&scale) {
        Ok(scale)
    } else {
        Err(CliError::Argument(format!("--scale: expected 0.05 to 16, found {scale}")))
    }
}

fn piece(
    arguments: &Arguments,
    project: &Project,
    scene: &zolvet_core::model::Scene,
) -> Result<Option<Id>, CliError> {
    let asked = if arguments.css.is_some() { None } else { arguments.piece.as_ref() };
    let Some(name) = asked else { return Ok(None) };
    let mut all = scene.all_pieces().into_iter();
    let found = all.find(|piece| piece.name == *name || piece.id.as_str() == name);
    let found = found.ok_or_else(|| {
        CliError::Argument(format!("--piece: no piece \"{name}\" in \"{}\" of {}", scene.name, project.name))
    })?;
    Ok(Some(found.id.clone()))
}

fn missing(what: &str, name: &str) -> CliError {
    CliError::Argument(format!("--{what}: no {what} \"{name}\" in the project"))
}

fn times<T>(runs: u32, draw: impl Fn() -> T) -> String {
    let mut times: Vec<f64> = (0..runs)
        .map(|_| {
            let start = Instant::now();
            std::hint::black_box(draw());
            start.elapsed().as_secs_f64() * 1e3
        })
        .collect();
    times.sort_by(f64::total_cmp);
    let (median, min) = (times[times.len() / 2], times[0]);
    format!("{{\"runs\":{runs},\"median_ms\":{median:.3},\"min_ms\":{min:.3}}}\n")
}
