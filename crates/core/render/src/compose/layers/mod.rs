//! The layers of a piece: one or more for each coat.

pub(in crate::compose) mod builder;
mod drawn;
pub(in crate::compose) mod layer;
pub(in crate::compose) mod piece_layers;
