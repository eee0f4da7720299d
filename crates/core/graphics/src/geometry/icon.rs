//! Icons: SVG files read into path data.
//!
//! The drawing becomes what it covers: fills by their rule, strokes as drawn, within clips and masks. Colours, gradients and
//! filters are left out, because an icon is a silhouette here; so is text, which is said. What an icon has no need of and
//! what could do harm is refused: scripts, references to other files, document type declarations with their entities.

use usvg::{Options, Tree, roxmltree};

pub use super::icon_error::IconError;
use super::icon_error::lines_limit;
use super::icon_shapes::outline;
use crate::limits;
use crate::syntax::{LineIndex, path_text};

/// Decimals of coordinates: finer than any screen shows, and short to read.
const DECIMALS: i32 = 3;

/// The area that an icon covers.
#[derive(Debug, Clone, PartialEq)]
pub struct Icon {
    /// SVG path data, filled by the non-zero rule.
    pub d: String,
    /// The rectangle of the drawing it belongs to: x, y, width, height.
    pub viewbox: [f64; 4],
    /// There is text in the file, which is left out of the silhouette.
    pub has_text: bool,
}

/// Elements of a file, counted as often as `use` draws them.
const MAX_ELEMENTS: usize = 20_000;

impl Icon {
    /// Reads an SVG file.
    ///
    /// # Errors
    /// [`IconError`], with the place where there is one.
    pub fn read(svg: &str) -> Result<Self, IconError> {
        let document = parsed(svg)?;
        check(&document)?;
        let tree = Tree::from_xmltree(&document, &Options::default())
            .map_err(|error| IconError::Svg(error.to_string()))?;
        let path = outline(&tree)?;
        let size = tree.size();
        let viewbox = [0.0, 0.0, f64::from(size.width()), f64::from(size.height())];
        let count = path.elements().len();
        if count > limits::PATH_ELEMENTS {
            return Err(IconError::TooLarge { expected: lines_limit(), found: count });
        }
        let has_text = document.descendants().any(|node| {
            node.tag_name().name() == "text"
                && node.descendants().any(|inner| inner.text().is_some_and(|text| !text.trim().is_empty()))
        });
        Ok(Self { d: path_text(&path, DECIMALS), viewbox, has_text })
    }
}

/// An SVG file as XML.
///
/// # Errors
/// [`IconError`] where it is too large or not well-formed.
pub fn parsed(svg: &str) -> Result<roxmltree::Document<'_>, IconError> {
    if svg.len() > limits::UPLOAD_BYTES {
        return Err(IconError::TooLarge {
            expected: format!("at most {} MB", limits::UPLOAD_BYTES >> 20),
            found: svg.len(),
        });
    }
    if let Some((line, column)) = crowded_element(svg) {
        let message = "an element with more than 1000 attributes".to_owned();
        return Err(IconError::Xml { line, column, message });
    }
    // A document type says nothing that matters here; entities of its own are not read, so that none can multiply.
    if let Some(at) = svg.find("<!ENTITY") {
        let (line, column) = LineIndex::new(svg).position(at);
        let message = "expected SVG without entities of its own (<!ENTITY)".to_owned();
        return Err(IconError::Xml { line, column, message });
    }
    let options = roxmltree::ParsingOptions { nodes_limit: 200_000, allow_dtd: true, ..Default::default() };
    roxmltree::Document::parse_with_options(svg, options).map_err(|error| {
        let at = error.pos();
        IconError::Xml { line: at.row, column: at.col, message: error.to_string() }
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

/// Refuses anything that could reach outside the file, run, or multiply.
fn check(document: &roxmltree::Document<'_>) -> Result<(), IconError> {
    let refuse = |node: roxmltree::Node<'_, '_>, what: String| {
        let at = document.text_pos_at(node.range().start);
        IconError::Refused { line: at.row, column: at.col, what }
    };
    for node in document.descendants().filter(roxmltree::Node::is_element) {
        let name = node.tag_name().name();
        if ["script", "foreignObject", "image", "iframe", "marker"].contains(&name) {
            return Err(refuse(node, format!("<{name}>")));
        }
        for attribute in node.attributes() {
            let (name, value) = (attribute.name(), attribute.value().trim());
            if name.starts_with("on") {
                return Err(refuse(node, format!("the script in {name}")));
            }
            if name == "href" && !value.starts_with('#') {
                return Err(refuse(node, format!("a reference to another file ({value})")));
            }
            if value.contains("url(") && !value.replace(['"', '\'', ' '], "").contains("url(#") {
                return Err(refuse(node, format!("a reference to another file in {name}")));
            }
        }
        if name == "style"
            && node.text().is_some_and(|text| text.contains("@import") || text.contains("url("))
        {
            return Err(refuse(node, "a style that refers to another file".to_owned()));
        }
    }
    check_styles(document)?;
    let drawn = uses(document);
    if drawn > MAX_ELEMENTS {
        return Err(IconError::TooLarge {
            expected: format!("at most {MAX_ELEMENTS} elements, counted as drawn"),
            found: drawn,
        });
    }
    Ok(())
}

/// Comparisons of a selector with an element, at most.
const MAX_COMPARISONS: f64 = 5e6;

/// Refuses style sheets that would be compared with elements again and again: selectors that lead through ancestors are
/// tried with every one of them.
fn check_styles(document: &roxmltree::Document<'_>) -> Result<(), IconError> {
    let elements = || document.descendants().filter(roxmltree::Node::is_element);
    let styles: Vec<&str> =
        elements().filter(|node| node.tag_name().name() == "style").filter_map(|node| node.text()).collect();
    if styles.is_empty() {
        return Ok(());
    }
    let count = elements().count() as f64;
    let deepest = elements().map(|node| node.ancestors().take(DEEPEST + 1).count()).max().unwrap_or(0);
    if deepest > DEEPEST {
        return Err(IconError::TooLarge {
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
            return Err(IconError::TooLarge { expected, found: comparisons.min(1e15) as usize });
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

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::{BezPath, Shape as _};

    fn icon(body: &str) -> Result<Icon, IconError> {
        let ns = "xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\"";
        Icon::read(&format!("<svg {ns} viewBox=\"0 0 24 24\">{body}</svg>"))
    }

    #[test]
    fn fills_and_strokes_become_one_outline() {
        let found = icon("<rect x='2' y='2' width='8' height='8'/><path d='M14 4 H20' stroke='red' stroke-width='2' fill='none'/>")
            .expect("an icon");
        assert_eq!(found.viewbox, [0.0, 0.0, 24.0, 24.0]);
        let area = BezPath::from_svg(&found.d).expect("path data").area().abs();
        assert!((area - 76.0).abs() < 0.01, "{area}");
    }

    #[test]
    fn holes_stay_holes_by_either_rule() {
        let ring = "<path fill-rule='evenodd' d='M2 2 H22 V22 H2 Z M8 8 H16 V16 H8 Z'/>";
        let area = BezPath::from_svg(&icon(ring).expect("an icon").d).expect("path data").area().abs();
        assert!((area - 336.0).abs() < 0.01, "{area}");
    }

    /// Invisible parts are not solid: frames without paint, groups that are clear, areas that clips and masks take
    /// away.
    #[test]
    fn only_what_is_seen_is_covered() {
        let square = "<rect x='2' y='2' width='8' height='8'/>";
        for (body, expected) in [
            (format!("<path d='M0 0h24v24H0z' fill='none'/>{square}"), 64.0),
            (format!("<rect width='24' height='24' fill='transparent'/>{square}"), 64.0),
            (format!("<rect width='24' height='24' opacity='0'/>{square}"), 64.0),
            (format!("<rect width='24' height='24' fill-opacity='0'/>{square}"), 64.0),
            (format!("<g opacity='0'><rect width='24' height='24'/></g>{square}"), 64.0),
            (
                format!(
                    "<clipPath id='c'><rect x='2' y='2' width='4' height='8'/></clipPath><g clip-path='url(#c)'>{square}</g>"
                ),
                32.0,
            ),
            (
                format!(
                    "<mask id='m' style='mask-type:alpha'><rect x='2' y='2' width='2' height='8'/></mask><g mask='url(#m)'>{square}</g>"
                ),
                16.0,
            ),
            (
                format!(
                    "<mask id='m'><rect width='24' height='24' fill='white'/><rect x='4' y='4' width='4' height='4'/></mask>\
                     <g mask='url(#m)'>{square}</g>"
                ),
                48.0,
            ),
            (
                format!(
                    "<g transform='translate(4 4)' clip-path='url(#d)'>{square}</g><clipPath id='d'><rect width='4' height='24'/></clipPath>"
                ),
                16.0,
            ),
        ] {
            let area = BezPath::from_svg(&icon(&body).expect(&body).d).expect("path data").area().abs();
            assert!((area - expected).abs() < 0.01, "{body}: {area}");
        }
    }

    #[test]
    fn curves_stay_curves() {
        let curves = |body: &str| {
            icon(body).expect(body).d.matches('C').count() + icon(body).expect(body).d.matches('Q').count()
        };
        let disc = "<circle cx='8' cy='8' r='6'/>";
        assert!((2..=8).contains(&curves(disc)), "{}", curves(disc));
        assert!(curves("<circle cx='12' cy='12' r='8' fill='none' stroke='red' stroke-width='2'/>") >= 4);
        let ring = "<path fill-rule='evenodd' d='M12 2a10 10 0 1 0 0 20 10 10 0 0 0 0-20zm0 4a6 6 0 1 0 0 12 6 6 0 0 0 0-12z'/>";
        let area = BezPath::from_svg(&icon(ring).expect("an icon").d).expect("path data").area().abs();
        assert!((area - std::f64::consts::PI * 64.0).abs() < 0.5 && curves(ring) > 0, "{area}");
        assert!(!icon(disc).expect("a disc").has_text);
        assert!(icon(&format!("{disc}<text y='9'>Ab</text>")).expect("a disc").has_text);
    }

    #[test]
    fn what_could_do_harm_is_refused_with_its_place() {
        for (body, words) in [
            ("<script>alert(1)</script>", "<script> is not taken"),
            ("<rect onclick='x()' width='1' height='1'/>", "the script in onclick"),
            ("<use xlink:href='http://127.0.0.1/a.svg#b'/>", "a reference to another file"),
            ("<image href='a.png'/>", "<image>"),
            ("<rect width='1' height='1' fill='url(http://127.0.0.1/a)'/>", "another file in fill"),
            ("<style>@import 'a.css';</style>", "a style that refers"),
            ("<defs><marker id='m'/></defs>", "<marker>"),
            ("<g>", "expected SVG"),
            ("", "expected at least one shape"),
        ] {
            let error = icon(body).expect_err(body).to_string();
            assert!(error.contains(words), "{body}: {error}");
        }
        let bomb = "<!DOCTYPE svg [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;'>]><svg xmlns='http://www.w3.org/2000/svg'>&b;</svg>";
        assert!(matches!(Icon::read(bomb), Err(IconError::Xml { .. })));
    }

    #[test]
    fn elements_that_multiply_are_counted_as_drawn() {
        let mut body = "<g id='a0'><rect width='1' height='1'/></g>".to_owned();
        for i in 1..30 {
            body += &format!("<g id='a{i}'><use href='#a{}'/><use href='#a{}'/></g>", i - 1, i - 1);
        }
        assert!(matches!(icon(&body), Err(IconError::TooLarge { .. })));
        let looped = "<g id='a'><use href='#b'/></g><g id='b'><use href='#a'/></g>";
        assert!(icon(looped).is_err());
    }
}
