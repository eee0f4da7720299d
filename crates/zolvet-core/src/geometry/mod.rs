//! Geometry of silhouettes, in the piece's own px.

mod rounded_box;
pub mod text;

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use kurbo::{BezPath, PathEl, Point, Rect, Shape as _};

pub use rounded_box::RoundedBox;

/// What a piece's coverage is computed from. Its box starts at 0,0.
#[derive(Debug, Clone, PartialEq)]
pub enum Silhouette {
    /// A box or ellipse; spread keeps its corners' style, as CSS does.
    Box(RoundedBox),
    /// Any other outline; spread is a Euclidean offset.
    Outline(Arc<Outline>),
}

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
    fingerprint: u64,
}

impl Outline {
    /// An outline in a box.
    #[must_use]
    pub fn new(path: BezPath, width: f64, height: f64) -> Self {
        let mut hasher = DefaultHasher::new();
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
        Self { path, width, height, bounds, fingerprint: hasher.finish() }
    }
}

fn control_points(element: &PathEl) -> impl Iterator<Item = Point> {
    let (first, second) = match *element {
        PathEl::QuadTo(control, _) => (Some(control), None),
        PathEl::CurveTo(first, second, _) => (Some(first), Some(second)),
        PathEl::MoveTo(_) | PathEl::LineTo(_) | PathEl::ClosePath => (None, None),
    };
    first.into_iter().chain(second)
}

impl Silhouette {
    /// Width and height of the piece's box.
    #[must_use]
    pub fn size(&self) -> (f64, f64) {
        match self {
            Self::Box(rounded) => (rounded.width, rounded.height),
            Self::Outline(outline) => (outline.width, outline.height),
        }
    }

    /// Whether it is a box (or ellipse), which CSS draws with `box-shadow`.
    #[must_use]
    pub fn is_box(&self) -> bool {
        matches!(self, Self::Box(_))
    }

    /// Equal for equal shapes; what caches tell shapes apart by.
    pub fn fingerprint(&self, hasher: &mut impl Hasher) {
        match self {
            Self::Box(rounded) => {
                0_u8.hash(hasher);
                rounded.numbers().for_each(|number| number.to_bits().hash(hasher));
            }
            Self::Outline(outline) => {
                1_u8.hash(hasher);
                outline.fingerprint.hash(hasher);
            }
        }
    }
}
