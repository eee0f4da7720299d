//! Where coats and silhouettes cover pixels: masks of coverage, tiles of pixels, and their makers.

pub(in crate::compose) mod cast;
pub(in crate::compose) mod coverage;
pub(in crate::compose) mod drawn;
pub(in crate::compose) mod extrude;
pub(in crate::compose) mod placed_mask;
pub(in crate::compose) mod tile;
pub(in crate::compose) mod tone;
