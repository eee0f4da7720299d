//! Stacks for heights, and heights of stacks.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::geometry::{RoundedBox, Silhouette};
use zolvet_core::model::{Coat, Id, Piece};
use zolvet_core::picture::png_data_url;
use zolvet_core::resolve;
use zolvet_core::solve::{
    LEAST_HEIGHT, LightRig, MOST_COATS, MOST_HEIGHT, Shadow, SolveError, darkening, height_of, raise,
    raise_roughly, raised_coats,
};

use crate::thumbnail_renderer::ThumbnailRenderer;
use crate::{QueryContext, QueryError, piece_in, scene_in};

/// A piece that is to be raised, or asked how high it is.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RaiseRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// A scene.
    scene: Id,
    /// The piece in it.
    piece: Id,
    /// The light.
    light: Rig,
    /// How many px the piece is to be above the ground.
    #[serde(default)]
    heights: Vec<f64>,
    /// The number of shadows.
    coats: usize,
    /// Pictures of the piece at each height are wanted.
    #[serde(default)]
    pictures: bool,
    /// Near the best is enough, as long as a hand moves.
    #[serde(default)]
    rough: bool,
    /// The height that the piece's own stack says is wanted.
    #[serde(default)]
    says: bool,
}

/// A light of a size, with light from all around.
#[derive(Deserialize, Serialize, Clone, Copy)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rig {
    /// Where it comes from, clockwise in degrees from the top.
    bearing: f64,
    /// How high it stands above the ground, in degrees.
    elevation: f64,
    /// Its diameter as it is seen, in degrees.
    size: f64,
    /// The share of light from all around, from 0 to 1.
    ambient: f64,
}

/// Stacks for heights, and the height that the present one says.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RaiseAnswer {
    /// For each height.
    raised: Vec<RaisedPiece>,
    /// What the piece's own drop shadows say, where that was asked; nothing where it has none that can be seen.
    says: Option<HeightSaid>,
}

/// The stack of a height.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RaisedPiece {
    /// In px.
    height: f64,
    /// Its coats.
    coats: Vec<Coat>,
    /// How far it is from the light that really reaches white ground.
    error: SolveError,
    /// The piece with it: a PNG as a data URL.
    picture: Option<String>,
}

/// The height that a stack says.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeightSaid {
    /// In px.
    height: f64,
    /// How far the stack is from what a plate at that height casts.
    error: SolveError,
}

/// The most heights of one request.
const MOST_STEPS: usize = 12;
/// Pixels of a picture.
const PICTURE: (u32, u32) = (360, 240);

/// Finds the stacks of heights, and the height of a stack.
///
/// # Errors
/// The place where the request is not as expected.
pub fn raise_stack(context: &QueryContext<'_>, request: &RaiseRequest) -> Result<RaiseAnswer, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, request.scene.as_str())?;
    let piece = piece_in(scene, request.piece.as_str())?;
    let rig = request.rig()?;
    request.check()?;
    let assets = context.assets(&project)?;
    let resolved = resolve::piece(&project, scene, piece, &assets).0;
    let shape = box_of(&resolved);
    let shadows: Vec<Shadow> = resolved.coats.iter().filter_map(darkening).collect();
    let says = (request.says && !shadows.is_empty()).then(|| height_of(&shadows, shape, &rig)).flatten();
    let renderer = ThumbnailRenderer { project: &project, scene, assets: &assets, cache: context.cache };
    let drawn = |piece: &Piece| Ok::<_, QueryError>(png_data_url(&renderer.fitted(piece, PICTURE)?));
    let raised = request.heights.iter().map(|height| {
        let raise = if request.rough { raise_roughly } else { raise };
        let stack = raise(shape, *height, &rig, request.coats);
        let coats = raised_coats(&stack.shadows, &rig);
        let picture = request.pictures.then(|| drawn(&piece.wearing(coats.clone()))).transpose()?;
        Ok(RaisedPiece { height: *height, coats, error: stack.error, picture })
    });
    Ok(RaiseAnswer {
        raised: raised.collect::<Result<_, QueryError>>()?,
        says: says.map(|said| HeightSaid { height: said.height, error: said.error }),
    })
}

impl RaiseRequest {
    fn rig(&self) -> Result<LightRig, QueryError> {
        let Rig { bearing, elevation, size, ambient } = self.light;
        let ranges = [
            ("bearing", bearing, -360.0..=360.0),
            ("elevation", elevation, LightRig::LEAST_ELEVATION..=90.0),
            ("size", size, LightRig::LEAST_SIZE..=LightRig::MOST_SIZE),
            ("ambient", ambient, 0.0..=1.0),
        ];
        for (name, value, range) in ranges {
            if !range.contains(&value) {
                let expected = format!("expected {} to {}, found {value}", range.start(), range.end());
                return Err(QueryError::invalid_at(&format!("/light/{name}"), expected));
            }
        }
        Ok(LightRig { bearing, elevation, size, ambient })
    }

    fn check(&self) -> Result<(), QueryError> {
        if self.heights.len() > MOST_STEPS {
            return Err(QueryError::invalid_at("/heights", format!("expected at most {MOST_STEPS}")));
        }
        for (at, height) in self.heights.iter().enumerate() {
            if !(LEAST_HEIGHT..=MOST_HEIGHT).contains(height) {
                let expected = format!("expected {LEAST_HEIGHT} to {MOST_HEIGHT} px, found {height}");
                return Err(QueryError::invalid_at(&format!("/heights/{at}"), expected));
            }
        }
        if !(1..=MOST_COATS).contains(&self.coats) {
            return Err(QueryError::invalid_at("/coats", format!("expected 1 to {MOST_COATS}")));
        }
        Ok(())
    }
}

/// A piece's shape as a plate: its own box, or the box around it.
fn box_of(piece: &resolve::Piece) -> RoundedBox {
    if let Silhouette::Box(shape) = &piece.silhouette {
        return *shape;
    }
    let (width, height) = piece.silhouette.size();
    RoundedBox::new(width.max(1.0), height.max(1.0), [(0.0, 0.0); 4])
}
