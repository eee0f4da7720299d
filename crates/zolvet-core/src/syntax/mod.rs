//! How things are written and read: what belongs to no format alone.

mod lines;

pub(crate) use lines::LineIndex;
