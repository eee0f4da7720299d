//! Trying whether an element of a drawing looks the same as a shape of ours.

use std::sync::Arc;

use super::shapes::{Candidate, candidates};
use crate::asset::Assets;
use crate::compose::{Canvas, MaskCache, RenderOptions, Viewport, render};
use crate::geometry::DrawnShape;
use crate::geometry::drawing::Drawing;
use crate::model::{DrawingShape, Fill, OwnCoats, Piece, Project, Px, Scene, Wear};
use crate::resolve;

/// A scene of one piece alone, with some room around the drawing.
pub struct Trial<'a> {
    pub project: &'a Project,
    pub scene: &'a Scene,
    /// Width and height of the whole drawing, in px of the scene.
    pub size: (f64, f64),
    pub assets: &'a Assets,
}

/// An element as a box, ellipse or path where that draws the same, or else as a drawing of it alone.
pub fn as_shape(
    trial: &Trial<'_>,
    own: Piece,
    (drawing, shape): (&Arc<Drawing>, &DrawingShape),
    element: usize,
) -> Piece {
    let found = &drawing.elements[element];
    let (w, h) = (shape.w.get(), shape.h.get());
    let whole = DrawnShape::new(Arc::clone(drawing), 0..usize::MAX, w, h);
    let Some(areas) = found.areas() else { return own };
    let wanted = trial.drawn(own.clone());
    candidates(&found.tag, &areas, whole.fit())
        .into_iter()
        .map(|Candidate { shape, fill, coats, x, y }| Piece {
            shape,
            fill,
            x,
            y,
            wear: Wear::Coats(OwnCoats { coats }),
            ..own.clone()
        })
        .find(|piece| looks_the_same(&wanted, &trial.drawn(piece.clone())))
        .unwrap_or(own)
}

/// Pixels on the longer side of a picture that pieces are compared by.
const TRIED: f64 = 384.0;

impl Trial<'_> {
    fn drawn(&self, mut piece: Piece) -> Canvas {
        let longest = self.size.0.max(self.size.1);
        let room = longest / 16.0;
        piece.x = Px::clamped(piece.x.get() + room);
        piece.y = Px::clamped(piece.y.get() + room);
        let alone = Scene { pieces: vec![piece], ground: Fill::default(), ..self.scene.clone() };
        let mut resolved = resolve::scene(self.project, &alone, self.assets);
        (resolved.width, resolved.height) = (self.size.0 + 2.0 * room, self.size.1 + 2.0 * room);
        let viewport = Viewport::whole(&resolved, TRIED / longest);
        render(&resolved, &viewport, &RenderOptions::default(), &MaskCache::with_capacity(0))
    }
}

/// Whether two pictures differ by no more than rounding, over the pixels that one of them touches: in the mean by a fifth of a
/// 255th, and but for one pixel of a thousand by four.
fn looks_the_same(a: &Canvas, b: &Canvas) -> bool {
    let differences: Vec<f32> = a
        .pixels
        .iter()
        .zip(&b.pixels)
        .filter(|(a, b)| a[3] > 0.0 || b[3] > 0.0)
        .map(|(a, b)| a.iter().zip(b).map(|(a, b)| (a - b).abs()).fold(0.0, f32::max) * 255.0)
        .collect();
    let mean = differences.iter().sum::<f32>() / differences.len().max(1) as f32;
    let far = differences.iter().filter(|difference| **difference > 4.0).count();
    mean <= 0.2 && far * 1000 <= differences.len()
}
