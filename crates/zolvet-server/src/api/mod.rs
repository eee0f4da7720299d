//! The routes under `/api`.

mod assets;
mod checks;
mod finishes;
mod handoff;
mod offers;
mod pictures;
mod projects;
mod reports;
mod shares;

use actix_web::{HttpResponse, get, web};
use serde_json::Value;
use zolvet_core::model::{self, Project};

use crate::error::ApiError;

pub use handoff::zipped;

/// All routes.
pub fn routes(config: &mut web::ServiceConfig) {
    config
        .service(health)
        .service(description)
        .configure(projects::routes)
        .configure(assets::routes)
        .configure(pictures::routes)
        .configure(offers::routes)
        .configure(finishes::routes)
        .configure(handoff::routes)
        .configure(reports::routes)
        .configure(checks::routes)
        .configure(shares::routes);
}

/// Whether the service answers.
#[utoipa::path(responses((status = 200, description = "It answers")))]
#[get("/healthz")]
async fn health() -> HttpResponse {
    HttpResponse::Ok().body("ok")
}

#[get("/api/openapi.json")]
async fn description() -> Result<HttpResponse, ApiError> {
    let json = crate::openapi().map_err(|error| ApiError::internal(error.to_string()))?;
    Ok(HttpResponse::Ok().content_type("application/json").body(json))
}

/// The whole interface, for OpenAPI.
#[derive(utoipa::OpenApi)]
#[openapi(
    info(title = "Zolvet", description = "Depth for interfaces: projects, pictures, reports and links."),
    paths(
        health,
        projects::list,
        projects::create,
        projects::read,
        projects::save,
        projects::delete,
        projects::revisions,
        projects::read_revision,
        projects::restore,
        assets::upload,
        assets::read,
        pictures::preview,
        pictures::thumbnails,
        offers::offer_starters,
        offers::offer_blends,
        offers::offer_falloffs,
        finishes::finish_cards,
        finishes::finish_steps,
        finishes::finish_differences,
        handoff::export,
        handoff::export_bundle,
        handoff::import,
        handoff::faithful,
        handoff::faithful_project,
        checks::audit_project,
        checks::sights,
        reports::resolve,
        reports::split,
        reports::outline,
        reports::read_css,
        reports::colours,
        shares::create,
        shares::list,
        shares::revoke,
        shares::read,
        shares::shared_picture,
    ),
    components(schemas(crate::error::ProblemDocument))
)]
pub struct Description;

/// The project inside a request, decoded and checked. Pointers in errors are those of the request.
fn project_in(value: &Value) -> Result<Project, ApiError> {
    Project::from_value(value).map_err(|mut problems| {
        for problem in &mut problems {
            problem.pointer.insert_str(0, "/project");
        }
        ApiError::invalid(problems)
    })
}

fn scene_in<'a>(project: &'a Project, id: &str) -> Result<&'a model::Scene, ApiError> {
    project
        .scene(id)
        .ok_or_else(|| ApiError::invalid_at("/scene", format!("expected the id of a scene, found \"{id}\"")))
}

fn piece_in<'a>(scene: &'a model::Scene, id: &str) -> Result<&'a model::Piece, ApiError> {
    let found = scene.pieces.iter().find(|piece| piece.id.as_str() == id);
    found.ok_or_else(|| ApiError::invalid_at("/piece", format!("expected the id of a piece, found \"{id}\"")))
}
