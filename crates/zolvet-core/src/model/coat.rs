//! Coats: the entries of a stack.

use serde::{Deserialize, Deserializer, Serialize};

use super::decode::{decode_by_field, decode_by_kind, part};
use super::{
    BlurRadius, ColourSource, Degrees, Factor, Fill, Fraction, Id, Length, OffsetPx, Opacity, Px, Shape,
    Sigma, Signed, Spread,
};
use crate::blend::BlendMode;

/// One entry in a stack.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Coat {
    /// Unique in its stack.
    pub id: Id,
    /// What the designer calls it.
    pub name: String,
    /// Whether it is drawn.
    pub on: bool,
    /// Multiplied with the alpha of its colour.
    #[serde(default = "Opacity::solid")]
    pub opacity: Opacity,
    /// How it mixes with what is below it.
    #[serde(default)]
    pub blend: BlendMode,
    /// What it is, with its values.
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
        Ok(Self { id, name, on, opacity, blend, kind: part(&value)? })
    }
}

/// What a coat is.
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
    /// A shadow thrown on a floor or wall.
    Cast(Cast),
    /// Blur of what lies behind the piece.
    Backdrop(Backdrop),
    /// Several shadows from one description.
    Ramp(Ramp),
}

decode_by_kind!(CoatKind {
    "drop" => Drop, "inner" => Inner, "highlight" => Highlight, "tint" => Tint, "stroke" => Stroke,
    "blur" => Blur, "extrude" => Extrude, "cast" => Cast, "backdrop" => Backdrop, "ramp" => Ramp,
});

impl CoatKind {
    /// A drop shadow with nothing special about it.
    #[must_use]
    pub fn drop(offset: Offset, blur: BlurRadius, spread: Spread, colour: ColourSource) -> Self {
        let (knock_out, falloff, grain, substitute) = (None, None, None, None);
        Self::Drop(Drop { offset, blur, spread, colour, knock_out, falloff, grain, substitute })
    }

    /// An inner shadow with nothing special about it.
    #[must_use]
    pub fn inner(offset: Offset, blur: BlurRadius, spread: Spread, colour: ColourSource) -> Self {
        Self::Inner(Inner { offset, blur, spread, colour, falloff: None, grain: None })
    }

    /// The kind's name, as the document writes it.
    #[must_use]
    pub fn name(&self) -> &'static str {
        match self {
            Self::Drop(_) => "drop",
            Self::Inner(_) => "inner",
            Self::Highlight(_) => "highlight",
            Self::Tint(_) => "tint",
            Self::Stroke(_) => "stroke",
            Self::Blur(_) => "blur",
            Self::Extrude(_) => "extrude",
            Self::Cast(_) => "cast",
            Self::Backdrop(_) => "backdrop",
            Self::Ramp(_) => "ramp",
        }
    }

    /// The offset, for the kinds that have one; a ramp's is that of its near end.
    #[must_use]
    pub fn offset(&self) -> Option<&Offset> {
        match self {
            Self::Drop(drop) => Some(&drop.offset),
            Self::Inner(inner) => Some(&inner.offset),
            Self::Extrude(extrude) => Some(&extrude.offset),
            Self::Ramp(ramp) => Some(&ramp.near.offset),
            _ => None,
        }
    }

    /// The main colour, for the kinds that have one; a ramp's is that of its near end.
    #[must_use]
    pub fn colour(&self) -> Option<&ColourSource> {
        match self {
            Self::Drop(drop) => Some(&drop.colour),
            Self::Inner(inner) => Some(&inner.colour),
            Self::Extrude(extrude) => Some(&extrude.near),
            Self::Cast(cast) => Some(&cast.colour),
            Self::Ramp(ramp) => Some(&ramp.near.colour),
            _ => None,
        }
    }

    /// The light it follows, for the kinds that follow one without an offset.
    #[must_use]
    pub fn follows(&self) -> Option<&Id> {
        match self {
            Self::Highlight(highlight) => highlight.follows.as_ref(),
            Self::Cast(cast) => cast.follows.as_ref(),
            _ => None,
        }
    }
}

/// How far and which way a shadow is moved.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum Offset {
    /// Along the axes.
    Cartesian(CartesianOffset),
    /// By a distance under a fixed bearing of the light.
    Polar(PolarOffset),
    /// By a distance under the bearing of a shared light.
    Following(FollowingOffset),
}

decode_by_field!(Offset {
    "follows" => Following, "bearing" => Polar, "x" => Cartesian,
} else "expected x and y, distance and bearing, or distance and follows");

/// An offset along the axes, in px.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CartesianOffset {
    /// To the right.
    pub x: OffsetPx,
    /// Down.
    pub y: OffsetPx,
}

/// An offset away from a light: distance d under bearing b is (-d·sin b, d·cos b).
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PolarOffset {
    /// In px; negative turns it round.
    pub distance: OffsetPx,
    /// Where the light comes from: 0° is the top, 90° the right.
    pub bearing: Degrees,
}

/// An offset away from a shared light.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FollowingOffset {
    /// In px; negative turns it round.
    pub distance: OffsetPx,
    /// The light's id.
    pub follows: Id,
}

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

/// An inner shadow.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Inner {
    /// Where the hole it lies around is moved.
    pub offset: Offset,
    /// How soft it is.
    pub blur: BlurRadius,
    /// How much smaller than the silhouette the hole is.
    pub spread: Spread,
    /// Its colour.
    pub colour: ColourSource,
    /// A curve over the blurred coverage.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub falloff: Option<Falloff>,
    /// Noise in the coverage.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grain: Option<Grain>,
}

/// A curve from blurred coverage to drawn coverage: straight lines through its points.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Falloff {
    /// At least two, in rising order of `from`.
    pub points: Vec<FalloffPoint>,
}

/// One point of a falloff.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FalloffPoint {
    /// Coverage after the blur.
    pub from: Fraction,
    /// Coverage that is drawn.
    pub to: Fraction,
}

/// Seeded noise, the same picture every time.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Grain {
    /// From fine noise (0) to pixel scatter (1).
    pub amount: Fraction,
    /// The size of a grain in px.
    pub size: Length,
    /// Which noise.
    pub seed: u32,
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
    /// What it is filled with.
    pub fill: Fill,
    /// How soft it is.
    pub blur: BlurRadius,
    /// A light it moves with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub follows: Option<Id>,
}

/// A colour or gradient over the surface.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Tint {
    /// What is laid over.
    pub fill: Fill,
}

/// A line along the edge.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stroke {
    /// In px.
    pub width: Length,
    /// Which side of the edge.
    #[serde(default)]
    pub side: StrokeSide,
    /// How corners are joined.
    #[serde(default)]
    pub join: StrokeJoin,
    /// How open ends are closed.
    #[serde(default)]
    pub cap: StrokeCap,
    /// What it is filled with.
    pub fill: Fill,
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

/// Softens the piece itself.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Blur {
    /// The Gaussian's σ in px.
    pub sigma: Sigma,
}

/// Solid thickness: the sweep of the silhouette along a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Extrude {
    /// How far and which way.
    pub offset: Offset,
    /// Its colour next to the piece.
    pub near: ColourSource,
    /// Its colour at the far end.
    pub far: ColourSource,
}

/// A shadow thrown on a floor or wall.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Cast {
    /// How far the top is pushed sideways, in px for each px of height.
    pub shear: super::Relative,
    /// How tall it is, relative to the piece; negative falls towards the viewer.
    pub squash: super::Relative,
    /// The height of the line it turns about, relative to the piece's box.
    pub anchor: super::Relative,
    /// A light that sets the shear.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub follows: Option<Id>,
    /// Blur at the anchor.
    pub blur_near: BlurRadius,
    /// Blur at the far end.
    pub blur_far: BlurRadius,
    /// Its colour.
    pub colour: ColourSource,
    /// The share of opacity lost at the far end.
    pub fade: Fraction,
}

/// Blur of what lies behind the piece.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Backdrop {
    /// The Gaussian's σ in px.
    pub sigma: Sigma,
    /// 1 leaves it as it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub saturation: Option<Factor>,
    /// 1 leaves it as it is.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub brightness: Option<Factor>,
}

/// Several shadows from one description, from a near one to a far one.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Ramp {
    /// Drop shadows or inner shadows.
    pub shadow: RampShadow,
    /// The nearest.
    pub near: RampEnd,
    /// The farthest.
    pub far: RampEnd,
    /// How many, from 1 to 64.
    pub count: u32,
    /// How the steps grow; 1 is even.
    pub growth: Factor,
    /// Where the weight lies: negative near the piece, positive far out.
    pub lean: Signed,
    /// What all give together where they lie on one another, up to 0.999.
    pub total: Opacity,
}

/// What kind of shadows a ramp makes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum RampShadow {
    /// Drop shadows.
    Drop,
    /// Inner shadows.
    Inner,
}

/// One end of a ramp.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RampEnd {
    /// Where it falls.
    pub offset: Offset,
    /// How soft it is.
    pub blur: BlurRadius,
    /// How much larger it is.
    pub spread: Spread,
    /// Its colour.
    pub colour: ColourSource,
}
