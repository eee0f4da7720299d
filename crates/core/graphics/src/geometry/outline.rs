//! Outlines of any shape.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use kurbo::{BezPath, PathEl, Point, Rect, Shape as _, Size};

use super::text_shape::SetText;

/// An outline with the size of the box it belongs to.
#[derive(Debug, Clone, PartialEq)]
pub struct Outline {
    /// Filled by the non-zero rule.
    pub path: BezPath,
    /// Width of the box.
    pub width: f64,
    /// Height of the box.
    pub height: f64,
    /// The smallest rectangle around the path.
    pub bounds: Rect,
    /// Where each glyph of set text begins, counted in elements of the path; empty for other shapes.
    glyphs: Vec<usize>,
    /// The text.
    text: Option<Arc<SetText>>,
    too_complex: bool,
    /// The length of its lines and of its curves' handles, in px: the time to draw it grows with that.
    length: f64,
    fingerprint: u64,
}

impl Outline {
    /// An outline in a box.
    #[must_use]
    pub fn new(path: BezPath, width: f64, height: f64) -> Self {
        let mut hasher = DefaultHasher::new();
        // Gradients and pictures cover the box, whatever part of it the path fills.
        (width.to_bits(), height.to_bits()).hash(&mut hasher);
        for element in path.elements() {
            std::mem::discriminant(element).hash(&mut hasher);
            if let Some(end) = element.end_point() {
                (end.x.to_bits(), end.y.to_bits()).hash(&mut hasher);
            }
            for control in control_points(element) {
                (control.x.to_bits(), control.y.to_bits()).hash(&mut hasher);
            }
        }
        let bounds = path.bounding_box();
        let length = length_of(&path);
        let (glyphs, text, too_complex) = (Vec::new(), None, false);
        let fingerprint = hasher.finish();
        Self { path, width, height, bounds, glyphs, text, too_complex, length, fingerprint }
    }

    /// An empty outline in place of one that would take too long to make.
    pub(super) fn too_complex(width: f64, height: f64) -> Self {
        Self { too_complex: true, ..Self::new(BezPath::new(), width, height) }
    }

    /// The text that it is the outline of.
    #[must_use]
    pub fn text(&self) -> Option<&SetText> {
        self.text.as_deref()
    }

    /// Whether it is empty because its lines are too many or cross too often.
    #[must_use]
    pub fn is_too_complex(&self) -> bool {
        self.too_complex
    }

    /// The outline of set text, glyph by glyph.
    #[must_use]
    pub fn from_glyphs(
        glyphs: impl IntoIterator<Item = BezPath>,
        Size { width, height }: Size,
        text: &SetText,
    ) -> Self {
        let (mut path, mut starts) = (BezPath::new(), Vec::new());
        for glyph in glyphs {
            starts.push(path.elements().len());
            path.extend(glyph);
        }
        Self { glyphs: starts, text: Some(Arc::new(text.clone())), ..Self::new(path, width, height) }
    }

    /// The glyphs of set text one by one, each in the same box; the whole outline for other shapes.
    #[must_use]
    pub fn glyphs(&self) -> Vec<Self> {
        let elements = self.path.elements();
        let ends = self.glyphs.iter().skip(1).copied().chain([elements.len()]);
        let starts = if self.glyphs.is_empty() { &[0][..] } else { &self.glyphs };
        let of = |(start, end): (&usize, usize)| elements.get(*start..end).unwrap_or_default().to_vec();
        let paths = starts.iter().zip(ends).map(of).filter(|path| !path.is_empty());
        paths.map(|path| Self::new(BezPath::from_vec(path), self.width, self.height)).collect()
    }

    /// The length of its lines and of its curves' handles, in px.
    #[must_use]
    pub fn length(&self) -> f64 {
        self.length
    }

    /// Equal for equal paths in equal boxes.
    pub(super) fn fingerprint(&self) -> u64 {
        self.fingerprint
    }
}

fn length_of(path: &BezPath) -> f64 {
    let (mut length, mut at) = (0.0, Point::ZERO);
    for element in path.elements() {
        let starts = matches!(element, PathEl::MoveTo(_));
        for next in control_points(element).chain(element.end_point()) {
            length += if starts { 0.0 } else { (next - at).hypot2().sqrt() };
            at = next;
        }
    }
    length
}

fn control_points(element: &PathEl) -> impl Iterator<Item = Point> {
    let (first, second) = match *element {
        PathEl::QuadTo(control, _) => (Some(control), None),
        PathEl::CurveTo(first, second, _) => (Some(first), Some(second)),
        PathEl::MoveTo(_) | PathEl::LineTo(_) | PathEl::ClosePath => (None, None),
    };
    first.into_iter().chain(second)
}
