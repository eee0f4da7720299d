//! Choices that are shown by their picture on the piece: stacks to start from, blend modes; and curves of falloff.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::blend::BlendMode;
use zolvet_core::model::{Coat, OwnCoats, Wear};
use zolvet_core::report::{Starter, starters};

use crate::reports::CoatRequest;
use crate::thumbnail_renderer::ThumbnailRenderer;

use crate::{QueryContext, QueryError, piece_in, scene_in};

/// Which piece would wear them.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StartersRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of one of its pieces.
    piece: String,
}

/// A stack to start from, and how it would look.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StarterPicture {
    /// Its name.
    name: &'static str,
    /// Its effect.
    description: &'static str,
    /// Its coats, to be given ids of their own.
    coats: Vec<Coat>,
    /// A PNG as a data URL.
    picture: String,
}

/// Whole stacks to start from, each on the piece.
///
/// # Errors
/// The place where the request is not as expected.
pub fn offer_starters(
    context: &QueryContext<'_>,
    request: &StartersRequest,
) -> Result<Vec<StarterPicture>, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let piece = piece_in(scene, &request.piece)?;
    let assets = context.assets(&project)?;
    let renderer = ThumbnailRenderer { project: &project, scene, assets: &assets, cache: context.cache };
    let picture = |starter: Starter| {
        let mut trial = piece.clone();
        trial.wear = Wear::Coats(OwnCoats { coats: starter.coats.clone() });
        let picture = renderer.stack_thumbnail(&trial)?;
        let Starter { name, description, coats } = starter;
        Ok(StarterPicture { name, description, coats, picture })
    };
    starters(&project, piece, &assets).into_iter().map(picture).collect::<Result<Vec<_>, QueryError>>()
}

/// A blend mode, and how the piece would look with a coat in it.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BlendPicture {
    /// The mode.
    blend: BlendMode,
    /// A PNG as a data URL.
    picture: String,
}

/// The sixteen blend modes, a coat of the piece in each.
///
/// # Errors
/// The place where the request is not as expected.
pub fn offer_blends(
    context: &QueryContext<'_>,
    request: &CoatRequest,
) -> Result<Vec<BlendPicture>, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let piece = piece_in(scene, &request.piece)?;
    let assets = context.assets(&project)?;
    let renderer = ThumbnailRenderer { project: &project, scene, assets: &assets, cache: context.cache };
    let all = project.shown_coats(scene, piece);
    let worn = |coats: Vec<Coat>| {
        let mut trial = piece.clone();
        trial.wear = Wear::Coats(OwnCoats { coats });
        trial
    };
    let others = all.iter().filter(|coat| coat.id != request.coat).cloned().collect();
    let before = renderer.before(&worn(others));
    let picture = |blend: BlendMode| {
        let mut coats = all.to_vec();
        for coat in coats.iter_mut().filter(|coat| coat.id == request.coat) {
            (coat.blend, coat.on) = (blend, true);
        }
        let picture = before.becomes(&worn(coats))?;
        Ok(BlendPicture { blend, picture })
    };
    BlendMode::ALL.into_iter().map(picture).collect::<Result<Vec<_>, QueryError>>()
}
