//! Fixes: patches of the document that remove a finding.

use json_patch::{Patch, PatchOperation};
use jsonptr::PointerBuf;
use serde::Serialize;
use serde_json::Value;

use crate::patch::set;

/// A change of the document that removes a finding.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fix {
    /// In words, as something to do.
    pub title: String,
    /// Changes of the project document (JSON Patch, RFC 6902).
    #[cfg_attr(feature = "schema", schema(value_type = Vec<crate::patch::PatchStep>))]
    pub patch: Patch,
}

impl Fix {
    pub(super) fn new(title: impl Into<String>, changes: Vec<PatchOperation>) -> Self {
        Self { title: title.into(), patch: Patch(changes) }
    }

    /// Sets one field.
    pub(super) fn set(title: impl Into<String>, at: PointerBuf, to: impl Into<Value>) -> Self {
        Self::new(title, vec![set(at, to)])
    }
}
