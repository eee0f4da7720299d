//! SVG filters in: every filter of a file that draws depth becomes a finish named after it.

use std::collections::HashSet;

use usvg::roxmltree::{Document, Node};

use crate::geometry::icon::{SvgError, parsed};
use crate::import::{DiagnosticKind, FileRoom, Incoming};
use crate::model::{Coat, DepthProperty, Finish, Id};
use crate::svg::filter::{MAX_PRIMITIVES, Styles, primitives};
use crate::svg::stack::{ReadFilter, coats_of};
use crate::syntax::LineIndex;
use crate::{budget, limits};

/// The message about a file without filters.
pub const NO_FILTER: &str = "no filter is in this file";

/// Reads the filters of an SVG file. Anything that is not depth is left out and reported with its line and column.
///
/// # Errors
/// [`SvgError`] where it is no XML, or too large.
pub fn import(svg: &str) -> Result<Incoming, SvgError> {
    let document = parsed(svg)?;
    let (mut incoming, mut left) = (Incoming::default(), FileRoom::default());
    let (lines, styles) = (LineIndex::new(svg), Styles::new(&document));
    let of_masks = referenced_by_masks(&document, &styles);
    for node in document.descendants().filter(|node| node.tag_name().name() == "filter") {
        if budget::is_stopped() {
            break;
        }
        if node.attribute("id").is_some_and(|id| of_masks.contains(id)) {
            let message = "filters of masks: what they paint is not seen";
            incoming.diagnostic(lines.place(node.range().start), DiagnosticKind::Dropped, message);
            continue;
        }
        filter(node, &styles, &lines, &mut incoming, &mut left);
    }
    if incoming.finishes.is_empty() && incoming.diagnostics.is_empty() {
        let start = document.root_element().range().start;
        incoming.diagnostic(lines.place(start), DiagnosticKind::Dropped, NO_FILTER);
    }
    Ok(incoming)
}

/// The filters that only the content of masks and clips is drawn with.
fn referenced_by_masks(document: &Document<'_>, styles: &Styles<'_>) -> HashSet<String> {
    let (mut inside, mut outside) = (HashSet::new(), HashSet::new());
    for node in document.descendants().filter(Node::is_element) {
        let Some(text) = styles.property(node, "filter") else { continue };
        let hidden =
            node.ancestors().take(200).any(|around| ["mask", "clipPath"].contains(&around.tag_name().name()));
        for part in text.split("url(").skip(1) {
            let name =
                part.split(')').next().unwrap_or_default().trim_matches(['"', '\'', ' ', '#']).to_owned();
            if hidden {
                inside.insert(name)
            } else {
                outside.insert(name)
            };
        }
    }
    inside.retain(|name| !outside.contains(name));
    inside
}

/// The element with a filter's steps: its own, or another that it refers to (SVG 1.1, section 15.3, "xlink:href").
pub(super) fn with_steps<'a, 'i>(node: Node<'a, 'i>) -> Node<'a, 'i> {
    let mut found = node;
    for _ in 0..8 {
        if found.children().any(|child| child.is_element()) {
            break;
        }
        let href =
            found.attribute("href").or_else(|| found.attribute(("http://www.w3.org/1999/xlink", "href")));
        let Some(id) = href.and_then(|href| href.strip_prefix('#')) else { break };
        let is_it =
            |node: &Node<'_, '_>| node.tag_name().name() == "filter" && node.attribute("id") == Some(id);
        let Some(other) = found.document().descendants().find(is_it) else { break };
        found = other;
    }
    found
}

/// Whether the lengths of a filter are lengths, and no parts of what it is laid on.
pub(super) fn has_lengths(node: &Node<'_, '_>) -> bool {
    node.attribute("primitiveUnits") != Some("objectBoundingBox")
}

fn filter(
    node: Node<'_, '_>,
    styles: &Styles<'_>,
    lines: &LineIndex<'_>,
    incoming: &mut Incoming,
    left: &mut FileRoom,
) {
    let place = || lines.place(node.range().start);
    let number = incoming.finishes.len() + 1;
    let name = node.attribute("id").map_or_else(|| format!("filter {number}"), str::to_owned);
    if !has_lengths(&node) {
        let message = "its lengths are parts of what it is laid on, which is not in the filter";
        return incoming.diagnostic(place(), DiagnosticKind::Dropped, message);
    }
    let source = with_steps(node);
    if source != node {
        let message =
            "a filter that takes its steps from another, which SVG 2 has no more: browsers draw nothing";
        incoming.diagnostic(place(), DiagnosticKind::Approximated, message);
    }
    let written = primitives(source, styles, lines);
    if written.len() == MAX_PRIMITIVES {
        let message = format!("{name}: {MAX_PRIMITIVES} steps are read, what comes after them is left out");
        incoming.diagnostic(place(), DiagnosticKind::Dropped, message);
    }
    let ReadFilter { mut coats, said } = coats_of(&written);
    for (step, kind, why) in said {
        let at = step.and_then(|step| written.get(step));
        let whose = at.map_or_else(String::new, |primitive| format!("{}: ", primitive.name));
        let at = at.map_or_else(place, |primitive| primitive.place.clone());
        incoming.diagnostic(at, kind, format!("{whose}{why}"));
    }
    if coats.is_empty() {
        return;
    }
    if coats.len() > limits::COATS {
        coats.truncate(limits::COATS);
        let message = format!("{name}: more than {} coats: the rest is left out", limits::COATS);
        incoming.diagnostic(place(), DiagnosticKind::Dropped, message);
    }
    if !left.take(1, coats.len()) {
        return incoming.diagnostic(place(), DiagnosticKind::Dropped, format!("{name}: {}", FileRoom::LIMIT));
    }
    incoming.finishes.push(finish(number, &name, coats));
}

fn finish(number: usize, name: &str, coats: Vec<Coat>) -> Finish {
    Finish {
        id: Id::numbered("finish-svg", number),
        name: name.chars().take(80).collect(),
        note: String::new(),
        coats,
        themes: Default::default(),
        states: Default::default(),
        transition: None,
        made_with: Some(DepthProperty::Filter),
        extensions: serde_json::Map::new(),
    }
}
