//! Shapes that stand alone.

use serde::{Deserialize, Serialize};

use super::decode::part;
use super::{Id, Length, Size};

/// A rectangle with rounded corners.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct BoxShape {
    /// Width in px.
    pub w: Size,
    /// Height in px.
    pub h: Size,
    /// Corner radii.
    #[serde(default)]
    pub radii: Radii,
}

/// The radii of a box's corners.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum Radii {
    /// The same all round.
    All(Length),
    /// Top left, top right, bottom right, bottom left.
    Each([CornerRadius; 4]),
}

impl<'de> Deserialize<'de> for Radii {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let value = serde_json::Value::deserialize(deserializer)?;
        if value.is_array() { part(&value).map(Self::Each) } else { part(&value).map(Self::All) }
    }
}

impl Default for Radii {
    fn default() -> Self {
        Self::All(Length::default())
    }
}

/// The radius of one corner.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum CornerRadius {
    /// A quarter circle.
    Circle(Length),
    /// A quarter ellipse.
    Ellipse(EllipseRadius),
}

impl<'de> Deserialize<'de> for CornerRadius {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let value = serde_json::Value::deserialize(deserializer)?;
        if value.is_object() { part(&value).map(Self::Ellipse) } else { part(&value).map(Self::Circle) }
    }
}

/// The radii of an elliptical corner.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EllipseRadius {
    /// Along the horizontal edge.
    pub x: Length,
    /// Along the vertical edge.
    pub y: Length,
}

/// An ellipse.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct EllipseShape {
    /// Width in px.
    pub w: Size,
    /// Height in px.
    pub h: Size,
}

/// An outline from SVG path data.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PathShape {
    /// SVG path data.
    pub d: String,
    /// The rectangle of the data that is fitted to the size: x, y, width, height.
    pub viewbox: [f64; 4],
    /// Width in px.
    pub w: Size,
    /// Height in px.
    pub h: Size,
    /// Softens its corners, in px.
    #[serde(default)]
    pub rounding: Length,
}

/// An SVG file, or a run of its elements, in full colour; its alpha is the silhouette.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DrawingShape {
    /// The asset's id.
    pub asset: Id,
    /// The elements that are drawn, in painting order; all where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub elements: Option<ElementRun>,
    /// Width of the whole drawing in px.
    pub w: Size,
    /// Height of the whole drawing in px.
    pub h: Size,
}

/// Some elements of a drawing that follow one another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ElementRun {
    /// The place of the first in painting order, from 0.
    pub from: u32,
    /// The place after the last.
    pub to: u32,
}

/// An element of a drawing.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct DrawnFrom {
    /// The id of the drawing's asset.
    pub asset: Id,
    /// The element's place in painting order, from 0.
    pub element: u32,
    /// Whether the filters that it has in the file are coats of the piece.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub filter_as_coats: bool,
}

impl DrawnFrom {
    /// An element by its number, with its filters in the drawing. `None` where no drawing has so many.
    #[must_use]
    pub fn new(asset: Id, element: usize) -> Option<Self> {
        Some(Self { asset, element: u32::try_from(element).ok()?, filter_as_coats: false })
    }
}

/// A picture; its alpha is the silhouette.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PictureShape {
    /// The asset's id.
    pub asset: Id,
    /// Width in px.
    pub w: Size,
    /// Height in px.
    pub h: Size,
}
