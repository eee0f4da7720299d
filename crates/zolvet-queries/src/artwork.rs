//! Queries on drawings: their elements, and taking one out.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::arrange::Arranged;
use zolvet_core::handoff::{file_with_depth, picture_of_file};
use zolvet_core::model::Id;
use zolvet_core::picture::png_data_url;
use zolvet_core::report::artwork::{self, Artwork, AsCoats};
use zolvet_core::svg::{Edge, FileWithDepth};

use crate::{QueryContext, QueryError, charge, scene_in};

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
    /// A place of its box, from its left and top.
    #[serde(default)]
    at: Option<[f64; 2]>,
}

/// The elements of a drawing, and which of them is at a place.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ArtworkAnswer {
    /// What it consists of.
    #[serde(flatten)]
    artwork: Artwork,
    /// The number of the highest element that paints something there.
    at: Option<u32>,
    /// The same with the filter that its only element has in the file as coats.
    #[serde(skip_serializing_if = "Option::is_none")]
    as_coats: Option<AsCoats>,
}

/// The elements of a drawing.
///
/// # Errors
/// The place where the request is not as expected.
pub fn artwork(context: &QueryContext<'_>, request: &ArtworkRequest) -> Result<ArtworkAnswer, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let assets = context.assets(&project)?;
    let drawing = || QueryError::invalid_at("/piece", "expected a piece that is a drawing");
    let piece = scene.piece(request.piece.as_str()).ok_or_else(drawing)?;
    let artwork = artwork::artwork(piece, &assets).ok_or_else(drawing)?;
    let at = request.at.and_then(|[x, y]| artwork::element_at(piece, (x, y), &assets));
    let as_coats = artwork::as_coats((&project, scene), piece, &assets);
    Ok(ArtworkAnswer { artwork, at, as_coats })
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
    /// Pixels for one px of a picture of the file; without it none is made.
    #[serde(default)]
    scale: Option<f64>,
}

/// The file of a drawing with its depth.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DepthAnswer {
    /// The file.
    #[serde(flatten)]
    file: FileWithDepth,
    /// A picture of it, a PNG as a data URL.
    png: Option<String>,
}

/// The file of a drawing with the depth that a scene gives it.
///
/// # Errors
/// The place where the request is not as expected.
pub fn artwork_depth(context: &QueryContext<'_>, request: &DepthRequest) -> Result<DepthAnswer, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let assets = context.assets(&project)?;
    let unread = || QueryError::invalid_at("/asset", "expected the id of a drawing that can be read");
    let file = file_with_depth(&project, scene, &request.asset, request.edge, &assets).ok_or_else(unread)?;
    if request.scale.is_some_and(|scale| !(1.0..=4.0).contains(&scale)) {
        return Err(QueryError::invalid_at("/scale", "expected 1 to 4 pixels for one px"));
    }
    let drawn = request.scale.map(|scale| {
        let picture = picture_of_file((&project, scene), &file.svg, &request.asset, &assets, scale)
            .ok_or_else(unread)?;
        Ok::<_, QueryError>(png_data_url(&charge(picture.to_png().map_err(QueryError::internal)?)))
    });
    Ok(DepthAnswer { png: drawn.transpose()?, file })
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
