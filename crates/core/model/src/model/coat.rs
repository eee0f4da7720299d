//! The kinds of coats and their values.

use serde::{Deserialize, Serialize};

use super::decode::decode_by_field;
use super::{
    BlurRadius, ColourSource, Degrees, Elevation, Factor, Fill, Fraction, HeightPx, Id, Length, LightSize,
    OffsetPx, Opacity, PerHeight, Sigma, Signed, Spread,
};
use crate::geometry::{StrokeCap, StrokeJoin, StrokeSide};

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

/// A colour or gradient over the surface.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Tint {
    /// The paint over the surface.
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
    /// Its paint.
    pub fill: Fill,
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

/// A shadow cast on a floor or wall.
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

/// Blur of everything behind the piece.
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
    /// Which of them is applied first: each takes the result of the one before.
    #[serde(default, skip_serializing_if = "BackdropOrder::is_usual")]
    pub order: BackdropOrder,
}

/// An order of blur, saturation and brightness (Filter Effects 1, section 5: from the first to the last).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum BackdropOrder {
    /// The usual one.
    #[default]
    BlurSaturationBrightness,
    /// Brightness before saturation.
    BlurBrightnessSaturation,
    /// Saturation before the blur, brightness after it.
    SaturationBlurBrightness,
    /// Both before the blur, saturation first.
    SaturationBrightnessBlur,
    /// Brightness before the blur, saturation after it.
    BrightnessBlurSaturation,
    /// Both before the blur, brightness first.
    BrightnessSaturationBlur,
}

/// A function of a backdrop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum BackdropFunction {
    /// `blur()`.
    Blur,
    /// `saturate()`.
    Saturation,
    /// `brightness()`.
    Brightness,
}

impl BackdropOrder {
    /// All orders.
    pub const ALL: [Self; 6] = [
        Self::BlurSaturationBrightness,
        Self::BlurBrightnessSaturation,
        Self::SaturationBlurBrightness,
        Self::SaturationBrightnessBlur,
        Self::BrightnessBlurSaturation,
        Self::BrightnessSaturationBlur,
    ];

    /// The functions from the first to the last.
    #[must_use]
    pub fn functions(self) -> [BackdropFunction; 3] {
        use BackdropFunction::{Blur, Brightness, Saturation};
        match self {
            Self::BlurSaturationBrightness => [Blur, Saturation, Brightness],
            Self::BlurBrightnessSaturation => [Blur, Brightness, Saturation],
            Self::SaturationBlurBrightness => [Saturation, Blur, Brightness],
            Self::SaturationBrightnessBlur => [Saturation, Brightness, Blur],
            Self::BrightnessBlurSaturation => [Brightness, Blur, Saturation],
            Self::BrightnessSaturationBlur => [Brightness, Saturation, Blur],
        }
    }

    /// The order in which functions are written; those that are not come last, as they usually do.
    #[must_use]
    pub fn from_functions(written: &[BackdropFunction]) -> Self {
        let place = |function: &BackdropFunction| {
            written.iter().position(|one| one == function).unwrap_or(written.len())
        };
        let agrees = |order: &Self| order.functions().is_sorted_by_key(place);
        Self::ALL.into_iter().find(agrees).unwrap_or_default()
    }

    fn is_usual(&self) -> bool {
        *self == Self::default()
    }
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
    /// Total opacity where all of them overlap, up to 0.999.
    pub total: Opacity,
}

/// The kind of shadows that a ramp makes.
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

/// The shadows that a thin plate casts at a height above the ground, each as a function of the height.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Raised {
    /// In px.
    pub height: HeightPx,
    /// Where the light comes from, where no shared light is followed: 0° is the top, clockwise.
    pub bearing: Degrees,
    /// The shared light whose bearing it takes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub follows: Option<Id>,
    /// The light that the shadows were found for.
    pub rig: Rig,
    /// The colour of all of them.
    pub colour: ColourSource,
    /// The light's own shadow first, where it is not all around; then those of what is around.
    pub shadows: Vec<RaisedShadow>,
}

/// One of the shadows of a height: lengths for each px of it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RaisedShadow {
    /// Away from the light.
    pub distance: PerHeight,
    /// How soft it is.
    pub blur: Factor,
    /// How much larger than the silhouette it is.
    pub spread: PerHeight,
    /// At every height.
    pub opacity: Opacity,
}

/// What a light's shadows are made by, beside its bearing.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Rig {
    /// Above the ground.
    pub elevation: Elevation,
    /// Its diameter.
    pub size: LightSize,
    /// The share of light that comes from all around.
    pub ambient: Fraction,
}

impl Rig {
    /// A lamp in a room by day.
    #[must_use]
    pub fn usual() -> Self {
        let (elevation, size) = (Elevation::clamped(50.0), LightSize::clamped(8.0));
        Self { elevation, size, ambient: Fraction::clamped(0.4) }
    }
}

impl Raised {
    /// Where one of its shadows falls.
    #[must_use]
    pub fn offset(&self, shadow: &RaisedShadow) -> Offset {
        let distance = OffsetPx::clamped(shadow.distance.get() * self.height.get());
        match &self.follows {
            Some(light) => Offset::Following(FollowingOffset { distance, follows: light.clone() }),
            None => Offset::Polar(PolarOffset { distance, bearing: self.bearing }),
        }
    }

    /// Whether some of the light comes from one side, and casts the first shadow.
    #[must_use]
    pub fn has_key(&self) -> bool {
        self.rig.ambient.get() < 1.0
    }
}
