//! The layers of a piece: each coat as what is painted of it.

pub(in crate::compose) mod builder;
pub(in crate::compose) mod layer;
pub(in crate::compose) mod piece_layers;
