//! From a document to plain numbers: lights followed, swatches looked up, text set, finishes unpacked, ramps and
//! shadows of heights taken apart.
//!
//! Nothing unresolved reaches the renderer. Anything that cannot be drawn, such as a picture that is missing, is left
//! out of the resolved scene and reported in its [`Note`]s, so nothing is ignored silently.

mod angle;
mod coat;
mod coats;
mod colour;
mod fill;
mod flat;
mod level;
mod offset;
mod paint;
mod plates;
mod raised;
mod ramp;
mod scene;
mod shape;
mod whole;

pub use coat::{
    Backdrop, Cast, Coat, Extrude, Grain, Highlight, PaintOp, Shadow, ShadowKind, ShadowPaint, Tone,
    surface_sigma,
};
pub use colour::ColourContext;
pub use flat::{FlatScene, flattened};
pub use level::{box_size, separated};
pub use offset::{ResolvedOffset, bearing_of};
pub use paint::{ColourStop, Paint, Sampler, gradient_line};
pub use raised::split_raised;
pub use ramp::steps;
pub use scene::{Clip, Context, Note, Piece, PieceStates, Scene, part_place};
pub use shape::silhouette;
pub use whole::{beneath, piece, piece_in_state, scene, split_coat, states};
