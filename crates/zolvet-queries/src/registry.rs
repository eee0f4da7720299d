//! Every query: its path, its request, its answer, and the function that answers it.
//!
//! The service makes its routes and its description from this list, the page's worker its answers, and the front end
//! its types and the list of paths that a worker answers. `/api/preview` is not here: it answers in two media types.

use serde::Serialize;
use serde::de::DeserializeOwned;

#[cfg(feature = "schema")]
use crate::schemas::{self, QuerySchemas};
use crate::{QueryContext, QueryError, StageRequest};

/// A query by its path.
pub struct Query {
    /// The path under which the service and the worker answer it.
    pub path: &'static str,
    /// Its name in the service's description of itself (OpenAPI 3.1, §4.8.10, `operationId`).
    pub operation: &'static str,
    /// Its answer, in a sentence.
    pub summary: &'static str,
    /// Where the service computes it.
    pub place: Place,
    /// The media type of its answer.
    pub media_type: &'static str,
    run: fn(&QueryContext<'_>, &[u8]) -> Result<Answer, QueryError>,
    /// The schemas of its request and answer.
    #[cfg(feature = "schema")]
    pub schemas: fn() -> QuerySchemas,
}

/// Where the service computes a query.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Place {
    /// Within the service, on the scheduler's threads.
    Service,
    /// In a process of its own, which is ended when it takes too long.
    Helper,
}

/// The answer to a query.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Answer {
    /// The bytes, in the query's media type.
    pub bytes: Vec<u8>,
    /// Sending it compressed is worth the time.
    pub compresses: bool,
}

impl Query {
    /// The query of a path.
    #[must_use]
    pub fn at(path: &str) -> Option<&'static Self> {
        QUERIES.iter().find(|query| query.path == path)
    }

    /// Reads a request and answers it.
    ///
    /// # Errors
    /// The place where the request is not as expected; why it cannot be answered.
    pub fn answer(&self, request: &[u8], context: &QueryContext<'_>) -> Result<Answer, QueryError> {
        (self.run)(context, request)
    }
}

/// Makes an entry of a function that reads JSON. Its answer is JSON: one value or a list; or bytes, by a function of its own.
macro_rules! query {
    ($place:ident $path:literal $operation:ident($request:ty) -> [$item:ty], $function:path, $summary:literal) => {
        query!(@json $place $path $operation($request), $function, schemas::list::<$item>, $summary)
    };
    ($place:ident $path:literal $operation:ident($request:ty) -> $answer:ty, $function:path, $summary:literal) => {
        query!(@json $place $path $operation($request), $function, schemas::value::<$answer>, $summary)
    };
    (@json $place:ident $path:literal $operation:ident($request:ty), $function:path, $schema:expr, $summary:literal) => {
        Query {
            path: $path,
            operation: stringify!($operation),
            summary: $summary,
            place: Place::$place,
            media_type: "application/json",
            run: |context, request| answer_in_json::<$request, _>(context, request, $function),
            #[cfg(feature = "schema")]
            schemas: || QuerySchemas::new::<$request>($schema),
        }
    };
}

/// All queries.
pub static QUERIES: [Query; 36] = [
    STAGE,
    query!(
        Service "/api/thumbnails" thumbnails(crate::ThumbnailsRequest) -> crate::Thumbnails, crate::thumbnails,
        "The small pictures of a scene, all in one answer."
    ),
    query!(
        Service "/api/starters" offer_starters(crate::StartersRequest) -> [crate::StarterPicture], crate::offer_starters,
        "Whole stacks to start from, each on the piece."
    ),
    query!(
        Service "/api/blends" offer_blends(crate::CoatRequest) -> [crate::BlendPicture], crate::offer_blends,
        "The sixteen blend modes, a coat of the piece in each."
    ),
    query!(
        Service "/api/finishes" finish_cards(crate::CardsRequest) -> crate::Cards, crate::finish_cards,
        "Pictures of finishes on specimens."
    ),
    query!(
        Service "/api/finishes/steps" finish_steps(crate::TwoFinishes) -> [zolvet_core::model::Finish], crate::finish_steps,
        "The steps that are missing between two finishes, lowest first, to be given ids of their own."
    ),
    query!(
        Service "/api/finishes/differences" finish_differences(crate::TwoFinishes) -> [String], crate::finish_differences,
        "How two finishes differ, coat by coat, in words."
    ),
    query!(
        Service "/api/export" export_project(crate::ExportRequest) -> crate::Exported, crate::export,
        "Writes a project, or one finish of it, in a format."
    ),
    query!(
        Service "/api/faithful" faithful(crate::FaithfulRequest) -> crate::FaithfulAnswer, crate::faithful,
        "Draws a piece as each target will really show it, and compares."
    ),
    query!(
        Service "/api/faithful/project" faithful_project(crate::ComparedRequest) -> [zolvet_core::measure::PieceFaithfulness], crate::faithful_project,
        "How close every piece of a project comes, in the target that holds it best."
    ),
    query!(
        Service "/api/drawing" drawing(crate::FaithfulRequest) -> crate::DrawingAnswer, crate::drawn_alone,
        "Writes a piece as an SVG file of its own."
    ),
    query!(
        Helper "/api/audit/fewer" fewer_shadows(crate::FewerShadowsRequest) -> zolvet_core::audit::Fix, crate::find_fewer_shadows,
        "Finds the fix of a finding on too many shadow layers: fewer shadows that look the same."
    ),
    query!(
        Service "/api/sights" scene_sights(crate::SightsRequest) -> [crate::SeenPiece], crate::sights,
        "How well each piece of a scene can be seen, on its finished picture."
    ),
    query!(
        Helper "/api/solve/reduce" reduce_stack(crate::ReduceRequest) -> crate::ReducedPictures, crate::reduce_stack,
        "Finds the best stacks of fewer coats that look like a piece's own."
    ),
    query!(
        Service "/api/solve/draw" pull_profile(crate::PullRequest) -> zolvet_core::solve::Drawn, crate::pull_profile,
        "Finds the stack whose edge profile goes where it was pulled, and stays elsewhere."
    ),
    query!(
        Service "/api/solve/match" match_stack(crate::PictureRequest) -> crate::MatchAnswer, crate::match_stack,
        "Finds the box, the fill and the stack of an element on a picture."
    ),
    query!(
        Service "/api/solve/raise" raise_stack(crate::RaiseRequest) -> crate::RaiseAnswer, crate::raise_stack,
        "The shadows that a piece casts at a height under a light, and the height that its stack says."
    ),
    query!(
        Service "/api/solve/relight" relight(crate::RelightRequest) -> crate::RelightAnswer, crate::relight,
        "The changes of a project in which a light casts all heights that follow it anew."
    ),
    query!(
        Service "/api/resolve" resolve(crate::ResolveRequest) -> zolvet_core::report::Report, crate::resolve,
        "Everything about one piece: both forms of every offset, colours, code, differences, the edge profile."
    ),
    query!(
        Service "/api/boxes" piece_boxes(crate::SceneRequest) -> [zolvet_core::report::PieceBox], crate::piece_boxes,
        "The boxes of all pieces of a scene."
    ),
    query!(
        Service "/api/arrange" arrange(crate::ArrangeRequest) -> zolvet_core::arrange::Arranged, crate::arrange,
        "Aligns, distributes or joins pieces, or takes a join apart: answers with the change of the scene."
    ),
    query!(
        Service "/api/artwork" artwork(crate::ArtworkRequest) -> crate::ArtworkAnswer, crate::artwork,
        "The elements of a drawing, highest first."
    ),
    query!(
        Service "/api/artwork/take-out" take_out(crate::TakeOutRequest) -> zolvet_core::arrange::Arranged, crate::take_out,
        "Takes an element out of a drawing as a piece: answers with the change of the scene."
    ),
    query!(
        Service "/api/artwork/depth" artwork_depth(crate::DepthRequest) -> crate::DepthAnswer, crate::artwork_depth,
        "The file of a drawing with the depth that a scene gives it."
    ),
    query!(
        Helper "/api/icons/rooms" icon_rooms(crate::RoomsRequest) -> [crate::FileRoom], crate::icon_rooms,
        "What a finish takes of room around each of some files."
    ),
    query!(
        Helper "/api/icons/apply" apply_finish(crate::ApplyRequest) -> [crate::AppliedFile], crate::apply_finish,
        "Gives some files a finish: each as a file with depth on it, or as a picture."
    ),
    query!(
        Service "/api/page/sheet" page_sheet(crate::PageSheetRequest) -> crate::PageSheet, crate::page_sheet,
        "The sheet of a scene's page: the page's own selectors, and nothing but depth."
    ),
    query!(
        Service "/api/drag/offset" drag_offset(zolvet_core::report::drag::DraggedOffset) -> zolvet_core::model::Offset, crate::drag_offset,
        "The offset of a shadow that is dragged, in the form it had."
    ),
    query!(
        Service "/api/drag/bearing" drag_bearing(zolvet_core::report::drag::DraggedBearing) -> f64, crate::drag_bearing,
        "The bearing to which something is dragged, in degrees."
    ),
    query!(
        Service "/api/drag/box" drag_box(zolvet_core::report::drag::DraggedBox) -> zolvet_core::report::drag::SnappedBox, crate::drag_box,
        "The place of a piece that is dragged, and what it lines up with there."
    ),
    query!(
        Service "/api/drag/group" drag_group(crate::DraggedGroup) -> zolvet_core::model::Piece, crate::drag_group,
        "A group of another size, with its parts."
    ),
    query!(
        Service "/api/split" split(crate::CoatRequest) -> crate::SplitCoats, crate::split,
        "Takes a ramp apart into ordinary coats that draw the same."
    ),
    query!(
        Service "/api/outline" outline(crate::CoatRequest) -> zolvet_core::report::CoatOutline, crate::outline,
        "Where one coat lies on the scene."
    ),
    query!(Service "/api/css" read_css(crate::CssRequest) -> crate::CssCoats, crate::read_css, "Reads CSS into coats."),
    query!(
        Service "/api/colours" colours(crate::ColoursRequest) -> [zolvet_core::report::ColourForms], crate::colours,
        "Colours in every form, and how far each is from the first."
    ),
    query!(
        Service "/api/scene-code" placed_code(crate::SceneCodeRequest) -> [zolvet_core::report::PlacedCode], crate::placed_code,
        "Every piece of a scene as code, with its place, lowest first."
    ),
];

/// The only query that answers in bytes.
const STAGE: Query = Query {
    path: "/api/stage",
    operation: "stage",
    summary: "What changes on a picture: width, height and the number of regions; x, y, width and height of each; then the RGBA \
              pixels of each. All numbers have 32 bits, the lowest byte first.",
    place: Place::Service,
    media_type: "application/octet-stream",
    run: |context, request| {
        let request: StageRequest = parse(request)?;
        // The first picture is large and comes once. Those of a drag are small, and compressing them would hold them up.
        Ok(Answer { bytes: crate::stage(context, &request)?.bytes(), compresses: request.is_first() })
    },
    #[cfg(feature = "schema")]
    schemas: || QuerySchemas::new::<StageRequest>(schemas::bytes),
};

fn answer_in_json<Q: DeserializeOwned, A: Serialize>(
    context: &QueryContext<'_>,
    request: &[u8],
    answer: fn(&QueryContext<'_>, &Q) -> Result<A, QueryError>,
) -> Result<Answer, QueryError> {
    let answer = answer(context, &parse(request)?)?;
    let bytes = serde_json::to_vec(&answer).map_err(QueryError::internal)?;
    Ok(Answer { bytes, compresses: true })
}

/// Parses a request.
///
/// # Errors
/// The line and column where it is not JSON or not what is expected.
pub fn parse<Q: DeserializeOwned>(request: &[u8]) -> Result<Q, QueryError> {
    serde_json::from_slice(request).map_err(|error| {
        let place = format!("{}:{}", error.line(), error.column());
        QueryError::invalid_at(&place, error.to_string())
    })
}
