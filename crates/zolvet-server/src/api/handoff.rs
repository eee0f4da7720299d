//! What leaves a project and what comes in; how close a target comes.

use std::io::Write as _;

use actix_web::{HttpResponse, post, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::chromium::{predicted, predicted_as_svg};
use zolvet_core::handoff::{Format, SheetOptions, bundle, drawing, export as write};
use zolvet_core::import::Incoming;
use zolvet_core::incoming::{self, IncomingError, IncomingFile, IncomingFormat, IncomingSettings};
use zolvet_core::lower::{Numbers, Target, lower, targets_of};
use zolvet_core::measure::{
    Faithfulness, PieceFaithfulness, SvgFaithfulness, faithfulness, project_faithfulness, surroundings,
    svg_faithfulness,
};
use zolvet_core::model::{Project, Shape, migrate};
use zolvet_core::picture::{Picture, png_data_url};
use zolvet_core::resolve;
use zolvet_core::svg::alone;

use super::{RequestContext, piece_in, project_in, scene_in};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config
        .service(export)
        .service(export_bundle)
        .service(import)
        .service(faithful)
        .service(faithful_project)
        .service(drawn_alone);
}

/// What is to be written.
#[derive(Deserialize, ToSchema)]
pub struct ExportRequest {
    /// The project document.
    #[schema(value_type = Project)]
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
#[derive(Serialize, ToSchema)]
pub struct Exported {
    text: String,
    /// What an SVG cannot hold.
    notes: Vec<String>,
}

/// Writes a project, or one finish of it, in a format.
#[utoipa::path(operation_id = "export_project",
    request_body = ExportRequest,
    responses((status = 200, body = Exported), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/export")]
pub async fn export(
    context: RequestContext,
    body: JsonBody<ExportRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let assets = resources.assets(&project)?;
            let scene = body.scene.as_deref();
            if body.format == Format::Svg {
                let drawn = drawing(&project, &assets, scene, &body.wanted);
                let notes = drawn.notes.into_iter().map(|note| note.message).collect();
                return Ok(Exported { text: drawn.svg, notes });
            }
            let text = write(&project, &assets, body.format, scene, &body.wanted);
            Ok(Exported { text, notes: Vec::new() })
        })
        .await
}

/// What goes into a bundle.
#[derive(Deserialize, ToSchema)]
pub struct BundleRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// How it is written.
    #[serde(flatten)]
    wanted: SheetOptions,
}

/// Everything a project leaves in, as one ZIP archive.
#[utoipa::path(operation_id = "export_bundle",
    request_body = BundleRequest,
    responses((status = 200, content_type = "application/zip", body = Vec<u8>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/bundle")]
pub async fn export_bundle(
    context: RequestContext,
    body: JsonBody<BundleRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .bytes("application/zip", body, |resources, body| {
            let project = project_in(&body.project)?;
            let assets = resources.assets(&project)?;
            let mut document = resources.with_files(&project, body.project.clone())?;
            migrate(&mut document);
            zipped(&bundle(&project, &document, &assets, &body.wanted)).map_err(ApiError::internal)
        })
        .await
}

/// Files as a ZIP archive whose bytes depend on nothing but them.
///
/// # Errors
/// When an entry cannot be written.
pub fn zipped(files: &[zolvet_core::handoff::File]) -> zip::result::ZipResult<Vec<u8>> {
    let mut archive = zip::ZipWriter::new(std::io::Cursor::new(Vec::new()));
    for file in files {
        let options = zip::write::SimpleFileOptions::default()
            .compression_method(zip::CompressionMethod::Deflated)
            .last_modified_time(zip::DateTime::default());
        archive.start_file(&file.path, options)?;
        archive.write_all(&file.bytes)?;
    }
    Ok(archive.finish()?.into_inner())
}

/// What is to be read.
#[derive(Deserialize, ToSchema)]
pub struct ImportRequest {
    /// The project it is to go into.
    #[schema(value_type = Project)]
    project: Value,
    /// In which format they are.
    format: IncomingFormat,
    /// The files, which are read as one.
    files: Vec<IncomingFile>,
    /// What they do not say themselves.
    #[serde(default)]
    settings: IncomingSettings,
}

/// What files would bring into a project; nothing is changed.
#[utoipa::path(operation_id = "read_import",
    request_body = ImportRequest,
    responses((status = 200, body = Incoming), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/import")]
pub async fn import(
    context: RequestContext,
    body: JsonBody<ImportRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |_, body| {
            let project = project_in(&body.project)?;
            let incoming =
                incoming::read(body.format, &body.files, &body.settings).map_err(|error| match error {
                    IncomingError::At { place, message } => ApiError::invalid_at(&place, message),
                    IncomingError::Document(problems) => ApiError::invalid(problems),
                })?;
            Ok(incoming.fitted_to(&project))
        })
        .await
}

/// Which piece the request is about.
#[derive(Deserialize, ToSchema)]
pub struct FaithfulRequest {
    /// The project document.
    #[schema(value_type = Project)]
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
#[derive(Serialize, ToSchema)]
pub struct FaithfulAnswer {
    /// One for each target asked about, the most natural first.
    targets: Vec<Faithfulness>,
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
#[utoipa::path(operation_id = "faithful",
    request_body = FaithfulRequest,
    responses((status = 200, body = FaithfulAnswer), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/faithful")]
pub async fn faithful(
    context: RequestContext,
    body: JsonBody<FaithfulRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            let model = piece_in(scene, &body.piece)?;
            let resolved = resolve::scene(&project, scene, &resources.assets(&project)?);
            let mut answer =
                FaithfulAnswer { targets: Vec::new(), designed: None, shown: None, difference: None };
            let Some(piece) = resolved.pieces.iter().find(|piece| piece.id == model.id) else {
                return Ok(answer);
            };
            let view = surroundings(piece, &resolved);
            let rounded = body.numbers.of_piece(piece);
            let possible = targets_of(piece, matches!(model.shape, Shape::Text(_)));
            for target in possible.into_iter().filter(|target| body.target.is_none_or(|only| only == *target))
            {
                let lowered = lower(&rounded, target);
                let Some(pictures) = predicted(&resolved, &lowered, &view, &resources.cache) else {
                    continue;
                };
                answer.targets.push(faithfulness(piece, &lowered, &pictures));
                if body.target.is_some() {
                    answer.designed = Some(data_url(&pictures.designed)?);
                    answer.difference = Some(data_url(&pictures.difference())?);
                    answer.shown = Some(data_url(&pictures.shown)?);
                }
            }
            Ok(answer)
        })
        .await
}

/// A piece as an SVG file of its own, in the ways a page takes it, and how close a browser comes.
#[derive(Serialize, ToSchema)]
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
#[utoipa::path(operation_id = "drawing",
    request_body = FaithfulRequest,
    responses((status = 200, body = DrawingAnswer), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/drawing")]
pub async fn drawn_alone(
    context: RequestContext,
    body: JsonBody<FaithfulRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            let model = piece_in(scene, &body.piece)?;
            let assets = resources.assets(&project)?;
            let (piece, _) = resolve::piece(&project, scene, model, &assets);
            let resolved = resolve::scene(&project, scene, &assets);
            let drawn = alone(&resolved, &piece);
            let view = surroundings(&piece, &resolved);
            let pictures = predicted_as_svg(&resolved, &piece, &view, &resources.cache);
            Ok(DrawingAnswer {
                faithfulness: svg_faithfulness(&piece, drawn.file.notes, &pictures),
                inline: drawn.file.svg,
                img: drawn.img,
                background: drawn.background,
            })
        })
        .await
}

/// Which project is compared.
#[derive(Deserialize, ToSchema)]
pub struct ComparedRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// How numbers are written.
    #[serde(default)]
    numbers: Numbers,
}

/// How close every piece of a project comes, in the target that holds it best.
#[utoipa::path(operation_id = "faithful_project",
    request_body = ComparedRequest,
    responses((status = 200, body = [PieceFaithfulness]), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/faithful/project")]
pub async fn faithful_project(
    context: RequestContext,
    body: JsonBody<ComparedRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let assets = resources.assets(&project)?;
            Ok(project_faithfulness(&project, &assets, body.numbers, &resources.cache))
        })
        .await
}

fn data_url(picture: &Picture) -> Result<String, ApiError> {
    let png = picture.to_png().map_err(ApiError::internal)?;
    Ok(png_data_url(&png))
}
