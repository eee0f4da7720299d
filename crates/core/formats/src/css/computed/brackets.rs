//! Text in brackets.

use cssparser::{ParseError, Parser};

use super::around::ValueError;

/// Functions within functions that are followed.
pub(super) const MAX_DEPTH: usize = 32;

/// The text of the brackets that have just been opened.
pub(super) fn inside(parser: &mut Parser<'_>) -> Result<String, ValueError> {
    let found = parser.parse_nested_block(|inner| -> Result<String, ParseError<()>> {
        let start = inner.position();
        while inner.next().is_ok() {}
        Ok(inner.slice_from(start).trim().to_owned())
    });
    found.map_err(|_| ValueError::invalid("brackets that are not closed"))
}
