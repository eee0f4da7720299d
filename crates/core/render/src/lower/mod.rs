//! Lowering resolved pieces to a form that a target can express.
//!
//! A target cannot express everything. [`lower`] returns the part of a piece that it can: an element that a browser
//! paints by itself and a filter applied to it. Writers print exactly that, and [`crate::chromium`] draws exactly that,
//! so that the promise is the file.

mod carried;
mod conventions;
mod exact;
mod filter_graph;
mod graph;
mod lowered;
mod notes;
mod numbers;
mod ring;
mod solid;
mod specimen;
mod trial;

pub use carried::{scene_with_carried_shadows, with_carried_shadows};
pub use conventions::{Conventions, Density, Direction, Softness, reach_and_hardness};
pub use exact::exact_target;
pub use filter_graph::{piece_filter, shadow_chain};
pub use graph::{Curve, Graph, Input, Operator, Step};
pub use lowered::{Lowered, LoweredFilter, Target, best_target, lower, lower_written, targets_of};
pub use notes::{Fidelity, FidelityNote, LITTLE_BLUR, Notes};
pub use numbers::Numbers;
pub use numbers::fewest;
pub use specimen::{fill_of, specimen, wearers};
pub use trial::SEEDLING;
pub use trial::{TrialPiece, trial};
