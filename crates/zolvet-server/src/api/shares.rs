//! Links to a scene, and what they open.

use actix_web::{HttpResponse, delete, get, post, web};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use zolvet_core::compose::{RenderOptions, Rounding, Viewport, picture};
use zolvet_core::css::CodeOptions;
use zolvet_core::model::Project;
use zolvet_core::report::{Report, ReportOptions, report};
use zolvet_core::resolve;
use zolvet_store::{Share, Store};

use super::{PageQuery, RequestContext, json, scene_in};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(create).service(list).service(revoke).service(read).service(shared_picture);
}

/// Which scene a link is for.
#[derive(Deserialize, ToSchema)]
pub struct ShareRequest {
    /// The id of a scene.
    scene: String,
}

/// A link.
#[derive(Serialize, ToSchema)]
pub struct Link {
    token: String,
    scene: String,
    /// The revision it shows.
    revision: i64,
    /// RFC 3339, UTC.
    created_at: String,
    /// RFC 3339, UTC; there once it was revoked.
    #[serde(skip_serializing_if = "Option::is_none")]
    revoked_at: Option<String>,
}

impl From<Share> for Link {
    fn from(share: Share) -> Self {
        Self {
            token: share.token,
            scene: share.scene_id,
            revision: share.revision,
            created_at: share.created_at,
            revoked_at: share.revoked_at,
        }
    }
}

/// Makes a link to a scene as it is now.
#[utoipa::path(operation_id = "create_share", 
    params(("id" = String, Path)),
    request_body = ShareRequest,
    responses((status = 201, body = Link), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument))
)]
#[post("/api/projects/{id}/shares")]
pub async fn create(
    store: web::Data<Store>,
    context: RequestContext,
    id: web::Path<String>,
    body: JsonBody<ShareRequest>,
) -> Result<HttpResponse, ApiError> {
    let stored = store.read(&id).await?;
    let scene = context
        .scheduler
        .run_request(context.client, body, move |_, body| {
            let project = Project::from_json(&stored.text).map_err(ApiError::invalid)?;
            Ok(scene_in(&project, &body.scene)?.id.clone())
        })
        .await?;
    let share = store.share(&id, scene.as_str()).await?;
    Ok(HttpResponse::Created().json(Link::from(share)))
}

/// A project's links, newest first.
#[utoipa::path(operation_id = "list_shares",
    params(("id" = String, Path), PageQuery),
    responses((status = 200, body = Vec<Link>))
)]
#[get("/api/projects/{id}/shares")]
pub async fn list(
    store: web::Data<Store>,
    id: web::Path<String>,
    page: web::Query<PageQuery>,
) -> Result<web::Json<Vec<Link>>, ApiError> {
    Ok(web::Json(store.shares(&id, page.page()?).await?.into_iter().map(Link::from).collect()))
}

/// Ends a link for good.
#[utoipa::path(operation_id = "revoke_share", 
    params(("token" = String, Path)),
    responses((status = 204), (status = 404, body = ProblemDocument))
)]
#[delete("/api/shares/{token}")]
pub async fn revoke(store: web::Data<Store>, token: web::Path<String>) -> Result<HttpResponse, ApiError> {
    store.revoke(&token).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// What a link shows.
#[derive(Serialize, ToSchema)]
pub struct Shared {
    /// The project's name.
    project: String,
    /// The scene's name.
    scene: String,
    /// In px.
    width: f64,
    /// In px.
    height: f64,
    /// Its pieces, lowest first.
    pieces: Vec<SharedPiece>,
}

/// One piece of a shared scene.
#[derive(Serialize, ToSchema)]
pub struct SharedPiece {
    name: String,
    report: Report,
}

/// What a link shows; 404 once it is revoked.
#[utoipa::path(operation_id = "read_shared", 
    params(("token" = String, Path)),
    responses((status = 200, body = Shared), (status = 404, body = ProblemDocument))
)]
#[get("/api/shared/{token}")]
pub async fn read(
    store: web::Data<Store>,
    context: RequestContext,
    token: web::Path<String>,
) -> Result<HttpResponse, ApiError> {
    let (scene_id, stored) = store.shared(&token).await?;
    context
        .cached("page", "application/json", (scene_id, stored), |resources, scene_id, stored| {
            let project = Project::from_json(&stored.text).map_err(ApiError::invalid)?;
            let scene = scene_in(&project, scene_id)?;
            let assets = resources.assets(&project)?;
            let shown = scene.pieces.iter().filter(|piece| !piece.hidden);
            let pieces = shown.filter_map(|piece| {
                let code = CodeOptions::default();
                let options = ReportOptions { piece: piece.id.as_str(), line: None, code };
                let report = report(&project, scene, options, &assets, &resources.cache)?;
                Some(SharedPiece { name: piece.name.clone(), report })
            });
            json(&Shared {
                project: project.name.clone(),
                scene: scene.name.clone(),
                width: scene.width.get(),
                height: scene.height.get(),
                pieces: pieces.collect(),
            })
        })
        .await
}

/// The picture of what a link shows, at two device pixels for one px.
#[utoipa::path(operation_id = "shared_picture",
    params(("token" = String, Path)),
    responses((status = 200, content_type = "image/png", body = Vec<u8>), (status = 404, body = ProblemDocument))
)]
#[get("/api/shared/{token}/picture.png")]
pub async fn shared_picture(
    store: web::Data<Store>,
    context: RequestContext,
    token: web::Path<String>,
) -> Result<HttpResponse, ApiError> {
    let (scene_id, stored) = store.shared(&token).await?;
    context
        .cached("picture", "image/png", (scene_id, stored), |resources, scene_id, stored| {
            let project = Project::from_json(&stored.text).map_err(ApiError::invalid)?;
            let scene = resolve::scene(&project, scene_in(&project, scene_id)?, &resources.assets(&project)?);
            let view = Viewport::whole(&scene, Viewport::largest_scale(&scene, 2.0));
            let picture =
                picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &resources.cache);
            picture.to_png().map_err(ApiError::internal)
        })
        .await
}
