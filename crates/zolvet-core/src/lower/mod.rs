//! What a target can hold of a resolved piece.
//!
//! A target cannot hold everything. [`hold`] says what is left of a piece in one: an element that a browser paints by
//! itself and a filter laid on it. Writers print exactly that, and [`crate::chromium`] draws exactly that, so that what
//! is promised is what is written.

mod build;
mod conventions;
mod graph;
mod held;
mod notes;
mod numbers;
mod trial;

pub use build::{of_piece, shadow_chain};
pub use conventions::{Conventions, Density, Direction, Softness, reach_and_hardness};
pub use graph::{Curve, Graph, Input, Operator, Step};
pub use held::{Held, HeldFilter, Target, best_target, hold, targets_of};
pub use notes::{Fidelity, FidelityNote, LITTLE_BLUR, Notes};
pub use numbers::Numbers;
pub use trial::{TRIAL_SIZE, TrialPiece, trial};
