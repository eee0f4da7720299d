//! Reports on a piece, and CSS read into coats.

use actix_web::{HttpResponse, post, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::arrange::{Arranged, Arrangement, arranged};
use zolvet_core::css::{self, CodeOptions};
use zolvet_core::lower::{Conventions, Numbers, Target};
use zolvet_core::measure::Line;
use zolvet_core::model::{Coat, Id, Project};
use zolvet_core::report::{
    CoatOutline, ColourForms, PieceBox, PlacedCode, Report, ReportOptions, boxes, coat_outline, colour_forms,
    report, scene_code,
};
use zolvet_core::resolve::split_ramp;

use super::{RequestContext, piece_in, project_in, scene_in};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config
        .service(resolve)
        .service(split)
        .service(outline)
        .service(read_css)
        .service(colours)
        .service(placed_code)
        .service(piece_boxes)
        .service(arrange);
}

/// Which piece the request is about.
#[derive(Deserialize, ToSchema)]
pub struct ResolveRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The id of one of its pieces.
    piece: String,
    /// Where the edge profile is measured; when left out, from the middle away from the first light.
    line: Option<Line>,
    /// What its CSS uses; when left out, what holds it best.
    target: Option<Target>,
    /// How its numbers are written.
    #[serde(default)]
    numbers: Numbers,
    /// How its plain values are said; in several forms side by side when left out.
    conventions: Option<Conventions>,
}

/// Everything about one piece: both forms of every offset, colours, code, differences, the edge profile.
#[utoipa::path(
    request_body = ResolveRequest,
    responses((status = 200, body = Report), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/resolve")]
pub async fn resolve(
    context: RequestContext,
    body: JsonBody<ResolveRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            if let Some(line) = body.line
                && ![line.x, line.y, line.bearing].iter().all(|number| number.abs() <= 1e5)
            {
                return Err(ApiError::invalid_at("/line", "expected numbers of at most 100000"));
            }
            piece_in(scene, &body.piece)?;
            let (target, numbers, conventions) = (body.target, body.numbers, body.conventions);
            let code = CodeOptions { target, numbers, conventions, ..CodeOptions::default() };
            let options = ReportOptions { piece: &body.piece, line: body.line, code };
            let assets = resources.assets(&project)?;
            report(&project, scene, options, &assets, &resources.cache)
                .ok_or_else(|| ApiError::invalid_at("/piece", "expected a piece of the scene"))
        })
        .await
}

/// Which scene the request is about.
#[derive(Deserialize, ToSchema)]
pub struct SceneRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of a scene.
    scene: String,
}

/// Which scene is wanted as code.
#[derive(Deserialize, ToSchema)]
pub struct SceneCodeRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// One of its pieces that is wanted in another target than what holds it best.
    piece: Option<String>,
    /// That target.
    target: Option<Target>,
}

/// Every piece of a scene as code, with its place, lowest first.
#[utoipa::path(
    request_body = SceneCodeRequest,
    responses((status = 200, body = Vec<PlacedCode>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/scene-code")]
pub async fn placed_code(
    context: RequestContext,
    body: JsonBody<SceneCodeRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            let of = body.piece.as_deref().zip(body.target);
            Ok(scene_code(&project, scene, of, &resources.assets(&project)?))
        })
        .await
}

/// The boxes of all pieces of a scene.
#[utoipa::path(
    request_body = SceneRequest,
    responses((status = 200, body = Vec<PieceBox>), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/boxes")]
pub async fn piece_boxes(
    context: RequestContext,
    body: JsonBody<SceneRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            Ok(boxes(scene, &resources.assets(&project)?))
        })
        .await
}

/// How pieces are to be arranged.
#[derive(Deserialize, ToSchema)]
pub struct ArrangeRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The ids of pieces, in the order they were chosen.
    pieces: Vec<Id>,
    /// What is done to them.
    how: Arrangement,
}

/// Aligns, distributes or joins pieces, or takes a join apart: answers with the change of the scene.
#[utoipa::path(
    request_body = ArrangeRequest,
    responses((status = 200, body = Arranged), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/arrange")]
pub async fn arrange(
    context: RequestContext,
    body: JsonBody<ArrangeRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            let assets = resources.assets(&project)?;
            arranged(&project, scene, &body.pieces, body.how, &assets).ok_or_else(|| {
                ApiError::invalid_at("/pieces", "expected pieces that can be arranged like that")
            })
        })
        .await
}

/// Where one coat lies on the scene.
#[utoipa::path(
    request_body = CoatRequest,
    responses((status = 200, body = CoatOutline), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/outline")]
pub async fn outline(context: RequestContext, body: JsonBody<CoatRequest>) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            let piece = piece_in(scene, &body.piece)?;
            let unknown = || format!("expected the id of a coat, found \"{}\"", body.coat);
            coat_outline(&project, scene, piece, &body.coat, &resources.assets(&project)?)
                .ok_or_else(|| ApiError::invalid_at("/coat", unknown()))
        })
        .await
}

/// Which coat the request is about.
#[derive(Deserialize, ToSchema)]
pub struct CoatRequest {
    /// The project document.
    #[schema(value_type = Project)]
    pub(super) project: Value,
    /// The id of a scene.
    pub(super) scene: String,
    /// The id of one of its pieces.
    pub(super) piece: String,
    /// The id of a coat in its stack.
    pub(super) coat: Id,
}

/// The coats a ramp stands for.
#[derive(Serialize, ToSchema)]
pub struct SplitCoats {
    /// Nearest first.
    coats: Vec<Coat>,
}

/// Takes a ramp apart into ordinary coats that draw the same.
#[utoipa::path(
    request_body = CoatRequest,
    responses((status = 200, body = SplitCoats), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/split")]
pub async fn split(context: RequestContext, body: JsonBody<CoatRequest>) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |resources, body| {
            let project = project_in(&body.project)?;
            let scene = scene_in(&project, &body.scene)?;
            let piece = piece_in(scene, &body.piece)?;
            let unknown = || format!("expected the id of a ramp, found \"{}\"", body.coat);
            let coats = split_ramp(&project, scene, piece, body.coat.as_str(), &resources.assets(&project)?)
                .ok_or_else(|| ApiError::invalid_at("/coat", unknown()))?
                .map_err(|error| ApiError::invalid_at("/coat", error.to_string()))?;
            Ok(SplitCoats { coats })
        })
        .await
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
    diagnostics: Vec<String>,
}

/// Reads CSS into coats.
#[utoipa::path(
    request_body = CssRequest,
    responses((status = 200, body = CssCoats), (status = 422, body = ProblemDocument))
)]
#[post("/api/css")]
pub async fn read_css(context: RequestContext, body: JsonBody<CssRequest>) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |_, body| {
            let read = css::read(&body.css).map_err(|error| {
                ApiError::invalid_at(&format!("{}:{}", error.line, error.column), error.message)
            })?;
            Ok(CssCoats { coats: read.coats, diagnostics: read.diagnostics })
        })
        .await
}

/// Colours to be put in other forms.
#[derive(Deserialize, ToSchema)]
pub struct ColoursRequest {
    /// In CSS syntax, at most 64.
    colours: Vec<String>,
}

/// Colours in every form, and how far each is from the first.
#[utoipa::path(
    request_body = ColoursRequest,
    responses((status = 200, body = Vec<ColourForms>), (status = 422, body = ProblemDocument))
)]
#[post("/api/colours")]
pub async fn colours(
    context: RequestContext,
    body: JsonBody<ColoursRequest>,
) -> Result<HttpResponse, ApiError> {
    context
        .json(body, |_, body| {
            if body.colours.len() > 64 {
                return Err(ApiError::invalid_at("/colours", "expected at most 64 colours"));
            }
            colour_forms(&body.colours)
                .map_err(|(at, error)| ApiError::invalid_at(&format!("/colours/{at}"), error.to_string()))
        })
        .await
}
