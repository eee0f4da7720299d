//! Pieces, the things that have depth, and coats, the entries of their stacks. A coat may hold a shape, and a joined shape
//! holds pieces: the types refer to one another, so they share a file.

use std::collections::{BTreeMap, HashSet};

use serde::{Deserialize, Deserializer, Serialize};

use super::decode::{decode_by_field, decode_by_kind, part};
use super::{
    Backdrop, Blur, BlurRadius, BoxShape, Cast, ColourSource, Degrees, DrawingShape, DrawnFrom, EllipseShape,
    Extrude, Falloff, Fill, Fitting, Grain, Id, Inner, Length, Offset, Opacity, PathShape, PictureShape, Px,
    Raised, Ramp, Spread, State, Stroke, Surface, Tint,
};
use crate::blend::BlendMode;
use crate::geometry::{JoinOp, TextShape};

/// One thing that has depth.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Piece {
    /// Unique in its scene.
    pub id: Id,
    /// The designer's name for it.
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
    /// The paint of its surface.
    #[serde(default)]
    pub fill: Fill,
    /// How its surface is drawn.
    #[serde(default)]
    pub surface: Surface,
    /// Where its coats come from.
    pub wear: Wear,
    /// Coats for other states, where the piece has coats of its own.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub states: BTreeMap<State, Vec<Coat>>,
    /// Whether it is a control, such as a button or a field, whose states all pieces in it follow.
    #[serde(default, skip_serializing_if = "is_false")]
    pub control: bool,
    /// The state in which pictures show it; at rest when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shows: Option<State>,
    /// Whether its coats are drawn.
    #[serde(default = "yes")]
    pub coats_on: bool,
    /// A piece whose silhouette limits this one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub clip_to: Option<Id>,
    /// The piece this one is tried in place of; both are drawn until one is chosen.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub alternative_of: Option<Id>,
    /// The element of a drawing that it was taken out of, so that it goes back to its place in the file.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub drawn_from: Option<DrawnFrom>,
    /// The elements of its scene's page that it stands for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fitting: Option<Fitting>,
    /// How it mixes with the scene.
    #[serde(default)]
    pub blend: BlendMode,
    /// Scales surface and coats together, as CSS `opacity` does.
    #[serde(default = "Opacity::solid")]
    pub opacity: Opacity,
}

impl Piece {
    /// A piece without a name, size, fill and coats, at the scene's top left.
    #[must_use]
    pub fn new(id: Id) -> Self {
        let nothing = BoxShape { w: Default::default(), h: Default::default(), radii: Default::default() };
        Self {
            id,
            name: String::new(),
            hidden: false,
            shape: Shape::Box(nothing),
            x: Px::default(),
            y: Px::default(),
            rotation: Degrees::default(),
            fill: Fill::default(),
            surface: Surface::default(),
            wear: Wear::Coats(OwnCoats { coats: Vec::new() }),
            states: BTreeMap::new(),
            control: false,
            shows: None,
            coats_on: true,
            clip_to: None,
            alternative_of: None,
            drawn_from: None,
            fitting: None,
            blend: BlendMode::default(),
            opacity: Opacity::solid(),
        }
    }
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "serde asks for a reference")]
fn is_false(value: &bool) -> bool {
    !value
}

fn yes() -> bool {
    true
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
    /// An SVG file in full colour.
    Drawing(DrawingShape),
    /// Several pieces joined into one silhouette.
    Join(JoinShape),
    /// Several pieces that are one thing.
    Group(GroupShape),
}

decode_by_kind!(Shape {
    "box" => Box, "ellipse" => Ellipse, "path" => Path, "text" => Text, "picture" => Picture,
    "drawing" => Drawing, "join" => Join, "group" => Group,
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
            Self::Drawing(_) => "drawing",
            Self::Join(_) => "join",
            Self::Group(_) => "group",
        }
    }
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

/// Several pieces that are one thing, as a button and its label are: they are placed, turned and faded together, and its
/// coats are those of the whole. It has no fill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GroupShape {
    /// The parts, placed relative to the group, each with all that a piece has. First is lowest.
    #[cfg_attr(feature = "schema", schema(no_recursion))]
    pub parts: Vec<Piece>,
}

/// One entry in a stack.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Coat {
    /// Unique in its stack.
    pub id: Id,
    /// The designer's name for it.
    pub name: String,
    /// Whether it is drawn.
    pub on: bool,
    /// Multiplied with the alpha of its colour.
    #[serde(default = "Opacity::solid")]
    pub opacity: Opacity,
    /// How it mixes with the picture below it.
    #[serde(default)]
    pub blend: BlendMode,
    /// Its kind, with its values.
    #[serde(flatten)]
    pub kind: CoatKind,
}

/// The fields every coat has.
#[derive(Deserialize)]
struct CoatHead {
    id: Id,
    name: String,
    on: bool,
    #[serde(default = "Opacity::solid")]
    opacity: Opacity,
    #[serde(default)]
    blend: BlendMode,
}

impl<'de> Deserialize<'de> for Coat {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let value = serde_json::Value::deserialize(deserializer)?;
        let CoatHead { id, name, on, opacity, blend } = part(&value)?;
        Ok(Self { id, name, on, opacity, blend, kind: CoatKind::decode(&value)? })
    }
}

/// Coats of one stack with ids of their own: a later one of the same id gets a number.
#[must_use]
pub fn with_unique_ids(mut coats: Vec<Coat>) -> Vec<Coat> {
    let mut taken = HashSet::new();
    for coat in &mut coats {
        let id = coat.id.clone();
        let mut number = 1;
        while !taken.insert(coat.id.clone()) {
            number += 1;
            coat.id = Id::step_of(&id, number);
        }
    }
    coats
}

impl Coat {
    /// A coat that is on, solid and blended normally.
    #[must_use]
    pub fn new(id: Id, name: impl Into<String>, kind: CoatKind) -> Self {
        let (opacity, blend) = (Opacity::solid(), BlendMode::Normal);
        Self { id, name: name.into(), on: true, opacity, blend, kind }
    }
}

/// The kinds of coats.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum CoatKind {
    /// A shadow below the piece.
    Drop(Drop),
    /// A dark or light shadow inside the silhouette.
    Inner(Inner),
    /// A soft patch of light on the surface.
    Highlight(Box<Highlight>),
    /// A colour or gradient over the surface.
    Tint(Tint),
    /// A line along the edge.
    Stroke(Stroke),
    /// Softens the piece itself.
    Blur(Blur),
    /// Solid thickness.
    Extrude(Extrude),
    /// A shadow cast on a floor or wall.
    Cast(Cast),
    /// Blur of everything behind the piece.
    Backdrop(Backdrop),
    /// Several shadows from one description.
    Ramp(Ramp),
    /// The shadows of a height.
    Raised(Raised),
}

decode_by_kind!(CoatKind {
    "drop" => Drop, "inner" => Inner, "highlight" => Highlight, "tint" => Tint, "stroke" => Stroke,
    "blur" => Blur, "extrude" => Extrude, "cast" => Cast, "backdrop" => Backdrop, "ramp" => Ramp,
    "raised" => Raised,
});

/// A drop shadow.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Drop {
    /// Where it falls.
    pub offset: Offset,
    /// How soft it is.
    pub blur: BlurRadius,
    /// How much larger than the silhouette it is.
    pub spread: Spread,
    /// Its colour.
    pub colour: ColourSource,
    /// Kept out from under the piece; by default for box and ellipse only.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub knock_out: Option<bool>,
    /// A curve over the blurred coverage.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub falloff: Option<Falloff>,
    /// Noise in the coverage.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grain: Option<Grain>,
    /// Another shape to cast the shadow from.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub substitute: Option<PlacedShape>,
}

/// A shape placed relative to the piece's top left.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PlacedShape {
    /// The shape.
    #[cfg_attr(feature = "schema", schema(no_recursion))]
    pub shape: Box<Shape>,
    /// From the piece's left, in px.
    pub x: Px,
    /// From the piece's top, in px.
    pub y: Px,
}

/// A soft patch of light, clipped to the silhouette.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Highlight {
    /// Its shape and place.
    pub spot: PlacedShape,
    /// Its paint.
    pub fill: Fill,
    /// How soft it is.
    pub blur: BlurRadius,
    /// A light it moves with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub follows: Option<Id>,
}
