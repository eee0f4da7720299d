//! SVG files to elements in painting order.

use std::sync::Arc;

use kurbo::{Affine, BezPath, Rect, Shape as _};
use usvg::{Group, ImageHrefResolver, Node, Options, Tree};

use super::element::{Element, ElementPaint, ElementText, Untakeable};
use super::file::DrawingFile;
use super::fonts::{MissingFamilies, database};
use super::ink::{Area, Ink, Isolated, NodePath, Paint};
use super::names::{Names, SourceElement, kind_of};
use super::paints::{blend_mode, paint};
use super::texts::single_line;
use super::tree::affine;
use super::work::{MAX_STEPS_A_PIXEL, most_steps, steps_of};
use crate::blend::BlendMode;
use crate::budget;
use crate::colour::Rgba;
use crate::font::Font;
use crate::geometry::StrokeStyle;
use crate::geometry::icon_shapes::{clip_outline, filled_outline, pen_of, stroked_outline};
use crate::geometry::svg_check::parsed;
use crate::geometry::svg_error::SvgError;
use crate::geometry::text::has_family;

/// A drawing as its elements in painting order.
#[derive(Debug)]
pub struct Drawing {
    /// Width in px.
    pub width: f64,
    /// Height in px.
    pub height: f64,
    /// Fine units for one px. Everything in it is in fine units, so that a drawing of few px has smooth curves as well.
    pub fineness: f64,
    /// Lowest first.
    pub elements: Vec<Element>,
    /// Families that its texts ask for and that are not at hand.
    pub missing_families: Vec<String>,
    /// It may paint beyond its own edge, where it is cut.
    pub(super) overflows: bool,
    /// Kept where resvg paints some of it.
    pub(super) tree: Option<Arc<Tree>>,
    /// Equal for drawings that look the same.
    pub(super) fingerprint: u64,
    /// Bytes of memory that it takes, about.
    pub(super) bytes: usize,
}

impl Drawing {
    /// Its edge, in fine units.
    #[must_use]
    pub fn page(&self) -> Rect {
        Rect::new(0.0, 0.0, self.width * self.fineness, self.height * self.fineness)
    }

    /// The only colour that it is painted in, where that is one that lets nothing through.
    #[must_use]
    pub fn only_colour(&self) -> Option<Rgba> {
        let mut found = None;
        for element in &self.elements {
            for area in element.areas()? {
                let ElementPaint::Colour(colour) = area.paint else { return None };
                if colour.a < 1.0 || found.is_some_and(|found| found != colour) {
                    return None;
                }
                found = Some(colour);
            }
        }
        found
    }

    /// Reads a file; its texts are set in the fonts that ship and these.
    ///
    /// # Errors
    /// [`SvgError`] where it draws nothing, or too much.
    pub fn read(file: &DrawingFile, fonts: &[Font]) -> Result<Self, SvgError> {
        let document = parsed(file.text())?;
        let (names, named) = Names::of(&document);
        let missing = MissingFamilies::default();
        let options = Options {
            font_resolver: missing.resolver(),
            fontdb: database(fonts),
            image_href_resolver: own_pictures(),
            ..Options::default()
        };
        let tree = Tree::from_xmltree(&parsed(&named)?, &options)
            .map_err(|error| SvgError::Svg(error.to_string()))?;
        drop(options);
        let (width, height) = (f64::from(tree.size().width()), f64::from(tree.size().height()));
        let fineness = FINE / width.max(height);
        let steps = most_steps(tree.root(), fineness);
        if steps > MAX_STEPS_A_PIXEL {
            let expected = format!("filters of at most {MAX_STEPS_A_PIXEL} steps a pixel");
            return Err(SvgError::TooLarge { expected, found: steps.min(1e15) as usize });
        }
        let mut reader = Reader {
            names: &names,
            elements: Vec::new(),
            areas: 0,
            to_fine: Affine::scale(fineness),
            fineness,
            fonts,
        };
        reader.elements_of(tree.root(), &Around::default())?;
        let elements = reader.elements;
        if elements.is_empty() {
            return Err(SvgError::Empty);
        }
        let page = Rect::new(0.0, 0.0, width * fineness, height * fineness).inflate(0.01, 0.01);
        let overflows = elements.iter().any(|element| !page.contains_rect(element.bounds));
        let missing_families = missing.names();
        let tree = elements.iter().any(|element| element.ink.has_nodes()).then(|| Arc::new(tree));
        let outlines: usize = elements.iter().map(|element| element.ink.outline_bytes()).sum();
        // A tree takes some ten times as much as its file.
        let bytes = outlines + tree.as_ref().map_or(4096, |_| file.text().len() * 10);
        Ok(Self {
            width,
            height,
            fineness,
            elements,
            missing_families,
            overflows,
            tree,
            fingerprint: Self::key_of(file, fonts),
            bytes,
        })
    }
}

/// Pictures that a drawing carries in itself; nothing is read from anywhere else.
fn own_pictures() -> ImageHrefResolver<'static> {
    let carried = ImageHrefResolver::default_data_resolver();
    ImageHrefResolver {
        resolve_data: Box::new(move |kind, data, options| {
            let is_drawing = kind == "image/svg+xml" || kind == "text/plain";
            if is_drawing { None } else { carried(kind, data, options) }
        }),
        resolve_string: Box::new(|_, _| None),
    }
}

/// Fine units along the longer side of a drawing.
const FINE: f64 = 1024.0;

/// The groups around a node.
#[derive(Clone, Default)]
struct Around {
    names: Vec<String>,
    /// The place of each group in the one around it.
    places: Vec<usize>,
}

impl Around {
    fn inside(&self, place: usize, name: Option<&str>) -> Self {
        let mut inside = self.clone();
        inside.places.push(place);
        inside.names.extend(name.map(str::to_owned));
        inside
    }

    fn node(&self, place: usize, (blend, steps): (BlendMode, f64)) -> NodePath {
        NodePath { places: self.places.iter().copied().chain([place]).collect(), blend, steps }
    }
}

struct Reader<'a> {
    names: &'a Names,
    elements: Vec<Element>,
    /// Areas that are painted.
    areas: usize,
    /// From the px of the drawing to fine units.
    to_fine: Affine,
    fineness: f64,
    /// Those that a project brings.
    fonts: &'a [Font],
}

/// Areas that a drawing may have.
const MAX_AREAS: usize = 20_000;

impl Reader<'_> {
    /// The elements of a group whose content lies straight on what is below it.
    fn elements_of(&mut self, group: &Group, around: &Around) -> Result<(), SvgError> {
        for (place, node) in group.children().iter().enumerate() {
            if budget::is_stopped() {
                return Ok(());
            }
            let source = self.names.get(node.id());
            match node {
                Node::Group(inner) if self.only_arranges(inner, source) => {
                    let name = source.and_then(|source| source.name.as_deref());
                    self.elements_of(inner, &around.inside(place, name))?;
                }
                Node::Group(_) | Node::Path(_) | Node::Image(_) | Node::Text(_) => {
                    let Some(ink) = self.ink(node, place, around)? else { continue };
                    let bound = match node {
                        Node::Group(inner) => bound(inner, source),
                        Node::Path(_) | Node::Image(_) | Node::Text(_) => None,
                    };
                    self.add(node, source.cloned(), around, (ink, bound));
                }
            }
        }
        Ok(())
    }

    /// Whether what a group holds can be taken out of it.
    fn only_arranges(&self, group: &Group, source: Option<&SourceElement>) -> bool {
        bound(group, source).is_none()
    }

    /// A rectangle in fine units.
    fn fine(&self, area: usvg::Rect) -> Rect {
        self.to_fine.transform_rect_bbox(rect(area))
    }

    fn add(
        &mut self,
        node: &Node,
        source: Option<SourceElement>,
        around: &Around,
        (ink, bound): (Ink, Option<Untakeable>),
    ) {
        let bounds = self.fine(match node {
            Node::Group(group) => group.abs_layer_bounding_box().to_rect(),
            Node::Path(_) | Node::Image(_) | Node::Text(_) => node.abs_stroke_bounding_box(),
        });
        // A group around a single element, for its opacity or transform, has no name of its own.
        let written = if source.is_some() { node } else { only_child(node).unwrap_or(node) };
        let source = source.or_else(|| self.names.get(written.id()).cloned());
        let tag = source.as_ref().map_or("g", |source| &source.tag).to_owned();
        let own = source.as_ref().and_then(|source| source.name.clone());
        let name = own.unwrap_or_else(|| kind_of(&tag).to_owned());
        let bound = bound.filter(|_| only_child(node).is_none());
        let element = Element {
            name,
            groups: around.names.clone(),
            tag,
            source: source.map(|source| source.range),
            place: self.to_fine * affine(written.abs_transform()),
            bounds,
            before_filters: self.fine(node.abs_stroke_bounding_box()),
            bound,
            text: self.text(only_child(node).unwrap_or(node)),
            ink,
        };
        if blends(&element.ink) {
            return self.join_with_all_below(element);
        }
        self.elements.push(element);
    }

    fn text(&self, node: &Node) -> Option<ElementText> {
        let Node::Text(text) = node else { return None };
        let brought = |name: &str| self.fonts.iter().any(|font| font.family == name);
        single_line(text, self.to_fine, |name| has_family(name) || brought(name))
    }

    /// What blends with all that lies below cannot be taken from it.
    fn join_with_all_below(&mut self, element: Element) {
        let below = std::mem::take(&mut self.elements);
        let bounds = below.iter().fold(element.bounds, |all, below| all.union(below.bounds));
        let inks = below.into_iter().map(|below| below.ink).chain([element.ink]).collect();
        self.elements.push(Element {
            name: element.name,
            groups: Vec::new(),
            tag: "g".to_owned(),
            source: None,
            place: self.to_fine,
            bounds,
            before_filters: bounds,
            bound: Some(Untakeable::Blend),
            text: None,
            ink: Ink::Run(inks),
        });
    }

    /// What a node is painted with; `None` where it paints nothing.
    fn ink(&mut self, node: &Node, place: usize, around: &Around) -> Result<Option<Ink>, SvgError> {
        let steps = steps_of(node, self.fineness);
        Ok(match node {
            Node::Path(path) => self.path(path)?.or_else(|| {
                let is_seen = path.is_visible() && (path.fill().is_some() || path.stroke().is_some());
                is_seen.then(|| Ink::Node(around.node(place, (BlendMode::Normal, steps))))
            }),
            Node::Image(image) => {
                image.is_visible().then(|| Ink::Node(around.node(place, (BlendMode::Normal, steps))))
            }
            Node::Text(text) => {
                let inside = around.inside(place, None);
                self.inks(text.flattened(), &inside, false)?.map(Ink::Run)
            }
            Node::Group(group) => {
                let inside = around.inside(place, None);
                let by_node = || Ink::Node(around.node(place, (blend_mode(group), steps)));
                if group.mask().is_some() || !group.filters().is_empty() {
                    return Ok(Some(by_node()));
                }
                let Some(clips) = self.clips(group)? else { return Ok(Some(by_node())) };
                let Some(inks) = self.inks(group, &inside, true)? else { return Ok(Some(by_node())) };
                if inks.is_empty() {
                    return Ok(None);
                }
                let (opacity, blend) = (group.opacity().get(), blend_mode(group));
                if opacity >= 1.0 && clips.is_empty() && blend == BlendMode::Normal && !group.isolate() {
                    return Ok(Some(Ink::Run(inks)));
                }
                Some(Ink::Group(Isolated { inks, clips, opacity, blend }))
            }
        })
    }

    /// The inks of everything in a group; `None` where it holds something that ours lacks and its nodes have no place in the
    /// tree, as those of a text.
    fn inks(
        &mut self,
        group: &Group,
        around: &Around,
        is_in_tree: bool,
    ) -> Result<Option<Vec<Ink>>, SvgError> {
        let mut inks = Vec::new();
        for (place, node) in group.children().iter().enumerate() {
            let ink = self.ink(node, place, around)?;
            if !is_in_tree && ink.as_ref().is_some_and(Ink::has_nodes) {
                return Ok(None);
            }
            inks.extend(ink);
        }
        Ok(Some(inks))
    }

    /// A path in colours and gradients; `None` where it has another paint, or nothing is seen of it.
    fn path(&mut self, path: &usvg::Path) -> Result<Option<Ink>, SvgError> {
        if !path.is_visible() {
            return Ok(None);
        }
        let place = self.to_fine * affine(path.abs_transform());
        let mut areas = Vec::new();
        let fill = path.fill().map(|fill| (paint(fill.paint(), fill.opacity().get(), place), fill.rule()));
        let stroke =
            path.stroke().map(|stroke| (paint(stroke.paint(), stroke.opacity().get(), place), stroke));
        for is_fill in [
            path.paint_order() == usvg::PaintOrder::FillAndStroke,
            path.paint_order() != usvg::PaintOrder::FillAndStroke,
        ] {
            let (paint, outline, pen) = match (is_fill, &fill, &stroke) {
                (true, Some((paint, rule)), _) => (paint, filled_outline(path.data(), place, *rule), None),
                (false, _, Some((paint, stroke))) => {
                    let scale = place.determinant().abs().sqrt();
                    (paint, stroked_outline(path.data(), place, stroke), Some(pen_of(stroke, scale)))
                }
                (true, None, _) | (false, _, None) => continue,
            };
            // Another paint, and lines that cross too often, are left to resvg.
            let (Some(paint), Ok(outline)) = (paint, outline) else { return Ok(None) };
            areas.push(self.area(outline, paint.clone(), pen)?);
        }
        Ok((!areas.is_empty()).then_some(Ink::Run(areas)))
    }

    fn area(&mut self, outline: BezPath, paint: Paint, pen: Option<StrokeStyle>) -> Result<Ink, SvgError> {
        self.areas += 1;
        if self.areas > MAX_AREAS {
            let expected = format!("at most {MAX_AREAS} areas");
            return Err(SvgError::TooLarge { expected, found: self.areas });
        }
        let (bounds, length) = (outline.bounding_box(), outline.perimeter(0.5));
        Ok(Ink::Area(Area { outline: Arc::new(outline), bounds, length, pen, paint }))
    }

    /// The outlines that a group is clipped to, without those that clip nothing off; `None` where they are not plain areas.
    fn clips(&self, group: &Group) -> Result<Option<Vec<Arc<BezPath>>>, SvgError> {
        let mut clips = Vec::new();
        let mut next = group.clip_path();
        while let Some(clip) = next {
            let place = self.to_fine * affine(group.abs_transform());
            let Ok(outline) = clip_outline(clip, place) else { return Ok(None) };
            if !holds(&outline, self.fine(group.abs_layer_bounding_box().to_rect())) {
                clips.push(Arc::new(outline));
            }
            next = clip.clip_path();
        }
        Ok(Some(clips))
    }
}

/// Why the elements of a group belong together, if they do.
fn bound(group: &Group, source: Option<&SourceElement>) -> Option<Untakeable> {
    let clips_nothing = || {
        let outline = |clip| clip_outline(clip, affine(group.abs_transform()));
        group.clip_path().is_none_or(|clip| {
            clip.clip_path().is_none()
                && outline(clip)
                    .is_ok_and(|outline| holds(&outline, rect(group.abs_layer_bounding_box().to_rect())))
        })
    };
    if source.is_some_and(|source| source.tag == "use") {
        Some(Untakeable::Use)
    } else if !group.filters().is_empty() {
        Some(Untakeable::Filter)
    } else if group.mask().is_some() {
        Some(Untakeable::Mask)
    } else if group.opacity().get() < 1.0 {
        Some(Untakeable::Opacity)
    } else if blend_mode(group) != BlendMode::Normal
        || (group.isolate() && group.children().iter().any(node_blends))
    {
        Some(Untakeable::Blend)
    } else if !clips_nothing() {
        Some(Untakeable::Clip)
    } else {
        None
    }
}

fn node_blends(node: &Node) -> bool {
    match node {
        Node::Group(group) => {
            blend_mode(group) != BlendMode::Normal || group.children().iter().any(node_blends)
        }
        Node::Path(_) | Node::Image(_) | Node::Text(_) => false,
    }
}

/// Whether an ink blends with what lies below it.
fn blends(ink: &Ink) -> bool {
    match ink {
        Ink::Area(_) => false,
        Ink::Run(inks) => inks.iter().any(blends),
        Ink::Group(group) => group.blend != BlendMode::Normal,
        Ink::Node(node) => node.blend != BlendMode::Normal,
    }
}

/// The single node in a group, at any depth.
fn only_child(node: &Node) -> Option<&Node> {
    let Node::Group(group) = node else { return None };
    match group.children() {
        [child @ Node::Group(_)] if child.id().is_empty() => only_child(child),
        [child] => Some(child),
        _ => None,
    }
}

fn rect(rect: usvg::Rect) -> Rect {
    let [x0, y0, x1, y1] = [rect.left(), rect.top(), rect.right(), rect.bottom()].map(f64::from);
    Rect::new(x0, y0, x1, y1)
}

/// Whether an outline is a rectangle, not turned, around another.
fn holds(outline: &BezPath, inner: Rect) -> bool {
    let bounds = outline.bounding_box();
    let is_rectangle = (outline.area().abs() - bounds.area()).abs() <= bounds.area() * 1e-6;
    is_rectangle && bounds.inflate(0.01, 0.01).contains_rect(inner)
}
