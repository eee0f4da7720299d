//! A text and its typesetting.

use std::hash::{Hash, Hasher};

use serde::{Deserialize, Serialize};

use crate::font::Font;
use crate::quantity::{FontSize, LineHeight, Size, Spacing, Weight};

/// Set text. Its box is as wide as `width`, or as its longest line, and as tall as its lines.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TextShape {
    /// The text, with its line breaks.
    pub string: String,
    /// A shipped family (`Figtree`, `Outfit` or `Archivo Black`), or one that the project brings.
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

impl Hash for TextShape {
    fn hash<H: Hasher>(&self, state: &mut H) {
        let Self { string, font, size, weight, spacing, line_height, align, width } = self;
        let lengths = [size.get(), weight.get(), spacing.get(), line_height.get()].map(f64::to_bits);
        (string, font, lengths, align, width.map(|width| width.get().to_bits())).hash(state);
    }
}

/// How lines of text lie in their width.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
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

/// The text and fonts of an outline.
#[derive(Debug, Clone, PartialEq)]
pub struct SetText {
    /// The text.
    pub shape: TextShape,
    /// The faces of its family that the project brings.
    pub faces: Vec<Font>,
}
