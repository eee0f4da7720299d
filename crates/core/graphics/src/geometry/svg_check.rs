//! What an SVG file must not hold: scripts, references to other files, entities of its own, elements and selectors that
//! multiply.

use usvg::roxmltree;

use super::svg_error::SvgError;
use crate::limits;
use crate::syntax::LineIndex;

/// An SVG file as XML.
///
/// # Errors
/// [`SvgError`] where it is too large or not well-formed.
pub fn parsed(svg: &str) -> Result<roxmltree::Document<'_>, SvgError> {
    if svg.len() > limits::UPLOAD_BYTES {
        return Err(SvgError::TooLarge {
            expected: format!("at most {} MB", limits::UPLOAD_BYTES >> 20),
            found: svg.len(),
        });
    }
    if let Some((line, column)) = crowded_element(svg) {
        let message = "an element with more than 1000 attributes".to_owned();
        return Err(SvgError::Xml { line, column, message });
    }
    // A document type says nothing that matters here; entities of its own are not read, so that none can multiply.
    if let Some(at) = svg.find("<!ENTITY") {
        let (line, column) = LineIndex::new(svg).position(at);
        let message = "expected SVG without entities of its own (<!ENTITY)".to_owned();
        return Err(SvgError::Xml { line, column, message });
    }
    let options = roxmltree::ParsingOptions { nodes_limit: 200_000, allow_dtd: true, ..Default::default() };
    roxmltree::Document::parse_with_options(svg, options).map_err(|error| {
        let at = error.pos();
        SvgError::Xml { line: at.row, column: at.col, message: error.to_string() }
    })
}

/// More attributes than any element has.
const ATTRIBUTES: usize = 1000;

/// The line and column of an element with more attributes than any has: the XML reader compares each with each.
fn crowded_element(svg: &str) -> Option<(u32, u32)> {
    let bytes = svg.as_bytes();
    // Where the tag that is read starts, how many attributes it has so far, and the quote that a value stands in.
    let mut tag: Option<(usize, usize)> = None;
    let mut quote = None;
    for (at, letter) in bytes.iter().copied().enumerate() {
        match (tag.as_mut(), quote, letter) {
            (None, _, b'<') if bytes.get(at + 1).is_some_and(u8::is_ascii_alphabetic) => tag = Some((at, 0)),
            (None, ..) => {}
            (Some(_), Some(open), _) if open == letter => quote = None,
            (Some(_), Some(_), _) => {}
            (Some(_), None, b'"' | b'\'') => quote = Some(letter),
            (Some(_), None, b'>') => tag = None,
            (Some((start, count)), None, b'=') => {
                *count += 1;
                if *count > ATTRIBUTES {
                    return Some(LineIndex::new(svg).position(*start));
                }
            }
            (Some(_), None, _) => {}
        }
    }
    None
}

/// What a file is read for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Purpose {
    /// A silhouette: pictures, markers and pages in it are refused.
    Icon,
    /// A drawing, with pictures that it carries in itself.
    Drawing,
}

impl Purpose {
    fn refuses(self, tag: &str) -> bool {
        let never = ["script", "iframe"].contains(&tag);
        never || self == Self::Icon && ["foreignObject", "image", "marker"].contains(&tag)
    }

    /// Whether an address leads out of the file.
    fn leaves_the_file(self, address: &str) -> bool {
        let address =
            address.trim_matches(|letter: char| letter.is_whitespace() || letter == '"' || letter == '\'');
        let is_inside = self == Self::Drawing && starts_with_ignoring_case(address, "data:");
        !address.starts_with('#') && !is_inside
    }

    /// Whether a value of CSS refers to anything out of the file.
    fn has_outside_reference(self, value: &str) -> bool {
        let lower = value.to_ascii_lowercase();
        let mut addresses =
            lower.split("url(").skip(1).map(|rest| rest.split(')').next().unwrap_or_default());
        addresses.any(|address| self.leaves_the_file(address)) || lower.contains("@import")
    }
}

fn starts_with_ignoring_case(text: &str, start: &str) -> bool {
    text.get(..start.len()).is_some_and(|own| own.eq_ignore_ascii_case(start))
}

/// Refuses anything that could reach outside the file, run, or multiply.
///
/// # Errors
/// [`SvgError`] with the place of the first.
pub fn check(document: &roxmltree::Document<'_>, purpose: Purpose) -> Result<(), SvgError> {
    let refuse = |node: roxmltree::Node<'_, '_>, what: String| {
        let at = document.text_pos_at(node.range().start);
        SvgError::Refused { line: at.row, column: at.col, what }
    };
    for node in document.descendants().filter(roxmltree::Node::is_element) {
        let tag = node.tag_name().name();
        if purpose.refuses(tag) {
            return Err(refuse(node, format!("<{tag}>")));
        }
        for attribute in node.attributes() {
            let (name, value) = (attribute.name(), attribute.value().trim());
            if starts_with_ignoring_case(name, "on") {
                return Err(refuse(node, format!("the script in {name}")));
            }
            // Where a link leads is never fetched.
            let is_link =
                tag == "a" && purpose == Purpose::Drawing && !starts_with_ignoring_case(value, "javascript:");
            if name == "href" && !value.is_empty() && purpose.leaves_the_file(value) && !is_link {
                let start: String = value.chars().take(80).collect();
                return Err(refuse(node, format!("a reference to another file ({start})")));
            }
            if purpose.has_outside_reference(value) {
                return Err(refuse(node, format!("a reference to another file in {name}")));
            }
        }
        if tag == "style"
            && node
                .descendants()
                .filter_map(|inner| inner.text())
                .any(|text| purpose.has_outside_reference(text))
        {
            return Err(refuse(node, "a style that refers to another file".to_owned()));
        }
    }
    check_styles(document)?;
    let drawn = uses(document);
    if drawn > MAX_ELEMENTS {
        return Err(SvgError::TooLarge {
            expected: format!("at most {MAX_ELEMENTS} elements, counted as drawn"),
            found: drawn,
        });
    }
    Ok(())
}

/// Elements of a file, counted as often as `use` draws them.
const MAX_ELEMENTS: usize = 20_000;

/// Comparisons of a selector with an element, at most.
const MAX_COMPARISONS: f64 = 5e6;

/// Refuses style sheets that would be compared with elements again and again: selectors that lead through ancestors are
/// tried with every one of them.
fn check_styles(document: &roxmltree::Document<'_>) -> Result<(), SvgError> {
    let elements = || document.descendants().filter(roxmltree::Node::is_element);
    let styles: Vec<&str> =
        elements().filter(|node| node.tag_name().name() == "style").filter_map(|node| node.text()).collect();
    if styles.is_empty() {
        return Ok(());
    }
    let count = elements().count() as f64;
    let deepest = elements().map(|node| node.ancestors().take(DEEPEST + 1).count()).max().unwrap_or(0);
    if deepest > DEEPEST {
        return Err(SvgError::TooLarge {
            expected: format!("elements at most {DEEPEST} deep"),
            found: deepest,
        });
    }
    let mut comparisons = 0.0;
    for style in styles {
        for prelude in style.split('}').filter_map(|rule| rule.split('{').next()) {
            for selector in prelude.split(',') {
                let ancestors =
                    selector.split_whitespace().filter(|part| *part != ">" && *part != "+").count();
                comparisons += count * (deepest as f64).powi(ancestors.saturating_sub(1).min(40) as i32);
            }
        }
        if comparisons > MAX_COMPARISONS {
            let expected = format!(
                "a style sheet with fewer or shorter selectors: at most {MAX_COMPARISONS} comparisons with elements"
            );
            return Err(SvgError::TooLarge { expected, found: comparisons.min(1e15) as usize });
        }
    }
    Ok(())
}

/// How deep elements lie in one another, at most.
const DEEPEST: usize = 200;

/// How many elements are drawn, counting those that each `use` and each reference draws again.
fn uses(document: &roxmltree::Document<'_>) -> usize {
    let ids: std::collections::HashMap<&str, roxmltree::Node<'_, '_>> =
        document.descendants().filter_map(|node| Some((node.attribute("id")?, node))).collect();
    let mut known = std::collections::HashMap::new();
    count(document.root(), &ids, &mut known, 0)
}

fn count<'a, 'b>(
    node: roxmltree::Node<'a, 'b>,
    ids: &std::collections::HashMap<&str, roxmltree::Node<'a, 'b>>,
    known: &mut std::collections::HashMap<roxmltree::NodeId, usize>,
    depth: usize,
) -> usize {
    if let Some(count) = known.get(&node.id()) {
        return *count;
    }
    // A loop, or deeper than anything a person draws.
    if depth > DEEPEST {
        return MAX_ELEMENTS + 1;
    }
    let children = node.children().filter(roxmltree::Node::is_element);
    let mut sum = 1_usize;
    for child in children {
        sum = sum.saturating_add(count(child, ids, known, depth + 1));
    }
    for attribute in node.attributes() {
        let value = attribute.value();
        let whole = (attribute.name() == "href").then(|| value.trim().trim_start_matches('#'));
        let named = value.split("url(").skip(1).filter_map(|rest| rest.split(')').next());
        let named = named.map(|name| name.trim_matches(['"', '\'', ' ', '#']));
        for target in whole.into_iter().chain(named).filter_map(|id| ids.get(id)) {
            sum = sum.saturating_add(count(*target, ids, known, depth + 1));
        }
    }
    known.insert(node.id(), sum);
    sum
}
