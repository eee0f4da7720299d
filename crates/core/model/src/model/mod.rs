//! The project document: what is stored, exchanged and edited.
//!
//! Every type decodes from JSON with its limits checked on the way in, so a [`Project`] that exists is within
//! them. [`Project::from_json`] also checks what spans several places: ids that must be unique, and ids that
//! must exist. Fields this version does not know are ignored here; whoever stores a document keeps its text, so
//! nothing is lost on a round trip.

mod coat;
mod colour;
mod control;
mod decode;
mod edit;
mod fitting;
mod id;
mod kind;
mod migrate;
mod parts;
mod piece;
mod prefix;
mod project;
mod read;
mod references;
mod shape;
mod state;
mod validate;

pub use crate::geometry::{Align, JoinOp, StrokeCap, StrokeJoin, StrokeSide, TextShape};
pub use crate::quantity::*;
pub use crate::raster::Fit;
pub use coat::*;
pub use colour::*;
pub use decode::Problem;
pub use fitting::*;
pub use id::*;
pub use kind::*;
pub use migrate::{SchemaVersion, current_form, migrate};
pub use parts::piece_tokens;
pub use piece::*;
pub use prefix::Prefix;
pub use project::*;
pub use references::Reference as SharedReference;
pub use shape::*;
pub use state::*;
pub use zolvet_graphics::limits;
