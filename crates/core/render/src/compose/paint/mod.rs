//! Painting: a scene from its lowest piece to its highest, a piece from what lies behind it to what lies on it.

pub(in crate::compose) mod backdrop;
pub(in crate::compose) mod group;
pub(in crate::compose) mod knockout;
pub(in crate::compose) mod piece;
pub(in crate::compose) mod scene;
pub(in crate::compose) mod solid;
pub(in crate::compose) mod span;
pub(in crate::compose) mod surface;
pub(in crate::compose) mod under;
