//! What leaves a project and what comes in; how close a target comes.

use std::io::Write as _;

use actix_web::HttpResponse;
use serde::Deserialize;
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::handoff::{SheetOptions, bundle};
use zolvet_core::import::Incoming;
use zolvet_core::measure::PieceFaithfulness;
use zolvet_core::model::{Project, migrate};
use zolvet_questions::{
    self as questions, ComparedRequest, DrawingAnswer, ExportRequest, Exported, FaithfulAnswer,
    FaithfulRequest,
};

use super::{RequestContext, project_in, respond};
use crate::error::{ApiError, ProblemDocument};
use crate::helper::Task;
use crate::request::JsonBody;
use crate::tasks::ImportRequest;

/// Writes a project, or one finish of it, in a format.
#[utoipa::path(post, path = "/api/export",
    operation_id = "export_project",
    request_body = ExportRequest,
    responses((status = 200, body = Exported), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn export(
    context: RequestContext,
    body: JsonBody<ExportRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::export).await
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
#[utoipa::path(post, path = "/api/bundle",
    operation_id = "export_bundle",
    request_body = BundleRequest,
    responses((status = 200, content_type = "application/zip", body = Vec<u8>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn export_bundle(
    context: RequestContext,
    body: JsonBody<BundleRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .bytes("application/zip", body, |resources, body| {
            let project = project_in(&body.project)?;
            let assets = resources.desk().assets(&project)?;
            let mut document = resources.with_files(&project, body.project.clone())?;
            migrate(&mut document);
            zipped(&bundle(&project, &document, &assets, &body.wanted)).map_err(ApiError::internal)
        })
        .await
}

/// What files would bring into a project; nothing is changed.
#[utoipa::path(post, path = "/api/import",
    operation_id = "read_import",
    request_body = ImportRequest,
    responses((status = 200, body = Incoming), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn import(
    context: RequestContext,
    body: JsonBody<ImportRequest>,
) -> Result<HttpResponse, ApiError> {
    let answer = context.scheduler.run_helper(context.client, Task::Import, body.bytes()).await?;
    Ok(respond("application/json", answer))
}

/// Draws a piece as each target will really show it, and compares.
#[utoipa::path(post, path = "/api/faithful",
    operation_id = "faithful",
    request_body = FaithfulRequest,
    responses((status = 200, body = FaithfulAnswer), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn faithful(
    context: RequestContext,
    body: JsonBody<FaithfulRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::faithful).await
}

/// Writes a piece as an SVG file of its own.
#[utoipa::path(post, path = "/api/drawing",
    operation_id = "drawing",
    request_body = FaithfulRequest,
    responses((status = 200, body = DrawingAnswer), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn drawn_alone(
    context: RequestContext,
    body: JsonBody<FaithfulRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::drawn_alone).await
}

/// How close every piece of a project comes, in the target that holds it best.
#[utoipa::path(post, path = "/api/faithful/project",
    operation_id = "faithful_project",
    request_body = ComparedRequest,
    responses((status = 200, body = [PieceFaithfulness]), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
pub async fn faithful_project(
    context: RequestContext,
    body: JsonBody<ComparedRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, questions::faithful_project).await
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
