//! `zolvet solve raise`.

use clap::builder::RangedU64ValueParser;
use serde::Serialize;
use zolvet_core::asset::Assets;
use zolvet_core::budget::Budget;
use zolvet_core::geometry::{RoundedBox, Silhouette};
use zolvet_core::model::{HeightPx, ranges};
use zolvet_core::resolve;
use zolvet_core::solve::{
    LightRig, MOST_COATS, RaisedStack, SaidHeight, Shadow, SolveError, darkening, height_of, raise,
    raised_coat,
};

use crate::error::CliError;
use crate::files::print;
use crate::solve::{
    Count, Format, Found, Off, SpecimenArguments, bare, css_of, print_found, specimen, wearer,
};

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet solve raise --height 12
  zolvet solve raise --height 24 --light bearing=0,elevation=60,size=10,ambient=0.5 --coats 2 --format json
  zolvet solve raise --css 'box-shadow: 0 4px 6px #0003, 0 1px 2px #0002'")]
pub struct Arguments {
    /// How many px the piece is above the ground.
    #[arg(long, required_unless_present = "css", conflicts_with = "css")]
    height: Option<f64>,
    /// Tell the height that these declarations say instead.
    #[arg(long)]
    css: Option<String>,
    /// The light: where it comes from and how high above the ground it stands in degrees, its diameter as it is seen in degrees, and
    /// the share of light from all around.
    #[arg(long, default_value = "bearing=20,elevation=50,size=8,ambient=0.4")]
    light: String,
    /// The number of shadows.
    #[arg(long, default_value_t = 3, value_parser = RangedU64ValueParser::<usize>::new().range(1..=MOST_COATS as u64))]
    coats: usize,
    #[command(flatten)]
    specimen: SpecimenArguments,
    /// The form of the result.
    #[arg(long, value_enum, default_value_t = Format::Css)]
    format: Format,
}

/// Steps that finding stacks for a height may take.
const STEPS: u64 = 300_000_000_000;

pub fn run(arguments: &Arguments) -> Result<(), CliError> {
    let rig = rig(&arguments.light)?;
    match (&arguments.height, &arguments.css) {
        (Some(height), _) => raised(arguments, *height, &rig),
        (None, css) => said(arguments, css.as_deref().unwrap_or_default(), &rig),
    }
}

fn raised(arguments: &Arguments, height: f64, rig: &LightRig) -> Result<(), CliError> {
    HeightPx::new(height).map_err(|error| CliError::Argument(format!("--height: {error}")))?;
    let mut project = specimen(&arguments.specimen, "box-shadow: 0 0 0 #000")?;
    bare(&mut project);
    let (scene, piece) = wearer(&project, None)?;
    let assets = Assets::default();
    let shape = box_of(&resolve::piece(&project, scene, piece, &assets).0)?;
    let work = || (1..=arguments.coats).map(|count| raise(shape, height, rig, count)).collect();
    let stacks: Vec<RaisedStack> = Budget::with_steps(STEPS).run(work)?;
    let stack = stacks.last().ok_or_else(|| CliError::Argument("no stack was found".to_owned()))?;
    let coats = [raised_coat(stack, height, rig, None)];
    let css = css_of(&project, scene, piece, &coats, &assets);
    let SolveError { mean, p99, worst } = stack.error;
    crate::note!(
        "zolvet: {} shadows, off by {mean} on average, {p99} at 99 %, {worst} at worst, of 255 on white",
        stack.shadows.len()
    );
    let counted = |stack: &RaisedStack| Count { coats: stack.shadows.len(), error: off(stack.error) };
    let all = Found {
        coats: &coats,
        css,
        error: Some(off(stack.error)),
        worst_darkness: None,
        by_count: stacks.iter().map(counted).collect(),
        notes: &[],
    };
    print_found(&all, arguments.format)
}

/// The height that a stack says, as `--format json` writes it.
#[derive(Serialize)]
struct Said {
    height: f64,
    error: Off,
}

fn said(arguments: &Arguments, css: &str, rig: &LightRig) -> Result<(), CliError> {
    let project = specimen(&arguments.specimen, css)?;
    let (scene, piece) = wearer(&project, None)?;
    let worn = resolve::piece(&project, scene, piece, &Assets::default()).0;
    let shadows: Vec<Shadow> = worn.coats.iter().filter_map(darkening).collect();
    let shape = box_of(&worn)?;
    let found = Budget::with_steps(STEPS).run(|| height_of(&shadows, shape, rig))?;
    let nothing = || CliError::Argument("--css: expected drop shadows that can be seen".to_owned());
    let SaidHeight { height, error } = found.ok_or_else(nothing)?;
    let SolveError { mean, p99, worst } = error;
    crate::note!("zolvet: off by {mean} on average, {p99} at 99 %, {worst} at worst, of 255 on white");
    let text = match arguments.format {
        Format::Css => format!("{height}px\n"),
        Format::Json => {
            serde_json::to_string_pretty(&Said { height, error: off(error) }).map_err(CliError::Json)? + "\n"
        }
    };
    print(text.as_bytes())
}

fn off(SolveError { mean, p99, worst }: SolveError) -> Off {
    Off { mean, p99, worst }
}

fn box_of(piece: &resolve::Piece) -> Result<RoundedBox, CliError> {
    match &piece.silhouette {
        Silhouette::Box(shape) => Ok(*shape),
        Silhouette::Outline(_) | Silhouette::Alpha(_) | Silhouette::Drawing(_) => {
            Err(CliError::Argument("expected a box".to_owned()))
        }
    }
}

/// A light from `bearing=…,elevation=…,size=…,ambient=…`, any of which may be left out.
fn rig(text: &str) -> Result<LightRig, CliError> {
    let mut rig = LightRig::default();
    let ranges = ranges();
    let range = |name: &str| ranges.get(name).map_or(0.0..=0.0, |[least, most]| *least..=*most);
    for part in text.split(',').map(str::trim).filter(|part| !part.is_empty()) {
        let wrong =
            |expected: &str| CliError::Argument(format!("--light: expected {expected}, found \"{part}\""));
        let (name, value) = part.split_once('=').ok_or_else(|| wrong("NAME=NUMBER"))?;
        let (number, range) = match name.trim() {
            "bearing" => (&mut rig.bearing, range("Degrees")),
            "elevation" => (&mut rig.elevation, range("Elevation")),
            "size" => (&mut rig.size, range("LightSize")),
            "ambient" => (&mut rig.ambient, range("Fraction")),
            _ => return Err(wrong("bearing, elevation, size or ambient")),
        };
        let found: Option<f64> = value.trim().parse().ok();
        let found = found.filter(|found| range.contains(found));
        *number = found.ok_or_else(|| wrong(&format!("{} to {}", range.start(), range.end())))?;
    }
    Ok(rig)
}
