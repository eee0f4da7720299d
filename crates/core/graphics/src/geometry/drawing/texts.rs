//! Texts of a drawing that are one line in one font.

use kurbo::Affine;
use usvg::{FontFamily, FontStyle, Text, TextFlow, WritingMode};

use super::element::ElementText;
use super::tree::affine;

/// What a text says, where it is one line in one upright font that is at hand, without shifts and turns of its letters.
/// `to_fine` leads from the px of the drawing to fine units.
pub(super) fn single_line(
    text: &Text,
    to_fine: Affine,
    is_at_hand: impl Fn(&str) -> bool,
) -> Option<ElementText> {
    let [chunk] = text.chunks() else { return None };
    let [span] = chunk.spans() else { return None };
    let shifted = [text.dx(), text.dy(), text.rotate()].into_iter().flatten().any(|shift| *shift != 0.0);
    let is_plain = !shifted
        && !span.small_caps()
        && span.word_spacing() == 0.0
        && span.text_length().is_none()
        && span.font().style() == FontStyle::Normal
        && text.writing_mode() == WritingMode::LeftToRight
        && matches!(chunk.text_flow(), TextFlow::Linear);
    if !is_plain {
        return None;
    }
    let family = span.font().families().iter().find_map(|family| match family {
        FontFamily::Named(name) if is_at_hand(name) => Some(name.clone()),
        FontFamily::Named(_)
        | FontFamily::Serif
        | FontFamily::SansSerif
        | FontFamily::Cursive
        | FontFamily::Fantasy
        | FontFamily::Monospace => None,
    })?;
    Some(ElementText {
        string: chunk.text().get(span.start()..span.end())?.to_owned(),
        family,
        weight: span.font().weight(),
        size: f64::from(span.font_size().get()),
        spacing: f64::from(span.letter_spacing()),
        place: to_fine * affine(text.abs_transform()),
    })
}
