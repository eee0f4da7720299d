//! The parts of a picture that are drawn again after a change.

pub(in crate::compose) mod cells;
pub(in crate::compose) mod hidden;
pub(in crate::compose) mod parts;
pub(in crate::compose) mod regions;
pub(in crate::compose) mod source;
