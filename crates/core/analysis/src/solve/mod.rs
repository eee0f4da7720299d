//! Stacks found for a wish (docs/measuring.md, "Stacks"): fewer coats for the same look, coats for an edge profile that was
//! drawn, for a height, or for a picture.
//!
//! A stack is found on coverage alone: `Field`s say how much each shadow covers at chosen places and how that changes
//! with its numbers, in closed form for boxes and from the renderer's masks for every other silhouette. What comes out
//! is ordinary coats, and how far they are off is measured in pictures of the real renderer.

mod boxes;
mod curve;
mod draw;
mod error;
mod exchange;
mod field;
mod fields;
mod forward;
mod ground;
mod least_squares;
mod masks;
mod matching;
mod normal;
mod places;
mod raise;
mod reduce;
mod rounding;
mod search;
mod shadow;
mod stack;

pub use curve::{Curve, CurveError};
pub use draw::{CannotDraw, Drawn, EdgeLine, Pull, RenderResources, draw, pull};
pub use error::SolveError;
pub use matching::{
    MOST_PIXELS, MatchNote, MatchRequest, MatchedPicture, MatchedStack, PlacedBox, coats as matched_coats,
    drawn_match, match_picture,
};
pub use raise::{
    LEAST_HEIGHT, LightRig, MOST_COATS, MOST_HEIGHT, Plate, RaisedStack, SaidHeight, at_height, darkening,
    height_error, height_of, raise, raise_all, raise_roughly, raised_coat, relit, shadows_under,
};
pub use reduce::{CannotReduce, FewerCoats, Holds, MAX_SHADOWS, Reduced, can_be_fewer, reduce};
pub use shadow::Shadow;
