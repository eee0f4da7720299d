//! The area that an SVG drawing covers: fills by their rule, strokes as drawn, within clips and masks, as far as it is
//! seen.

use kurbo::{Affine, BezPath, PathEl, Point, Shape as _};
use usvg::tiny_skia_path::PathSegment;
use usvg::{Group, Node, Paint, Tree};

use super::crossings::{MAX_LINES, TooComplex};
use super::polygon::{Region, Rule};
use super::svg_error::{SvgError, lines_limit};
use super::{JoinOp, StrokeCap, StrokeJoin, StrokeSide, StrokeStyle};
use crate::limits;

/// The outline of everything that a drawing covers, filled by the non-zero rule. Curves stay curves where shapes and
/// their holes alone make up the area.
///
/// # Errors
/// [`SvgError`] where there is nothing, or too much.
pub(super) fn outline(tree: &Tree) -> Result<BezPath, SvgError> {
    let mut reader = Reader { lines: 0 };
    let shapes = reader.group(tree.root(), Affine::IDENTITY)?;
    let curves = together(&shapes);
    let region = joined(shapes, JoinOp::Add)?;
    if region.contours.is_empty() {
        return Err(SvgError::Empty);
    }
    let curves = curves.filter(|curves| covers_the_same(curves, &region));
    Ok(curves.unwrap_or_else(|| region.path()))
}

/// The outline of the area that a path fills, placed, filled by the non-zero rule.
///
/// # Errors
/// [`TooComplex`] where its lines are too many or cross too often.
pub(super) fn filled_outline(
    data: &usvg::tiny_skia_path::Path,
    place: Affine,
    rule: usvg::FillRule,
) -> Result<BezPath, TooComplex> {
    Shape::filled(&(place * bezier(data)), rule).map(Shape::outline)
}

/// The outline of the area that a path's stroke covers, placed.
///
/// # Errors
/// As [`filled_outline`].
pub(super) fn stroked_outline(
    data: &usvg::tiny_skia_path::Path,
    place: Affine,
    stroke: &usvg::Stroke,
) -> Result<BezPath, TooComplex> {
    Shape::stroked(&bezier(data), place, stroke).map(Shape::outline)
}

/// The outline of the area that a clip lets through, where that is made of paths.
///
/// # Errors
/// [`SvgError`] where it is not, or its lines are too many.
pub(super) fn clip_outline(clip: &usvg::ClipPath, place: Affine) -> Result<BezPath, SvgError> {
    let mut reader = Reader { lines: 0 };
    let shapes = reader.group(clip.root(), place * affine(clip.transform()))?;
    let curves = together(&shapes);
    let region = joined(shapes, JoinOp::Add)?;
    let curves = curves.filter(|curves| covers_the_same(curves, &region));
    Ok(curves.unwrap_or_else(|| region.path()))
}

/// A shape: its area, and an outline with curves of the same area, where there is one.
struct Shape {
    region: Region,
    curves: Option<BezPath>,
}

impl Shape {
    fn filled(outline: &BezPath, rule: usvg::FillRule) -> Result<Self, TooComplex> {
        let (rule, curves) = match rule {
            usvg::FillRule::NonZero => (Rule::NonZero, outline.clone()),
            usvg::FillRule::EvenOdd => (Rule::EvenOdd, alternating(outline)),
        };
        Ok(Self { region: Region::from_path(outline, rule)?, curves: Some(curves) })
    }

    fn stroked(outline: &BezPath, place: Affine, stroke: &usvg::Stroke) -> Result<Self, TooComplex> {
        // Drawn at the size at which it is placed, so that its curves are as fine there.
        let scale = place.determinant().abs().sqrt();
        if scale <= 0.0 {
            return Ok(Self { region: Region::default(), curves: None });
        }
        let line = line(&(Affine::scale(scale) * outline), stroke, scale)?;
        let curves = place * Affine::scale(1.0 / scale) * line;
        Ok(Self { region: Region::from_path(&curves, Rule::NonZero)?, curves: Some(curves) })
    }

    /// An outline that winds once around its area: its curves, or else the lines of its area.
    fn outline(self) -> BezPath {
        let lines = self.region.path();
        let area = lines.area().abs();
        // Where curves wind twice, or against one another, their signed area is another.
        let winds_once = |curves: &BezPath| (curves.area().abs() - area).abs() <= area * 1e-4;
        let curves = self.curves.filter(|curves| winds_once(curves) && covers_the_same(curves, &self.region));
        curves.unwrap_or(lines)
    }
}

struct Reader {
    /// Straight lines of everything that was read.
    lines: usize,
}

/// The opacity below which something is not seen.
const UNSEEN: f32 = 1.0 / 512.0;

impl Reader {
    /// The shapes of a group, cut to its clips and masks. `placed` is where the drawing that it belongs to lies.
    fn group(&mut self, group: &Group, placed: Affine) -> Result<Vec<Shape>, SvgError> {
        if group.opacity().get() < UNSEEN {
            return Ok(Vec::new());
        }
        let mut shapes = Vec::new();
        for node in group.children() {
            match node {
                Node::Group(inner) => shapes.extend(self.group(inner, placed)?),
                Node::Path(path) if path.is_visible() => self.path(path, placed, &mut shapes)?,
                Node::Path(_) | Node::Image(_) | Node::Text(_) => {}
            }
        }
        let around = placed * affine(group.abs_transform());
        let mut cuts = Vec::new();
        let mut clip = group.clip_path();
        while let Some(one) = clip {
            let shapes = self.group(one.root(), around * affine(one.transform()))?;
            cuts.push(joined(shapes, JoinOp::Add)?);
            clip = one.clip_path();
        }
        let mut mask = group.mask();
        while let Some(one) = mask {
            cuts.push(self.mask(one.root(), one.kind(), around)?);
            mask = one.mask();
        }
        if cuts.is_empty() || shapes.is_empty() {
            return Ok(shapes);
        }
        let whole = joined(shapes, JoinOp::Add)?;
        let region = Region::joined(std::iter::once(whole).chain(cuts).collect(), JoinOp::Intersect)?;
        Ok(vec![Shape { region, curves: None }])
    }

    fn path(&mut self, path: &usvg::Path, placed: Affine, shapes: &mut Vec<Shape>) -> Result<(), SvgError> {
        let transform = placed * affine(path.abs_transform());
        let outline = bezier(path.data());
        if outline.elements().len() > limits::PATH_ELEMENTS {
            let found = outline.elements().len();
            return Err(SvgError::TooLarge { expected: lines_limit(), found });
        }
        if let Some(fill) = path.fill().filter(|fill| is_seen(fill.paint(), fill.opacity().get())) {
            self.push(Shape::filled(&(transform * &outline), fill.rule())?, shapes)?;
        }
        if let Some(stroke) = path.stroke().filter(|stroke| is_seen(stroke.paint(), stroke.opacity().get())) {
            self.push(Shape::stroked(&outline, transform, stroke)?, shapes)?;
        }
        Ok(())
    }

    /// Where a mask lets through more than half (CSS Masking 1, section 7.1).
    fn mask(&mut self, group: &Group, kind: usvg::MaskType, placed: Affine) -> Result<Region, SvgError> {
        let mut open = Region::default();
        for node in group.children() {
            let (inner, is_open) = match node {
                Node::Group(inner) => {
                    (vec![Shape { region: self.mask(inner, kind, placed)?, curves: None }], true)
                }
                Node::Path(path) if path.is_visible() => {
                    let mut shapes = Vec::new();
                    self.path(path, placed, &mut shapes)?;
                    let paint = path.fill().map(|fill| (fill.paint(), fill.opacity().get()));
                    let paint = paint
                        .or_else(|| path.stroke().map(|stroke| (stroke.paint(), stroke.opacity().get())));
                    (shapes, paint.is_some_and(|(paint, opacity)| lets_through(paint, opacity, kind)))
                }
                Node::Path(_) | Node::Image(_) | Node::Text(_) => continue,
            };
            let op = if is_open { JoinOp::Add } else { JoinOp::Subtract };
            open = Region::joined(vec![open, joined(inner, JoinOp::Add)?], op)?;
        }
        Ok(open)
    }

    fn push(&mut self, shape: Shape, shapes: &mut Vec<Shape>) -> Result<(), SvgError> {
        self.lines += shape.region.contours.iter().map(Vec::len).sum::<usize>();
        shapes.push(shape);
        if self.lines > MAX_LINES { Err(TooComplex.into()) } else { Ok(()) }
    }
}

fn joined(shapes: Vec<Shape>, op: JoinOp) -> Result<Region, TooComplex> {
    Region::joined(shapes.into_iter().map(|shape| shape.region).collect(), op)
}

/// Whether anything of a paint is seen: `transparent`, and an opacity of 0, are not.
fn is_seen(paint: &Paint, opacity: f32) -> bool {
    let most = match paint {
        Paint::LinearGradient(gradient) => most_opaque(gradient.stops()),
        Paint::RadialGradient(gradient) => most_opaque(gradient.stops()),
        Paint::Color(_) | Paint::Pattern(_) => 1.0,
    };
    most * opacity >= UNSEEN
}

fn most_opaque(stops: &[usvg::Stop]) -> f32 {
    stops.iter().map(|stop| stop.opacity().get()).fold(0.0, f32::max)
}

/// Whether a mask lets through more than half where this is painted: by its luminance, or its opacity alone.
fn lets_through(paint: &Paint, opacity: f32, kind: usvg::MaskType) -> bool {
    let luminance = |colour: usvg::Color| {
        let [r, g, b] = [colour.red, colour.green, colour.blue].map(|part| f32::from(part) / 255.0);
        0.2126 * r + 0.7152 * g + 0.0722 * b
    };
    let lightest = |stops: &[usvg::Stop]| {
        stops.iter().map(|stop| luminance(stop.color()) * stop.opacity().get()).fold(0.0, f32::max)
    };
    let light = match (kind, paint) {
        (usvg::MaskType::Alpha, _) | (_, Paint::Pattern(_)) => 1.0,
        (_, Paint::Color(colour)) => luminance(*colour),
        (_, Paint::LinearGradient(gradient)) => lightest(gradient.stops()),
        (_, Paint::RadialGradient(gradient)) => lightest(gradient.stops()),
    };
    light * opacity > 0.5
}

/// The outlines of shapes as one, each turned so that it adds to the others; `None` where one has none.
fn together(shapes: &[Shape]) -> Option<BezPath> {
    let mut all = BezPath::new();
    for shape in shapes {
        let curves = shape.curves.as_ref()?;
        let turned = if curves.area() < 0.0 { curves.reverse_subpaths() } else { curves.clone() };
        all.extend(turned);
    }
    (all.elements().len() <= limits::PATH_ELEMENTS).then_some(all)
}

/// The same outline with holes turned against the contours around them, so that the non-zero rule fills the same area
/// as the even-odd rule.
fn alternating(outline: &BezPath) -> BezPath {
    let contours: Vec<BezPath> = split(outline);
    if contours.len() > MAX_CONTOURS {
        return outline.clone();
    }
    let mut all = BezPath::new();
    for (at, contour) in contours.iter().enumerate() {
        let Some(PathEl::MoveTo(start)) = contour.elements().first().copied() else { continue };
        let around = contours.iter().enumerate().filter(|(other, _)| *other != at);
        let depth = around.filter(|(_, other)| other.winding(start) != 0).count();
        let is_against = (contour.area() < 0.0) != (depth % 2 == 1);
        all.extend(if is_against { contour.reverse_subpaths() } else { contour.clone() });
    }
    all
}

/// Contours of which each is looked at with all others.
const MAX_CONTOURS: usize = 200;

fn split(outline: &BezPath) -> Vec<BezPath> {
    let mut contours: Vec<BezPath> = Vec::new();
    for element in outline.elements() {
        if matches!(element, PathEl::MoveTo(_)) {
            contours.push(BezPath::new());
        }
        if let Some(last) = contours.last_mut() {
            last.push(*element);
        }
    }
    contours
}

/// Whether an outline with curves covers the same area as a region.
fn covers_the_same(curves: &BezPath, region: &Region) -> bool {
    let Ok(other) = Region::from_path(curves, Rule::NonZero) else { return false };
    let whole = region.path().area().abs();
    let differing = Region::joined(vec![other, region.clone()], JoinOp::Exclude);
    differing.is_ok_and(|differing| differing.path().area().abs() <= whole * 1e-3)
}

/// The outline of a stroke along a line that was enlarged.
fn line(outline: &BezPath, stroke: &usvg::Stroke, scale: f64) -> Result<BezPath, TooComplex> {
    let dashes: Vec<f64> =
        stroke.dasharray().unwrap_or_default().iter().map(|dash| f64::from(*dash) * scale).collect();
    let dashed = dashed(outline, &dashes, f64::from(stroke.dashoffset()) * scale)?;
    let miter = f64::from(stroke.miterlimit().get());
    Ok(pen_of(stroke, scale).stroke_path(dashed.as_ref().unwrap_or(outline), miter))
}

/// The pen of a stroke that was enlarged.
pub(super) fn pen_of(stroke: &usvg::Stroke, scale: f64) -> StrokeStyle {
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
    let width = f64::from(stroke.width().get()) * scale;
    StrokeStyle { width, side: StrokeSide::Centre, join, cap }
}

/// Dashes that a line may be cut into: many that touch cross one another everywhere.
const MAX_DASHES: f64 = 400.0;

/// A line cut into dashes; `None` where it has none.
fn dashed(line: &BezPath, dashes: &[f64], offset: f64) -> Result<Option<BezPath>, TooComplex> {
    let period: f64 = dashes.iter().sum();
    if period <= 0.0 || !offset.is_finite() {
        return Ok(None);
    }
    if line.perimeter(0.1) / period * dashes.len() as f64 > MAX_DASHES {
        return Err(TooComplex);
    }
    Ok(Some(kurbo::dash(line.iter(), offset, dashes).collect()))
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
