//! Pictures: the stage, and the small ones beside it.

use std::sync::Arc;

use actix_web::http::header::ACCEPT;
use actix_web::{HttpResponse, post, web};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use zolvet_core::asset::Assets;
use zolvet_core::chromium::{self, shown_as_css};
use zolvet_core::compose::{
    CoatFilter, MaskCache, RenderMode, RenderOptions, Rounding, Viewport, picture, render,
};
use zolvet_core::measure::{Screen, ViewingConditions, closeup, squinted};
use zolvet_core::model::{Coat, Id, OwnCoats, Piece, Project, Scene, Wear};
use zolvet_core::picture::{Picture, png_data_url};
use zolvet_core::report::{Addition, additions};
use zolvet_core::{limits, resolve};

use super::{RequestContext, made, project_in, respond, scene_in};
use crate::error::{ApiError, ProblemDocument};
use crate::request::JsonBody;
use crate::resources::Resources;
use crate::response::ResponseBody;

pub fn routes(config: &mut web::ServiceConfig) {
    config.service(preview).service(thumbnails);
}

/// What is to be drawn.
#[derive(Deserialize, ToSchema)]
pub struct PreviewRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// Device pixels for one CSS px, from 0.05 to 16; 1 when left out.
    scale: Option<f64>,
    /// Only the piece with this id.
    piece: Option<Id>,
    /// Without ground and fills.
    #[serde(default)]
    shadow_only: bool,
    /// Which coats.
    #[serde(default)]
    coats: ShownCoats,
    /// Only this coat, by its id.
    only: Option<Id>,
    /// All but this coat, by its id.
    without: Option<Id>,
    /// Only this part of the scene: x, y, width, height in px.
    region: Option<[f64; 4]>,
    /// As browsers draw shadows, which round each layer by itself and have a softest blur.
    #[serde(default)]
    as_browser: bool,
    /// With seeded noise of one step in 8 bits, against bands.
    #[serde(default)]
    dither: bool,
    /// As it is seen on a screen, or by an eye; as it is when left out.
    screen: Option<Screen>,
    /// As an eye sees it that mixes what lies close together.
    sight: Option<ViewingConditions>,
}

/// Which coats are drawn.
#[derive(Deserialize, ToSchema, Default, PartialEq)]
#[serde(rename_all = "snake_case")]
pub enum ShownCoats {
    /// All that are on.
    #[default]
    All,
    /// None: how it was before.
    None,
}

/// A scene as pixels: PNG when asked for `image/png`, else plain RGBA bytes with the size in `X-Width` and `X-Height`.
#[utoipa::path(
    request_body = PreviewRequest,
    responses(
        (status = 200, content_type = "application/octet-stream", body = Vec<u8>),
        (status = 422, body = ProblemDocument),
        (status = 503, body = ProblemDocument)
    )
)]
#[post("/api/preview")]
pub async fn preview(
    context: RequestContext,
    body: JsonBody<PreviewRequest>,
) -> Result<HttpResponse, ApiError> {
    let RequestContext { scheduler, client, request } = context;
    let accept = request.headers().get(ACCEPT).and_then(|accept| accept.to_str().ok());
    if accept.is_some_and(|accept| accept.contains("image/png")) {
        let png =
            scheduler.run_request(client, body, |resources, body| to_png(&draw(body, resources)?)).await?;
        return respond("image/png", png, &request);
    }
    let picture = scheduler.run_request(client, body, |resources, body| draw(body, resources)).await?;
    let (width, height) = (picture.width.to_string(), picture.height.to_string());
    Ok(HttpResponse::Ok()
        .content_type("application/octet-stream")
        .insert_header(("Content-Encoding", "identity"))
        .insert_header(("X-Width", width))
        .insert_header(("X-Height", height))
        .body(ResponseBody::new(Arc::new(picture.rgba), &request)?))
}

fn draw(request: &PreviewRequest, resources: &Resources) -> Result<Picture, ApiError> {
    let project = project_in(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let scale = request.scale.unwrap_or(1.0);
    if !(0.05..=16.0).contains(&scale) {
        return Err(ApiError::invalid_at(
            "/scale",
            format!("expected a scale from 0.05 to 16, found {scale}"),
        ));
    }
    let resolved = resolve::scene(&project, scene, &resources.assets(&project)?);
    let view = view(request.region, &resolved, scale)?;
    view.check_size().map_err(|message| ApiError::invalid_at("/scale", message))?;
    let coats = match (&request.only, &request.without, &request.coats) {
        (Some(only), _, _) => CoatFilter::Only(only.clone()),
        (None, Some(without), _) => CoatFilter::Without(without.clone()),
        (None, None, ShownCoats::All) => CoatFilter::All,
        (None, None, ShownCoats::None) => CoatFilter::None,
    };
    let mode = if request.as_browser { chromium::CSS } else { RenderMode::EXACT };
    let part = RenderOptions { piece: request.piece.clone(), shadow_only: request.shadow_only, coats, mode };
    let rounding = if request.dither { Rounding::Dithered } else { Rounding::Nearest };
    if request.as_browser && request.screen.is_none() && request.sight.is_none() {
        return Ok(shown_as_css(&resolved, &[], &view, &part, &resources.cache));
    }
    if request.screen.is_none() && request.sight.is_none() {
        return Ok(picture(&resolved, &view, &part, rounding, &resources.cache));
    }
    let mut canvas = render(&resolved, &view, &part, &resources.cache);
    if let Some(screen) = request.screen {
        canvas = screen.seen(&canvas);
    }
    if let Some(sight) = request.sight {
        canvas = squinted(&canvas, sight.sigma() * scale);
    }
    Ok(canvas.to_picture(rounding))
}

/// The whole scene, or a region of it.
fn view(region: Option<[f64; 4]>, scene: &resolve::Scene, scale: f64) -> Result<Viewport, ApiError> {
    let Some([x, y, width, height]) = region else { return Ok(Viewport::whole(scene, scale)) };
    let usable = [x, y].iter().all(|at| at.abs() <= 1e5) && [width, height].iter().all(|side| *side > 0.0);
    let pixels = |side: f64| (side * scale).round().max(1.0);
    if !usable || pixels(width).max(pixels(height)) > f64::from(limits::PICTURE_SIDE) {
        let message = "expected x, y, width and height in px, at most 8192 device px a side";
        return Err(ApiError::invalid_at("/region", message));
    }
    Ok(Viewport { x, y, scale, width: pixels(width) as u32, height: pixels(height) as u32 })
}

fn to_png(picture: &Picture) -> Result<Vec<u8>, ApiError> {
    made(picture.to_png().map_err(ApiError::internal)?)
}

/// What small pictures are asked for.
#[derive(Deserialize, ToSchema)]
pub struct ThumbnailsRequest {
    /// The project document.
    #[schema(value_type = Project)]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The pieces to be drawn; all when left out.
    pieces: Option<Vec<Id>>,
    /// The piece whose coats are drawn one by one.
    piece: Option<Id>,
    /// Those of its coats to be drawn; all when left out.
    coats: Option<Vec<Id>>,
    /// Also what could be added to its stack.
    #[serde(default)]
    additions: bool,
}

/// Small pictures.
#[derive(Serialize, ToSchema)]
pub struct Thumbnails {
    /// The pieces that were asked for, lowest first.
    pieces: Vec<PieceThumbnail>,
    /// The coats that were asked for, each alone on the piece.
    coats: Vec<Thumbnail>,
    /// What could be added, each alone on the piece.
    additions: Vec<AdditionPicture>,
}

/// A piece's small picture.
#[derive(Serialize, ToSchema)]
pub struct PieceThumbnail {
    /// The piece.
    id: Id,
    /// A PNG as a data URL.
    picture: String,
}

/// One small picture.
#[derive(Serialize, ToSchema)]
pub struct Thumbnail {
    /// Of what.
    id: Id,
    /// A PNG as a data URL.
    picture: String,
}

/// A coat that could be added, and how it would look.
#[derive(Serialize, ToSchema)]
pub struct AdditionPicture {
    /// What it does.
    description: &'static str,
    /// The coat, to be given an id of its own.
    coat: Coat,
    /// A PNG as a data URL.
    picture: String,
}

/// The small pictures of a scene, all in one answer.
#[utoipa::path(
    request_body = ThumbnailsRequest,
    responses((status = 200, body = Thumbnails), (status = 422, body = ProblemDocument), (status = 503, body = ProblemDocument))
)]
#[post("/api/thumbnails")]
pub async fn thumbnails(
    context: RequestContext,
    body: JsonBody<ThumbnailsRequest>,
) -> Result<HttpResponse, ApiError> {
    context.json(body, |resources, body| draw_thumbnails(body, resources)).await
}

/// Width and height of small pictures, at two device pixels each.
const SMALL: (u32, u32) = (112, 72);

fn draw_thumbnails(request: &ThumbnailsRequest, resources: &Resources) -> Result<Thumbnails, ApiError> {
    let project = project_in(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let assets = resources.assets(&project)?;
    let studio = Studio { project: &project, scene, assets: &assets, cache: &resources.cache };
    let mut pieces = Vec::new();
    let wanted = |piece: &&Piece| request.pieces.as_ref().is_none_or(|ids| ids.contains(&piece.id));
    for piece in scene.pieces.iter().filter(wanted) {
        let picture = studio.whole(piece)?;
        pieces.push(PieceThumbnail { id: piece.id.clone(), picture });
    }
    let chosen = scene.pieces.iter().find(|piece| Some(&piece.id) == request.piece.as_ref());
    let (mut coats, mut offered) = (Vec::new(), Vec::new());
    if let Some(piece) = chosen {
        let worn = |coats: Vec<Coat>| Piece { wear: Wear::Coats(OwnCoats { coats }), ..piece.clone() };
        let bare = studio.before(&worn(Vec::new()));
        let wanted = |coat: &&Coat| request.coats.as_ref().is_none_or(|ids| ids.contains(&coat.id));
        for coat in project.coats_of(piece, &scene.theme).iter().filter(wanted) {
            let picture = bare.becomes(&worn(vec![Coat { on: true, ..coat.clone() }]))?;
            coats.push(Thumbnail { id: coat.id.clone(), picture });
        }
        if request.additions {
            for Addition { description, coat } in additions(&project, piece, &assets) {
                let picture = bare.becomes(&worn(vec![coat.clone()]))?;
                offered.push(AdditionPicture { description, coat, picture });
            }
        }
    }
    Ok(Thumbnails { pieces, coats, additions: offered })
}

/// Where small pictures of single pieces are taken.
pub(super) struct Studio<'a> {
    pub project: &'a Project,
    pub scene: &'a Scene,
    pub assets: &'a Assets,
    pub cache: &'a MaskCache,
}

impl Studio<'_> {
    /// One piece on its ground, fitted into a small picture with room for its shadows.
    pub fn whole(&self, piece: &Piece) -> Result<String, ApiError> {
        Ok(png_data_url(&self.fitted(piece, SMALL)?))
    }

    /// One piece on its ground, as a PNG of this many pixels.
    pub fn fitted(&self, piece: &Piece, size: (u32, u32)) -> Result<Vec<u8>, ApiError> {
        let resolved = self.alone(piece);
        let [x, y, w, h] = box_of(&resolved);
        let (width, height) = (f64::from(size.0), f64::from(size.1));
        let room = (width * 0.66 / w).min(height * 0.62 / h).min(2.0);
        // Nothing of what lies around the scene is shown.
        let scale = room.max(width / resolved.width).max(height / resolved.height);
        let at = [x + w / 2.0, y + h / 2.0];
        self.about(&resolved, at, scale, size)
    }

    /// A piece to be compared with what coats make of it.
    pub fn before(&self, piece: &Piece) -> Before<'_> {
        let scene = self.alone(piece);
        let view = surroundings(&scene);
        Before { studio: self, view, picture: self.drawn(&scene, &view) }
    }

    fn drawn(&self, scene: &resolve::Scene, view: &Viewport) -> Picture {
        picture(scene, view, &RenderOptions::default(), Rounding::Nearest, self.cache)
    }

    /// The scene with this piece and nothing else.
    fn alone(&self, piece: &Piece) -> resolve::Scene {
        let mut alone = self.scene.clone();
        alone.pieces = vec![Piece { hidden: false, coats_on: true, ..piece.clone() }];
        resolve::scene(self.project, &alone, self.assets)
    }

    /// A small picture about a place of the scene, or as near to it as the scene goes.
    fn small(&self, scene: &resolve::Scene, at: [f64; 2], scale: f64) -> Result<String, ApiError> {
        Ok(png_data_url(&self.about(scene, at, scale, SMALL)?))
    }

    fn about(
        &self,
        scene: &resolve::Scene,
        at: [f64; 2],
        scale: f64,
        (width, height): (u32, u32),
    ) -> Result<Vec<u8>, ApiError> {
        let from = |middle: f64, shown: u32, whole: f64| {
            let shown = f64::from(shown) / scale;
            (middle - shown / 2.0).clamp(0.0, (whole - shown).max(0.0))
        };
        let (x, y) = (from(at[0], width, scene.width), from(at[1], height, scene.height));
        to_png(&self.drawn(scene, &Viewport { x, y, scale, width, height }))
    }
}

/// A piece as it is before something is changed in its stack.
pub(super) struct Before<'a> {
    studio: &'a Studio<'a>,
    view: Viewport,
    picture: Picture,
}

impl Before<'_> {
    /// What the piece becomes with other coats, as near as the change shows best.
    pub fn becomes(&self, after: &Piece) -> Result<String, ApiError> {
        let Self { studio, view, picture } = self;
        let scene = studio.alone(after);
        let aspect = f64::from(SMALL.0) / f64::from(SMALL.1);
        let Some(part) = closeup(picture, &studio.drawn(&scene, view), aspect) else {
            return studio.whole(after);
        };
        let middle = [
            view.x + (part.x + part.width / 2.0) / view.scale,
            view.y + (part.y + part.height / 2.0) / view.scale,
        ];
        let scale = f64::from(SMALL.0) / part.width * view.scale;
        studio.small(&scene, middle, scale.min(NEAREST))
    }
}

/// Device pixels for one px in the nearest picture of a coat: edges stay recognisable.
const NEAREST: f64 = 6.0;

/// Pixels of the longer side of the picture in which a coat is looked for.
const SEARCHED: f64 = 480.0;

/// A piece and what lies around it, as far as the scene goes.
fn surroundings(scene: &resolve::Scene) -> Viewport {
    let [x, y, w, h] = box_of(scene);
    let room = 48.0 + w.max(h) / 4.0;
    let span = |from: f64, length: f64, whole: f64| {
        let (low, high) = ((from - room).clamp(0.0, whole), (from + length + room).clamp(0.0, whole));
        if high - low < 1.0 { (0.0, whole) } else { (low, high - low) }
    };
    let ((x, width), (y, height)) = (span(x, w, scene.width), span(y, h, scene.height));
    let scale = (SEARCHED / width.max(height)).min(1.0);
    let pixels = |length: f64| (length * scale).round().max(1.0) as u32;
    Viewport { x, y, scale, width: pixels(width), height: pixels(height) }
}

/// Place and size of a scene's only piece.
fn box_of(scene: &resolve::Scene) -> [f64; 4] {
    scene.pieces.first().map_or([0.0, 0.0, 1.0, 1.0], |piece| {
        let (w, h) = piece.silhouette.size();
        [piece.x, piece.y, w.max(1.0), h.max(1.0)]
    })
}
