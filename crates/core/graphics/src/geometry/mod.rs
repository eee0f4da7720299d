//! Geometry of silhouettes, in the piece's own px.

mod alpha_shape;
mod approximate;
pub mod contour;
pub mod crossings;
pub mod drawing;
pub mod icon;
mod icon_shapes;
mod join;
mod kinds;
mod outline;
mod outline_cache;
pub mod polygon;
mod rounded_box;
mod rounding;
mod stroke;
mod svg_check;
mod svg_error;
mod sweep;
pub mod text;
mod text_shape;

use std::hash::{Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, BezPath, Rect};

pub use alpha_shape::AlphaShape;
pub use drawing::DrawnShape;
pub use join::{Part, joined, path_outline};
pub use kinds::{JoinOp, StrokeCap, StrokeJoin, StrokeSide};
pub use outline::Outline;
pub use rounded_box::RoundedBox;
pub use stroke::StrokeStyle;
pub use text_shape::{Align, SetText, TextShape};

/// The source of a piece's coverage. Its box starts at 0,0.
#[derive(Debug, Clone, PartialEq)]
pub enum Silhouette {
    /// A box or ellipse; spread keeps its corners' style, as CSS does.
    Box(RoundedBox),
    /// Any other outline; spread is a Euclidean offset.
    Outline(Arc<Outline>),
    /// A picture's alpha.
    Alpha(Arc<AlphaShape>),
    /// The alpha of what elements of a drawing paint.
    Drawing(Arc<DrawnShape>),
}

/// A silhouette whose box is moved: a piece's own, changed by its strokes.
#[derive(Debug, Clone, PartialEq)]
pub struct PlacedSilhouette {
    /// Its geometry.
    pub silhouette: Silhouette,
    /// From the piece's left, in px.
    pub x: f64,
    /// From the piece's top, in px.
    pub y: f64,
}

impl PlacedSilhouette {
    /// A silhouette where the piece is.
    #[must_use]
    pub fn plain(silhouette: Silhouette) -> Self {
        Self { silhouette, x: 0.0, y: 0.0 }
    }

    /// From its own px to the piece's.
    #[must_use]
    pub fn place(&self) -> Affine {
        Affine::translate((self.x, self.y))
    }

    /// Its outline, in the piece's px.
    #[must_use]
    pub fn path(&self) -> BezPath {
        self.place() * self.silhouette.outline().path.clone()
    }

    /// Its edge moved outward by a spread in px; nothing where nothing is left.
    #[must_use]
    pub fn spread(&self, by: f64) -> Option<Self> {
        let moved = self.silhouette.spread(by)?;
        Some(Self { x: self.x + moved.x, y: self.y + moved.y, silhouette: moved.silhouette })
    }

    /// The smallest rectangle around it, in the piece's px.
    #[must_use]
    pub fn bounds(&self) -> Rect {
        self.silhouette.bounds() + kurbo::Vec2::new(self.x, self.y)
    }
}

impl Silhouette {
    /// Width and height of the piece's box.
    #[must_use]
    pub fn size(&self) -> (f64, f64) {
        match self {
            Self::Box(rounded) => (rounded.width, rounded.height),
            Self::Outline(outline) => (outline.width, outline.height),
            Self::Alpha(cutout) => (cutout.width, cutout.height),
            Self::Drawing(drawn) => (drawn.width, drawn.height),
        }
    }

    /// Its edge moved outward by a spread in px, as shadows are spread: boxes as CSS does it, everything else round
    /// (docs/rendering.md, "Spread"). Nothing where nothing is left.
    #[must_use]
    pub fn spread(&self, by: f64) -> Option<PlacedSilhouette> {
        if by == 0.0 {
            return Some(PlacedSilhouette::plain(self.clone()));
        }
        if let Self::Box(rounded) = self {
            return Some(PlacedSilhouette { silhouette: Self::Box(rounded.spread(by)?), x: -by, y: -by });
        }
        let (outer, inner) = StrokeStyle::spread(by).around(self);
        if by > 0.0 { Some(outer) } else { inner }
    }

    /// Whether nothing is left of it because its lines are too many or cross too often.
    #[must_use]
    pub fn is_too_complex(&self) -> bool {
        matches!(self, Self::Outline(outline) if outline.is_too_complex())
    }

    /// Whether it is a box (or ellipse), which CSS draws with `box-shadow`.
    #[must_use]
    pub fn is_box(&self) -> bool {
        matches!(self, Self::Box(_))
    }

    /// The smallest rectangle around it.
    #[must_use]
    pub fn bounds(&self) -> Rect {
        match self {
            Self::Outline(outline) => outline.bounds,
            Self::Drawing(drawn) => drawn.bounds(),
            Self::Box(_) | Self::Alpha(_) => {
                let (width, height) = self.size();
                Rect::new(0.0, 0.0, width, height)
            }
        }
    }

    /// It as a path; that of a picture or drawing where its alpha passes one half.
    #[must_use]
    pub fn outline(&self) -> Arc<Outline> {
        match self {
            Self::Box(rounded) => Arc::new(Outline::new(rounded.path(), rounded.width, rounded.height)),
            Self::Outline(outline) => Arc::clone(outline),
            Self::Alpha(cutout) => cutout.outline(),
            Self::Drawing(drawn) => drawn.outline(),
        }
    }

    /// Equal for equal shapes; caches tell shapes apart by it.
    pub fn fingerprint(&self, hasher: &mut impl Hasher) {
        match self {
            Self::Box(rounded) => {
                0_u8.hash(hasher);
                rounded.numbers().for_each(|number| number.to_bits().hash(hasher));
            }
            Self::Outline(outline) => {
                1_u8.hash(hasher);
                outline.fingerprint().hash(hasher);
            }
            Self::Alpha(cutout) => {
                2_u8.hash(hasher);
                cutout.fingerprint(hasher);
            }
            Self::Drawing(drawn) => {
                3_u8.hash(hasher);
                drawn.hash(hasher);
            }
        }
    }
}
