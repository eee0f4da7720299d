//! Material that a page starts from: curves of falloff, the demo project.

use actix_web::{HttpResponse, web};
use zolvet_core::model::Project;
use zolvet_core::report::{NamedFalloff, falloffs};
use zolvet_host::DEMO;

/// Curves of falloff to start from.
#[utoipa::path(get, path = "/api/falloffs",
    responses((status = 200, body = Vec<NamedFalloff>))
)]
pub async fn offer_falloffs() -> web::Json<Vec<NamedFalloff>> {
    web::Json(falloffs())
}

/// The demo project's document, to make a project of.
#[utoipa::path(get, path = "/api/demo",
    responses((status = 200, body = Project))
)]
pub async fn offer_demo() -> HttpResponse {
    HttpResponse::Ok().content_type("application/json").body(DEMO)
}
