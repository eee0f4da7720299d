//! JSON pointers (RFC 6901): where something is in a document.

use jsonptr::Token;

/// The pointer to a member or item of the value at `parent`.
pub fn child(parent: &str, name: &str) -> String {
    format!("{parent}/{}", Token::new(name).encoded())
}

/// The pointer that leads through each of these names.
pub fn pointer<'a>(names: impl IntoIterator<Item = &'a str>) -> String {
    names.into_iter().fold(String::new(), |parent, name| child(&parent, name))
}
