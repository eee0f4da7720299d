//! The depth of a drawing's elements as CSS, for a file that stands in a page as markup.

use std::fmt::Write as _;

use cssparser::serialize_identifier;
use serde::Serialize;
use usvg::roxmltree::Node;

use crate::lower::{Fidelity, FidelityNote, Graph};
use crate::markup::filter_functions;

/// Rules that put filters on elements of a file in a page.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct InlineCss {
    /// A rule for each element.
    pub css: String,
    /// The filters that rules refer to, as markup for the page; empty where none do.
    pub filters: String,
    /// What CSS cannot select, or draws otherwise.
    pub notes: Vec<FidelityNote>,
}

impl InlineCss {
    /// Adds the rule of an element, after the filters it has: functions, where those are enough, in its own units; else a filter with
    /// an id.
    pub(super) fn add(
        &mut self,
        (node, had): (Node<'_, '_>, &str),
        name: &str,
        functions: Option<&Graph>,
        (markup, id): (&str, &str),
    ) {
        let Some(selector) = selector(node) else {
            let what = "it has no id in the file, and CSS cannot select it";
            return self.note(Fidelity::Dropped, name, what);
        };
        let added = if let Some(graph) = functions {
            filter_functions(graph, 0.0).join("\n    ")
        } else {
            self.filters.push_str(markup);
            format!("url(#{id})")
        };
        let value = format!("{had} {added}");
        let value = value.trim();
        let _ = write!(self.css, "{selector} {{\n  filter: {value};\n}}\n");
    }

    /// Says what is otherwise than in the file.
    pub(super) fn note(&mut self, fidelity: Fidelity, name: &str, what: &str) {
        self.notes.push(FidelityNote { coat: None, fidelity, message: format!("{name}: {what}") });
    }

    /// With its filters in an SVG element that takes no room in the page.
    pub(super) fn whole(mut self) -> Self {
        if !self.filters.is_empty() {
            self.filters = format!(
                "<svg width=\"0\" height=\"0\" aria-hidden=\"true\" style=\"position: absolute\">\n{}</svg>\n",
                self.filters
            );
        }
        self
    }
}

/// What selects an element alone: its id, or that it is the file itself.
fn selector(node: Node<'_, '_>) -> Option<String> {
    let is_root = node.parent().is_some_and(|parent| parent.is_root());
    let Some(id) = node.attribute("id").filter(|id| !id.is_empty()) else {
        return is_root.then(|| "svg".to_owned());
    };
    let mut text = "#".to_owned();
    serialize_identifier(id, &mut text).ok()?;
    Some(text)
}
