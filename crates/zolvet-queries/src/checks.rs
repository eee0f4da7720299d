//! The audit of a project, with progress; the pieces of a scene as they are seen.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::audit::{Fix, Limits, fewer_shadows};
use zolvet_core::measure::{Observer, PieceVisibility, Screen, ViewingConditions};
use zolvet_core::model::{Id, Piece};
use zolvet_core::resolve;

use crate::{QueryContext, QueryError, scene_in};

/// A finding on too many shadow layers.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FewerShadowsRequest {
    /// The project document that it was found in.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// Its key.
    finding: String,
    /// The id of the finding.
    #[serde(default)]
    limits: Limits,
}

/// Finds the fix of a finding on too many shadow layers: fewer shadows that look the same.
///
/// # Errors
/// The place where the request is not as expected.
pub fn find_fewer_shadows(
    context: &QueryContext<'_>,
    request: &FewerShadowsRequest,
) -> Result<Fix, QueryError> {
    let project = context.project(&request.project)?;
    let assets = context.assets(&project)?;
    let fix = fewer_shadows(&project, &assets, &request.limits, &request.finding);
    fix.map_err(|error| QueryError::cannot(error.to_string()))
}

/// Which scene is looked at, and how.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SightsRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// Only this piece; all of the scene when left out.
    piece: Option<Id>,
    /// The screen, or the eye itself.
    screen: Option<Screen>,
    /// Where the eye is.
    #[serde(default)]
    #[cfg_attr(feature = "schema", schema(value_type = Option<ViewingConditions>))]
    sight: ViewingConditions,
    /// Device pixels for one CSS px of the screen, from 1 to 4; 1 when left out.
    density: Option<f64>,
    /// Whether the text that lies on a piece is measured too.
    #[serde(default)]
    text_on_it: bool,
}

/// A piece as it is seen.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SeenPiece {
    /// The piece's id.
    piece: Id,
    /// The piece's name.
    name: String,
    /// How well it can be seen.
    sight: PieceVisibility,
    /// Where that was asked for: the text lying on it that falls shortest of the contrast it needs.
    #[serde(skip_serializing_if = "Option::is_none")]
    text_on_it: Option<SeenText>,
}

/// A text that lies on a piece, as it is seen.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SeenText {
    /// The id of the text.
    piece: Id,
    /// Its name.
    name: String,
    /// How well it can be seen.
    sight: PieceVisibility,
}

/// How well each piece of a scene can be seen, on its finished picture.
///
/// # Errors
/// The place where the request is not as expected.
pub fn sights(context: &QueryContext<'_>, request: &SightsRequest) -> Result<Vec<SeenPiece>, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let resolved = resolve::scene(&project, scene, &context.assets(&project)?);
    let screen = request.screen.unwrap_or(Screen::Plain);
    let density = request.density.unwrap_or(1.0);
    if !(1.0..=4.0).contains(&density) {
        let message = format!("expected a density from 1 to 4, found {density}");
        return Err(QueryError::invalid_at("/density", message));
    }
    let observer = Observer { screen, conditions: request.sight, density, cache: context.cache };
    let asked = |piece: &&Piece| request.piece.as_ref().is_none_or(|only| *only == piece.id);
    let shown = scene.shown_pieces();
    let seen = shown.iter().copied().filter(asked).filter_map(|piece| {
        let sight = observer.measures(&resolved, &piece.id, &piece.shape)?;
        let text = request.text_on_it.then(|| text_of(&observer, &resolved, piece, &shown));
        let text_on_it = text.flatten();
        Some(SeenPiece { piece: piece.id.clone(), name: piece.name.clone(), sight, text_on_it })
    });
    Ok(seen.collect::<Vec<_>>())
}

/// The text on a piece, or in the element of a page that it stands for, that falls shortest of the contrast it needs.
fn text_of(
    observer: &Observer<'_>,
    scene: &resolve::Scene,
    piece: &Piece,
    shown: &[&Piece],
) -> Option<SeenText> {
    if let Some(fitting) = &piece.fitting {
        let at = scene.pieces.iter().position(|other| other.id == piece.id)?;
        let (text, found, needed) = observer.text_in(scene, at, fitting)?;
        let sight = PieceVisibility { contrast: found.contrast, needed, squinted: None };
        return Some(SeenText { piece: piece.id.clone(), name: text.name.clone(), sight });
    }
    let (text, sight) = observer.text_on(scene, &piece.id, shown)?;
    Some(SeenText { piece: text.id.clone(), name: text.name.clone(), sight })
}
