//! Queries on drawings: their elements, and taking one out.

use serde::Deserialize;
use serde_json::Value;
use zolvet_core::arrange::Arranged;
use zolvet_core::handoff::file_with_depth;
use zolvet_core::model::Id;
use zolvet_core::report::artwork::{self, Artwork};
use zolvet_core::svg::{Edge, FileWithDepth};

use crate::{QueryContext, QueryError, scene_in};

/// A piece that is a drawing.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ArtworkRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of a piece.
    piece: Id,
}

/// The elements of a drawing.
///
/// # Errors
/// The place where the request is not as expected.
pub fn artwork(context: &QueryContext<'_>, request: &ArtworkRequest) -> Result<Artwork, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let assets = context.assets(&project)?;
    let found = scene.piece(request.piece.as_str()).and_then(|piece| artwork::artwork(piece, &assets));
    found.ok_or_else(|| QueryError::invalid_at("/piece", "expected a piece that is a drawing"))
}

/// A drawing that goes back to its file with its depth.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DepthRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of the drawing's asset.
    asset: Id,
    /// What becomes of depth beyond the file's edge.
    #[serde(default)]
    edge: Edge,
}

/// The file of a drawing with the depth that a scene gives it.
///
/// # Errors
/// The place where the request is not as expected.
pub fn artwork_depth(
    context: &QueryContext<'_>,
    request: &DepthRequest,
) -> Result<FileWithDepth, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let assets = context.assets(&project)?;
    file_with_depth(&project, scene, &request.asset, request.edge, &assets)
        .ok_or_else(|| QueryError::invalid_at("/asset", "expected the id of a drawing that can be read"))
}

/// An element of a drawing that is to be taken out.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TakeOutRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of a piece that is a drawing.
    piece: Id,
    /// The number of an element that it shows.
    element: u32,
}

/// Takes an element out of a drawing: answers with the change of the scene.
///
/// # Errors
/// The place where the request is not as expected.
pub fn take_out(context: &QueryContext<'_>, request: &TakeOutRequest) -> Result<Arranged, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let assets = context.assets(&project)?;
    artwork::take_out(&project, scene, &request.piece, request.element, &assets).ok_or_else(|| {
        QueryError::invalid_at("/element", "expected an element that the drawing shows beside others")
    })
}
