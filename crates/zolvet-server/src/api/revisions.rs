//! Revisions of projects: listed, read, named, restored; and earlier looks of a finish.

use actix_web::{HttpResponse, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::model::{Finish, current_form};
use zolvet_core::{budget, limits};
use zolvet_store::{Page, Store};

use super::projects::{Saved, StoredProject, base_revision, checked, etag, with_document};
use super::{PageQuery, RequestContext, TOTAL, json, respond};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;
use crate::resources::Resources;

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
#[utoipa::path(get, path = "/api/projects/{id}/revisions",
    operation_id = "list_revisions",
    params(("id" = String, Path), PageQuery),
    responses((status = 200, body = Vec<ListedRevision>), (status = 404, body = ProblemDocument))
)]
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
#[utoipa::path(get, path = "/api/projects/{id}/revisions/{revision}",
    operation_id = "read_revision", 
    params(("id" = String, Path), ("revision" = i64, Path)),
    responses((status = 200, body = StoredProject), (status = 404, body = ProblemDocument))
)]
pub async fn read_revision(
    context: RequestContext,
    path: web::Path<(String, i64)>,
) -> Result<HttpResponse, ApiError> {
    let stored = context.scheduler.read_project(context.client, &path.0, Some(path.1)).await?;
    Ok(respond("application/json", with_document(&stored)?))
}

/// Brings a revision back, as the next one. `If-Match` names the revision that is current.
#[utoipa::path(post, path = "/api/projects/{id}/revisions/{revision}/restore",
    operation_id = "restore_revision", 
    params(("id" = String, Path), ("revision" = i64, Path), ("If-Match" = String, Header)),
    responses(
        (status = 200, body = Saved),
        (status = 404, body = ProblemDocument),
        (status = 412, body = ProblemDocument),
        (status = 422, body = ProblemDocument),
        (status = 428, body = ProblemDocument)
    )
)]
pub async fn restore(
    store: web::Data<Store>,
    context: RequestContext,
    path: web::Path<(String, i64)>,
) -> Result<HttpResponse, ApiError> {
    let (id, revision) = path.into_inner();
    let base = base_revision(&context.request)?;
    let (before, project) = (store.before_save(&id).await?, id.clone());
    let (name, packed) = context
        .scheduler
        .run_document(context.client, move |resources| {
            let (name, text) = checked(resources.read(&project, Some(revision))?.text.as_bytes())?;
            Ok((name, before.pack(&text).map_err(ApiError::internal)?))
        })
        .await?;
    let note = format!("restored from revision {revision}");
    let revision = store.save_packed(&id, base, &name, packed, &note).await?;
    Ok(HttpResponse::Ok().insert_header(etag(revision)).json(Saved { revision }))
}

/// Names a revision, which keeps it for ever; or takes its name away.
#[utoipa::path(put, path = "/api/projects/{id}/revisions/{revision}/name",
    operation_id = "name_revision",
    params(("id" = String, Path), ("revision" = i64, Path)),
    request_body = RevisionName,
    responses((status = 204), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument))
)]
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

/// The earlier looks of a finish, each once, the latest first; the present one is left out. At most 24 looks are found,
/// in at most 2,000 revisions.
#[utoipa::path(get, path = "/api/projects/{id}/finishes/{finish}/earlier",
    operation_id = "earlier_finishes",
    params(("id" = String, Path), ("finish" = String, Path)),
    responses((status = 200, body = Vec<EarlierFinish>), (status = 404, body = ProblemDocument))
)]
pub async fn earlier(
    context: RequestContext,
    path: web::Path<(String, String)>,
) -> Result<HttpResponse, ApiError> {
    let (id, finish) = path.into_inner();
    // Reading many revisions is computing: it has its turn, ends when nobody waits for it, and is bounded by the bytes read.
    let bytes = context
        .scheduler
        .run_long(context.client, move |resources| json(&earlier_looks(resources, &id, &finish)?))
        .await?;
    Ok(respond("application/json", bytes))
}

/// How many looks of a finish are found at most.
const MAX_LOOKS: usize = 24;
/// How many revisions are looked through at most.
const MAX_REVISIONS: u32 = 2000;
/// Bytes of documents that are read at most: about five seconds of one core.
const MAX_BYTES: usize = 256 << 20;

fn earlier_looks(resources: &Resources, id: &str, finish: &str) -> Result<Vec<EarlierFinish>, ApiError> {
    let now = resources.read(id, None)?;
    let mut seen: Vec<Value> = find_finish(&now.text, finish).into_iter().collect();
    let (mut looks, mut text, mut bytes) = (Vec::new(), now.text, 0);
    for from in (0..MAX_REVISIONS).step_by(Page::MAX as usize) {
        let listed = resources.revisions(id, Page { from, most: Page::MAX })?;
        let is_last = listed.len() < Page::MAX as usize;
        for revision in listed {
            // What was found so far answers, where looking further takes too long.
            bytes += text.len();
            if looks.len() >= MAX_LOOKS || bytes > MAX_BYTES || budget::is_stopped() {
                return Ok(looks);
            }
            let stored = resources.read(id, Some(revision.revision))?;
            if stored.text == text {
                continue;
            }
            text = stored.text;
            let Some(was) = find_finish(&text, finish).filter(|was| !seen.contains(was)) else { continue };
            seen.push(was.clone());
            looks.push(EarlierFinish {
                revision: revision.revision,
                created_at: revision.created_at,
                finish: was,
            });
        }
        if is_last {
            break;
        }
    }
    Ok(looks)
}

/// A finish of a stored document.
fn find_finish(text: &str, id: &str) -> Option<Value> {
    let mut document: Value = serde_json::from_str(&current_form(text)).ok()?;
    let finishes = document.get_mut("finishes")?.as_array_mut()?;
    finishes.iter_mut().find(|finish| finish["id"] == id).map(Value::take)
}
