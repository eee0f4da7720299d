//! Icons: SVG files read into path data.
//!
//! The drawing is flattened to what it covers: fills by their rule, strokes as drawn. Colours, gradients, clips and
//! filters are left out, because an icon is a silhouette here. What an icon has no need of and what could do harm is
//! refused: scripts, references to other files, document type declarations with their entities.

use kurbo::{Affine, BezPath, Point};
use usvg::tiny_skia_path::PathSegment;
use usvg::{Node, Options, Tree, roxmltree};

use crate::geometry::crossings::{MOST_LINES, TooComplex};
use crate::geometry::polygon::{Region, Rule};
use crate::geometry::{JoinOp, StrokeCap, StrokeJoin, drawn};
use crate::limits;
use crate::syntax::{LineIndex, path_text};

/// Decimals of coordinates: finer than any screen shows, and short to read.
const DECIMALS: i32 = 3;

/// What an icon covers.
#[derive(Debug, Clone, PartialEq)]
pub struct Icon {
    /// SVG path data, filled by the non-zero rule.
    pub d: String,
    /// The rectangle of the drawing it belongs to: x, y, width, height.
    pub viewbox: [f64; 4],
}

/// An SVG file that is not taken.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum IconError {
    /// It is not well-formed XML, or declares a document type.
    #[error("{line}:{column}: expected SVG: {message}")]
    Xml {
        /// From 1.
        line: u32,
        /// From 1.
        column: u32,
        /// What is wrong.
        message: String,
    },
    /// It contains something an icon must not contain.
    #[error("{line}:{column}: {what} is not taken in an icon")]
    Refused {
        /// From 1.
        line: u32,
        /// From 1.
        column: u32,
        /// What was found.
        what: String,
    },
    /// It is not an SVG drawing.
    #[error("expected an SVG drawing: {0}")]
    Svg(String),
    /// It draws nothing.
    #[error("expected at least one shape that is filled or stroked")]
    Empty,
    /// It is too large to be drawn in good time.
    #[error("expected {expected}, found {found}")]
    TooLarge {
        /// What the limit is.
        expected: &'static str,
        /// What was found.
        found: usize,
    },
    /// Its lines cross too often.
    #[error(transparent)]
    TooComplex(#[from] TooComplex),
}

/// Elements of a file, counted as often as `use` draws them.
const MOST_ELEMENTS: usize = 20_000;

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
        let mut shapes = Shapes::default();
        gather(tree.root(), &mut shapes)?;
        let region = Region::joined(shapes.regions, JoinOp::Add)?;
        if region.contours.is_empty() {
            return Err(IconError::Empty);
        }
        let size = tree.size();
        let viewbox = [0.0, 0.0, f64::from(size.width()), f64::from(size.height())];
        let path = region.path();
        let count = path.elements().len();
        if count > limits::PATH_ELEMENTS {
            return Err(IconError::TooLarge { expected: "at most 10000 lines and curves", found: count });
        }
        Ok(Self { d: path_text(&path, DECIMALS), viewbox })
    }
}

/// An SVG file as XML.
///
/// # Errors
/// [`IconError`] where it is too large or not well-formed.
pub(crate) fn parsed(svg: &str) -> Result<roxmltree::Document<'_>, IconError> {
    if svg.len() > limits::UPLOAD_BYTES {
        return Err(IconError::TooLarge { expected: "at most 16 MB", found: svg.len() });
    }
    if let Some((line, column)) = crowded_element(svg) {
        let message = "an element with more than 1000 attributes".to_owned();
        return Err(IconError::Xml { line, column, message });
    }
    // A document type says nothing that matters here; entities of its own are not read, so that none can multiply.
    if let Some(at) = svg.find("<!ENTITY") {
        let (line, column) = LineIndex::new(svg).of(at);
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
                    return Some(LineIndex::new(svg).of(*start));
                }
            }
            (Some(_), None, _) => {}
        }
    }
    None
}

/// Refuses what could reach outside the file, run, or multiply.
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
    if drawn > MOST_ELEMENTS {
        return Err(IconError::TooLarge {
            expected: "at most 20000 elements, counted as drawn",
            found: drawn,
        });
    }
    Ok(())
}

/// Comparisons of a selector with an element, at most.
const MOST_COMPARISONS: f64 = 5e6;

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
        return Err(IconError::TooLarge { expected: "elements at most 200 deep", found: deepest });
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
        if comparisons > MOST_COMPARISONS {
            let expected =
                "a style sheet with fewer or shorter selectors: at most 5 million comparisons with elements";
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
        return MOST_ELEMENTS + 1;
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

/// The regions of shapes, one by one.
#[derive(Default)]
struct Shapes {
    regions: Vec<Region>,
    lines: usize,
}

impl Shapes {
    fn push(&mut self, region: Region) -> Result<(), IconError> {
        self.lines += region.contours.iter().map(Vec::len).sum::<usize>();
        self.regions.push(region);
        if self.lines > MOST_LINES { Err(TooComplex.into()) } else { Ok(()) }
    }
}

/// The region of each shape of a group.
fn gather(group: &usvg::Group, shapes: &mut Shapes) -> Result<(), IconError> {
    for node in group.children() {
        match node {
            Node::Group(group) => gather(group, shapes)?,
            Node::Path(path) if path.is_visible() => {
                let transform = affine(path.abs_transform());
                let outline = bezier(path.data());
                if outline.elements().len() > limits::PATH_ELEMENTS {
                    let found = outline.elements().len();
                    return Err(IconError::TooLarge { expected: "at most 10000 lines and curves", found });
                }
                if let Some(fill) = path.fill() {
                    let rule = match fill.rule() {
                        usvg::FillRule::NonZero => Rule::NonZero,
                        usvg::FillRule::EvenOdd => Rule::EvenOdd,
                    };
                    shapes.push(Region::of(&(transform * &outline), rule)?)?;
                }
                if let Some(stroke) = path.stroke() {
                    shapes.push(transformed(&line(&outline, stroke)?, transform)?)?;
                }
            }
            Node::Path(_) | Node::Image(_) | Node::Text(_) => {}
        }
    }
    Ok(())
}

fn line(outline: &BezPath, stroke: &usvg::Stroke) -> Result<Region, TooComplex> {
    let join = match stroke.linejoin() {
        usvg::LineJoin::Miter | usvg::LineJoin::MiterClip => StrokeJoin::Miter,
        usvg::LineJoin::Round => StrokeJoin::Round,
        usvg::LineJoin::Bevel => StrokeJoin::Bevel,
    };
    let cap = match stroke.linecap() {
        usvg::LineCap::Butt => StrokeCap::Butt,
        usvg::LineCap::Round => StrokeCap::Round,
        usvg::LineCap::Square => StrokeCap::Square,
    };
    let (width, miter) = (f64::from(stroke.width().get()), f64::from(stroke.miterlimit().get()));
    drawn(outline, width, join, cap, miter)
}

fn transformed(region: &Region, transform: Affine) -> Result<Region, TooComplex> {
    Region::of(&(transform * region.path()), Rule::NonZero)
}

fn affine(t: usvg::Transform) -> Affine {
    Affine::new([t.sx, t.ky, t.kx, t.sy, t.tx, t.ty].map(f64::from))
}

fn bezier(path: &usvg::tiny_skia_path::Path) -> BezPath {
    let point = |at: usvg::tiny_skia_path::Point| Point::new(f64::from(at.x), f64::from(at.y));
    let mut bezier = BezPath::new();
    for segment in path.segments() {
        match segment {
            PathSegment::MoveTo(to) => bezier.move_to(point(to)),
            PathSegment::LineTo(to) => bezier.line_to(point(to)),
            PathSegment::QuadTo(a, to) => bezier.quad_to(point(a), point(to)),
            PathSegment::CubicTo(a, b, to) => bezier.curve_to(point(a), point(b), point(to)),
            PathSegment::Close => bezier.close_path(),
        }
    }
    bezier
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::Shape as _;

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
