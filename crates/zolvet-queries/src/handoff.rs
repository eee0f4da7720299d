//! Exports and imports of a project; how close a target comes.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::chromium::{predicted, predicted_as_svg};
use zolvet_core::handoff::{Format, SheetOptions, drawing, export as write, omissions, token_omissions};
use zolvet_core::lower::{FidelityNote, Numbers, Target, lower, scene_with_carried_shadows, targets_of};
use zolvet_core::measure::{
    Faithfulness, PieceFaithfulness, SvgFaithfulness, can_be_seen, faithfulness, is_clearly_closer,
    project_faithfulness, surroundings, svg_faithfulness,
};
use zolvet_core::model::Shape;
use zolvet_core::picture::{Picture, png_data_url};
use zolvet_core::resolve;
use zolvet_core::svg::alone;

use crate::{QueryContext, QueryError, piece_in, scene_in};

/// The content of an export.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ExportRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// In which format.
    format: Format,
    /// Which scene an SVG shows.
    scene: Option<String>,
    /// Of which part, and how.
    #[serde(flatten)]
    wanted: SheetOptions,
}

/// A project or finish as text.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Exported {
    text: String,
    /// Each thing that the format cannot hold.
    notes: Vec<String>,
}

/// Writes a project, or one finish of it, in a format.
///
/// # Errors
/// The place where the request is not as expected.
pub fn export(context: &QueryContext<'_>, request: &ExportRequest) -> Result<Exported, QueryError> {
    let project = context.project(&request.project)?;
    let assets = context.assets(&project)?;
    let scene = request.scene.as_deref();
    if request.format == Format::Svg {
        let drawn = drawing(&project, &assets, scene, &request.wanted);
        let notes = drawn.notes.into_iter().map(|note| note.message).collect();
        return Ok(Exported { text: drawn.svg, notes });
    }
    let text = write(&project, &assets, request.format, scene, &request.wanted);
    let classes = matches!(request.format, Format::Css | Format::Scss | Format::Theme);
    let notes = match request.format {
        Format::Tokens => token_omissions(&project, &request.wanted),
        _ if classes => omissions(&project, &assets, &request.wanted),
        _ => Vec::new(),
    };
    Ok(Exported { text, notes })
}

/// Which piece the request is about.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FaithfulRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of one of its pieces.
    piece: String,
    /// Only this target, with its pictures.
    target: Option<Target>,
    /// How numbers are written.
    #[serde(default)]
    numbers: Numbers,
}

/// How close the targets come.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FaithfulAnswer {
    /// One for each target asked about, the most natural first.
    targets: Vec<Faithfulness>,
    /// The piece as an SVG file of its own, where one target was asked about and the file is clearly closer.
    #[serde(skip_serializing_if = "Option::is_none")]
    closer_as_svg: Option<SvgFaithfulness>,
    /// As it was designed, as a data URL; where one target was asked about.
    #[serde(skip_serializing_if = "Option::is_none")]
    designed: Option<String>,
    /// As a browser will show it.
    #[serde(skip_serializing_if = "Option::is_none")]
    shown: Option<String>,
    /// White where both are alike.
    #[serde(skip_serializing_if = "Option::is_none")]
    difference: Option<String>,
}

/// Draws a piece as each target will really show it, and compares.
///
/// # Errors
/// The place where the request is not as expected.
pub fn faithful(context: &QueryContext<'_>, request: &FaithfulRequest) -> Result<FaithfulAnswer, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let model = piece_in(scene, &request.piece)?;
    let assets = context.assets(&project)?;
    // The picture is the same, and the code is that of the part that carries the shadows.
    let carried = scene_with_carried_shadows(&project, scene, &assets).opened_to(&model.id);
    let resolved = resolve::scene(&project, &carried, &assets);
    let mut answer = FaithfulAnswer {
        targets: Vec::new(),
        closer_as_svg: None,
        designed: None,
        shown: None,
        difference: None,
    };
    let Some(piece) = resolved.pieces.iter().find(|piece| piece.id == model.id) else {
        return Ok(answer);
    };
    let view = surroundings(piece, &resolved);
    let rounded = request.numbers.rounded_piece(piece);
    let possible = targets_of(piece, matches!(model.shape, Shape::Text(_)));
    for target in possible.into_iter().filter(|target| request.target.is_none_or(|only| only == *target)) {
        let lowered = lower(&rounded, target);
        let Some(pictures) = predicted(&resolved, &lowered, &view, context.cache) else {
            continue;
        };
        let css = faithfulness(piece, &lowered, &pictures, &view);
        if request.target.is_some() {
            answer.closer_as_svg = closer_as_svg(context, &resolved, piece, &css);
            answer.designed = Some(data_url(&pictures.designed)?);
            answer.difference = Some(data_url(&pictures.difference())?);
            answer.shown = Some(data_url(&pictures.shown)?);
        }
        answer.targets.push(css);
    }
    Ok(answer)
}

/// How close a piece comes as an SVG file, where that is clearly closer than its CSS.
fn closer_as_svg(
    context: &QueryContext<'_>,
    scene: &resolve::Scene,
    piece: &resolve::Piece,
    css: &Faithfulness,
) -> Option<SvgFaithfulness> {
    if !can_be_seen(css) {
        return None;
    }
    let file = as_svg(context, scene, piece, alone(scene, piece).file.notes);
    is_clearly_closer(&file, css).then_some(file)
}

/// How close a browser comes to a piece by its SVG file; the notes name anything the file could not hold.
fn as_svg(
    context: &QueryContext<'_>,
    scene: &resolve::Scene,
    piece: &resolve::Piece,
    notes: Vec<FidelityNote>,
) -> SvgFaithfulness {
    let view = surroundings(piece, scene);
    let pictures = predicted_as_svg(scene, piece, &view, context.cache);
    svg_faithfulness(piece, notes, &pictures, &view)
}

/// A piece as an SVG file of its own, in the ways a page takes it, and how close a browser comes.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DrawingAnswer {
    /// The file.
    inline: String,
    /// As an `<img>`.
    img: String,
    /// As the background of an element.
    background: String,
    /// How close it comes.
    faithfulness: SvgFaithfulness,
}

/// Writes a piece as an SVG file of its own.
///
/// # Errors
/// The place where the request is not as expected.
pub fn drawn_alone(
    context: &QueryContext<'_>,
    request: &FaithfulRequest,
) -> Result<DrawingAnswer, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let model = piece_in(scene, &request.piece)?;
    let assets = context.assets(&project)?;
    let (piece, _) = resolve::piece(&project, scene, model, &assets);
    let resolved = resolve::scene(&project, scene, &assets);
    let drawn = alone(&resolved, &piece);
    Ok(DrawingAnswer {
        faithfulness: as_svg(context, &resolved, &piece, drawn.file.notes),
        inline: drawn.file.svg,
        img: drawn.img,
        background: drawn.background,
    })
}

/// Which project is compared.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ComparedRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// How numbers are written.
    #[serde(default)]
    numbers: Numbers,
}

/// How close every piece of a project comes, in the target that holds it best.
///
/// # Errors
/// The place where the request is not as expected.
pub fn faithful_project(
    context: &QueryContext<'_>,
    request: &ComparedRequest,
) -> Result<Vec<PieceFaithfulness>, QueryError> {
    let project = context.project(&request.project)?;
    let assets = context.assets(&project)?;
    Ok(project_faithfulness(&project, &assets, request.numbers, context.cache))
}

fn data_url(picture: &Picture) -> Result<String, QueryError> {
    let png = picture.to_png().map_err(QueryError::internal)?;
    Ok(png_data_url(&png))
}
