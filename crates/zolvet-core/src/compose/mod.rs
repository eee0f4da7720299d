//! A resolved scene to pixels, in the order of DESIGN §4.3.
//!
//! First every mask and tile the picture needs is made (or taken from the cache), then each piece is painted: what lies
//! behind it is softened, shadows are laid under it from the farthest to the nearest, then its surface with what lies
//! on it.

mod backdrop;
mod cache;
mod canvas;
mod cast;
mod coverage;
mod extrude;
mod layers;
mod paint;
mod tile;
mod tone;

use kurbo::Affine;

use crate::blur;
use crate::model::Id;
use crate::picture::Picture;
use crate::raster::Rect;
use crate::resolve::{Draws, Paint, Piece, Scene};

pub use cache::MaskCache;
pub use canvas::{Canvas, Rounding};
use layers::PieceLayers;

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

    /// From the scene's px to device pixels.
    #[must_use]
    pub fn transform(&self) -> Affine {
        Affine::scale(self.scale) * Affine::translate((-self.x, -self.y))
    }

    /// The same scale over a rectangle of this view's pixels.
    fn over(&self, rect: Rect) -> Self {
        let (x, y) = (f64::from(rect.x0) / self.scale, f64::from(rect.y0) / self.scale);
        let (width, height) = (rect.width() as u32, rect.height() as u32);
        Self { x: self.x + x, y: self.y + y, width, height, ..*self }
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
    /// As browsers draw shadows: never softer than they can, each layer rounded to 8 bits by itself (DESIGN §4.7).
    pub as_browser: bool,
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
    /// All but one.
    Without(Id),
}

impl Coats {
    fn includes(&self, coat: &Id) -> bool {
        match self {
            Self::All => true,
            Self::None => false,
            Self::Only(only) => only == coat,
            Self::Without(left_out) => left_out != coat,
        }
    }
}

/// What all layers of a picture are made for.
struct Scope<'a> {
    part: &'a Part,
    cache: &'a MaskCache,
    window: Rect,
    scale: f64,
    /// From the scene's px to device pixels.
    to_device: Affine,
}

/// Draws a part of a scene.
#[must_use]
pub fn render(scene: &Scene, view: &View, part: &Part, cache: &MaskCache) -> Canvas {
    let window = view.window();
    let needed = behind_panes(scene, view, part, window);
    if needed == window {
        return draw(scene, view, part, cache);
    }
    // Frosted panes take in what lies around the picture.
    let whole = draw(scene, &view.over(needed), part, cache);
    let inset = |outer: i32, inner: i32| u32::try_from(inner - outer).unwrap_or(0);
    whole.cropped(inset(needed.x0, window.x0), inset(needed.y0, window.y0), view.width, view.height)
}

/// Draws a part of a scene straight to 8 bits, large pictures band by band so that they need little memory.
#[must_use]
pub fn picture(scene: &Scene, view: &View, part: &Part, rounding: Rounding, cache: &MaskCache) -> Picture {
    let (width, height) = (view.width, view.height);
    let mut rgba = vec![0; width as usize * height as usize * 4];
    let rows = (BAND / width.max(1)).max(64).min(height.max(1));
    for (band, out) in rgba.chunks_mut((rows * width.max(1) * 4) as usize).enumerate() {
        let top = band as u32 * rows;
        let rect = Rect::new(0, top as i32, width as i32, (top + rows).min(height) as i32);
        let canvas = render(scene, &view.over(rect), part, cache);
        canvas.write(out, i64::from(top), rounding);
    }
    Picture { width, height, rgba }
}

/// Pixels painted at a time.
const BAND: u32 = 3 << 20;

/// The pixels that have to be painted so that those of `window` are right: more where a frosted pane, partly in it,
/// takes in what lies beyond it.
fn behind_panes(scene: &Scene, view: &View, part: &Part, window: Rect) -> Rect {
    let mut needed = window;
    for piece in shown(scene, part).into_iter().rev() {
        let area = box_of(piece, view);
        for coat in piece.coats.iter().filter(|coat| part.coats.includes(&coat.id)) {
            if let Draws::Backdrop(frost) = &coat.draws
                && !area.intersect(needed).is_empty()
            {
                let reach = blur::reach(frost.sigma * view.scale);
                needed = needed.around_both(area.intersect(needed.grown(reach)));
            }
        }
    }
    needed
}

fn shown<'a>(scene: &'a Scene, part: &Part) -> Vec<&'a Piece> {
    let chosen = |piece: &&Piece| part.piece.as_ref().is_none_or(|only| *only == piece.id);
    scene.pieces.iter().filter(chosen).collect()
}

/// The device pixels of a piece's box, with the strokes around it.
fn box_of(piece: &Piece, view: &View) -> Rect {
    let bounds = (view.transform() * piece.place()).transform_rect_bbox(piece.outer.bounds());
    Rect::around(bounds.x0, bounds.y0, bounds.x1, bounds.y1)
}

fn draw(scene: &Scene, view: &View, part: &Part, cache: &MaskCache) -> Canvas {
    let mut canvas = Canvas::new(view.width, view.height);
    if !part.shadow_only {
        paint_ground(&mut canvas, scene, view);
    }
    let scope = Scope { part, cache, window: view.window(), scale: view.scale, to_device: view.transform() };
    let pieces = shown(scene, part);
    let layers = each(&pieces, |piece| PieceLayers::of(piece, view.transform() * piece.place(), &scope));
    for (piece, layers) in pieces.iter().zip(&layers) {
        backdrop::frost(&mut canvas, layers, box_of(piece, view), view.scale);
        paint::paint_piece(&mut canvas, piece, layers, part.as_browser);
    }
    canvas
}

fn paint_ground(canvas: &mut Canvas, scene: &Scene, view: &View) {
    if scene.ground == Paint::None {
        return;
    }
    let sampler = scene.ground.sampler(scene.width, scene.height, view.scale);
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
