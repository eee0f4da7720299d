//! How pictures fill boxes.

use serde::{Deserialize, Serialize};

/// How a picture is fitted to a box.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Fit {
    /// Fills the box, cropping.
    #[default]
    Cover,
    /// Fits inside the box.
    Contain,
    /// Repeats at its own size.
    Tile,
    /// Fills the box, out of proportion where it must.
    Stretch,
}
