//! Selectors of rules that lie in other rules (CSS Nesting 1).

use selectors::parser::SelectorList;

use super::selector::{self, Css};

/// The selectors of a rule that others may lie in.
#[derive(Clone)]
pub(super) struct Parents {
    pub list: SelectorList<Css>,
    /// To be read by people.
    pub text: String,
    /// Characters that they would have if nothing in them stood for others.
    expanded: usize,
}

/// Why the selectors of a rule are not read.
pub(super) enum UnreadReason {
    NotUnderstood,
    /// It is too long together with the selector around it.
    TooLarge,
}

/// Characters of nested selectors once every `&` in them is replaced by the selector around it: each level multiplies
/// the one before.
const MAX_EXPANDED: usize = 20_000;

impl Parents {
    /// The selectors of a rule within another.
    pub fn new(prelude: &str, outer: Option<&Self>) -> Result<Self, UnreadReason> {
        let expanded = expanded(prelude, outer);
        if expanded > MAX_EXPANDED {
            return Err(UnreadReason::TooLarge);
        }
        let list =
            selector::parse(prelude, outer.map(|outer| &outer.list)).ok_or(UnreadReason::NotUnderstood)?;
        let text = outer.map_or_else(|| prelude.to_owned(), |outer| joined(&outer.text, prelude));
        Ok(Self { list, text, expanded })
    }
}

/// Characters of selectors once each `&` in them, written or implied, is replaced by the selector around it.
fn expanded(prelude: &str, outer: Option<&Parents>) -> usize {
    let Some(outer) = outer else { return prelude.len() };
    let places = prelude.bytes().filter(|byte| matches!(byte, b'&' | b',')).count() + 1;
    outer.expanded.saturating_mul(places).saturating_add(prelude.len())
}

/// Selectors within others, to be read by people.
fn joined(outer: &str, inner: &str) -> String {
    let outer = if outer.contains(',') { format!(":is({outer})") } else { outer.to_owned() };
    if inner.contains('&') { inner.replace('&', &outer) } else { format!("{outer} {inner}") }
}
