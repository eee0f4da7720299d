//! Reports on a piece, and CSS read into coats.

use actix_web::{post, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::css;
use zolvet_core::model::{Coat, Project};
use zolvet_core::report::{Report, report};
use zolvet_core::resolve::split_ramp;

use super::{project_in, scene_in};
use crate::Work;
use crate::error::{ApiError, ProblemDocument};

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(resolve).service(split).service(read_css);
}

/// Which piece is asked about.
#[derive(Deserialize, ToSchema)]
pub struct ResolveRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of one of its pieces.
    piece: String,
}

/// Everything about one piece: both forms of every offset, colours, code, differences, the edge profile.
#[utoipa::path(
    request_body = ResolveRequest,
    responses((status = 200, body = Report), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/resolve")]
pub async fn resolve(
    work: web::Data<Work>,
    body: web::Json<ResolveRequest>,
) -> Result<web::Json<Report>, ApiError> {
    let found = work
        .run(move |bench| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            report(&project, scene, &body.piece, &bench.assets(&project)?, &bench.cache).ok_or_else(|| {
                let message = format!("expected the id of a piece, found \"{}\"", body.piece);
                ApiError::invalid_at("/piece", message)
            })
        })
        .await?;
    Ok(web::Json(found))
}

/// Which ramp is split.
#[derive(Deserialize, ToSchema)]
pub struct SplitRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of one of its pieces.
    piece: String,
    /// The id of a ramp in its stack.
    coat: String,
}

/// The coats a ramp stands for.
#[derive(Serialize, ToSchema)]
pub struct SplitCoats {
    /// Nearest first.
    coats: Vec<Coat>,
}

/// Takes a ramp apart into ordinary coats that draw the same.
#[utoipa::path(
    request_body = SplitRequest,
    responses((status = 200, body = SplitCoats), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/split")]
pub async fn split(
    work: web::Data<Work>,
    body: web::Json<SplitRequest>,
) -> Result<web::Json<SplitCoats>, ApiError> {
    let coats = work
        .run(move |bench| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            let unknown = |at: &str, what: &str, id: &str| {
                ApiError::invalid_at(at, format!("expected the id of {what}, found \"{id}\""))
            };
            let piece = scene.pieces.iter().find(|piece| piece.id.as_str() == body.piece);
            let piece = piece.ok_or_else(|| unknown("/piece", "a piece", &body.piece))?;
            split_ramp(&project, scene, piece, &body.coat, &bench.assets(&project)?)
                .ok_or_else(|| unknown("/coat", "a ramp", &body.coat))?
                .map_err(|error| ApiError::invalid_at("/coat", error.to_string()))
        })
        .await?;
    Ok(web::Json(SplitCoats { coats }))
}

/// CSS to read.
#[derive(Deserialize, ToSchema)]
pub struct CssRequest {
    /// Declarations, rules, or the value of a `box-shadow`.
    css: String,
}

/// What the CSS says about depth.
#[derive(Serialize, ToSchema)]
pub struct CssCoats {
    /// First is nearest the eye.
    coats: Vec<Coat>,
    /// What was taken otherwise than it stood.
    remarks: Vec<String>,
}

/// Reads CSS into coats.
#[utoipa::path(
    request_body = CssRequest,
    responses((status = 200, body = CssCoats), (status = 422, body = ProblemDocument))
)]
#[post("/api/css")]
pub async fn read_css(body: web::Json<CssRequest>) -> Result<web::Json<CssCoats>, ApiError> {
    let read = css::read(&body.css)
        .map_err(|error| ApiError::invalid_at(&format!("{}:{}", error.line, error.column), error.message))?;
    Ok(web::Json(CssCoats { coats: read.coats, remarks: read.remarks }))
}
