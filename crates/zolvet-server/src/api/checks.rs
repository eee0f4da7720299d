//! A project looked over, with progress.

use std::convert::Infallible;

use actix_web::{HttpResponse, post, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use tokio::sync::mpsc;
use utoipa::ToSchema;
use zolvet_core::audit::{Audit, Limits, audit};
use zolvet_core::model::Project;

use super::project_in;
use crate::Work;
use crate::error::{ApiError, ProblemDocument};

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(audit_project);
}

/// What is to be looked over.
#[derive(Deserialize, ToSchema)]
pub struct AuditRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// What is looked for, and from where on it counts.
    #[serde(default)]
    limits: Limits,
}

/// One line of the answer: how far the work has come, and at the end what was found.
#[derive(Serialize, ToSchema)]
pub struct AuditProgress {
    /// From 0 to 1.
    done: f64,
    /// On the last line.
    #[serde(skip_serializing_if = "Option::is_none")]
    audit: Option<Audit>,
    /// On the last line, where it came to nothing.
    #[serde(skip_serializing_if = "Option::is_none")]
    failed: Option<String>,
}

/// Looks a project over. The answer is JSON, one [`AuditProgress`] a line; hanging up ends the work.
#[utoipa::path(operation_id = "audit_project",
    request_body = AuditRequest,
    responses((status = 200, content_type = "application/x-ndjson", body = AuditProgress), (status = 422, body = ProblemDocument))
)]
#[post("/api/audit")]
pub async fn audit_project(
    work: web::Data<Work>,
    body: web::Json<AuditRequest>,
) -> Result<HttpResponse, ApiError> {
    let project = project_in(&body.project)?;
    let (lines, mut received) = mpsc::channel::<String>(16);
    let work = web::Data::clone(&work);
    actix_web::rt::spawn(async move {
        let said = lines.clone();
        let outcome = work
            .run(move |bench| {
                let assets = bench.assets(&project)?;
                let AuditRequest { project: document, limits } = body.into_inner();
                let mut go_on = |done| said.blocking_send(line(done, None, None)).is_ok();
                Ok(audit(&project, &document, &assets, &limits, &bench.cache, &mut go_on))
            })
            .await;
        let last = match outcome {
            Ok(Some(found)) => line(1.0, Some(found), None),
            Ok(None) => return,
            Err(error) => line(1.0, None, Some(error.to_string())),
        };
        // Nobody may be there any more to read it.
        let _ = lines.send(last).await;
    });
    let body = futures_util::stream::poll_fn(move |context| {
        received.poll_recv(context).map(|line| line.map(|line| Ok::<_, Infallible>(web::Bytes::from(line))))
    });
    Ok(HttpResponse::Ok()
        .content_type("application/x-ndjson")
        .insert_header(("Content-Encoding", "identity"))
        .streaming(body))
}

fn line(done: f64, audit: Option<Audit>, failed: Option<String>) -> String {
    let text = serde_json::to_string(&AuditProgress { done, audit, failed });
    text.unwrap_or_default() + "\n"
}
