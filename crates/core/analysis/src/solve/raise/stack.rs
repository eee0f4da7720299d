//! Stacks for heights, and heights of stacks.

use crate::limits;
use crate::solve::error::SolveError;
use crate::solve::shadow::Shadow;

/// A stack for a height.
#[derive(Debug, Clone, PartialEq)]
pub struct RaisedStack {
    /// The light's own shadow first, then those of what is around it.
    pub shadows: Vec<Shadow>,
    /// How far its picture on white is from the light that really reaches the ground.
    pub error: SolveError,
}

/// The height that a stack says.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SaidHeight {
    /// In px.
    pub height: f64,
    /// How far the stack's picture is from that of a plate so high.
    pub error: SolveError,
}

/// The lowest height, in px above the ground.
pub const LEAST_HEIGHT: f64 = 0.5;
/// The greatest height, in px above the ground.
pub const MOST_HEIGHT: f64 = 200.0;
/// The most shadows for a height.
pub const MOST_COATS: usize = limits::RAISED_SHADOWS;
