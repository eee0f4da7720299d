//! Texts of drawings as texts of ours, whose words and font can be changed.

use kurbo::{Affine, Rect, Shape as _};

use super::fills::fill;
use super::places::even_scale;
use crate::asset::Assets;
use crate::geometry::drawing::Element;
use crate::geometry::text::outline as set_text;
use crate::model::{Align, Fill, FontSize, LineHeight, Px, Shape, Size, Spacing, TextShape, Weight};
use crate::syntax::tidy;

/// A text in the place of the element that it stands in.
#[derive(Debug, Clone, PartialEq, serde::Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct AsText {
    /// The text.
    pub shape: Shape,
    /// Its fill.
    pub fill: Fill,
    /// The left edge of its box, from that of the drawing's box.
    pub x: Px,
    /// The top of its box, from that of the drawing's box.
    pub y: Px,
}

/// A line of text that lies straight, as a text of ours: its letters begin where those of the file do, but each stands at a quarter
/// of a px, as browsers set them. `place` leads from the drawing to the px of its box.
pub fn as_text(element: &Element, place: Affine, assets: &Assets) -> Option<AsText> {
    let said = element.text.as_ref()?;
    let areas = element.areas()?;
    let bounds = areas.iter().map(|area| area.outline.bounding_box()).reduce(|a, b| a.union(b))?;
    let bounds: Rect = place.transform_rect_bbox(bounds);
    let scale = even_scale(place * said.place)?;
    let text = TextShape {
        string: said.string.clone(),
        font: said.family.clone(),
        size: FontSize::clamped(tidy(said.size * scale)),
        weight: Weight::clamped(f64::from(said.weight)),
        spacing: Spacing::clamped(tidy(said.spacing * scale)),
        line_height: LineHeight::clamped(1.2),
        align: Align::Left,
        width: None::<Size>,
    };
    let letters = set_text(&text, &assets.faces(&said.family)).bounds;
    let at = bounds.origin() - letters.origin();
    Some(AsText {
        shape: Shape::Text(text),
        fill: fill(&areas.first()?.paint, place, bounds)?,
        x: Px::clamped(tidy(at.x)),
        y: Px::clamped(tidy(at.y)),
    })
}
