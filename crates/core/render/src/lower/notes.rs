//! Notes on coats that a target approximates or drops.

use serde::Serialize;

use crate::model::Id;
use crate::resolve::Coat;

/// How a coat comes through.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fidelity {
    /// It is there, but looks different.
    Approximated,
    /// It is not there.
    Dropped,
}

/// A note on a coat, or on the piece where no coat is named.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FidelityNote {
    /// The coat's id.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub coat: Option<Id>,
    /// How it comes through.
    pub fidelity: Fidelity,
    /// In words, naming the coat.
    pub message: String,
}

/// Notes while they are collected.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Notes(pub Vec<FidelityNote>);

impl Notes {
    /// Adds a note on one coat; the steps of a ramp share one.
    pub fn differs(&mut self, coat: &Coat, fidelity: Fidelity, what: &str) {
        let message = format!("{}: {what}", coat.name);
        self.add(FidelityNote { coat: Some(coat.id.clone()), fidelity, message });
    }

    /// Adds a note on the whole piece.
    pub fn whole(&mut self, fidelity: Fidelity, what: &str) {
        self.add(FidelityNote { coat: None, fidelity, message: what.to_owned() });
    }

    /// Adds a note that is not in the list yet.
    pub fn add(&mut self, note: FidelityNote) {
        if !self.0.contains(&note) {
            self.0.push(note);
        }
    }
}

/// The note on blurs that a filter draws as none.
pub const LITTLE_BLUR: &str = "browsers draw so little blur only on screens of 2x";
