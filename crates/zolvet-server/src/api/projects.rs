//! Projects: listed, made, read, saved, put into the trash and taken out of it.

use std::borrow::Cow;

use actix_web::http::StatusCode;
use actix_web::http::header::{ETag, EntityTag, IF_MATCH, IfMatch};
use actix_web::{HttpMessage as _, HttpRequest, HttpResponse, web};
use serde::Serialize;
use serde_json::value::RawValue;
use utoipa::ToSchema;
use zolvet_core::asset::Assets;
use zolvet_core::model::{Project, current_form};
use zolvet_store::{Listed, Store};

use super::{PageQuery, RequestContext, TOTAL, json};
use crate::client::Client;
use crate::error::{ApiError, ProblemDocument};
use crate::extract::{self, Carrying};
use crate::request::Document;
use crate::scheduler::Scheduler;

/// A project in a list.
#[derive(Serialize, ToSchema)]
pub struct ListedProject {
    id: String,
    name: String,
    revision: i64,
    /// RFC 3339, UTC.
    changed_at: String,
    /// When it was put into the trash (RFC 3339, UTC); it stays there for 30 days.
    #[serde(skip_serializing_if = "Option::is_none")]
    deleted_at: Option<String>,
}

impl From<Listed> for ListedProject {
    fn from(listed: Listed) -> Self {
        Self {
            id: listed.id,
            name: listed.name,
            revision: listed.revision,
            changed_at: listed.changed_at,
            deleted_at: listed.deleted_at,
        }
    }
}

/// A project with its document.
#[derive(Serialize, ToSchema)]
pub struct StoredProject<'a> {
    id: String,
    revision: i64,
    #[schema(value_type = Project)]
    document: &'a RawValue,
}

/// The outcome of a save.
#[derive(Serialize, ToSchema)]
pub struct Saved {
    pub(super) revision: i64,
}

/// A part of all projects, last changed first. `X-Total` says how many there are.
#[utoipa::path(get, path = "/api/projects",
    operation_id = "list_projects", params(PageQuery), responses((status = 200, body = Vec<ListedProject>))
)]
pub async fn list(store: web::Data<Store>, page: web::Query<PageQuery>) -> Result<HttpResponse, ApiError> {
    Ok(listed(store.projects(page.page()?).await?))
}

fn listed((projects, count): (Vec<Listed>, i64)) -> HttpResponse {
    let projects: Vec<ListedProject> = projects.into_iter().map(Into::into).collect();
    HttpResponse::Ok().insert_header((TOTAL, count)).json(projects)
}

/// Makes a project from a document.
#[utoipa::path(post, path = "/api/projects",
    operation_id = "create_project", 
    request_body = Project,
    responses((status = 201, body = StoredProject), (status = 422, body = ProblemDocument))
)]
pub async fn create(
    store: web::Data<Store>,
    context: RequestContext,
    body: Document,
) -> Result<HttpResponse, ApiError> {
    let RequestContext { scheduler, client, .. } = context;
    let (name, carrying) = scheduler
        .run_document(client.clone(), move |_| {
            let (project, text) = document(body.0.bytes())?;
            Assets::check(&project).map_err(ApiError::invalid)?;
            Ok((project.name, Carrying::from_document(&text).map_err(ApiError::internal)?))
        })
        .await?;
    let carrying = readable(&scheduler, client, carrying).await?;
    let stored = extract::keep(&store, &name, carrying).await?;
    Ok(HttpResponse::Created()
        .insert_header(etag(stored.revision))
        .content_type("application/json")
        .body(with_document(&stored)?))
}

/// Leaves in a document the files that no helper can read.
async fn readable(
    scheduler: &Scheduler,
    client: Client,
    mut carrying: Carrying,
) -> Result<Carrying, ApiError> {
    let mut taken = Vec::new();
    for file in std::mem::take(&mut carrying.files) {
        let task = file.task();
        match scheduler.run_helper(client.clone(), task, &file.bytes).await {
            Ok(_) => taken.push(file),
            Err(error) if error.is_unprocessable() => {}
            Err(error) => return Err(error),
        }
    }
    carrying.files = taken;
    Ok(carrying)
}

/// A project; its revision is the `ETag`.
#[utoipa::path(get, path = "/api/projects/{id}",
    operation_id = "read_project", 
    params(("id" = String, Path)),
    responses((status = 200, body = StoredProject), (status = 404, body = ProblemDocument))
)]
pub async fn read(context: RequestContext, id: web::Path<String>) -> Result<HttpResponse, ApiError> {
    let stored = context.scheduler.read_project(context.client, &id, None).await?;
    Ok(HttpResponse::Ok()
        .insert_header(etag(stored.revision))
        .content_type("application/json")
        .body(with_document(&stored)?))
}

/// Saves a project as its next revision. `If-Match` names the revision it is based on.
#[utoipa::path(put, path = "/api/projects/{id}",
    operation_id = "save_project", 
    params(("id" = String, Path), ("If-Match" = String, Header)),
    request_body = Project,
    responses(
        (status = 200, body = Saved),
        (status = 404, body = ProblemDocument),
        (status = 412, body = ProblemDocument),
        (status = 422, body = ProblemDocument),
        (status = 428, body = ProblemDocument)
    )
)]
pub async fn save(
    store: web::Data<Store>,
    context: RequestContext,
    id: web::Path<String>,
    body: Document,
) -> Result<HttpResponse, ApiError> {
    let base = base_revision(&context.request)?;
    let before = store.before_save(&id).await?;
    let (name, packed) = context
        .scheduler
        .run_document(context.client, move |_| {
            let (project, text) = document(body.0.bytes())?;
            Ok((project.name, before.pack(&text).map_err(ApiError::internal)?))
        })
        .await?;
    let revision = store.save_packed(&id, base, &name, packed, "edited").await?;
    Ok(HttpResponse::Ok().insert_header(etag(revision)).json(Saved { revision }))
}

/// Puts a project into the trash, where it stays for 30 days; with `If-Match`, only at that revision. Its links show
/// nothing meanwhile.
#[utoipa::path(delete, path = "/api/projects/{id}",
    operation_id = "delete_project",
    params(("id" = String, Path), ("If-Match" = Option<String>, Header)),
    responses((status = 204), (status = 404, body = ProblemDocument), (status = 412, body = ProblemDocument))
)]
pub async fn delete(
    store: web::Data<Store>,
    id: web::Path<String>,
    request: HttpRequest,
) -> Result<HttpResponse, ApiError> {
    let base = request.headers().contains_key(IF_MATCH).then(|| base_revision(&request)).transpose()?;
    store.delete(&id, base).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// A part of the projects in the trash, last deleted first. `X-Total` says how many there are.
#[utoipa::path(get, path = "/api/trash",
    operation_id = "list_trash", params(PageQuery), responses((status = 200, body = Vec<ListedProject>))
)]
pub async fn trash(store: web::Data<Store>, page: web::Query<PageQuery>) -> Result<HttpResponse, ApiError> {
    Ok(listed(store.trash(page.page()?).await?))
}

/// Takes a project out of the trash.
#[utoipa::path(post, path = "/api/trash/{id}/restore",
    operation_id = "restore_project",
    params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = ProblemDocument))
)]
pub async fn undelete(store: web::Data<Store>, id: web::Path<String>) -> Result<HttpResponse, ApiError> {
    store.undelete(&id).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Deletes a project in the trash for good, with its revisions and links.
#[utoipa::path(delete, path = "/api/trash/{id}",
    operation_id = "purge_project",
    params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = ProblemDocument))
)]
pub async fn purge(store: web::Data<Store>, id: web::Path<String>) -> Result<HttpResponse, ApiError> {
    store.purge(&id).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// A document that was checked: its name and its text.
pub(super) fn checked(bytes: &[u8]) -> Result<(String, String), ApiError> {
    let (project, text) = document(bytes)?;
    Ok((project.name, text.into_owned()))
}

/// A document as it was sent, in the present form, and its content.
fn document(bytes: &[u8]) -> Result<(Project, Cow<'_, str>), ApiError> {
    let text = std::str::from_utf8(bytes)
        .map_err(|error| ApiError::invalid_at("", format!("expected UTF-8: {error}")))?;
    Ok((Project::from_json(text).map_err(ApiError::invalid)?, current_form(text)))
}

/// A stored project as [`StoredProject`]. The document goes out as it came in, in the form of today: it was checked then.
pub(super) fn with_document(stored: &zolvet_store::Document) -> Result<Vec<u8>, ApiError> {
    let text = current_form(&stored.text);
    let document: &RawValue = serde_json::from_str(&text).map_err(ApiError::internal)?;
    json(&StoredProject { id: stored.id.clone(), revision: stored.revision, document })
}

pub(super) fn etag(revision: i64) -> ETag {
    ETag(EntityTag::new_strong(revision.to_string()))
}

/// The revision that `If-Match` (RFC 9110, section 13.1.1) names.
pub(super) fn base_revision(request: &HttpRequest) -> Result<i64, ApiError> {
    if !request.headers().contains_key(IF_MATCH) {
        let detail = "Saving needs an If-Match header with the revision the change is based on.";
        return Err(ApiError::new(
            StatusCode::PRECONDITION_REQUIRED,
            "unconditional",
            "If-Match is missing",
            detail,
        ));
    }
    let revision = match request.get_header::<IfMatch>() {
        Some(IfMatch::Items(tags)) => match tags.as_slice() {
            [tag] => tag.tag().parse().ok(),
            _ => None,
        },
        Some(IfMatch::Any) | None => None,
    };
    revision.ok_or_else(|| ApiError::invalid_at("If-Match", "expected one revision, such as \"3\""))
}
