//! Targets that draw a piece as it was designed.

use super::lowered::{Target, lower, targets_of};
use crate::resolve::Piece;

/// The most natural target in which a piece is drawn as it was designed, where there is one.
#[must_use]
pub fn exact_target(piece: &Piece, is_text: bool) -> Option<Target> {
    targets_of(piece, is_text).into_iter().find(|target| lower(piece, *target).notes.0.is_empty())
}
