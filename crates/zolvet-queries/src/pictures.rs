//! Pictures: the stage, and the small ones beside it.

use serde::{Deserialize, Serialize};
use serde_json::Value;
use zolvet_core::chromium::{self, shown_as_css};
use zolvet_core::compose::{
    CoatFilter, LastPicture, MaskCache, Region, RenderMode, RenderOptions, Rounding, Viewport, picture,
    redraw, render,
};
use zolvet_core::measure::{Screen, ViewingConditions, squinted};
use zolvet_core::model::{Coat, Id, Piece};
use zolvet_core::picture::Picture;
use zolvet_core::report::{Addition, additions};
use zolvet_core::{limits, resolve};

use crate::charge;
use crate::thumbnail_renderer::ThumbnailRenderer;
use crate::{QueryContext, QueryError, scene_in};

/// A picture to be drawn.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PreviewRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
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
    /// As seen by an eye that mixes pixels that lie close together.
    sight: Option<ViewingConditions>,
}

/// Which coats are drawn.
#[derive(Deserialize, Default, PartialEq)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ShownCoats {
    /// All that are on.
    #[default]
    All,
    /// None: how it was before.
    None,
}

/// Draws a scene, or a part of it.
///
/// # Errors
/// The place where the request is not as expected.
pub fn preview(context: &QueryContext<'_>, request: &PreviewRequest) -> Result<Picture, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let drawn = Drawn::from_request(request, resolve::scene(&project, scene, &context.assets(&project)?))?;
    Ok(drawn.picture(request, context.cache))
}

/// The numbered picture of a scene that the client shows.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct StageRequest {
    /// A picture to be drawn of an open project: only its changed parts are drawn and sent.
    #[serde(flatten)]
    picture: PreviewRequest,
    /// The number of the picture that is asked for.
    number: u64,
    /// The number of the picture that is there, where the same view of the same session was drawn before.
    after: Option<u64>,
}

impl StageRequest {
    /// No earlier picture is known, so the answer is the whole picture.
    #[must_use]
    pub const fn is_first(&self) -> bool {
        self.after.is_none()
    }
}

/// The changes of a picture.
#[derive(Debug, PartialEq, Eq)]
pub struct StagePicture {
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
    /// The parts that differ from the picture before; all of it where that is not known.
    pub regions: Vec<Region>,
}

impl StagePicture {
    /// As bytes: width, height and the number of regions; x, y, width and height of each; then the RGBA pixels of each. All numbers
    /// have 32 bits, the lowest byte first.
    #[must_use]
    pub fn bytes(&self) -> Vec<u8> {
        let pixels: usize = self.regions.iter().map(|region| region.rgba.len()).sum();
        let mut bytes = Vec::with_capacity(12 + 16 * self.regions.len() + pixels);
        let count = u32::try_from(self.regions.len()).unwrap_or(u32::MAX);
        let head = [self.width, self.height, count];
        let numbers = head.into_iter().chain(self.regions.iter().flat_map(|region| region.place));
        numbers.for_each(|number| bytes.extend_from_slice(&number.to_le_bytes()));
        self.regions.iter().for_each(|region| bytes.extend_from_slice(&region.rgba));
        bytes
    }
}

/// Draws the changes of a picture.
///
/// # Errors
/// The place where the request is not as expected.
pub fn stage(context: &QueryContext<'_>, request: &StageRequest) -> Result<StagePicture, QueryError> {
    let asked = &request.picture;
    let project = context.project(&asked.project)?;
    let scene = scene_in(&project, &asked.scene)?;
    let drawn = Drawn::from_request(asked, resolve::scene(&project, scene, &context.assets(&project)?))?;
    let Viewport { width, height, .. } = drawn.view;
    if asked.as_browser || asked.screen.is_some() || asked.sight.is_some() {
        let picture = drawn.picture(asked, context.cache);
        let place = [0, 0, picture.width, picture.height];
        return Ok(StagePicture { width, height, regions: vec![Region { place, rgba: picture.rgba }] });
    }
    let before =
        request.after.and_then(|number| context.held.previous_picture(context.owner, &asked.project, number));
    let Drawn { scene, view, part, rounding } = &drawn;
    let Some(redrawn) = redraw(
        scene,
        view,
        part,
        LastPicture { rounding: *rounding, last: before.as_deref() },
        context.cache,
    ) else {
        return Ok(StagePicture { width: 0, height: 0, regions: Vec::new() });
    };
    // What was ended early is not what it says.
    if !zolvet_core::budget::is_stopped() {
        context.held.show(context.owner, &asked.project, request.number, redrawn.shown);
    }
    Ok(StagePicture { width, height, regions: redrawn.regions })
}

/// A request about a picture, understood.
struct Drawn {
    scene: resolve::Scene,
    view: Viewport,
    part: RenderOptions,
    rounding: Rounding,
}

impl Drawn {
    fn from_request(request: &PreviewRequest, scene: resolve::Scene) -> Result<Self, QueryError> {
        let scale = request.scale.unwrap_or(1.0);
        if !(0.05..=16.0).contains(&scale) {
            let message = format!("expected a scale from 0.05 to 16, found {scale}");
            return Err(QueryError::invalid_at("/scale", message));
        }
        let view = view(request.region, &scene, scale)?;
        view.check_size().map_err(|message| QueryError::invalid_at("/scale", message))?;
        let coats = match (&request.only, &request.without, &request.coats) {
            (Some(only), _, _) => CoatFilter::Only(only.clone()),
            (None, Some(without), _) => CoatFilter::Without(without.clone()),
            (None, None, ShownCoats::All) => CoatFilter::All,
            (None, None, ShownCoats::None) => CoatFilter::None,
        };
        let mode = if request.as_browser { chromium::CSS } else { RenderMode::EXACT };
        let piece = request.piece.clone();
        let part = RenderOptions { piece, shadow_only: request.shadow_only, coats, mode };
        let rounding = if request.dither { Rounding::Dithered } else { Rounding::Nearest };
        Ok(Self { scene, view, part, rounding })
    }

    fn picture(&self, request: &PreviewRequest, cache: &MaskCache) -> Picture {
        let Self { scene, view, part, rounding } = self;
        if request.as_browser && request.screen.is_none() && request.sight.is_none() {
            return shown_as_css(scene, &[], view, part, cache);
        }
        if request.screen.is_none() && request.sight.is_none() {
            return picture(scene, view, part, *rounding, cache);
        }
        let mut canvas = render(scene, view, part, cache);
        if let Some(screen) = request.screen {
            canvas = screen.apply(&canvas);
        }
        if let Some(sight) = request.sight {
            canvas = squinted(&canvas, sight.sigma() * view.scale);
        }
        canvas.to_picture(*rounding)
    }
}

/// The whole scene, or a region of it.
fn view(region: Option<[f64; 4]>, scene: &resolve::Scene, scale: f64) -> Result<Viewport, QueryError> {
    let Some([x, y, width, height]) = region else { return Ok(Viewport::whole(scene, scale)) };
    let usable = [x, y].iter().all(|at| at.abs() <= 1e5) && [width, height].iter().all(|side| *side > 0.0);
    let pixels = |side: f64| (side * scale).round().max(1.0);
    if !usable || pixels(width).max(pixels(height)) > f64::from(limits::PICTURE_SIDE) {
        let most = limits::PICTURE_SIDE;
        let message = format!("expected x, y, width and height in px, at most {most} device px a side");
        return Err(QueryError::invalid_at("/region", message));
    }
    Ok(Viewport { x, y, scale, width: pixels(width) as u32, height: pixels(height) as u32 })
}

/// A picture as a PNG file.
///
/// # Errors
/// When it cannot be written.
pub fn to_png(picture: &Picture) -> Result<Vec<u8>, QueryError> {
    Ok(charge(picture.to_png().map_err(QueryError::internal)?))
}

/// Small pictures to be drawn.
#[derive(Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ThumbnailsRequest {
    /// The project document.
    #[cfg_attr(feature = "schema", schema(value_type = crate::ProjectOrHeld))]
    project: Value,
    /// The id of a scene.
    scene: String,
    /// The pieces to be drawn; all when left out.
    pieces: Option<Vec<Id>>,
    /// The piece whose coats are drawn one by one.
    piece: Option<Id>,
    /// Its coats to be drawn; all when left out.
    coats: Option<Vec<Id>>,
    /// Also the coats that could be added to its stack.
    #[serde(default)]
    additions: bool,
}

/// Small pictures.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Thumbnails {
    /// The pieces that were asked for, lowest first.
    pieces: Vec<PieceThumbnail>,
    /// The coats that were asked for, each alone on the piece.
    coats: Vec<Thumbnail>,
    /// Coats that could be added, each alone on the piece.
    additions: Vec<AdditionPicture>,
}

/// A piece's small picture.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PieceThumbnail {
    /// The piece.
    id: Id,
    /// A PNG as a data URL.
    picture: String,
}

/// One small picture.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Thumbnail {
    /// Their subject.
    id: Id,
    /// A PNG as a data URL.
    picture: String,
}

/// A coat that could be added, and how it would look.
#[derive(Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AdditionPicture {
    /// Its effect.
    description: &'static str,
    /// The coat, to be given an id of its own.
    coat: Coat,
    /// A PNG as a data URL.
    picture: String,
}

/// The small pictures of a scene, all in one answer.
///
/// # Errors
/// The place where the request is not as expected.
pub fn thumbnails(context: &QueryContext<'_>, request: &ThumbnailsRequest) -> Result<Thumbnails, QueryError> {
    let project = context.project(&request.project)?;
    let scene = scene_in(&project, &request.scene)?;
    let assets = context.assets(&project)?;
    let renderer = ThumbnailRenderer { project: &project, scene, assets: &assets, cache: context.cache };
    let mut pieces = Vec::new();
    let wanted = |piece: &&Piece| request.pieces.as_ref().is_none_or(|ids| ids.contains(&piece.id));
    for piece in scene.all_pieces().into_iter().filter(wanted) {
        let picture = renderer.scene_thumbnail(piece)?;
        pieces.push(PieceThumbnail { id: piece.id.clone(), picture });
    }
    let chosen = request.piece.as_ref().and_then(|id| scene.piece(id.as_str()));
    let (mut coats, mut offered) = (Vec::new(), Vec::new());
    if let Some(piece) = chosen {
        let worn = |coats: Vec<Coat>| piece.wearing(coats);
        let bare = renderer.before(&worn(Vec::new()));
        let wanted = |coat: &&Coat| request.coats.as_ref().is_none_or(|ids| ids.contains(&coat.id));
        for coat in project.shown_coats(scene, piece).iter().filter(wanted) {
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
