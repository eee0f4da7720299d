//! Stacks for heights, and heights of stacks.

use json_patch::Patch;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::geometry::{RoundedBox, Silhouette};
use zolvet_core::model::{Coat, Degrees, HeightPx, Id, Piece, Rig};
use zolvet_core::picture::png_data_url;
use zolvet_core::resolve;
use zolvet_core::solve::{
    LightRig, MOST_COATS, Shadow, SolveError, darkening, height_of, raise_all, raise_roughly, raised_coat,
    relit,
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
    light: HeightLight,
    /// The shared light that it is: the shadows take its bearing.
    follows: Option<Id>,
    /// How many px the piece is to be above the ground.
    #[serde(default)]
    heights: Vec<HeightPx>,
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
#[derive(Deserialize, Clone, Copy)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct HeightLight {
    /// Where it comes from, clockwise in degrees from the top.
    bearing: Degrees,
    /// What its shadows are made by.
    rig: Rig,
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
    let rig = LightRig::from_written(request.light.bearing.get(), &request.light.rig);
    request.check()?;
    let assets = context.assets(&project)?;
    let resolved = resolve::piece(&project, scene, piece, &assets).0;
    let shape = box_of(&resolved);
    let shadows: Vec<Shadow> = resolved.coats.iter().filter_map(darkening).collect();
    let says = (request.says && !shadows.is_empty()).then(|| height_of(&shadows, shape, &rig)).flatten();
    let renderer = ThumbnailRenderer { project: &project, scene, assets: &assets, cache: context.cache };
    let drawn = |piece: &Piece| Ok::<_, QueryError>(png_data_url(&renderer.fitted(piece, PICTURE)?));
    let raised = request.raised(shape, &rig).into_iter().map(|(height, coat, error)| {
        let coats = vec![coat];
        let picture = request.pictures.then(|| drawn(&piece.wearing(coats.clone()))).transpose()?;
        Ok(RaisedPiece { height, coats, error, picture })
    });
    Ok(RaiseAnswer {
        raised: raised.collect::<Result<_, QueryError>>()?,
        says: says.map(|said| HeightSaid { height: said.height, error: said.error }),
    })
}

impl RaiseRequest {
    /// The coat of each height, and how far it is off.
    fn raised(&self, shape: RoundedBox, rig: &LightRig) -> Vec<(f64, Coat, SolveError)> {
        let heights: Vec<f64> = self.heights.iter().map(|height| height.get()).collect();
        if let ([height], true) = (&heights[..], self.rough) {
            let stack = raise_roughly(shape, *height, rig, self.coats);
            return vec![(*height, raised_coat(&stack, *height, rig, self.follows.clone()), stack.error)];
        }
        let all = raise_all(shape, &heights, rig, self.coats, self.follows.as_ref());
        heights.into_iter().zip(all).map(|(height, (coat, error))| (height, coat, error)).collect()
    }

    fn check(&self) -> Result<(), QueryError> {
        if self.heights.len() > MOST_STEPS {
            return Err(QueryError::invalid_at("/heights", format!("expected at most {MOST_STEPS}")));
        }
        if !(1..=MOST_COATS).contains(&self.coats) {
            return Err(QueryError::invalid_at("/coats", format!("expected 1 to {MOST_COATS}")));
        }
        Ok(())
    }
}

/// A light that is to cast heights another way.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RelightRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// A light of it.
    light: Id,
    /// What its shadows are made by from now on.
    rig: Rig,
}

/// The change of a project.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RelightAnswer {
    /// Changes of the project document (JSON Patch, RFC 6902).
    #[cfg_attr(feature = "schema", schema(value_type = Vec<zolvet_core::patch::PatchStep>))]
    patch: Patch,
}

/// Gives a light a rig, and all heights that follow it the shadows that it casts then.
///
/// # Errors
/// The place where the request is not as expected.
pub fn relight(context: &QueryContext<'_>, request: &RelightRequest) -> Result<RelightAnswer, QueryError> {
    let project = context.project(&request.project)?;
    let unknown = || {
        QueryError::invalid_at("/light", format!("expected the id of a light, found \"{}\"", request.light))
    };
    let patch = relit(&project, &request.light, &request.rig).ok_or_else(unknown)?;
    Ok(RelightAnswer { patch })
}

/// A piece's shape as a plate: its own box, or the box around it.
fn box_of(piece: &resolve::Piece) -> RoundedBox {
    if let Silhouette::Box(shape) = &piece.silhouette {
        return *shape;
    }
    let (width, height) = piece.silhouette.size();
    RoundedBox::new(width.max(1.0), height.max(1.0), [(0.0, 0.0); 4])
}
