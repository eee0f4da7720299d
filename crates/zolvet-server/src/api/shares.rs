//! Links to a scene, and their content.

use std::collections::BTreeMap;

use actix_web::{HttpResponse, web};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use zolvet_core::compose::{RenderOptions, Rounding, Viewport, picture};
use zolvet_core::css::CodeOptions;
use zolvet_core::model::{Coat, Id, Piece, Project, Scene, State, Wear};
use zolvet_core::report::{Report, ReportOptions, report};
use zolvet_core::resolve;
use zolvet_queries::{ThumbnailRenderer, scene_in};
use zolvet_store::{Share, Store};

use super::{PageQuery, RequestContext, json};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

/// Which scene a link is for.
#[derive(Deserialize, ToSchema)]
pub struct ShareRequest {
    /// The id of a scene.
    scene: String,
    /// Whether the link follows the project, and so has live addresses; otherwise it shows the scene as it is now.
    #[serde(default)]
    follows: bool,
}

/// A link.
#[derive(Serialize, ToSchema)]
pub struct Link {
    token: String,
    scene: String,
    /// The revision it was made at.
    revision: i64,
    /// Whether it shows the newest revision instead.
    follows: bool,
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
            follows: share.follows,
            created_at: share.created_at,
            revoked_at: share.revoked_at,
        }
    }
}

/// Makes a link to a scene as it is now, or as it is whenever somebody looks.
#[utoipa::path(post, path = "/api/projects/{id}/shares",
    operation_id = "create_share", 
    params(("id" = String, Path)),
    request_body = ShareRequest,
    responses((status = 201, body = Link), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument))
)]
pub async fn create(
    store: web::Data<Store>,
    context: RequestContext,
    id: web::Path<String>,
    body: JsonBody<ShareRequest>,
) -> Result<HttpResponse, ApiError> {
    let project_id = id.clone();
    let (scene, follows) = context
        .scheduler
        .run_request(context.client, body, move |resources, body| {
            let stored = resources.read(&project_id, None)?;
            let project = Project::from_json(&stored.text).map_err(ApiError::invalid)?;
            Ok((scene_in(&project, &body.scene)?.id.clone(), body.follows))
        })
        .await?;
    let share = store.share(&id, scene.as_str(), follows).await?;
    Ok(HttpResponse::Created().json(Link::from(share)))
}

/// A project's links, newest first.
#[utoipa::path(get, path = "/api/projects/{id}/shares",
    operation_id = "list_shares",
    params(("id" = String, Path), PageQuery),
    responses((status = 200, body = Vec<Link>))
)]
pub async fn list(
    store: web::Data<Store>,
    id: web::Path<String>,
    page: web::Query<PageQuery>,
) -> Result<web::Json<Vec<Link>>, ApiError> {
    Ok(web::Json(store.shares(&id, page.page()?).await?.into_iter().map(Link::from).collect()))
}

/// Ends a link for good.
#[utoipa::path(delete, path = "/api/shares/{token}",
    operation_id = "revoke_share", 
    params(("token" = String, Path)),
    responses((status = 204), (status = 404, body = ProblemDocument))
)]
pub async fn revoke(store: web::Data<Store>, token: web::Path<String>) -> Result<HttpResponse, ApiError> {
    store.revoke(&token).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// The content of a link.
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
    /// The coats that are on, first nearest the eye.
    coats: Vec<SharedCoat>,
    /// The states that it looks different in.
    states: Vec<State>,
}

/// One coat of a shared piece.
#[derive(Serialize, ToSchema)]
pub struct SharedCoat {
    name: String,
    /// As CSS, before the coat's opacity.
    #[serde(skip_serializing_if = "Option::is_none")]
    colour: Option<String>,
    /// Its numbers in one line.
    summary: String,
}

/// The content of a link; 404 once it is revoked.
#[utoipa::path(get, path = "/api/shared/{token}",
    operation_id = "read_shared", 
    params(("token" = String, Path)),
    responses((status = 200, body = Shared), (status = 404, body = ProblemDocument))
)]
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
            let assets = resources.query_context().assets(&project)?;
            let shown = scene.shown_pieces().into_iter();
            let pieces = shown.filter_map(|piece| {
                let code = CodeOptions::default();
                let options = ReportOptions { piece: piece.id.as_str(), line: None, code };
                let report = report(&project, scene, options, &assets, &resources.cache)?;
                Some(shared_piece(&project, scene, piece, report))
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

fn shared_piece(project: &Project, scene: &Scene, piece: &Piece, report: Report) -> SharedPiece {
    let coats = project.coats_of(piece, &scene.theme).iter().filter(|coat| coat.on).filter_map(|coat| {
        let said = report.coats.iter().find(|said| said.id == coat.id)?;
        Some(SharedCoat {
            name: coat.name.clone(),
            colour: said.colour.clone(),
            summary: said.summary.clone(),
        })
    });
    let coats = coats.collect();
    let states = stacks(project, piece).keys().copied().collect();
    SharedPiece { name: piece.name.clone(), report, coats, states }
}

/// The stacks of a piece in its states.
fn stacks<'p>(project: &'p Project, piece: &'p Piece) -> &'p BTreeMap<State, Vec<Coat>> {
    let worn = match &piece.wear {
        Wear::Coats(_) => None,
        Wear::Finish(worn) => project.finishes.iter().find(|finish| finish.id == worn.finish),
    };
    worn.map_or(&piece.states, |finish| &finish.states)
}

/// Which look of a shared piece.
#[derive(Deserialize, IntoParams)]
pub struct LookQuery {
    /// The id of the piece.
    piece: Id,
    /// At rest when left out.
    state: Option<State>,
}

/// Width and height of a look in device pixels.
const LOOK: (u32, u32) = (448, 288);

/// One piece of a link's scene, alone on its ground, in one of its states.
#[utoipa::path(get, path = "/api/shared/{token}/look.png",
    operation_id = "shared_look",
    params(("token" = String, Path), LookQuery),
    responses((status = 200, content_type = "image/png", body = Vec<u8>), (status = 404, body = ProblemDocument), (status = 422, body = ProblemDocument))
)]
pub async fn shared_look(
    store: web::Data<Store>,
    context: RequestContext,
    token: web::Path<String>,
    query: web::Query<LookQuery>,
) -> Result<HttpResponse, ApiError> {
    let shown = store.shared(&token).await?;
    let LookQuery { piece, state } = query.into_inner();
    let what = format!("look {piece} {}", state.map_or("rest", State::name));
    context
        .cached(what, "image/png", shown, move |resources, scene_id, stored| {
            let project = Project::from_json(&stored.text).map_err(ApiError::invalid)?;
            let scene = scene_in(&project, scene_id)?;
            let found = scene.shown_pieces().into_iter().find(|other| other.id == piece);
            let found =
                found.ok_or_else(|| ApiError::invalid_at("/piece", "expected a piece of the scene"))?;
            let coats = state.and_then(|state| stacks(&project, found).get(&state));
            let worn = coats.map_or_else(|| found.clone(), |coats| found.wearing(coats.clone()));
            let assets = resources.query_context().assets(&project)?;
            let renderer =
                ThumbnailRenderer { project: &project, scene, assets: &assets, cache: &resources.cache };
            Ok(renderer.fitted(&worn, LOOK)?)
        })
        .await
}

/// The picture of a link's scene, at two device pixels for one px.
#[utoipa::path(get, path = "/api/shared/{token}/picture.png",
    operation_id = "shared_picture",
    params(("token" = String, Path)),
    responses((status = 200, content_type = "image/png", body = Vec<u8>), (status = 404, body = ProblemDocument))
)]
pub async fn shared_picture(
    store: web::Data<Store>,
    context: RequestContext,
    token: web::Path<String>,
) -> Result<HttpResponse, ApiError> {
    let (scene_id, stored) = store.shared(&token).await?;
    context
        .cached("picture", "image/png", (scene_id, stored), |resources, scene_id, stored| {
            let project = Project::from_json(&stored.text).map_err(ApiError::invalid)?;
            let scene = resolve::scene(
                &project,
                scene_in(&project, scene_id)?,
                &resources.query_context().assets(&project)?,
            );
            let view = Viewport::whole(&scene, Viewport::largest_scale(&scene, 2.0));
            let picture =
                picture(&scene, &view, &RenderOptions::default(), Rounding::Nearest, &resources.cache);
            picture.to_png().map_err(ApiError::internal)
        })
        .await
}
