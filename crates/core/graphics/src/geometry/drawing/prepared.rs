//! The text of a file as the parser of drawings takes it: what that reads otherwise than browsers is written in another way.

use std::ops::Range;

use usvg::roxmltree::{Document, Node};

/// Text in the place of some bytes of a file, in its order.
pub(super) type Rewritten = Vec<(Range<usize>, String)>;

/// Shadows as the steps that they stand for (Filter Effects 1, "feDropShadow"): resvg 0.49 draws the primitive lighter where colours
/// are not mixed in linear light.
pub(super) fn drop_shadows(document: &Document<'_>) -> Rewritten {
    let shadows = document.descendants().filter(|node| node.tag_name().name() == "feDropShadow");
    shadows.enumerate().map(|(number, node)| (node.range(), steps(node, number))).collect()
}

fn steps(node: Node<'_, '_>, number: usize) -> String {
    let text = node.document().input_text();
    let written = |names: &[&str]| -> String {
        let fitting = node.attributes().filter(|attribute| names.contains(&attribute.name()));
        fitting.map(|attribute| format!(" {}", &text[attribute.range()])).collect()
    };
    let area = written(&["x", "y", "width", "height", "color-interpolation-filters"]);
    let (input, result) = (written(&["in"]), written(&["result"]));
    let or_two = |name: &str| match node.attribute_node(name) {
        Some(attribute) => format!(" {}", &text[attribute.range()]),
        None => format!(" {name}=\"2\""),
    };
    let (sigma, way) = (or_two("stdDeviation"), or_two("dx") + &or_two("dy"));
    let paint = written(&["class", "style", "flood-color", "flood-opacity", "color"]);
    let id = format!("zolvet-shadow-{number}");
    let name = match node.tag_name().namespace().and_then(|space| node.lookup_prefix(space)) {
        Some(prefix) if !prefix.is_empty() => format!("{prefix}:"),
        _ => String::new(),
    };
    let step = |what: &str, attributes: &str| format!("<{name}{what}{attributes}{area}/>");
    let merged = format!("<{name}feMergeNode in=\"{id}-shade\"/><{name}feMergeNode in=\"{id}-of\"/>");
    [
        step("feOffset", &format!("{input} dx=\"0\" dy=\"0\" result=\"{id}-of\"")),
        step("feGaussianBlur", &format!(" in=\"{id}-of\"{sigma} result=\"{id}-soft\"")),
        step("feOffset", &format!(" in=\"{id}-soft\"{way} result=\"{id}-moved\"")),
        step("feFlood", &format!("{paint} result=\"{id}-colour\"")),
        step(
            "feComposite",
            &format!(" in=\"{id}-colour\" in2=\"{id}-moved\" operator=\"in\" result=\"{id}-shade\""),
        ),
        format!("<{name}feMerge{area}{result}>{merged}</{name}feMerge>"),
    ]
    .concat()
}

/// References to elements of the file without quotes, which usvg 0.49 does not find in style sheets.
pub(super) fn without_quotes(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(at) = rest.find("url(") {
        let (before, reference) = rest.split_at(at + 4);
        result += before;
        let bare = QUOTES.iter().find_map(|quote| {
            let inside = reference.trim_start().strip_prefix(quote)?;
            let (id, after) = inside.split_once(quote)?;
            let is_own = id.starts_with('#') && !id.contains(['"', '\'', ')', '<', '>', '&']);
            (is_own && after.trim_start().starts_with(')')).then_some((id, after.trim_start()))
        });
        rest = match bare {
            Some((id, after)) => {
                result += id;
                after
            }
            None => reference,
        };
    }
    result + rest
}

const QUOTES: [&str; 6] = ["\"", "'", "&quot;", "&apos;", "&#34;", "&#39;"];
