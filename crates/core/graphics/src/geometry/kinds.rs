//! How shapes are joined and stroked.

use serde::{Deserialize, Serialize};

/// How parts are joined.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum JoinOp {
    /// All together.
    Add,
    /// The first without the others.
    Subtract,
    /// Their intersection.
    Intersect,
    /// Points covered by an odd number of them.
    Exclude,
}

/// Which side of the edge a stroke lies on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StrokeSide {
    /// Outside.
    #[default]
    Outside,
    /// Across.
    Centre,
    /// Inside.
    Inside,
}

impl StrokeSide {
    /// The side's name, as the document writes it.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Self::Outside => "outside",
            Self::Centre => "centre",
            Self::Inside => "inside",
        }
    }
}

/// How a stroke's corners are joined.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StrokeJoin {
    /// Sharp.
    #[default]
    Miter,
    /// Rounded.
    Round,
    /// Cut off.
    Bevel,
}

/// How a stroke's open ends are closed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum StrokeCap {
    /// At the end.
    #[default]
    Butt,
    /// With a half circle.
    Round,
    /// With half a square.
    Square,
}
