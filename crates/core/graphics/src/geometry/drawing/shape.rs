//! A drawing, or a run of its elements, as the shape of a piece.

use std::hash::{Hash, Hasher};
use std::ops::Range;
use std::sync::Arc;

use kurbo::{Affine, Rect as Box};

use super::element::Element;
use super::ink::Painting;
use super::paint::Painter;
use super::read::Drawing;
use crate::blend::Pixel;
use crate::geometry::{AlphaShape, Outline};
use crate::picture::Picture;
use crate::raster::{Rect, Rows};

/// Elements of a drawing in a box. Its silhouette is the alpha of what they paint.
#[derive(Debug, Clone)]
pub struct DrawnShape {
    drawing: Arc<Drawing>,
    elements: Range<usize>,
    /// Width of the box.
    pub width: f64,
    /// Height of the box.
    pub height: f64,
}

impl PartialEq for DrawnShape {
    fn eq(&self, other: &Self) -> bool {
        self.key() == other.key()
    }
}

impl Hash for DrawnShape {
    /// Everything that decides what it looks like.
    fn hash<H: Hasher>(&self, hasher: &mut H) {
        self.key().hash(hasher);
    }
}

impl DrawnShape {
    /// Some elements of a drawing, all of which is fitted to a box.
    #[must_use]
    pub fn new(drawing: Arc<Drawing>, elements: Range<usize>, width: f64, height: f64) -> Self {
        let end = elements.end.min(drawing.elements.len());
        Self { elements: elements.start.min(end)..end, drawing, width, height }
    }

    /// The drawing that it is a part of.
    #[must_use]
    pub fn drawing(&self) -> &Drawing {
        &self.drawing
    }

    /// Its elements, lowest first.
    #[must_use]
    pub fn elements(&self) -> &[Element] {
        &self.drawing.elements[self.elements.clone()]
    }

    /// From the drawing's fine units to the box.
    #[must_use]
    pub fn fit(&self) -> Affine {
        let page = self.drawing.page();
        Affine::scale_non_uniform(self.width / page.width(), self.height / page.height())
    }

    /// The smallest rectangle around what is painted, in px of the box.
    #[must_use]
    pub fn bounds(&self) -> Box {
        let page = self.drawing.page();
        let painted = self.elements().iter().map(|element| element.bounds).reduce(|a, b| a.union(b));
        self.fit().transform_rect_bbox(painted.unwrap_or_default().intersect(page))
    }

    /// Painted over the pixels of a window. `place` leads from the box to device pixels.
    #[must_use]
    pub fn painted(&self, place: Affine, window: Rect) -> Rows<Pixel> {
        let painter = Painter { drawing: &self.drawing, place: place * self.fit() };
        painter.elements(self.elements(), window)
    }

    /// What painting it takes, in px of the box.
    #[must_use]
    pub fn painting(&self) -> Painting {
        let mut painting = Painting::default();
        self.elements().iter().for_each(|element| element.ink.count(element.bounds, &mut painting));
        let scale = self.fit().determinant().abs();
        painting.area *= scale;
        painting.node_area *= scale;
        painting.node_steps *= scale;
        painting.length *= scale.sqrt();
        painting
    }

    /// The line around its alpha, for what is worked out from an outline: spread, thickness.
    #[must_use]
    pub fn outline(&self) -> Arc<Outline> {
        AlphaShape { bitmap: self.traced(), width: self.width, height: self.height }.outline()
    }

    /// A picture of it with a number of pixels on its longer side.
    #[must_use]
    pub fn picture(&self, longest: f64) -> Picture {
        let scale = longest / self.width.max(self.height).max(1e-6);
        let side = |length: f64| ((length * scale).round().max(1.0)) as u32;
        let (width, height) = (side(self.width), side(self.height));
        let place = Affine::scale_non_uniform(f64::from(width) / self.width, f64::from(height) / self.height);
        let window = Rect::new(0, 0, width as i32, height as i32);
        let painted = self.painted(place, window).cropped(window);
        let bytes = painted.values().flat_map(|pixel| {
            let [r, g, b, a] = pixel;
            let straight = |part: f32| if a > 0.0 { part / a } else { 0.0 };
            [straight(r), straight(g), straight(b), a]
                .map(|part| (part.clamp(0.0, 1.0) * 255.0).round() as u8)
        });
        Picture { width, height, rgba: bytes.collect() }
    }

    fn key(&self) -> (u64, Range<usize>, u64, u64) {
        (self.drawing.fingerprint, self.elements.clone(), self.width.to_bits(), self.height.to_bits())
    }
}
