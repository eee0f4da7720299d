//! Pieces: the things that have depth.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};

use super::decode::{decode_by_field, decode_by_kind, part};
use super::{
    Coat, CssColour, Degrees, Fill, FontSize, Id, Length, LineHeight, Opacity, Px, Size, Spacing, Weight,
};
use crate::blend::BlendMode;

/// One thing that has depth.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Piece {
    /// Unique in its scene.
    pub id: Id,
    /// What the designer calls it.
    pub name: String,
    /// Not drawn at all.
    #[serde(default)]
    pub hidden: bool,
    /// Its geometry.
    pub shape: Shape,
    /// The left of its box, in px.
    pub x: Px,
    /// The top of its box, in px.
    pub y: Px,
    /// Turned clockwise about the middle of its box.
    #[serde(default)]
    pub rotation: Degrees,
    /// What its surface is filled with.
    #[serde(default)]
    pub fill: Fill,
    /// What becomes of its surface.
    #[serde(default)]
    pub surface: Surface,
    /// Where its coats come from.
    pub wear: Wear,
    /// Coats for other states, where the piece has coats of its own.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub states: BTreeMap<State, Vec<Coat>>,
    /// Whether its coats are drawn.
    #[serde(default = "yes")]
    pub coats_on: bool,
    /// A piece whose silhouette limits this one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub clip_to: Option<Id>,
    /// The piece this one is tried in place of; both are drawn until one is chosen.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub alternative_of: Option<Id>,
    /// How it mixes with the scene.
    #[serde(default)]
    pub blend: BlendMode,
    /// Scales surface and coats together, as CSS `opacity` does.
    #[serde(default = "Opacity::solid")]
    pub opacity: Opacity,
}

fn yes() -> bool {
    true
}

/// What becomes of a piece's surface.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Surface {
    /// Drawn.
    #[default]
    Keep,
    /// A hole: drop shadows stay outside it, inner shadows in it.
    CutOut,
    /// Not drawn; the coats are.
    Hide,
}

/// A state of a piece other than at rest.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum State {
    /// The pointer is over it.
    Hover,
    /// It is held down.
    Pressed,
    /// The keyboard is on it.
    Focus,
    /// It cannot be used.
    Disabled,
}

/// Where a piece's coats come from.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum Wear {
    /// It wears a finish.
    Finish(WornFinish),
    /// It has coats of its own.
    Coats(OwnCoats),
}

decode_by_field!(Wear {
    "finish" => Finish, "coats" => Coats,
} else "expected finish or coats");

/// A finish worn by a piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct WornFinish {
    /// The finish's id.
    pub finish: Id,
}

/// A piece's own coats.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct OwnCoats {
    /// First is nearest the eye.
    pub coats: Vec<Coat>,
}

/// A piece's geometry.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Shape {
    /// A rectangle with rounded corners.
    Box(BoxShape),
    /// An ellipse.
    Ellipse(EllipseShape),
    /// An outline from path data.
    Path(PathShape),
    /// Set text.
    Text(TextShape),
    /// A picture with transparency.
    Picture(PictureShape),
    /// Several pieces joined into one silhouette.
    Join(JoinShape),
}

decode_by_kind!(Shape {
    "box" => Box, "ellipse" => Ellipse, "path" => Path, "text" => Text, "picture" => Picture, "join" => Join,
});

impl Shape {
    /// The kind's name, as the document writes it.
    #[must_use]
    pub fn name(&self) -> &'static str {
        match self {
            Self::Box(_) => "box",
            Self::Ellipse(_) => "ellipse",
            Self::Path(_) => "path",
            Self::Text(_) => "text",
            Self::Picture(_) => "picture",
            Self::Join(_) => "join",
        }
    }
}

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

/// Set text. Its box is as wide as `width`, or as its longest line, and as tall as its lines.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TextShape {
    /// The text; line breaks are kept.
    pub string: String,
    /// A shipped family: `Figtree`, `Outfit` or `Archivo Black`.
    pub font: String,
    /// In px.
    pub size: FontSize,
    /// As CSS has it.
    pub weight: Weight,
    /// Letter spacing in px.
    #[serde(default)]
    pub spacing: Spacing,
    /// A multiple of the size.
    pub line_height: LineHeight,
    /// How lines lie in the width.
    #[serde(default)]
    pub align: Align,
    /// The width of its box; without it, as wide as its longest line.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub width: Option<Size>,
}

/// How lines of text lie in their width.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Align {
    /// From the left.
    #[default]
    Left,
    /// In the middle.
    Centre,
    /// To the right.
    Right,
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

/// Several pieces joined into one silhouette.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct JoinShape {
    /// How the parts are joined.
    pub op: JoinOp,
    /// The parts, placed relative to the join, with their own fill and on-surface coats.
    #[cfg_attr(feature = "schema", schema(no_recursion))]
    pub parts: Vec<Piece>,
    /// Softens its corners, in px.
    #[serde(default)]
    pub rounding: Length,
}

/// How parts are joined.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum JoinOp {
    /// All together.
    Add,
    /// The first without the others.
    Subtract,
    /// What all share.
    Intersect,
    /// What an odd number of them cover.
    Exclude,
}

/// A swatch value per theme.
pub type ThemeColours = BTreeMap<Id, CssColour>;
