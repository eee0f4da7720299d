//! Reports on a piece, and CSS read into coats.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::arrange::{Arranged, Arrangement, arranged};
use zolvet_core::css::{self, CodeOptions};
use zolvet_core::lower::{Conventions, Numbers, Target};
use zolvet_core::measure::Line;
use zolvet_core::model::{Coat, Id};
use zolvet_core::report::{
    CoatOutline, ColourForms, PieceBox, PlacedCode, Report, ReportOptions, boxes, coat_outline, colour_forms,
    report, scene_code,
};
use zolvet_core::resolve::split_coat;

use crate::{QueryContext, QueryError, piece_in, scene_in};

/// Which piece the request is about.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ResolveRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of one of its pieces.
    piece: String,
    /// Where the edge profile is measured; when left out, from the middle away from the first light.
    line: Option<Line>,
    /// The target of its CSS; when left out, the one that holds it best.
    target: Option<Target>,
    /// How its numbers are written.
    #[serde(default)]
    numbers: Numbers,
    /// How its plain values are said; in several forms side by side when left out.
    conventions: Option<Conventions>,
}

/// Everything about one piece: both forms of every offset, colours, code, differences, the edge profile.
///
/// # Errors
/// The place where the request is not as expected.
pub fn resolve(context: &QueryContext<'_>, request: &ResolveRequest) -> Result<Report, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    if let Some(line) = request.line
        && ![line.x, line.y, line.bearing].iter().all(|number| number.abs() <= 1e5)
    {
        return Err(QueryError::invalid_at("/line", "expected numbers of at most 100000"));
    }
    piece_in(scene, &request.piece)?;
    let (target, numbers, conventions) = (request.target, request.numbers, request.conventions);
    let code = CodeOptions { target, numbers, conventions, ..CodeOptions::default() };
    let options = ReportOptions { piece: &request.piece, line: request.line, code };
    let assets = context.assets(&project)?;
    report(&project, scene, options, &assets, context.cache)
        .ok_or_else(|| QueryError::invalid_at("/piece", "expected a piece of the scene"))
}

/// Which scene the request is about.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SceneRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
}

/// Which scene is wanted as code.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SceneCodeRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// One of its pieces, to be written for another target than the one that holds it best.
    piece: Option<String>,
    /// That target.
    target: Option<Target>,
}

/// Every piece of a scene as code, with its place, lowest first.
///
/// # Errors
/// The place where the request is not as expected.
pub fn placed_code(
    context: &QueryContext<'_>,
    request: &SceneCodeRequest,
) -> Result<Vec<PlacedCode>, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let of = request.piece.as_deref().zip(request.target);
    Ok(scene_code(&project, scene, of, &context.assets(&project)?))
}

/// The boxes of all pieces of a scene.
///
/// # Errors
/// The place where the request is not as expected.
pub fn piece_boxes(context: &QueryContext<'_>, request: &SceneRequest) -> Result<Vec<PieceBox>, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    Ok(boxes(scene, &context.assets(&project)?))
}

/// How pieces are to be arranged.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ArrangeRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The ids of pieces, in the order they were chosen.
    pieces: Vec<Id>,
    /// The operation.
    how: Arrangement,
}

/// Aligns, distributes or joins pieces, or takes a join apart: answers with the change of the scene.
///
/// # Errors
/// The place where the request is not as expected.
pub fn arrange(context: &QueryContext<'_>, request: &ArrangeRequest) -> Result<Arranged, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let assets = context.assets(&project)?;
    arranged(&project, scene, &request.pieces, &request.how, &assets)
        .ok_or_else(|| QueryError::invalid_at("/pieces", "expected pieces that can be arranged like that"))
}

/// Where one coat lies on the scene.
///
/// # Errors
/// The place where the request is not as expected.
pub fn outline(context: &QueryContext<'_>, request: &CoatRequest) -> Result<CoatOutline, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let piece = piece_in(scene, &request.piece)?;
    let unknown = || format!("expected the id of a coat, found \"{}\"", request.coat);
    coat_outline(&project, scene, piece, &request.coat, &context.assets(&project)?)
        .ok_or_else(|| QueryError::invalid_at("/coat", unknown()))
}

/// Which coat the request is about.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoatRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    pub project: Value,
    /// The id of a scene.
    pub scene: String,
    /// The id of one of its pieces.
    pub piece: String,
    /// The id of a coat in its stack.
    pub coat: Id,
}

/// The coats a ramp stands for.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SplitCoats {
    /// Nearest first.
    coats: Vec<Coat>,
}

/// Takes a ramp, or the shadows of a height, apart into ordinary coats that draw the same.
///
/// # Errors
/// The place where the request is not as expected.
pub fn split(context: &QueryContext<'_>, request: &CoatRequest) -> Result<SplitCoats, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let piece = piece_in(scene, &request.piece)?;
    let unknown = || format!("expected the id of a ramp or of a height, found \"{}\"", request.coat);
    let coats = split_coat(&project, scene, piece, request.coat.as_str(), &context.assets(&project)?)
        .ok_or_else(|| QueryError::invalid_at("/coat", unknown()))?
        .map_err(|error| QueryError::invalid_at("/coat", error.to_string()))?;
    Ok(SplitCoats { coats })
}

/// CSS to read.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CssRequest {
    /// Declarations, rules, or the value of a `box-shadow`.
    css: String,
}

/// The depth that the CSS contains.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CssCoats {
    /// First is nearest the eye.
    coats: Vec<Coat>,
    /// Each thing that was read as something else.
    diagnostics: Vec<String>,
}

/// Reads CSS into coats.
///
/// # Errors
/// The place where the request is not as expected.
pub fn read_css(_context: &QueryContext<'_>, request: &CssRequest) -> Result<CssCoats, QueryError> {
    let read = css::read(&request.css).map_err(|error| {
        QueryError::invalid_at(&format!("{}:{}", error.line, error.column), error.message)
    })?;
    Ok(CssCoats { coats: read.coats, diagnostics: read.diagnostics })
}

/// Colours to be put in other forms.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ColoursRequest {
    /// In CSS syntax, at most 64.
    colours: Vec<String>,
}

/// Colours in every form, and how far each is from the first.
///
/// # Errors
/// The place where the request is not as expected.
pub fn colours(
    _context: &QueryContext<'_>,
    request: &ColoursRequest,
) -> Result<Vec<ColourForms>, QueryError> {
    if request.colours.len() > 64 {
        return Err(QueryError::invalid_at("/colours", "expected at most 64 colours"));
    }
    colour_forms(&request.colours)
        .map_err(|(at, error)| QueryError::invalid_at(&format!("/colours/{at}"), error.to_string()))
}
