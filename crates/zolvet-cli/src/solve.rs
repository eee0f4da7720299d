//! `zolvet solve`.

use std::path::PathBuf;

use clap::{Subcommand, ValueEnum};
use serde::{Deserialize, Serialize};
use serde_json::json;
use zolvet_core::asset::Assets;
use zolvet_core::budget::Budget;
use zolvet_core::compose::MaskCache;
use zolvet_core::css::{Specimen, depth_code};
use zolvet_core::lower::TrialPiece;
use zolvet_core::measure::Line;
use zolvet_core::model::{Coat, CssColour, Id, OwnCoats, Piece, Project, Scene, Wear};
use zolvet_core::resolve;
use zolvet_core::solve::{Curve, Drawn, EdgeLine, MAX_SHADOWS, RenderResources, draw};
use zolvet_host::Task;
use zolvet_queries::QueryError;

use crate::error::{CliError, read_project};
use crate::files::print;
use crate::matching;
use crate::raise;
use crate::render::pair;
use crate::run_in_helper::run_in_helper;

#[derive(clap::Args)]
pub struct Arguments {
    #[command(subcommand)]
    wish: Wish,
}

#[derive(Subcommand)]
enum Wish {
    /// Find fewer shadows for the same look.
    Reduce(ReduceArguments),
    /// Find shadows for an edge profile.
    Draw(DrawArguments),
    /// Find the shadows of an element on a picture.
    Match(matching::Arguments),
    /// Find shadows for a height above the ground, or the height that shadows say.
    Raise(raise::Arguments),
}

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet solve reduce --css 'box-shadow: 0 1px 1px #0002, 0 2px 2px #0002, 0 4px 4px #0002' --within 2
  zolvet solve reduce project.zolvet.json --finish Lifted --coats 3 --format json")]
struct ReduceArguments {
    /// A project file; left out with --css.
    #[arg(required_unless_present = "css", conflicts_with = "css", requires = "finish")]
    project: Option<PathBuf>,
    /// The name of a finish that a piece of the project wears.
    #[arg(long)]
    finish: Option<String>,
    /// Declarations separated by `;`, worn by a specimen.
    #[arg(long)]
    css: Option<String>,
    /// The smallest stack that differs by no more than this, in 255ths at the worst pixel.
    #[arg(long, default_value_t = 1.0)]
    within: f64,
    /// A number of shadows instead, with any error.
    #[arg(long, value_parser = clap::value_parser!(u8).range(1..=MAX_SHADOWS as i64), conflicts_with = "within")]
    coats: Option<u8>,
    /// For tools that cannot spread shadows.
    #[arg(long)]
    no_spread: bool,
    /// For tools without inner shadows.
    #[arg(long)]
    no_inset: bool,
    #[command(flatten)]
    specimen: SpecimenArguments,
    /// The form of the result.
    #[arg(long, value_enum, default_value_t = Format::Css)]
    format: Format,
}

#[derive(clap::Args)]
#[command(after_help = "Example:
  zolvet solve draw --profile '0:0.30,4:0.18,12:0.07,30:0' --coats 3")]
struct DrawArguments {
    /// Points px:darkness from the edge outward (negative inside), darkness from 0 to 1 in OKLab lightness lost.
    #[arg(long, allow_hyphen_values = true)]
    profile: String,
    /// The most shadows on each side of the edge.
    #[arg(long, default_value_t = 4, value_parser = clap::value_parser!(u8).range(1..=MAX_SHADOWS as i64))]
    coats: u8,
    #[command(flatten)]
    specimen: SpecimenArguments,
    /// The form of the result.
    #[arg(long, value_enum, default_value_t = Format::Css)]
    format: Format,
}

#[derive(clap::Args)]
pub struct SpecimenArguments {
    /// WIDTHxHEIGHT of the specimen.
    #[arg(long, default_value = "240x160")]
    piece: String,
    /// The specimen's corner radius in px.
    #[arg(long, default_value_t = 16.0)]
    radius: f64,
}

#[derive(Clone, Copy, PartialEq, ValueEnum)]
pub enum Format {
    Css,
    Json,
}

/// The result, as `--format json` writes it.
#[derive(Serialize)]
pub struct Found<'a> {
    pub coats: &'a [Coat],
    pub css: String,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub error: Option<Off>,
    /// Of a drawn profile: how far it is off at worst, in % of darkness.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub worst_darkness: Option<f64>,
    pub by_count: Vec<Count>,
    pub notes: &'a [String],
}

#[derive(Serialize)]
pub struct Count {
    pub coats: usize,
    pub error: Off,
}

/// The result of a helper.
#[derive(Deserialize)]
struct Reduced {
    shadows: usize,
    by_count: Vec<Fewer>,
    notes: Vec<String>,
}

/// A stack of so many shadows.
#[derive(Deserialize)]
struct Fewer {
    shadows: usize,
    coats: Vec<Coat>,
    error: Off,
}

/// How far it is off, in 255ths.
#[derive(Clone, Copy, Serialize, Deserialize)]
pub struct Off {
    pub mean: f64,
    pub p99: f64,
    pub worst: f64,
}

pub fn run(arguments: &Arguments) -> Result<(), CliError> {
    match &arguments.wish {
        Wish::Reduce(arguments) => fewer(arguments),
        Wish::Draw(arguments) => solve_profile(arguments),
        Wish::Match(arguments) => matching::run(arguments),
        Wish::Raise(arguments) => raise::run(arguments),
    }
}

fn fewer(arguments: &ReduceArguments) -> Result<(), CliError> {
    let project = match (&arguments.project, &arguments.css) {
        (Some(path), _) => read_project(path)?,
        (None, css) => specimen(&arguments.specimen, css.as_deref().unwrap_or_default())?,
    };
    let (scene, piece) = wearer(&project, arguments.finish.as_deref())?;
    let assets = Assets::carried_by(&project);
    // What is written for letters and icons has neither; as JSON they stay.
    let can_hold = arguments.format == Format::Json || TrialPiece::new(&piece.shape) == TrialPiece::Box;
    let holds = json!({
        "coats": arguments.coats.map_or(MAX_SHADOWS, usize::from),
        "spread": !arguments.no_spread && can_hold,
        "inset": !arguments.no_inset && can_hold,
    });
    let request = json!({"project": project, "scene": scene.id, "piece": piece.id, "holds": holds});
    let found = run_in_helper(Task::Query("/api/solve/reduce"), &request).map_err(refused)?;
    let found: Reduced = serde_json::from_value(found).map_err(CliError::Json)?;
    let chosen = chosen(&found, arguments)?;
    let css = css_of(&project, scene, piece, &chosen.coats, &assets);
    let Reduced { by_count, notes, .. } = &found;
    let counts = by_count.iter().map(|fewer| Count { coats: fewer.shadows, error: fewer.error }).collect();
    for note in notes {
        crate::note!("zolvet: {note}");
    }
    let Off { mean, p99, worst } = chosen.error;
    crate::note!(
        "zolvet: {} shadows for {}, off by {mean} on average, {p99} at 99 %, {worst} at worst, of 255",
        chosen.shadows,
        found.shadows
    );
    let error = Some(chosen.error);
    let all = Found { coats: &chosen.coats, css, error, worst_darkness: None, by_count: counts, notes };
    print_found(&all, arguments.format)
}

fn refused(error: QueryError) -> CliError {
    CliError::Argument(match error {
        QueryError::Invalid(problems) => {
            problems.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")
        }
        QueryError::TooMuch(reason) => reason,
        other => other.to_string(),
    })
}

/// Steps that finding a stack for a profile may take.
const STEPS: u64 = 300_000_000_000;

fn chosen<'a>(found: &'a Reduced, arguments: &ReduceArguments) -> Result<&'a Fewer, CliError> {
    let nearest = || found.by_count.iter().min_by(|a, b| a.error.worst.total_cmp(&b.error.worst));
    let chosen = match arguments.coats {
        Some(count) => found.by_count.iter().rfind(|fewer| fewer.shadows <= usize::from(count)),
        None => found.by_count.iter().find(|fewer| fewer.error.worst <= arguments.within).or_else(|| {
            crate::note!("zolvet: nothing is within {}: the nearest follows", arguments.within);
            nearest()
        }),
    };
    chosen.ok_or_else(|| CliError::Argument("no stack of so few shadows was found".to_owned()))
}

fn solve_profile(arguments: &DrawArguments) -> Result<(), CliError> {
    let curve = Curve::parse(&arguments.profile)
        .map_err(|error| CliError::Argument(format!("--profile: {error}")))?;
    let mut project = specimen(&arguments.specimen, "box-shadow: 0 0 0 #000")?;
    bare(&mut project);
    let (scene, piece) = wearer(&project, None)?;
    let assets = Assets::default();
    // The bottom edge, with the light from the top.
    let line = Line { x: 0.0, y: 0.0, bearing: 0.0 };
    let cache = MaskCache::default();
    let edge = EdgeLine { scene, piece: &piece.id, line };
    let means = RenderResources { assets: &assets, cache: &cache };
    let work = || draw(&project, edge, means, &curve, usize::from(arguments.coats));
    let found = Budget::with_steps(STEPS).run(work)?;
    let Drawn { coats, worst } = found.map_err(|error| CliError::Argument(error.to_string()))?;
    let css = css_of(&project, scene, piece, &coats, &assets);
    crate::note!("zolvet: {} shadows, off by {worst:.2} % of darkness at worst", coats.len());
    let (error, worst_darkness) = (None, Some(worst));
    let all = Found { coats: &coats, css, error, worst_darkness, by_count: Vec::new(), notes: &[] };
    print_found(&all, arguments.format)
}

pub fn bare(project: &mut Project) {
    for piece in project.scenes.iter_mut().flat_map(|scene| &mut scene.pieces) {
        piece.wear = Wear::Coats(OwnCoats { coats: Vec::new() });
    }
}

pub fn print_found(found: &Found<'_>, format: Format) -> Result<(), CliError> {
    let text = match format {
        Format::Css => found.css.clone(),
        Format::Json => serde_json::to_string_pretty(found).map_err(CliError::Json)? + "\n",
    };
    print(text.as_bytes())
}

pub fn specimen(arguments: &SpecimenArguments, css: &str) -> Result<Project, CliError> {
    let white = || CssColour::rgb([255; 3]);
    let piece = pair("piece", &arguments.piece)?;
    let room = 480.0;
    let specimen = Specimen {
        css: css.to_owned(),
        piece,
        radius: arguments.radius,
        fill: white(),
        ground: white(),
        size: ((piece.0 + room).min(8192.0), (piece.1 + room).min(8192.0)),
        text: None,
    };
    for note in specimen.notes()? {
        crate::note!("zolvet: --css {note}");
    }
    Ok(specimen.project()?)
}

/// The piece whose stack it is: the first that wears the finish.
pub fn wearer<'a>(project: &'a Project, finish: Option<&str>) -> Result<(&'a Scene, &'a Piece), CliError> {
    let id: Option<&Id> = match finish {
        Some(name) => {
            let found =
                project.finishes.iter().find(|finish| finish.name == name || finish.id.as_str() == name);
            let missing = || CliError::Argument(format!("--finish: no finish \"{name}\" in the project"));
            Some(&found.ok_or_else(missing)?.id)
        }
        None => None,
    };
    let wears = |piece: &&Piece| match (&piece.wear, id) {
        (Wear::Finish(worn), Some(id)) => worn.finish == *id,
        (_, wanted) => wanted.is_none(),
    };
    let mut all = project
        .scenes
        .iter()
        .flat_map(|scene| scene.all_pieces().into_iter().map(move |piece| (scene, piece)));
    let unworn = || CliError::Argument("--finish: expected a finish that a piece wears".to_owned());
    all.find(|(_, piece)| wears(piece)).ok_or_else(unworn)
}

pub fn css_of(project: &Project, scene: &Scene, piece: &Piece, coats: &[Coat], assets: &Assets) -> String {
    let worn = piece.wearing(coats.to_vec());
    let resolved = resolve::piece(project, scene, &worn, assets).0;
    depth_code(&resolved, &piece.shape, Some(TrialPiece::new(&piece.shape).target()))
}
