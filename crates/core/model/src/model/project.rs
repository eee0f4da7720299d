//! The project and everything that its scenes share.

use std::collections::BTreeMap;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use serde::{Deserialize, Deserializer, Serialize, Serializer};

use super::{
    Coat, CssColour, Degrees, Factor, Fill, Id, Opacity, Piece, Prefix, Px, Rig, SchemaVersion, Size, State,
    ThemeColours,
};

/// Everything that belongs to one product.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Project {
    /// The version of this document's form: 3; documents of 1 and 2 are read too.
    #[cfg_attr(feature = "schema", schema(value_type = u32))]
    pub schema: SchemaVersion,
    /// The name of the product.
    pub name: String,
    /// The prefix of every class and custom property of its CSS. Documents of earlier schemas get one from their name.
    #[serde(default, skip_serializing_if = "Prefix::is_empty")]
    #[cfg_attr(feature = "schema", schema(value_type = String))]
    pub prefix: Prefix,
    /// At least one.
    pub themes: Vec<Theme>,
    /// Shared colours.
    #[serde(default)]
    pub swatches: Vec<Swatch>,
    /// Shared lights.
    #[serde(default)]
    pub lights: Vec<Light>,
    /// Named stacks.
    #[serde(default)]
    pub finishes: Vec<Finish>,
    /// Ids of finishes, lowest first.
    #[serde(default)]
    pub scale: Vec<Id>,
    /// Pieces on grounds.
    pub scenes: Vec<Scene>,
    /// Uploaded files in use.
    #[serde(default)]
    pub assets: Vec<Asset>,
    /// Whether its CSS has a replacement where a browser has no `backdrop-filter`, or a reader forces colours of their
    /// own.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub fallbacks: bool,
    /// Findings of an audit that are meant so.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub accepted: Vec<Accepted>,
}

/// A finding of an audit that is meant so.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Accepted {
    /// The finding's key.
    pub finding: String,
    /// Why.
    pub note: String,
}

impl Project {
    /// The theme with this id.
    #[must_use]
    pub fn theme(&self, id: &Id) -> Option<&Theme> {
        self.themes.iter().find(|theme| theme.id == *id)
    }

    /// The scene with this id or name.
    #[must_use]
    pub fn scene(&self, key: &str) -> Option<&Scene> {
        let by_id = self.scenes.iter().find(|scene| scene.id.as_str() == key);
        by_id.or_else(|| self.scenes.iter().find(|scene| scene.name == key))
    }

    /// The coats a piece has at rest under a theme, its own or those of the finish it wears.
    #[must_use]
    pub fn coats_of<'a>(&'a self, piece: &'a Piece, theme: &Id) -> &'a [Coat] {
        match &piece.wear {
            super::Wear::Coats(own) => &own.coats,
            super::Wear::Finish(worn) => self
                .finishes
                .iter()
                .find(|finish| finish.id == worn.finish)
                .map_or(&[], |finish| finish.coats_in(theme)),
        }
    }
}

/// A way the whole product can look.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Theme {
    /// Unique among themes.
    pub id: Id,
    /// The designer's name for it.
    pub name: String,
    /// The name in browsers.
    pub scheme: Scheme,
    /// The selectors of the elements that begin it in a page, one each. Where there are none, they follow from its name and
    /// scheme.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub selectors: Vec<String>,
}

impl Theme {
    /// A theme called after a word of a file, such as `dark` or `high-contrast`: dark where it says so.
    pub fn named(word: &str) -> Self {
        let scheme =
            if word.contains("dark") || word.contains("night") { Scheme::Dark } else { Scheme::Light };
        let mut name = word.replace('-', " ");
        if let Some(first) = name.get(..1).map(str::to_uppercase) {
            name.replace_range(..1, &first);
        }
        let id = Id::new(crate::syntax::slug(word)).unwrap_or_else(|_| Id::numbered("theme", 1));
        Self { id, name, scheme, selectors: Vec::new() }
    }
}

/// A CSS colour scheme.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Scheme {
    /// Dark on light.
    Light,
    /// Light on dark.
    Dark,
}

/// A shared colour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Swatch {
    /// Unique among swatches.
    pub id: Id,
    /// The designer's name for it.
    pub name: String,
    /// Its value in each theme.
    pub values: ThemeColours,
    /// Data that other programs keep with its token.
    #[serde(default, skip_serializing_if = "serde_json::Map::is_empty")]
    #[cfg_attr(feature = "schema", schema(value_type = Object))]
    pub extensions: serde_json::Map<String, serde_json::Value>,
}

/// A shared light.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Light {
    /// Unique among lights.
    pub id: Id,
    /// The designer's name for it.
    pub name: String,
    /// Where it comes from: 0° is the top, clockwise.
    pub bearing: Degrees,
    /// Its colour.
    pub colour: CssColour,
    /// A factor on the opacity of coats that take its colour.
    pub strength: Factor,
    /// What the shadows of heights under it are made by, where anybody said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rig: Option<Rig>,
    /// Its values that differ in a theme.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub themes: BTreeMap<Id, LightInTheme>,
}

/// Values of a light that differ in one theme.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct LightInTheme {
    /// Its bearing there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bearing: Option<Degrees>,
    /// Its colour there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub colour: Option<CssColour>,
    /// Its strength there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub strength: Option<Factor>,
}

/// A named, reusable stack of coats.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Finish {
    /// Unique among finishes.
    pub id: Id,
    /// The designer's name for it.
    pub name: String,
    /// Its purpose.
    #[serde(default)]
    pub note: String,
    /// First is nearest the eye.
    pub coats: Vec<Coat>,
    /// The coats it has instead under a theme.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub themes: BTreeMap<Id, Vec<Coat>>,
    /// Coats for other states, under every theme.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub states: BTreeMap<State, Vec<Coat>>,
    /// How it changes from state to state.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub transition: Option<Transition>,
    /// The property it was made with, where a style sheet or filter said: its class has that without an ending.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub made_with: Option<DepthProperty>,
    /// Data that other programs keep with its token.
    #[serde(default, skip_serializing_if = "serde_json::Map::is_empty")]
    #[cfg_attr(feature = "schema", schema(value_type = Object))]
    pub extensions: serde_json::Map<String, serde_json::Value>,
}

/// A property of CSS that a finish was made with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum DepthProperty {
    /// `box-shadow`, for boxes.
    BoxShadow,
    /// `text-shadow`, for letters.
    TextShadow,
    /// `filter`, for icons and pictures.
    Filter,
}

impl Finish {
    /// Its coats at rest under a theme.
    #[must_use]
    pub fn coats_in(&self, theme: &Id) -> &[Coat] {
        self.themes.get(theme).unwrap_or(&self.coats)
    }
}

/// How a finish changes from state to state.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Transition {
    /// In milliseconds.
    pub duration: u32,
    /// A CSS easing function (CSS Easing Functions 1).
    #[serde(deserialize_with = "easing")]
    pub curve: String,
}

/// Takes what can be an easing function and nothing else: the text goes into style sheets as it stands.
fn easing<'de, D: Deserializer<'de>>(deserializer: D) -> Result<String, D::Error> {
    let text = String::deserialize(deserializer)?;
    let fits = |letter: char| letter.is_ascii_alphanumeric() || "-(),.% ".contains(letter);
    if text.is_empty() || text.len() > 200 || !text.chars().all(fits) {
        return Err(serde::de::Error::custom("expected a CSS easing function, such as ease-out"));
    }
    Ok(text)
}

/// Pieces arranged on a ground.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Scene {
    /// Unique among scenes.
    pub id: Id,
    /// The designer's name for it.
    pub name: String,
    /// In px.
    pub width: Size,
    /// In px.
    pub height: Size,
    /// The id of the theme it is seen under.
    pub theme: Id,
    /// The ground under the pieces.
    pub ground: Fill,
    /// First is lowest.
    pub pieces: Vec<Piece>,
    /// A picture to compare with.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reference: Option<Reference>,
    /// The page that is the ground, whose elements its pieces stand for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub page: Option<PageGround>,
}

/// A page of somebody's own as the ground of a scene.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PageGround {
    /// The asset's id.
    pub asset: Id,
}

impl PageGround {
    /// The media type of pages.
    pub const MEDIA_TYPE: &str = "text/html";
}

/// A picture to compare a scene with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Reference {
    /// The asset's id.
    pub asset: Id,
    /// Its left, in px.
    pub x: Px,
    /// Its top, in px.
    pub y: Px,
    /// Scene px for each picture px.
    pub scale: Factor,
    /// How much of it is seen over the scene.
    #[serde(default = "Opacity::solid")]
    pub opacity: Opacity,
}

/// An uploaded file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Asset {
    /// Unique among assets.
    pub id: Id,
    /// The file's name.
    pub name: String,
    /// Its media type.
    pub media_type: String,
    /// The use of a font; only fonts have it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub font: Option<FontUse>,
    /// The file itself, where the document carries it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub data: Option<FileBytes>,
}

/// The use of a font that a project brings.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FontUse {
    /// The name in texts and CSS. Files of one family differ in their weights.
    pub family: String,
    /// The lowest and the highest weight it has, from 1 to 1000.
    pub weights: [f32; 2],
    /// Under which terms it may be used, in words.
    #[serde(default)]
    pub licence: String,
}

/// A file's bytes, in Base 64 (RFC 4648, section 4).
#[derive(Debug, Clone, PartialEq, Eq)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "schema", schema(value_type = String))]
pub struct FileBytes(Vec<u8>);

impl FileBytes {
    /// Takes bytes.
    #[must_use]
    pub fn new(bytes: Vec<u8>) -> Self {
        Self(bytes)
    }

    /// The bytes.
    #[must_use]
    pub fn bytes(&self) -> &[u8] {
        &self.0
    }
}

impl Serialize for FileBytes {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(&STANDARD.encode(&self.0))
    }
}

impl<'de> Deserialize<'de> for FileBytes {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let text = String::deserialize(deserializer)?;
        STANDARD
            .decode(text)
            .map(Self)
            .map_err(|error| serde::de::Error::custom(format_args!("expected Base 64: {error}")))
    }
}
