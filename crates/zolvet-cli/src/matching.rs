//! `zolvet solve match`.

use std::path::PathBuf;

use clap::builder::RangedU64ValueParser;
use serde_json::json;
use zolvet_core::asset::Assets;
use zolvet_core::budget::Budget;
use zolvet_core::colour::colour_text;
use zolvet_core::css::{Specimen, depth_code};
use zolvet_core::model::{CssColour, OwnCoats, Wear};
use zolvet_core::picture::{Bitmap, Picture, media_type};
use zolvet_core::resolve;
use zolvet_core::solve::{
    MatchRequest, MatchedPicture, MatchedStack, PlacedBox, SolveError, match_picture, matched_coats,
};

use crate::error::CliError;
use crate::files::print;
use crate::solve::Format;

#[derive(clap::Args)]
#[command(after_help = "Examples:
  zolvet solve match card.png
  zolvet solve match card.png --at 40,32,240x160 --radius 12 --dpr 2 --format json")]
pub struct Arguments {
    /// A PNG, JPEG or WebP picture.
    picture: PathBuf,
    /// Where the element is, in CSS px, as X,Y,WxH; it is looked for otherwise.
    #[arg(long)]
    at: Option<String>,
    /// The radius of its corners in CSS px, with --at.
    #[arg(long, requires = "at", default_value_t = 0.0)]
    radius: f64,
    /// Pixels of the picture for one CSS px; otherwise what the file says, or 1.
    #[arg(long, value_parser = clap::value_parser!(u8).range(1..=4))]
    dpr: Option<u8>,
    /// The most shadows on each side of its outline.
    #[arg(long, default_value_t = 3, value_parser = RangedU64ValueParser::<usize>::new().range(1..=6))]
    coats: usize,
    /// The form of the result.
    #[arg(long, value_enum, default_value_t = Format::Css)]
    format: Format,
}

/// Steps that a search may take.
const STEPS: u64 = 300_000_000_000;

pub fn run(arguments: &Arguments) -> Result<(), CliError> {
    let bytes = std::fs::read(&arguments.picture)
        .map_err(|error| CliError::Argument(format!("{}: {error}", arguments.picture.display())))?;
    let picture = Bitmap::decode(&bytes)
        .map_err(|error| CliError::Argument(format!("{}: {error}", arguments.picture.display())))?
        .picture;
    let density = arguments.dpr.map(f64::from).or_else(|| Picture::density_of_png(&bytes)).unwrap_or(1.0);
    let place = arguments.at.as_deref().map(|text| place(text, arguments.radius)).transpose()?;
    let request = MatchRequest {
        picture: &picture,
        density,
        place: place.map(|place| place.scaled(density)),
        is_compressed: media_type(&bytes) != Some("image/png"),
        most: arguments.coats,
    };
    let found = Budget::with_steps(STEPS).run(|| match_picture(&request))?;
    let nothing =
        || CliError::Argument("no box was found on the picture: say where it is with --at".to_owned());
    let found = found.ok_or_else(nothing)?;
    let stack = found.by_count.get(found.suggested).ok_or_else(nothing)?;
    let SolveError { mean, p99, worst } = stack.error;
    let PlacedBox { left, top, width, height, radius } = found.place;
    crate::note!("zolvet: {width} × {height} px at {left},{top}, radius {radius}");
    crate::note!("zolvet: off by {mean} on average, {p99} at 99 %, {worst} at worst, of 255");
    let css = css_of(&found, stack)?;
    let text = match arguments.format {
        Format::Css => css,
        Format::Json => {
            let counted = |stack: &MatchedStack| json!({"coats": stack.outside.len() + stack.inside.len(), "error": stack.error});
            let all = json!({
                "place": {"x": left, "y": top, "w": width, "h": height, "radius": radius},
                "ground": colour_text(found.ground), "fill": colour_text(found.fill),
                "coats": matched_coats(&found, stack), "css": css, "error": stack.error,
                "by_count": found.by_count.iter().map(counted).collect::<Vec<_>>(), "notes": found.notes,
            });
            serde_json::to_string_pretty(&all).map_err(CliError::Json)? + "\n"
        }
    };
    print(text.as_bytes())
}

/// The found element's declarations of depth.
fn css_of(found: &MatchedPicture, stack: &MatchedStack) -> Result<String, CliError> {
    let wrong = |error: zolvet_core::css::SpecimenError| CliError::Argument(error.to_string());
    let specimen = Specimen {
        css: "box-shadow: 0 0 0 #0000".to_owned(),
        piece: (found.place.width, found.place.height),
        radius: found.place.radius,
        fill: CssColour::from_rgba(found.fill),
        ground: CssColour::from_rgba(found.ground),
        size: (found.place.width, found.place.height),
        text: None,
    };
    let mut project = specimen.project().map_err(wrong)?;
    let coats = matched_coats(found, stack);
    project.scenes[0].pieces[0].wear = Wear::Coats(OwnCoats { coats });
    let (scene, piece) = (&project.scenes[0], &project.scenes[0].pieces[0]);
    let resolved = resolve::piece(&project, scene, piece, &Assets::default()).0;
    Ok(depth_code(&resolved, &piece.shape, None))
}

fn place(text: &str, radius: f64) -> Result<PlacedBox, CliError> {
    let wrong = || CliError::Argument(format!("--at: expected X,Y,WxH in CSS px, found \"{text}\""));
    let numbers: Vec<f64> = text
        .split([',', 'x'])
        .map(|number| number.trim().parse::<f64>().map_err(|_| wrong()))
        .collect::<Result<_, _>>()?;
    let &[left, top, width, height] = numbers.as_slice() else { return Err(wrong()) };
    let is_box = numbers.iter().all(|number| number.is_finite()) && width >= 4.0 && height >= 4.0;
    let radius = radius.clamp(0.0, width.min(height).max(0.0) / 2.0);
    is_box.then_some(PlacedBox { left, top, width, height, radius }).ok_or_else(wrong)
}
