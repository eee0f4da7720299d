//! What becomes of coats on the way out.

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

/// What becomes of a coat, or of the piece where no coat is named.
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

/// Notes while they are taken.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Notes(pub Vec<FidelityNote>);

impl Notes {
    /// Says something about one coat; once is enough for the steps of a ramp.
    pub fn differs(&mut self, coat: &Coat, fidelity: Fidelity, what: &str) {
        let message = format!("{}: {what}", coat.name);
        self.add(FidelityNote { coat: Some(coat.id.clone()), fidelity, message });
    }

    /// Says something about the whole piece.
    pub fn whole(&mut self, fidelity: Fidelity, what: &str) {
        self.add(FidelityNote { coat: None, fidelity, message: what.to_owned() });
    }

    /// Takes a note that is not there yet.
    pub fn add(&mut self, note: FidelityNote) {
        if !self.0.contains(&note) {
            self.0.push(note);
        }
    }
}

/// What is said of blurs that come to nothing in a filter.
pub const LITTLE_BLUR: &str = "browsers draw so little blur only on screens of 2x";
