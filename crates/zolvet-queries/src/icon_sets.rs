//! Queries on many files that get one finish.

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::handoff::{Artwork, Pixels, Worn};
use zolvet_core::lower::FidelityNote;
use zolvet_core::model::{Id, Project};
use zolvet_core::picture::png_data_url;
use zolvet_core::svg::Edge;

use crate::{QueryContext, QueryError, charge};

/// Files that are to wear a finish.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RoomsRequest {
    /// The project document; its scenes are not needed.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of the finish.
    finish: Id,
    /// The id of the theme.
    theme: Id,
    /// Px on the longer side at which the finish is laid on; the size that a file says when left out.
    size: Option<f64>,
    /// SVG files, packed or not, in base 64.
    files: Vec<String>,
}

/// What a finish takes of room around a file.
#[derive(Serialize)]
#[serde(tag = "kind", rename_all = "snake_case")]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub enum FileRoom {
    /// The file can be drawn.
    Read {
        /// Its width in px.
        width: f64,
        /// Its height in px.
        height: f64,
        /// Px of the file beyond its edge: left, top, right, bottom.
        room: [f64; 4],
        /// Files with the same get the same room: as much as the one that needs most.
        sharing: [i64; 2],
    },
    /// It cannot be drawn.
    Refused {
        /// Why.
        error: String,
    },
}

/// What a finish takes of room around each of some files.
///
/// # Errors
/// The place where the request is not as expected.
pub fn icon_rooms(context: &QueryContext<'_>, request: &RoomsRequest) -> Result<Vec<FileRoom>, QueryError> {
    let project = context.project(&request.project)?;
    let worn = worn(&project, (&request.finish, &request.theme), request.size)?;
    let room = |file: &String| match read(file, request.size) {
        Ok(artwork) => {
            let [width, height] = artwork.size();
            FileRoom::Read { width, height, room: artwork.room(worn), sharing: artwork.sharing() }
        }
        Err(error) => FileRoom::Refused { error },
    };
    Ok(request.files.iter().map(room).collect())
}

/// Files that are given a finish.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ApplyRequest {
    /// The project document; its scenes are not needed.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of the finish.
    finish: Id,
    /// The id of the theme.
    theme: Id,
    /// Px on the longer side at which the finish is laid on; the size that a file says when left out.
    size: Option<f64>,
    /// SVG files, packed or not, in base 64.
    files: Vec<String>,
    /// What becomes of depth beyond a file's edge.
    #[serde(default)]
    edge: Edge,
    /// Px of a file that there is room for beyond its edge: left, top, right, bottom.
    room: [f64; 4],
    /// What is made of each file.
    output: IconOutput,
}

/// What is made of a file.
#[derive(Deserialize, Clone, Copy)]
#[serde(tag = "kind", rename_all = "snake_case")]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub enum IconOutput {
    /// The file with depth on it.
    Svg,
    /// A picture.
    Png {
        /// Pixels for one px.
        scale: f64,
    },
    /// A picture of a size.
    Fitted {
        /// Pixels on its longer side.
        pixels: f64,
    },
}

/// What became of a file.
#[derive(Serialize)]
#[serde(tag = "kind", rename_all = "snake_case")]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub enum AppliedFile {
    /// The file with depth on it.
    Svg {
        /// The file.
        svg: String,
        /// What SVG cannot hold, or draws otherwise.
        notes: Vec<FidelityNote>,
    },
    /// A picture.
    Png {
        /// The PNG file as a data URL.
        png: String,
        /// Its width in pixels.
        width: u32,
        /// Its height in pixels.
        height: u32,
    },
    /// It cannot be drawn.
    Refused {
        /// Why.
        error: String,
    },
}

/// Gives some files a finish.
///
/// # Errors
/// The place where the request is not as expected.
pub fn apply_finish(
    context: &QueryContext<'_>,
    request: &ApplyRequest,
) -> Result<Vec<AppliedFile>, QueryError> {
    let project = context.project(&request.project)?;
    let worn = worn(&project, (&request.finish, &request.theme), request.size)?;
    if !request.room.iter().all(|side| (0.0..=100_000.0).contains(side)) {
        return Err(QueryError::invalid_at("/room", "expected 0 to 100000 px on each side"));
    }
    let pixels = match request.output {
        IconOutput::Svg => None,
        IconOutput::Png { scale } => Some(Pixels::PerPx(within(scale, 1.0..=4.0, "/output/scale")?)),
        IconOutput::Fitted { pixels } => {
            Some(Pixels::Longest(within(pixels, 1.0..=1024.0, "/output/pixels")?))
        }
    };
    let apply = |file: &String| match read(file, request.size) {
        Ok(artwork) => applied(&artwork, worn, (request.edge, request.room), pixels),
        Err(error) => Ok(AppliedFile::Refused { error }),
    };
    request.files.iter().map(apply).collect()
}

fn applied(
    artwork: &Artwork,
    worn: Worn<'_>,
    (edge, room): (Edge, [f64; 4]),
    pixels: Option<Pixels>,
) -> Result<AppliedFile, QueryError> {
    let Some(pixels) = pixels else {
        return Ok(match artwork.wearing(worn, edge, room) {
            Ok(file) => AppliedFile::Svg { svg: file.svg, notes: file.notes },
            Err(error) => AppliedFile::Refused { error: error.to_string() },
        });
    };
    let picture = artwork.picture(worn, (edge, room), pixels);
    let png = charge(picture.to_png().map_err(QueryError::internal)?);
    Ok(AppliedFile::Png { png: png_data_url(&png), width: picture.width, height: picture.height })
}

fn worn<'a>(
    project: &'a Project,
    (finish, theme): (&'a Id, &'a Id),
    size: Option<f64>,
) -> Result<Worn<'a>, QueryError> {
    if !project.finishes.iter().any(|one| one.id == *finish) {
        return Err(QueryError::invalid_at("/finish", "expected the id of a finish"));
    }
    if project.theme(theme).is_none() {
        return Err(QueryError::invalid_at("/theme", "expected the id of a theme"));
    }
    if let Some(size) = size {
        within(size, 1.0..=4096.0, "/size")?;
    }
    Ok(Worn { project, finish, theme })
}

fn within(value: f64, range: std::ops::RangeInclusive<f64>, place: &str) -> Result<f64, QueryError> {
    if range.contains(&value) {
        return Ok(value);
    }
    Err(QueryError::invalid_at(place, format!("expected {} to {}", range.start(), range.end())))
}

fn read(file: &str, size: Option<f64>) -> Result<Artwork, String> {
    let bytes = STANDARD.decode(file).map_err(|_| "expected a file in base 64".to_owned())?;
    Artwork::read(&bytes, size).map_err(|error| error.to_string())
}
