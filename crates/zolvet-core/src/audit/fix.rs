//! Fixes: patches of the document that remove a finding.

use json_patch::{AddOperation, Patch, PatchOperation, RemoveOperation, ReplaceOperation};
use jsonptr::PointerBuf;
use serde::Serialize;
use serde_json::Value;

/// What would remove a finding.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Fix {
    /// In words, as something to do.
    pub title: String,
    /// Changes of the project document (JSON Patch, RFC 6902).
    #[cfg_attr(feature = "schema", schema(value_type = Vec<FixOperation>))]
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

/// An operation of a patch, for the description of the interface only: `replace` an item of a list, `add` a field or
/// replace it, `remove` an item of a list (RFC 6902, section 4).
#[cfg(feature = "schema")]
#[derive(utoipa::ToSchema)]
#[allow(dead_code)]
pub struct FixOperation {
    /// `add`, `remove` or `replace`.
    op: String,
    /// Where, as a JSON pointer (RFC 6901).
    path: String,
    /// What is put there; nothing for `remove`.
    value: Option<Value>,
}

/// A pointer made of field names and places in lists.
macro_rules! pointer {
    ($($token:expr),+ $(,)?) => {
        jsonptr::PointerBuf::from_tokens([$(jsonptr::Token::from($token)),+])
    };
}
pub(super) use pointer;

/// Sets a field, whether it is there yet or not.
pub(super) fn set(at: PointerBuf, to: impl Into<Value>) -> PatchOperation {
    PatchOperation::Add(AddOperation { path: at, value: to.into() })
}

/// Puts another item in the place of one of a list.
pub(super) fn replace(at: PointerBuf, to: impl Into<Value>) -> PatchOperation {
    PatchOperation::Replace(ReplaceOperation { path: at, value: to.into() })
}

/// Takes an item out of its list.
pub(super) fn remove(at: PointerBuf) -> PatchOperation {
    PatchOperation::Remove(RemoveOperation { path: at })
}
