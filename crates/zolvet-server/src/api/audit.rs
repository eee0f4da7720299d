//! The audit of a project, with progress.

use std::convert::Infallible;

use actix_web::{HttpResponse, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use tokio::sync::mpsc;
use tokio::task::JoinHandle;
use utoipa::ToSchema;
use zolvet_core::audit::{Audit, Finding, Limits, audit};
use zolvet_queries::ProjectOrHeld;

use super::RequestContext;
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

/// The project to audit.
#[derive(Deserialize, ToSchema)]
pub struct AuditRequest {
    /// The project document.
    #[schema(value_type = ProjectOrHeld)]
    project: Value,
    /// The findings to look for, and their limits.
    #[serde(default)]
    limits: Limits,
}

/// One line of the answer: the share of the work done, findings on the way, and at the end all of it.
#[derive(Default, Serialize, ToSchema)]
pub struct AuditProgress {
    /// From 0 to 1.
    done: f64,
    /// Findings since the line before.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    found: Vec<Finding>,
    /// On the last line.
    #[serde(skip_serializing_if = "Option::is_none")]
    audit: Option<Audit>,
    /// On the last line, where it came to nothing.
    #[serde(skip_serializing_if = "Option::is_none")]
    failed: Option<String>,
}

/// Looks a project over. The answer is JSON, one [`AuditProgress`] a line; hanging up ends the work.
#[utoipa::path(post, path = "/api/audit",
    operation_id = "audit_project",
    request_body = AuditRequest,
    responses((status = 200, content_type = "application/x-ndjson", body = AuditProgress), (status = 422, body = ProblemDocument))
)]
pub async fn audit_project(
    context: RequestContext,
    body: JsonBody<AuditRequest>,
) -> Result<HttpResponse, ApiError> {
    let RequestContext { scheduler, client, .. } = context;
    // The request is parsed first, so that what is wrong with it is an error and no finding.
    let audited = scheduler
        .run_request(client.clone(), body, |resources, body| {
            Ok((resources.query_context().project(&body.project)?, body.limits.clone()))
        })
        .await?;
    let (lines, mut received) = mpsc::channel::<String>(16);
    let looking = actix_web::rt::spawn(async move {
        let said = lines.clone();
        let outcome = scheduler
            .run_long(client, move |resources| {
                let (project, limits) = &audited;
                let assets = resources.query_context().assets(project)?;
                let mut go_on = |done: f64, found: &[Finding]| {
                    let progress = AuditProgress { done, found: found.to_vec(), ..AuditProgress::default() };
                    said.blocking_send(line(&progress)).is_ok()
                };
                Ok(audit(project, &assets, limits, &resources.cache, &mut go_on))
            })
            .await;
        let last = match outcome {
            Ok(Some(all)) => AuditProgress { audit: Some(all), ..AuditProgress::default() },
            Ok(None) => return,
            Err(error) => AuditProgress { failed: Some(error.to_string()), ..AuditProgress::default() },
        };
        // Nobody may be there any more to read it.
        let _ = lines.send(line(&AuditProgress { done: 1.0, ..last })).await;
    });
    let looking = EndedWith(looking);
    let body = futures_util::stream::poll_fn(move |context| {
        // Whoever hangs up drops this, and so ends the work.
        let _looking = &looking;
        received.poll_recv(context).map(|line| line.map(|line| Ok::<_, Infallible>(web::Bytes::from(line))))
    });
    Ok(HttpResponse::Ok()
        .content_type("application/x-ndjson")
        .insert_header(("Content-Encoding", "identity"))
        .streaming(body))
}

/// Work that ends when this is dropped.
struct EndedWith(JoinHandle<()>);

impl Drop for EndedWith {
    fn drop(&mut self) {
        self.0.abort();
    }
}

fn line(progress: &AuditProgress) -> String {
    let text = serde_json::to_string(progress);
    text.unwrap_or_default() + "\n"
}
