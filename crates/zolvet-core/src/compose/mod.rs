//! A resolved scene to pixels, in the order of DESIGN §4.3.
//!
//! First every mask the picture needs is made (or taken from the cache), then each piece is painted row by row:
//! shadows under it from the farthest to the nearest, then its fill with what lies on it.

mod cache;
mod canvas;
mod coverage;
mod paint;

use kurbo::Affine;

use crate::model::Id;
use crate::raster::Rect;
use crate::resolve::{Layer, Paint, Piece, Scene};

pub use cache::MaskCache;
pub use canvas::Canvas;
use coverage::Coverage;
use paint::PieceMasks;

/// The part of the scene that is drawn, and how large.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct View {
    /// The scene's x at the picture's left edge.
    pub x: f64,
    /// The scene's y at the picture's top edge.
    pub y: f64,
    /// Device pixels for one CSS px.
    pub scale: f64,
    /// Pixels across.
    pub width: u32,
    /// Pixels down.
    pub height: u32,
}

impl View {
    /// The whole of a scene.
    #[must_use]
    pub fn whole(scene: &Scene, scale: f64) -> Self {
        let pixels = |length: f64| (length * scale).round().max(1.0) as u32;
        let (width, height) = (pixels(scene.width), pixels(scene.height));
        Self { x: 0.0, y: 0.0, scale, width, height }
    }

    fn window(&self) -> Rect {
        let side = |pixels: u32| i32::try_from(pixels).unwrap_or(i32::MAX);
        Rect::new(0, 0, side(self.width), side(self.height))
    }

    fn transform(&self) -> Affine {
        Affine::scale(self.scale) * Affine::translate((-self.x, -self.y))
    }
}

/// What of the scene is drawn.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Part {
    /// Only this piece.
    pub piece: Option<Id>,
    /// Without ground and fills: what the coats alone draw, on transparency.
    pub shadow_only: bool,
    /// Which coats.
    pub coats: Coats,
}

/// Which coats are drawn.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum Coats {
    /// All that are on.
    #[default]
    All,
    /// None: how it was before.
    None,
    /// One of each piece that has it.
    Only(Id),
}

impl Coats {
    fn includes(&self, coat: &Id) -> bool {
        match self {
            Self::All => true,
            Self::None => false,
            Self::Only(only) => only == coat,
        }
    }
}

/// Draws a part of a scene.
#[must_use]
pub fn render(scene: &Scene, view: &View, part: &Part, cache: &MaskCache) -> Canvas {
    let mut canvas = Canvas::new(view.width, view.height);
    if !part.shadow_only {
        paint_ground(&mut canvas, scene, view);
    }
    let chosen = scene.pieces.iter().filter(|piece| match &part.piece {
        Some(only) => *only == piece.id,
        None => true,
    });
    let pieces: Vec<&Piece> = chosen.collect();
    let masks = each(&pieces, |piece| masks_of(piece, view, part, cache));
    for (piece, masks) in pieces.iter().zip(&masks) {
        paint::paint_piece(&mut canvas, piece, masks, placement(piece, view), part.shadow_only);
    }
    canvas
}

/// Every mask one piece needs.
fn masks_of(piece: &Piece, view: &View, part: &Part, cache: &MaskCache) -> PieceMasks {
    let window = view.window();
    let place = placement(piece, view);
    let silhouette = Coverage::plain(&piece.silhouette, place).mask(window, cache);
    let coats: Vec<_> = piece.coats.iter().filter(|coat| part.coats.includes(&coat.id)).collect();
    let coats = each(&coats, |coat| {
        let shadow = &coat.shadow;
        // Offsets do not turn with a rotated piece: light does not.
        let moved = Affine::translate((shadow.dx * view.scale, shadow.dy * view.scale)) * place;
        let spread = match coat.layer {
            Layer::Drop { .. } => shadow.spread,
            Layer::Inner => -shadow.spread,
        };
        let sigma = shadow.blur / 2.0 * view.scale;
        let coverage = Coverage { silhouette: &piece.silhouette, place: moved, spread, sigma };
        // An inner shadow is seen only inside the silhouette.
        let window = match coat.layer {
            Layer::Drop { .. } => window,
            Layer::Inner => window.intersect(silhouette.rect()),
        };
        (coat.layer, coat.blend, shadow.colour, coverage.mask(window, cache))
    });
    PieceMasks { silhouette, coats }
}

/// Where a piece's own px lie on the device.
pub(crate) fn placement(piece: &Piece, view: &View) -> Affine {
    let (width, height) = piece.silhouette.size();
    let turn = if piece.rotation == 0.0 {
        Affine::IDENTITY
    } else {
        Affine::rotate_about(piece.rotation.to_radians(), (width / 2.0, height / 2.0))
    };
    view.transform() * Affine::translate((piece.x, piece.y)) * turn
}

fn paint_ground(canvas: &mut Canvas, scene: &Scene, view: &View) {
    if scene.ground == Paint::None {
        return;
    }
    let sampler = scene.ground.sampler(scene.width, scene.height);
    let (right, bottom) = (scene.width, scene.height);
    canvas.each_row(|row_number, row| {
        let y = view.y + (f64::from(row_number) + 0.5) / view.scale;
        if !(0.0..bottom).contains(&y) {
            return;
        }
        for (column, pixel) in row.iter_mut().enumerate() {
            let x = view.x + (column as f64 + 0.5) / view.scale;
            if (0.0..right).contains(&x) {
                *pixel = sampler.at(kurbo::Point::new(x, y));
            }
        }
    });
}

#[cfg(feature = "threads")]
fn each<T: Sync, R: Send>(items: &[T], work: impl Fn(&T) -> R + Sync + Send) -> Vec<R> {
    use rayon::prelude::*;
    items.par_iter().map(work).collect()
}

#[cfg(not(feature = "threads"))]
fn each<T, R>(items: &[T], work: impl Fn(&T) -> R) -> Vec<R> {
    items.iter().map(work).collect()
}
