//! The API of the core: everything that can be asked of it, as queries with a path.
//!
//! A [`Query`] reads a JSON request and answers it from a [`QueryContext`]: the open projects, their assets and the mask
//! cache. The service answers queries over HTTP, the worker of the page by messages; both give the same bytes.

mod artwork;
mod checks;
mod context;
mod drags;
mod error;
mod finishes;
mod handoff;
mod heights;
mod icon_sets;
mod matching;
mod offers;
mod open_projects;
mod pages;
mod pictures;
mod registry;
mod reports;
#[cfg(feature = "schema")]
pub mod schemas;
mod solve;
mod thumbnail_renderer;

pub use artwork::{
    ArtworkAnswer, ArtworkRequest, DepthAnswer, DepthRequest, TakeOutRequest, artwork, artwork_depth,
    take_out,
};
pub use checks::{FewerShadowsRequest, SeenPiece, SightsRequest, find_fewer_shadows, sights};
pub use context::{Files, QueryContext, piece_in, scene_in};
pub use drags::{DraggedGroup, drag_bearing, drag_box, drag_group, drag_offset};
pub use error::{ErrorDocument, QueryError};
pub use finishes::{
    Card, Cards, CardsRequest, SpecimenPicture, TwoFinishes, finish_cards, finish_differences, finish_steps,
};
pub use handoff::{
    ComparedRequest, DrawingAnswer, ExportRequest, Exported, FaithfulAnswer, FaithfulRequest, drawn_alone,
    export, faithful, faithful_project,
};
pub use heights::{
    HeightLight, HeightSaid, RaiseAnswer, RaiseRequest, RaisedPiece, RelightAnswer, RelightRequest,
    raise_stack, relight,
};
pub use icon_sets::{
    AppliedFile, ApplyRequest, FileRoom, IconOutput, RoomsRequest, apply_finish, icon_rooms,
};
pub use matching::{FoundBorder, FoundPlace, MatchAnswer, MatchedCoats, PictureRequest, match_stack};
pub use offers::{BlendPicture, StarterPicture, StartersRequest, offer_blends, offer_starters};
pub use open_projects::{HeldProject, OpenProjects, ProjectOrHeld};
pub use pages::{PageSheet, PageSheetRequest, page_sheet};
pub use pictures::{
    AdditionPicture, PieceThumbnail, PreviewRequest, StagePicture, StageRequest, Thumbnail, Thumbnails,
    ThumbnailsRequest, preview, stage, thumbnails, to_png,
};
pub use registry::{Answer, Place, QUERIES, Query, parse};
pub use reports::{
    ArrangeRequest, CoatRequest, ColoursRequest, CssCoats, CssRequest, ResolveRequest, SceneCodeRequest,
    SceneRequest, SplitCoats, arrange, colours, outline, piece_boxes, placed_code, read_css, resolve, split,
};
pub use solve::{FewerPicture, PullRequest, ReduceRequest, ReducedPictures, pull_profile, reduce_stack};
pub use thumbnail_renderer::ThumbnailRenderer;

/// Hash of the sources of the core and its queries, in hexadecimal. Builds with the same hash give identical answers.
pub const SOURCE_HASH: &str = env!("ZOLVET_CORE");

/// Counts the bytes of an answer against the memory budget of the computation, which is ended where they are too many.
pub(crate) fn charge(bytes: Vec<u8>) -> Vec<u8> {
    zolvet_core::budget::retain_memory(bytes.len());
    bytes
}
