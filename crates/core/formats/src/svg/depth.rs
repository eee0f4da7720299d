//! A file of somebody's own with depth on it: filters and their attributes are inserted, and nothing else is changed but the
//! root's size where its edge grows (docs/drawings.md, "Back out").

use std::ops::Range;
use std::str::FromStr as _;

use kurbo::{Affine, Rect};
use serde::{Deserialize, Serialize};
use usvg::roxmltree::{Document, Node};

use super::attach::{Had, attach, filters_of};
use super::filter::Styles;
use super::inline_css::InlineCss;
use super::insertions::{Insertions, set_attribute};
use crate::geometry::drawing::{Drawing, DrawingFile, Element, is_drawn};
use crate::geometry::icon::{SvgError, parsed};
use crate::lower::{Fidelity, FidelityNote, Graph, LoweredFilter, Notes, Target, lower, piece_filter};
use crate::markup::markup_in;
use crate::maths::atan2;
use crate::resolve::Piece;
use crate::syntax::number_text;

/// What becomes of depth that reaches beyond a file's edge.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Edge {
    /// The file becomes larger by what is needed.
    #[default]
    Grow,
    /// The drawing becomes smaller within its file; lengths of the depth stay.
    Shrink,
    /// It is cut off.
    Cut,
}

/// Coats on a drawing, or on an element of it.
pub struct Depth<'a> {
    /// The piece with the coats, resolved.
    pub piece: &'a Piece,
    /// The place of the element in painting order; the whole drawing where there is none.
    pub element: Option<usize>,
    /// What becomes of the filters that the element has in the file.
    pub had: Had,
}

/// A file with depth on it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct FileWithDepth {
    /// The file.
    pub svg: String,
    /// What SVG cannot hold, or draws otherwise.
    pub notes: Vec<FidelityNote>,
    /// The same for a file that stands in a page as markup.
    pub inline: InlineCss,
}

/// How a file is given depth.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Placing {
    /// Px of the scene for one px of the file.
    pub scale: f64,
    /// What becomes of depth beyond the edge.
    pub edge: Edge,
    /// Px of the file that are left for it: left, top, right, bottom; as much as it needs where there is none.
    pub room: Option<[f64; 4]>,
}

/// Px of a file that the coats of a piece, which is all of its drawing, reach beyond its edge: left, top, right, bottom.
#[must_use]
pub fn room_needed(file: &DrawingFile, drawing: &Drawing, piece: &Piece, scale: f64) -> [f64; 4] {
    let given = Given::of(piece, None, scale, &mut Notes::default());
    let placing = Placing { scale, edge: Edge::Grow, room: None };
    match parsed(file.text()) {
        Ok(document) => Frame::new(&document, drawing, &[given], placing).beyond,
        Err(_) => [0.0; 4],
    }
}

/// Puts depth on a file; without coats it stays what it is.
///
/// # Errors
/// [`SvgError`] where the file cannot be read.
pub fn with_depth(
    (file, drawing): (&DrawingFile, &Drawing),
    depths: &[Depth<'_>],
    placing: Placing,
) -> Result<FileWithDepth, SvgError> {
    let Placing { scale, edge, .. } = placing;
    let mut notes = Notes::default();
    let shown = depths.iter().filter(|depth| !depth.piece.coats.is_empty() || depth.had == Had::Goes);
    // In px of the file.
    let filters: Vec<Given<'_>> = shown
        .map(|depth| {
            let element = depth.element.and_then(|at| drawing.elements.get(at));
            Given { had: depth.had, ..Given::of(depth.piece, element, scale, &mut notes) }
        })
        .collect();
    if filters.is_empty() {
        return Ok(FileWithDepth {
            svg: file.text().to_owned(),
            notes: Vec::new(),
            inline: InlineCss::default(),
        });
    }
    let document = parsed(file.text())?;
    let frame = Frame::new(&document, drawing, &filters, placing);
    if edge == Edge::Cut && frame.beyond != [0.0; 4] {
        notes.whole(Fidelity::Dropped, "What reaches beyond the file's edge is cut off");
    }
    let mut writer = Writer {
        document: &document,
        frame,
        insertions: Insertions::default(),
        notes,
        filters: 0,
        inline: InlineCss::default(),
    };
    writer.write(&filters, edge);
    Ok(FileWithDepth {
        svg: writer.insertions.applied(file.text()),
        notes: writer.notes.0,
        inline: writer.inline.whole(),
    })
}

/// What an element, or all of a drawing, is given; lengths in px of the file.
struct Given<'a> {
    element: Option<&'a Element>,
    had: Had,
    graph: Graph,
    /// The same as functions of CSS, where those draw the same.
    functions: Option<Graph>,
}

impl<'a> Given<'a> {
    fn of(piece: &Piece, element: Option<&'a Element>, scale: f64, notes: &mut Notes) -> Self {
        let graph = if piece.coats.is_empty() {
            Graph::default()
        } else {
            piece_filter(piece, notes).scaled(1.0 / scale)
        };
        let lowered = lower(piece, Target::DropShadow);
        let is_all = lowered.element.coats.is_empty() && lowered.notes.0.is_empty();
        let functions = match lowered.filter {
            Some(LoweredFilter::Functions(graph)) if is_all => Some(graph.scaled(1.0 / scale)),
            Some(LoweredFilter::Functions(_) | LoweredFilter::Svg(_)) | None => None,
        };
        Self { element, had: Had::Stays, graph, functions }
    }

    fn scaled(&self, factor: f64) -> Self {
        let functions = self.functions.as_ref().map(|graph| graph.scaled(factor));
        Self { element: self.element, had: self.had, graph: self.graph.scaled(factor), functions }
    }
}

/// The root of a file: its user space and its edge.
struct Frame {
    /// Width and height in px.
    size: [f64; 2],
    /// From user units of the root to px of the file.
    to_px: Affine,
    /// From fine units to px of the file.
    from_fine: Affine,
    /// Px of depth beyond the edge: left, top, right, bottom.
    beyond: [f64; 4],
}

impl Frame {
    fn new(
        document: &Document<'_>,
        drawing: &Drawing,
        filters: &[Given<'_>],
        Placing { edge, room, .. }: Placing,
    ) -> Self {
        let (width, height) = (drawing.width, drawing.height);
        let root = document.root_element();
        let numbers: Vec<f64> = root
            .attribute("viewBox")
            .map(|text| text.split([' ', ',', '\n', '\t']).filter_map(|number| number.parse().ok()).collect())
            .unwrap_or_default();
        let viewbox = match numbers.as_slice() {
            [x, y, w, h] if *w > 0.0 && *h > 0.0 => Rect::new(*x, *y, x + w, y + h),
            _ => Rect::new(0.0, 0.0, width, height),
        };
        let scale = (width / viewbox.width()).min(height / viewbox.height());
        let aside = [(width - scale * viewbox.width()) / 2.0, (height - scale * viewbox.height()) / 2.0];
        let to_px = Affine::translate((aside[0], aside[1]))
            * Affine::scale(scale)
            * Affine::translate(-viewbox.origin().to_vec2());
        let from_fine = Affine::scale(1.0 / drawing.fineness);
        let mut frame = Self { size: [width, height], to_px, from_fine, beyond: [0.0; 4] };
        frame.beyond = room.unwrap_or_else(|| {
            filters.iter().fold([0.0; 4], |all, given| most(all, frame.room(drawing, given)))
        });
        if edge == Edge::Shrink {
            // At least a fifth of the drawing's size is left of it.
            let most = |length: f64| length * 0.4;
            let limits = [most(width), most(height), most(width), most(height)];
            frame.beyond = std::array::from_fn(|side| frame.beyond[side].min(limits[side]));
        }
        frame
    }

    /// Px that a filter on an element, or on all of a drawing, reaches beyond the edge.
    fn room(&self, drawing: &Drawing, Given { element, had, graph, .. }: &Given<'_>) -> [f64; 4] {
        let all = || drawing.elements.iter().map(|one| one.bounds).reduce(|a, b| a.union(b));
        let own = element.map(|element| match had {
            Had::Stays => element.bounds,
            Had::Goes => element.before_filters,
        });
        let bounds = own.or_else(all).unwrap_or_default();
        let bounds = self.from_fine.transform_rect_bbox(bounds);
        let ([width, height], [left, top, right, bottom]) = (self.size, graph.result_reach());
        let over =
            [left - bounds.x0, top - bounds.y0, bounds.x1 + right - width, bounds.y1 + bottom - height];
        // Antialiased edges need no room of their own.
        over.map(|over| if over > 0.05 { over.ceil() } else { 0.0 })
    }

    /// How much smaller a drawing is that leaves room for its depth.
    fn shrink(&self, edge: Edge) -> f64 {
        let ([width, height], [left, top, right, bottom]) = (self.size, self.beyond);
        let factor = ((width - left - right) / width).min((height - top - bottom) / height);
        if edge == Edge::Shrink { factor } else { 1.0 }
    }

    /// Puts a smaller drawing where its depth has room, in user units of the root.
    fn shrunk(&self, factor: f64) -> Affine {
        let ([width, height], [left, top, right, bottom]) = (self.size, self.beyond);
        let x = left + (width - left - right - width * factor) / 2.0;
        let y = top + (height - top - bottom - height * factor) / 2.0;
        self.to_px.inverse() * Affine::translate((x, y)) * Affine::scale(factor) * self.to_px
    }
}

struct Writer<'a, 'i> {
    document: &'a Document<'i>,
    frame: Frame,
    insertions: Insertions,
    notes: Notes,
    filters: usize,
    inline: InlineCss,
}

impl Writer<'_, '_> {
    fn write(&mut self, filters: &[Given<'_>], edge: Edge) {
        let drawn: Vec<Range<usize>> =
            self.document.root_element().children().filter(is_drawn).map(|node| node.range()).collect();
        let (Some(first), Some(last)) = (drawn.first(), drawn.last()) else { return };
        let (start, end) = (first.start, last.end);
        let shrink = self.frame.shrink(edge);
        let (mut before, mut after) = (String::new(), String::new());
        if shrink < 1.0 {
            before += &format!("<g transform=\"{}\">", matrix(self.frame.shrunk(shrink)));
            after.insert_str(0, "</g>");
        }
        for given in filters {
            let scaled = given.scaled(1.0 / shrink);
            match given.element {
                Some(element) => {
                    self.element_in_css(element, given);
                    before.insert_str(0, &self.element(element, &scaled));
                }
                None => {
                    let (filter, id) = self.filter(&scaled.graph, self.frame.to_px);
                    self.whole_in_css(given);
                    before = format!("{filter}{before}<g filter=\"url(#{id})\">");
                    after.insert_str(0, "</g>");
                }
            }
        }
        if !after.is_empty() && self.selects_children_of_root() {
            let what =
                "A rule of the file's style sheet selects children of its root, which are in a group now";
            self.notes.whole(Fidelity::Approximated, what);
        }
        self.insertions.insert(start, before);
        self.insertions.insert(end, after);
        if edge == Edge::Grow && self.frame.beyond != [0.0; 4] {
            self.grow();
        }
    }

    /// The rule that puts a filter on a file in a page, whose lengths are px there.
    fn whole_in_css(&mut self, given: &Given<'_>) {
        let [width, height] = self.frame.size;
        let page = Rect::new(-width, -height, 2.0 * width, 2.0 * height);
        let id = format!("zolvet-depth-{}", self.filters);
        let markup = markup_in(&given.graph, &id, page);
        let functions = given.functions.as_ref();
        self.inline.add((self.document.root_element(), ""), "The drawing", functions, (&markup, &id));
    }

    /// The rule that puts a filter on an element in a page, where its own transforms hold.
    fn element_in_css(&mut self, element: &Element, given: &Given<'_>) {
        let Some(node) = element.source.as_ref().and_then(|range| node_at(self.document, range)) else {
            return self.inline.note(Fidelity::Dropped, &element.name, NO_ELEMENT);
        };
        let place = self.frame.from_fine * element.place;
        let [a, b, c, d, ..] = place.as_coeffs();
        let back = -atan2(b, a).to_degrees();
        let (markup, id) = self.filter(&given.graph.turned(back), place);
        let scale = 1.0 / place.determinant().abs().sqrt().max(1e-9);
        let functions = given.functions.as_ref().map(|graph| graph.turned(back).scaled(scale));
        let had = match given.had {
            Had::Stays => filters_of(&Styles::new(self.document), node),
            Had::Goes => String::new(),
        };
        self.inline.add((node, &had), &element.name, functions.as_ref(), (&markup, &id));
        if (a - d).abs().max((b + c).abs()) > (a * a + b * b).sqrt() * 1e-4 {
            let what = "it is stretched, skewed or flipped in the file, and so is a filter of CSS";
            self.inline.note(Fidelity::Approximated, &element.name, what);
        }
        // The filter in the file has the same id: a page has one of the two.
        self.filters -= 1;
    }

    /// Puts a filter on an element, and gives its definition.
    fn element(&mut self, element: &Element, Given { had, graph, .. }: &Given<'_>) -> String {
        let Some(node) = element.source.as_ref().and_then(|range| node_at(self.document, range)) else {
            let what = format!("{}: {NO_ELEMENT}", element.name);
            self.notes.whole(Fidelity::Dropped, &what);
            return String::new();
        };
        if graph.steps.is_empty() {
            attach(&mut self.insertions, self.document, node, (*had, None));
            return String::new();
        }
        let place = self.frame.from_fine * element.place;
        if lies_straight(place) {
            let (filter, id) = self.filter(graph, place);
            attach(&mut self.insertions, self.document, node, (*had, Some(&id)));
            return filter;
        }
        attach(&mut self.insertions, self.document, node, (*had, None));
        // What turns the element alone is not turned around it.
        if let Some((outer, space)) = alone_around(node, place).find(|(_, space)| lies_straight(*space)) {
            let (filter, id) = self.filter(graph, space);
            self.insertions.insert(outer.start, format!("<g filter=\"url(#{id})\">"));
            self.insertions.insert(outer.end, "</g>".to_owned());
            return filter;
        }
        // Taken back to the root's own directions around the element, and given again within.
        let own = node.attribute("transform").and_then(own_transform).unwrap_or(Affine::IDENTITY);
        let around = self.frame.to_px.inverse() * place * own.inverse();
        let range = node.range();
        let (filter, id) = self.filter(graph, self.frame.to_px);
        let open = format!(
            "<g filter=\"url(#{id})\" transform=\"{}\"><g transform=\"{}\">",
            matrix(around.inverse()),
            matrix(around)
        );
        self.insertions.insert(range.start, open);
        self.insertions.insert(range.end, "</g></g>".to_owned());
        filter
    }

    /// A filter's definition in a space, which `place` leads from to px of the file, and its id.
    fn filter(&mut self, graph: &Graph, place: Affine) -> (String, String) {
        let id = loop {
            self.filters += 1;
            let id = format!("zolvet-depth-{}", self.filters);
            if !self.document.descendants().any(|node| node.attribute("id") == Some(&id)) {
                break id;
            }
        };
        let scale = place.determinant().abs().sqrt().max(1e-9);
        let graph = graph.scaled(1.0 / scale);
        let [width, height] = self.frame.size;
        // What a copy is moved by is not in the space it is written in.
        let page = place.inverse().transform_rect_bbox(Rect::new(-width, -height, 2.0 * width, 2.0 * height));
        (markup_in(&graph, &id, page), id)
    }

    fn selects_children_of_root(&self) -> bool {
        let sheets = self.document.descendants().filter(|node| node.tag_name().name() == "style");
        let mut texts = sheets.flat_map(|sheet| sheet.descendants()).filter_map(|node| node.text());
        texts.any(|text| {
            text.contains('>') || text.contains(":first") || text.contains(":nth") || text.contains(":last")
        })
    }

    /// Makes the root larger by what reaches beyond its edge.
    fn grow(&mut self) {
        let ([width, height], [left, top, right, bottom]) = (self.frame.size, self.frame.beyond);
        let grown = Rect::new(-left, -top, width + right, height + bottom);
        // The user space keeps its scale: what is beside the view box takes part.
        let view = self.frame.to_px.inverse().transform_rect_bbox(grown);
        let root = self.document.root_element();
        let numbers = [view.x0, view.y0, view.width(), view.height()].map(number_text);
        set_attribute(&mut self.insertions, self.document, root, "viewBox", &numbers.join(" "));
        for (name, factor) in [("width", grown.width() / width), ("height", grown.height() / height)] {
            let Some(text) = root.attribute(name) else { continue };
            let digits = text.trim_end_matches(|letter: char| letter.is_ascii_alphabetic() || letter == '%');
            let unit = &text[digits.len()..];
            if let (Ok(number), false) = (digits.trim().parse::<f64>(), unit == "%") {
                let value = format!("{}{unit}", number_text(number * factor));
                set_attribute(&mut self.insertions, self.document, root, name, &value);
            }
        }
    }
}

const NO_ELEMENT: &str = "it is no single element of the file: left out";

fn node_at<'a, 'i>(document: &'a Document<'i>, range: &Range<usize>) -> Option<Node<'a, 'i>> {
    document.descendants().find(|node| node.is_element() && node.range() == *range)
}

/// The larger of each two.
fn most(a: [f64; 4], b: [f64; 4]) -> [f64; 4] {
    std::array::from_fn(|side| a[side].max(b[side]))
}

fn matrix(place: Affine) -> String {
    let numbers = place.as_coeffs().map(|number| number_text((number * 1e6).round() / 1e6));
    format!("matrix({})", numbers.join(" "))
}

/// An element and the plain groups around it that hold nothing else: where each stands in the file, and from the space around it to
/// px of the file. `place` leads there from the element's own space.
fn alone_around<'a, 'i: 'a>(
    node: Node<'a, 'i>,
    place: Affine,
) -> impl Iterator<Item = (Range<usize>, Affine)> + use<'a, 'i> {
    let is_alone = |node: &Node<'a, 'i>| {
        let only = node.parent().is_some_and(|parent| parent.children().filter(is_drawn).count() == 1);
        only && node.parent().is_some_and(|parent| is_plain_group(parent))
    };
    let outer = move |node: &Node<'a, 'i>| if is_alone(node) { node.parent() } else { None };
    let mut space = place;
    std::iter::successors(Some(node), outer).map(move |node| {
        let own = node.attribute("transform").and_then(own_transform).unwrap_or(Affine::IDENTITY);
        space *= own.inverse();
        (node.range(), space)
    })
}

/// Whether a group does nothing but place what is in it.
fn is_plain_group(node: Node<'_, '_>) -> bool {
    let harmless = ["id", "transform", "fill", "stroke", "stroke-width"];
    node.has_tag_name("g") && node.attributes().all(|attribute| harmless.contains(&attribute.name()))
}

/// Whether a transform is nothing but moves and even scaling.
fn lies_straight(place: Affine) -> bool {
    let [a, b, c, d, ..] = place.as_coeffs();
    b.abs().max(c.abs()).max((a - d).abs()) <= a.abs() * 1e-4 && a > 0.0
}

fn own_transform(text: &str) -> Option<Affine> {
    let t = svgtypes::Transform::from_str(text).ok()?;
    Some(Affine::new([t.a, t.b, t.c, t.d, t.e, t.f]))
}
