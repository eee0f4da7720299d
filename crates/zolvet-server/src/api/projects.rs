//! Projects and their revisions.

use actix_web::http::StatusCode;
use actix_web::http::header::{ETAG, IF_MATCH};
use actix_web::{HttpRequest, HttpResponse, delete, get, post, put, web};
use serde::Serialize;
use utoipa::ToSchema;
use zolvet_core::model::Project;
use zolvet_store::{Document, Store};

use crate::adopt;
use crate::error::{ApiError, ProblemDocument};

pub fn routes(config: &mut web::ServiceConfig) {
    config
        .service(list)
        .service(create)
        .service(read)
        .service(save)
        .service(delete)
        .service(revisions)
        .service(read_revision)
        .service(restore);
}

/// A project in a list.
#[derive(Serialize, ToSchema)]
pub struct ListedProject {
    id: String,
    name: String,
    revision: i64,
    /// RFC 3339, UTC.
    changed_at: String,
}

/// A project with its document.
#[derive(Serialize, ToSchema)]
pub struct StoredProject {
    id: String,
    revision: i64,
    #[schema(value_type = Project)]
    document: serde_json::Value,
}

/// A revision in a list.
#[derive(Serialize, ToSchema)]
pub struct ListedRevision {
    revision: i64,
    note: String,
    /// RFC 3339, UTC.
    created_at: String,
}

/// The outcome of a save.
#[derive(Serialize, ToSchema)]
pub struct Saved {
    revision: i64,
}

/// All projects, last changed first.
#[utoipa::path(operation_id = "list_projects", responses((status = 200, body = Vec<ListedProject>)))]
#[get("/api/projects")]
pub async fn list(store: web::Data<Store>) -> Result<web::Json<Vec<ListedProject>>, ApiError> {
    let projects = store.projects().await?.into_iter().map(|listed| ListedProject {
        id: listed.id,
        name: listed.name,
        revision: listed.revision,
        changed_at: listed.changed_at,
    });
    Ok(web::Json(projects.collect()))
}

/// Makes a project from a document.
#[utoipa::path(operation_id = "create_project", 
    request_body = Project,
    responses((status = 201, body = StoredProject), (status = 422, body = ProblemDocument))
)]
#[post("/api/projects")]
pub async fn create(store: web::Data<Store>, body: web::Bytes) -> Result<HttpResponse, ApiError> {
    let (project, text) = document(&body)?;
    let stored = adopt(&store, &project.name, text).await?;
    let etag = etag(stored.revision);
    Ok(HttpResponse::Created().insert_header((ETAG, etag)).json(with_document(stored)?))
}

/// A project; its revision is the `ETag`.
#[utoipa::path(operation_id = "read_project", 
    params(("id" = String, Path)),
    responses((status = 200, body = StoredProject), (status = 404, body = ProblemDocument))
)]
#[get("/api/projects/{id}")]
pub async fn read(store: web::Data<Store>, id: web::Path<String>) -> Result<HttpResponse, ApiError> {
    let stored = store.read(&id).await?;
    let etag = etag(stored.revision);
    Ok(HttpResponse::Ok().insert_header((ETAG, etag)).json(with_document(stored)?))
}

/// Saves a project as its next revision. `If-Match` names the revision it is based on.
#[utoipa::path(operation_id = "save_project", 
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
#[put("/api/projects/{id}")]
pub async fn save(
    store: web::Data<Store>,
    id: web::Path<String>,
    request: HttpRequest,
    body: web::Bytes,
) -> Result<HttpResponse, ApiError> {
    let base = base_revision(&request)?;
    let (project, text) = document(&body)?;
    let revision = store.save(&id, base, &project.name, text, "edited").await?;
    Ok(HttpResponse::Ok().insert_header((ETAG, etag(revision))).json(Saved { revision }))
}

/// Deletes a project, its revisions and its links.
#[utoipa::path(operation_id = "delete_project", 
    params(("id" = String, Path)),
    responses((status = 204), (status = 404, body = ProblemDocument))
)]
#[delete("/api/projects/{id}")]
pub async fn delete(store: web::Data<Store>, id: web::Path<String>) -> Result<HttpResponse, ApiError> {
    store.delete(&id).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// A project's revisions, newest first.
#[utoipa::path(operation_id = "list_revisions", 
    params(("id" = String, Path)),
    responses((status = 200, body = Vec<ListedRevision>), (status = 404, body = ProblemDocument))
)]
#[get("/api/projects/{id}/revisions")]
pub async fn revisions(
    store: web::Data<Store>,
    id: web::Path<String>,
) -> Result<web::Json<Vec<ListedRevision>>, ApiError> {
    let revisions = store.revisions(&id).await?.into_iter().map(|revision| ListedRevision {
        revision: revision.revision,
        note: revision.note,
        created_at: revision.created_at,
    });
    Ok(web::Json(revisions.collect()))
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
) -> Result<web::Json<StoredProject>, ApiError> {
    Ok(web::Json(with_document(store.read_revision(&path.0, path.1).await?)?))
}

/// Brings a revision back, as the next one. `If-Match` names the revision that is current.
#[utoipa::path(operation_id = "restore_revision", 
    params(("id" = String, Path), ("revision" = i64, Path), ("If-Match" = String, Header)),
    responses(
        (status = 200, body = Saved),
        (status = 404, body = ProblemDocument),
        (status = 412, body = ProblemDocument),
        (status = 428, body = ProblemDocument)
    )
)]
#[post("/api/projects/{id}/revisions/{revision}/restore")]
pub async fn restore(
    store: web::Data<Store>,
    path: web::Path<(String, i64)>,
    request: HttpRequest,
) -> Result<HttpResponse, ApiError> {
    let (id, revision) = path.into_inner();
    let base = base_revision(&request)?;
    let old = store.read_revision(&id, revision).await?;
    let (project, text) = document(old.text.as_bytes())?;
    let note = format!("restored from revision {revision}");
    let revision = store.save(&id, base, &project.name, text, &note).await?;
    Ok(HttpResponse::Ok().insert_header((ETAG, etag(revision))).json(Saved { revision }))
}

/// A document as it was sent, and what it says.
fn document(bytes: &[u8]) -> Result<(Project, &str), ApiError> {
    let text = std::str::from_utf8(bytes)
        .map_err(|error| ApiError::invalid_at("", format!("expected UTF-8: {error}")))?;
    Ok((Project::from_json(text).map_err(ApiError::invalid)?, text))
}

fn with_document(stored: Document) -> Result<StoredProject, ApiError> {
    let document =
        serde_json::from_str(&stored.text).map_err(|error| ApiError::internal(error.to_string()))?;
    Ok(StoredProject { id: stored.id, revision: stored.revision, document })
}

fn etag(revision: i64) -> String {
    format!("\"{revision}\"")
}

fn base_revision(request: &HttpRequest) -> Result<i64, ApiError> {
    let required = || {
        let detail = "Saving needs an If-Match header with the revision the change is based on.";
        ApiError::new(StatusCode::PRECONDITION_REQUIRED, "unconditional", "If-Match is missing", detail)
    };
    let header = request.headers().get(IF_MATCH).ok_or_else(required)?;
    let text = header.to_str().unwrap_or_default().trim_matches('"');
    text.parse().map_err(|_| {
        ApiError::invalid_at("If-Match", format!("expected a revision such as \"3\", found {text}"))
    })
}
