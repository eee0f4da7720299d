//! The filter that an element has in its file, as coats, and the file without it (docs/drawings.md, "Filters of the file").

use std::ops::Range;

use svgtypes::{FilterValue, FilterValueListParser};
use usvg::roxmltree::{Document, Node};

use super::attach::{Had, attach};
use super::filter::{Styles, Written, primitives};
use super::import::{has_lengths, with_steps};
use super::insertions::Insertions;
use super::stack::{ReadFilter, coats_of};
use crate::colour::{Rgba, parse_css_colour};
use crate::geometry::drawing::{DrawingFile, Element};
use crate::geometry::icon::parsed;
use crate::limits;
use crate::lower::{Input, Step};
use crate::model::Coat;
use crate::syntax::LineIndex;

/// The filter of an element.
pub struct OwnFilter {
    /// The coats it stands for, the first nearest the eye; lengths in px of the space that they are read for.
    pub coats: Vec<Coat>,
    /// What coats draw otherwise, in words.
    pub remarks: Vec<String>,
    /// The file without it.
    pub without: DrawingFile,
    /// Where the element stands in that.
    pub place: Range<usize>,
}

/// Reads the filter of an element, with `scale` px for one px of the element. `None` where it has none, or one that is no depth.
#[must_use]
pub fn own_filter(file: &DrawingFile, element: &Element, scale: f64) -> Option<OwnFilter> {
    let range = element.source.as_ref()?;
    let document = parsed(file.text()).ok()?;
    let node = document.descendants().find(|node| node.is_element() && node.range() == *range)?;
    let styles = Styles::new(&document);
    // The parser of drawings lets no style take the place of an important rule, as browsers do.
    if styles.is_important(node, "filter") {
        return None;
    }
    let mut written = steps_of(&styles, node, &document)?;
    for step in written.iter_mut().filter_map(|written| written.step.as_mut().ok()) {
        step.scale(scale);
    }
    let ReadFilter { coats, said } = coats_of(&written);
    if coats.is_empty() || coats.len() > limits::COATS {
        return None;
    }
    let mut remarks: Vec<String> = said.into_iter().map(|(_, _, why)| why).collect();
    remarks.dedup();
    let mut insertions = Insertions::default();
    attach(&mut insertions, &document, node, (Had::Goes, None));
    let text = insertions.applied(file.text());
    let place = range.start..range.end + (text.len() - file.text().len());
    Some(OwnFilter { coats, remarks, without: DrawingFile::read(text.as_bytes()).ok()?, place })
}

/// The steps of an element's filters: those of one `<filter>`, or functions.
fn steps_of(styles: &Styles<'_>, node: Node<'_, '_>, document: &Document<'_>) -> Option<Vec<Written>> {
    // Addresses may stand in quotes.
    let text = styles.property(node, "filter")?.replace(['"', '\''], "");
    let values: Vec<FilterValue<'_>> =
        FilterValueListParser::from(text.as_str()).collect::<Result<_, _>>().ok()?;
    if let [FilterValue::Url(id)] = values.as_slice() {
        let is_it =
            |node: &Node<'_, '_>| node.tag_name().name() == "filter" && node.attribute("id") == Some(id);
        let filter = document.descendants().find(is_it).filter(has_lengths)?;
        return Some(primitives(with_steps(filter), styles, &LineIndex::new(document.input_text())));
    }
    let mut steps = Vec::new();
    for value in values {
        let of = steps.len().checked_sub(1).map_or(Input::Source, Input::Step);
        let step = function(&value, of, || styles.inherited(node, "color"))?;
        steps.push(Written {
            place: String::new(),
            name: "filter".to_owned(),
            step: Ok(step),
            linear: false,
        });
    }
    Some(steps)
}

/// A function as the step it stands for (Filter Effects 1, "Shorthands defined in terms of the filter element").
fn function<'a>(value: &FilterValue<'_>, of: Input, own: impl FnOnce() -> Option<&'a str>) -> Option<Step> {
    match value {
        FilterValue::Blur(sigma) => Some(Step::Blur { of, sigma: px(*sigma)? }),
        FilterValue::DropShadow { color, dx, dy, std_dev } => {
            let colour = match color {
                Some(colour) => {
                    let [r, g, b, a] = [colour.red, colour.green, colour.blue, colour.alpha]
                        .map(|byte| f32::from(byte) / 255.0);
                    Rgba::new(r, g, b, a)
                }
                None => parse_css_colour(own().unwrap_or("black")).ok()?,
            };
            Some(Step::DropShadow { of, dx: px(*dx)?, dy: px(*dy)?, sigma: px(*std_dev)?, colour })
        }
        _ => None,
    }
}

fn px(length: svgtypes::Length) -> Option<f64> {
    let is_px = matches!(length.unit, svgtypes::LengthUnit::None | svgtypes::LengthUnit::Px);
    is_px.then_some(length.number)
}
