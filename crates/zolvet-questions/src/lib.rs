//! What can be asked of the core, and the answers.
//!
//! Each question is a type that is read from JSON and a function that answers it from a [`Desk`]: the projects that are
//! held, their files, and a cache. The service answers them over HTTP, the worker of the page by messages; both give
//! the same bytes.

mod checks;
mod desk;
mod finishes;
mod handoff;
mod held;
mod offers;
mod pictures;
mod refusal;
mod reports;
mod solve;
mod studio;
mod table;

pub use checks::{FewerShadowsRequest, SeenPiece, SightsRequest, find_fewer_shadows, sights};
pub use desk::{Desk, Files, piece_in, scene_in};
pub use finishes::{
    Card, Cards, CardsRequest, SpecimenPicture, TwoFinishes, finish_cards, finish_differences, finish_steps,
};
pub use handoff::{
    ComparedRequest, DrawingAnswer, ExportRequest, Exported, FaithfulAnswer, FaithfulRequest, drawn_alone,
    export, faithful, faithful_project,
};
pub use held::{HeldProject, HeldProjects, ProjectOrHeld};
pub use offers::{BlendPicture, StarterPicture, StartersRequest, offer_blends, offer_starters};
pub use pictures::{
    AdditionPicture, PieceThumbnail, PreviewRequest, StagePicture, StageRequest, Thumbnail, Thumbnails,
    ThumbnailsRequest, preview, stage, thumbnails, to_png,
};
pub use refusal::{Refusal, RefusalDocument};
pub use reports::{
    ArrangeRequest, CoatRequest, ColoursRequest, CssCoats, CssRequest, ResolveRequest, SceneCodeRequest,
    SceneRequest, SplitCoats, arrange, colours, outline, piece_boxes, placed_code, read_css, resolve, split,
};
pub use solve::{FewerPicture, PullRequest, ReduceRequest, ReducedPictures, pull_profile, reduce_stack};
pub use studio::Studio;
pub use table::{Answer, Reply, answer, paths, read};

/// A number, in hexadecimal, for the sources of the core and its questions: whoever has the same answers the same.
pub const CORE: &str = env!("ZOLVET_CORE");

/// Something that was made for an answer, which is held until the answer is whole.
pub(crate) fn made(bytes: Vec<u8>) -> Result<Vec<u8>, Refusal> {
    // Where it is too much, the work is ended, and that is what is told.
    zolvet_core::budget::retain_memory(bytes.len());
    Ok(bytes)
}
