//! Revisions of projects: listed, read, named, restored; and what a finish was in them.

use actix_web::{HttpRequest, HttpResponse, get, post, put, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::limits;
use zolvet_core::model::{Finish, current_form};
use zolvet_store::{Page, Store};

use super::projects::{Saved, StoredProject, base_revision, checked, etag, with_document};
use super::{PageQuery, RequestContext, TOTAL, respond};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(revisions).service(read_revision).service(name_revision).service(restore).service(earlier);
}

/// A revision in a list.
#[derive(Serialize, ToSchema)]
pub struct ListedRevision {
    revision: i64,
    note: String,
    /// The name it was given; named revisions are kept for ever.
    name: Option<String>,
    /// RFC 3339, UTC.
    created_at: String,
}

/// The name of a revision.
#[derive(Deserialize, ToSchema)]
pub struct RevisionName {
    /// Up to 200 characters; without one the revision is thinned with age like the others.
    name: Option<String>,
}

/// A finish as it was for a while.
#[derive(Serialize, ToSchema)]
pub struct EarlierFinish {
    /// The last revision in which it was so.
    revision: i64,
    /// When that was saved (RFC 3339, UTC).
    created_at: String,
    #[schema(value_type = Finish)]
    finish: Value,
}

/// A part of a project's revisions, newest first. `X-Total` says how many there are.
#[utoipa::path(operation_id = "list_revisions",
    params(("id" = String, Path), PageQuery),
    responses((status = 200, body = Vec<ListedRevision>), (status = 404, body = ProblemDocument))
)]
#[get("/api/projects/{id}/revisions")]
pub async fn revisions(
    store: web::Data<Store>,
    id: web::Path<String>,
    page: web::Query<PageQuery>,
) -> Result<HttpResponse, ApiError> {
    let (found, count) = store.revisions(&id, page.page()?).await?;
    let revisions = found.into_iter().map(|revision| ListedRevision {
        revision: revision.revision,
        note: revision.note,
        name: revision.name,
        created_at: revision.created_at,
    });
    Ok(HttpResponse::Ok().insert_header((TOTAL, count)).json(revisions.collect::<Vec<_>>()))
}

/// A project as it was at a revision.
#[utoipa::path(operation_id = "read_revision", 
    params(("id" = String, Path), ("revision" = i64, Path)),
    responses((status = 200, body = StoredProject), (status = 404, body = ProblemDocument))
)]
#[get("/api/projects/{id}/revisions/{revision}")]
pub async fn read_revision(
    store: web::Data<Store>,
    path: web::Path<(String, i64)>,
    request: HttpRequest,
) -> Result<HttpResponse, ApiError> {
    let stored = store.read_revision(&path.0, path.1).await?;
    respond("application/json", with_document(&stored)?, &request)
}

/// Brings a revision back, as the next one. `If-Match` names the revision that is current.
#[utoipa::path(operation_id = "restore_revision", 
    params(("id" = String, Path), ("revision" = i64, Path), ("If-Match" = String, Header)),
    responses(
        (status = 200, body = Saved),
        (status = 404, body = ProblemDocument),
        (status = 412, body = ProblemDocument),
        (status = 422, body = ProblemDocument),
        (status = 428, body = ProblemDocument)
    )
)]
#[post("/api/projects/{id}/revisions/{revision}/restore")]
pub async fn restore(
    store: web::Data<Store>,
    context: RequestContext,
    path: web::Path<(String, i64)>,
) -> Result<HttpResponse, ApiError> {
    let (id, revision) = path.into_inner();
    let base = base_revision(&context.request)?;
    let old = store.read_revision(&id, revision).await?;
    let (name, text) = context.scheduler.run(context.client, move |_| checked(old.text.as_bytes())).await?;
    let note = format!("restored from revision {revision}");
    let revision = store.save(&id, base, &name, &text, &note).await?;
    Ok(HttpResponse::Ok().insert_header(etag(revision)).json(Saved { revision }))
}

/// Names a revision, which keeps it for ever; or takes its name away.
#[utoipa::path(operation_id = "name_revision",
    params(("id" = String, Path), ("revision" = i64, Path)),
    request_body = RevisionName,
    responses((status = 204), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument))
)]
#[put("/api/projects/{id}/revisions/{revision}/name")]
pub async fn name_revision(
    store: web::Data<Store>,
    context: RequestContext,
    path: web::Path<(String, i64)>,
    body: JsonBody<RevisionName>,
) -> Result<HttpResponse, ApiError> {
    let given = context.scheduler.run_request(context.client, body, |_, body| Ok(body.name.clone())).await?;
    let name = given.as_deref().map(str::trim).filter(|name| !name.is_empty());
    if name.is_some_and(|name| name.chars().count() > limits::NAME_CHARACTERS) {
        let expected = format!("expected at most {} characters", limits::NAME_CHARACTERS);
        return Err(ApiError::invalid_at("/name", expected));
    }
    store.name_revision(&path.0, path.1, name).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// How many looks of a finish are found at most.
const LOOKS: usize = 24;
/// How many revisions are looked through at most.
const REVISIONS: u32 = 2000;

/// What a finish was in earlier revisions, each look once, the latest first; the present one is left out.
#[utoipa::path(operation_id = "earlier_finishes",
    params(("id" = String, Path), ("finish" = String, Path)),
    responses((status = 200, body = Vec<EarlierFinish>), (status = 404, body = ProblemDocument))
)]
#[get("/api/projects/{id}/finishes/{finish}/earlier")]
pub async fn earlier(
    store: web::Data<Store>,
    path: web::Path<(String, String)>,
) -> Result<HttpResponse, ApiError> {
    let (id, finish) = path.into_inner();
    let mut seen: Vec<Value> =
        store.read(&id).await.map(|now| found(&now.text, &finish))?.into_iter().collect();
    let mut looks = Vec::new();
    for from in (0..REVISIONS).step_by(Page::MOST as usize) {
        let (listed, _) = store.revisions(&id, Page { from, most: Page::MOST }).await?;
        let last = listed.len() < Page::MOST as usize;
        for revision in listed {
            if looks.len() >= LOOKS {
                break;
            }
            let stored = store.read_revision(&id, revision.revision).await?;
            let Some(was) = found(&stored.text, &finish).filter(|was| !seen.contains(was)) else { continue };
            seen.push(was.clone());
            looks.push(EarlierFinish {
                revision: revision.revision,
                created_at: revision.created_at,
                finish: was,
            });
        }
        if last {
            break;
        }
    }
    Ok(HttpResponse::Ok().json(looks))
}

/// A finish of a stored document.
fn found(text: &str, id: &str) -> Option<Value> {
    let mut document: Value = serde_json::from_str(&current_form(text)).ok()?;
    let finishes = document.get_mut("finishes")?.as_array_mut()?;
    finishes.iter_mut().find(|finish| finish["id"] == id).map(Value::take)
}
