//! Colours as a document says them.

use std::collections::BTreeMap;

use serde::{Deserialize, Deserializer, Serialize, Serializer};

use super::decode::{decode_by_field, inner_error, part};
use super::{Id, Signed};
use crate::colour::{Rgba, colour_text, parse_css_colour};
use crate::raster::Fit;

/// A literal colour in CSS Color 4 syntax, kept as it was written.
#[derive(Debug, Clone, PartialEq)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CssColour(String);

impl CssColour {
    /// Reads a colour.
    ///
    /// # Errors
    /// A message naming the text and what is understood, when it is not a colour.
    pub fn parse(text: &str) -> Result<Self, String> {
        parse_css_colour(text).map_err(|error| error.to_string())?;
        Ok(Self(text.trim().to_owned()))
    }

    /// Black: the colour of a shadow that names none.
    #[must_use]
    pub fn black() -> Self {
        Self::rgb([0; 3])
    }

    /// An opaque colour of 8-bit sRGB channels.
    #[must_use]
    pub fn rgb([r, g, b]: [u8; 3]) -> Self {
        Self(format!("#{r:02x}{g:02x}{b:02x}"))
    }

    /// A colour in gamma-encoded sRGB.
    #[must_use]
    pub fn from_rgba(colour: Rgba) -> Self {
        Self(colour_text(colour))
    }

    /// The colour in gamma-encoded sRGB.
    #[must_use]
    pub fn rgba(&self) -> Rgba {
        // The text was parsed when this was made.
        parse_css_colour(&self.0).unwrap_or_default()
    }

    /// The colour as it was written.
    #[must_use]
    pub fn text(&self) -> &str {
        &self.0
    }
}

impl Serialize for CssColour {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(&self.0)
    }
}

impl<'de> Deserialize<'de> for CssColour {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        Self::parse(&String::deserialize(deserializer)?).map_err(serde::de::Error::custom)
    }
}

/// Where a colour comes from.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum ColourSource {
    /// Written out.
    Literal(CssColour),
    /// A shared colour of the project.
    Swatch(SwatchColour),
    /// Taken from something that is already there.
    From(TakenColour),
}

impl<'de> Deserialize<'de> for ColourSource {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let value = serde_json::Value::deserialize(deserializer)?;
        if value.is_string() {
            return part(&value).map(Self::Literal);
        }
        if value.get("swatch").is_some() {
            return part(&value).map(Self::Swatch);
        }
        if value.get("from").is_some() {
            return part(&value).map(Self::From);
        }
        Err(inner_error("", "expected a CSS colour as text, {\"swatch\": id} or {\"from\": \"fill\"}"))
    }
}

impl From<CssColour> for ColourSource {
    fn from(colour: CssColour) -> Self {
        Self::Literal(colour)
    }
}

impl From<TakenColour> for ColourSource {
    fn from(colour: TakenColour) -> Self {
        Self::From(colour)
    }
}

/// A shared colour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SwatchColour {
    /// The swatch's id.
    pub swatch: Id,
    /// Added to its OKLCH lightness.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lightness: Option<Signed>,
}

/// A colour taken from the piece, the ground or the light.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TakenColour {
    /// The source of its colour.
    pub from: ColourOrigin,
    /// Added to its OKLCH lightness.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lightness: Option<Signed>,
}

/// A source that a colour can be taken from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum ColourOrigin {
    /// The piece's own fill.
    Fill,
    /// The mean colour of the ground under the coat.
    Ground,
    /// The colour of the light the coat follows.
    Light,
    /// The piece's own picture.
    Picture,
}

/// The paint of a surface, a ground or a stroke.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Fill {
    /// Nothing.
    None(NoFill),
    /// One colour.
    Solid(SolidFill),
    /// A linear gradient.
    Linear(LinearFill),
    /// A circular radial gradient.
    Radial(RadialFill),
    /// A picture.
    Image(ImageFill),
}

super::decode::decode_by_kind!(Fill {
    "none" => None, "solid" => Solid, "linear" => Linear, "radial" => Radial, "image" => Image,
});

impl Fill {
    /// One colour all over.
    #[must_use]
    pub fn solid(colour: impl Into<ColourSource>) -> Self {
        Self::Solid(SolidFill { colour: colour.into() })
    }
}

impl Default for Fill {
    fn default() -> Self {
        Self::None(NoFill {})
    }
}

/// No fill at all.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct NoFill {}

/// One colour all over.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SolidFill {
    /// The colour.
    pub colour: ColourSource,
}

/// A linear gradient over the piece's box, with CSS geometry (CSS Images 3, "linear-gradient()").
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LinearFill {
    /// Which way it runs.
    #[serde(flatten)]
    pub direction: GradientDirection,
    /// Its colours, at least one.
    pub stops: Vec<Stop>,
}

/// Which way a linear gradient runs.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(untagged)]
pub enum GradientDirection {
    /// At a CSS gradient angle.
    Angle(GradientAngle),
    /// Away from a light.
    Follows(GradientFollows),
}

decode_by_field!(GradientDirection {
    "angle" => Angle, "follows" => Follows,
} else "expected angle or follows");

/// A CSS gradient angle: 0° runs to the top, 90° to the right.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GradientAngle {
    /// The angle.
    pub angle: super::Degrees,
}

/// A gradient that starts at the side nearest a light.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct GradientFollows {
    /// The light's id.
    pub follows: Id,
}

/// A circular gradient: CSS `radial-gradient(circle R at X Y, …)`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RadialFill {
    /// The centre, relative to the piece's box.
    pub centre: RelativePoint,
    /// The radius in px.
    pub radius: super::Length,
    /// Its colours, at least one.
    pub stops: Vec<Stop>,
}

/// A point relative to a box.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct RelativePoint {
    /// 0 at the left, 1 at the right.
    pub x: super::Relative,
    /// 0 at the top, 1 at the bottom.
    pub y: super::Relative,
}

/// One colour of a gradient.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Stop {
    /// Where, from 0 at the start to 1 at the end.
    pub at: super::Fraction,
    /// The colour there.
    pub colour: ColourSource,
}

/// A picture as a fill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct ImageFill {
    /// The asset's id.
    pub asset: Id,
    /// How it is fitted.
    #[serde(default)]
    pub fit: Fit,
}

/// A swatch value per theme.
pub type ThemeColours = BTreeMap<Id, CssColour>;
