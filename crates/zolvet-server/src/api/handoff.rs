//! The bundle that a project leaves in, and files that come in.

use actix_web::HttpResponse;
use serde::Deserialize;
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::handoff::{SheetOptions, bundle};
use zolvet_core::import::Incoming;
use zolvet_core::model::{Project, migrate};
use zolvet_host::{ImportRequest, Task, zip};

use super::{RequestContext, project_in, respond};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

/// The content of a bundle.
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
            let assets = resources.query_context().assets(&project)?;
            let mut document = resources.with_files(&project, body.project.clone())?;
            migrate(&mut document);
            zip(&bundle(&project, &document, &assets, &body.wanted)).map_err(ApiError::internal)
        })
        .await
}

/// The content of files for a project; nothing is changed.
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
