//! Changes of documents as JSON Patch (RFC 6902), and pointers into them (RFC 6901).

use json_patch::{AddOperation, PatchOperation, RemoveOperation, ReplaceOperation};
use jsonptr::PointerBuf;
use serde_json::Value;

/// A pointer made of field names and places in lists.
#[macro_export]
macro_rules! pointer {
    ($($token:expr),+ $(,)?) => {
        jsonptr::PointerBuf::from_tokens([$(jsonptr::Token::from($token)),+])
    };
}
pub use crate::pointer;

/// Sets a field, whether it is there yet or not; before an item of a list, inserts another.
pub fn set(at: PointerBuf, to: impl Into<Value>) -> PatchOperation {
    PatchOperation::Add(AddOperation { path: at, value: to.into() })
}

/// Puts another item in the place of one of a list.
pub fn replace(at: PointerBuf, to: impl Into<Value>) -> PatchOperation {
    PatchOperation::Replace(ReplaceOperation { path: at, value: to.into() })
}

/// Takes an item out of its list.
pub fn remove(at: PointerBuf) -> PatchOperation {
    PatchOperation::Remove(RemoveOperation { path: at })
}

/// An operation of a patch, for the description of the interface only: `replace` an item of a list, `move` one, `add` a field or
/// replace it, `remove` an item of a list (RFC 6902, section 4).
#[cfg(feature = "schema")]
#[derive(utoipa::ToSchema)]
#[allow(dead_code)]
pub struct PatchStep {
    /// `add`, `remove`, `replace`, or `move`.
    op: String,
    /// Where, as a JSON pointer (RFC 6901).
    path: String,
    /// From where, for `move`.
    from: Option<String>,
    /// The new value; nothing for `remove` and `move`.
    value: Option<Value>,
}
