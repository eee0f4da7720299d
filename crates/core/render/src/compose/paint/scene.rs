//! A scene ready to be painted: any pixels of it, in any order, without the others.

use std::hash::{Hash, Hasher};
use std::ops::Range;
use std::sync::Arc;

use kurbo::{Affine, Point, Vec2};

use super::backdrop::{BackdropPixels, FilteredBackdrop};
use super::piece::PiecePainter;
use super::solid::{Solid, longest_run_outside};
use crate::blend::Pixel;
use crate::compose::cache::{Key, MaskCache, content_hash};
use crate::compose::canvas::{Canvas, Rounding, in_bytes, write_row};
use crate::compose::context::RenderContext;
use crate::compose::layers::layer::PieceLayers;
use crate::compose::masks::placed_mask::PlacedMask;
use crate::compose::masks::tile::{Tile, TilePixels as _};
use crate::compose::redraw::parts::Painted;
use crate::compose::viewport::{RenderOptions, Viewport};
use crate::maths::snapped;
use crate::parallel::parallel_map;
use crate::raster::{Rect, RowStart};
use crate::resolve::{Paint, PaintOp, Piece, Sampler, Scene};

/// A pixel before the first piece is painted: the ground, or a finished canvas.
pub(in crate::compose) enum InitialBackdrop<'a> {
    Ground(Ground<'a>),
    /// A finished picture of everything below.
    Canvas(&'a Canvas),
    /// Transparency: the members of a group see nothing but one another.
    Nothing,
}

/// A scene ready to be painted.
pub(in crate::compose) struct Painting<'a> {
    below: InitialBackdrop<'a>,
    layers: &'a [PieceLayers],
    /// Lowest first.
    painters: Vec<PiecePainter<'a>>,
    /// Surfaces that hide everything below them, and the numbers of their pieces.
    solids: Vec<(usize, Solid)>,
    /// The filtered backdrop of each piece.
    behind: Vec<Vec<FilteredBackdrop>>,
    window: Rect,
}

impl<'a> Painting<'a> {
    /// Pieces, lowest first, with their layers in a view.
    pub fn new(
        below: InitialBackdrop<'a>,
        pieces: &[&'a Piece],
        layers: &'a [PieceLayers],
        context: &RenderContext<'_>,
    ) -> Self {
        let (window, mode) = (context.window, context.options.mode);
        let painter = |(piece, layers): (&&'a Piece, &'a PieceLayers)| PiecePainter::new(piece, layers, mode);
        let painters: Vec<_> = pieces.iter().zip(layers).map(painter).collect();
        let numbered = painters.iter().enumerate();
        let solids = numbered.filter_map(|(at, painter)| Some((at, painter.solid(window)?))).collect();
        let behind = pieces.iter().map(|_| Vec::new()).collect();
        let mut painting = Self { below, layers, painters, solids, behind, window };
        // A finished canvas has no content key, so nothing derived from it is cached.
        let unkept =
            matches!(painting.below, InitialBackdrop::Canvas(_)).then(|| MaskCache::with_capacity(0));
        let context = RenderContext { cache: unkept.as_ref().unwrap_or(context.cache), ..*context };
        for (at, piece) in pieces.iter().enumerate() {
            painting.soften_behind(at, piece, &context);
        }
        painting
    }

    /// Paints pixels of a row, which start at `x0`.
    pub fn span(&self, y: i32, x0: i32, pixels: &mut [Pixel]) {
        self.up_to(self.painters.len(), RowStart { y, x0 }, pixels);
    }

    /// As [`Self::span`], in 8 bits; the pixels are worked out in `room`.
    pub fn write(
        &self,
        RowStart { y, x0 }: RowStart,
        out: &mut [u8],
        rounding: Rounding,
        room: &mut Vec<Pixel>,
    ) {
        let width = out.len() / 4;
        room.resize(width, [0.0; 4]);
        let mut painted = |columns: Range<usize>, out: &mut [u8]| {
            let (pixels, x0) = (&mut room[columns.clone()], x0 + columns.start as i32);
            self.span(y, x0, pixels);
            write_row(out, pixels, (i64::from(x0), i64::from(y)), rounding);
        };
        let solid = self.solid(y, x0, width).filter(|_| rounding == Rounding::Nearest);
        let Some((columns, colour)) = solid else { return painted(0..width, out) };
        let (left, rest) = out.split_at_mut(columns.start * 4);
        let (middle, right) = rest.split_at_mut(columns.len() * 4);
        painted(0..columns.start, left);
        middle.as_chunks_mut().0.fill(in_bytes(colour));
        painted(columns.end..width, right);
    }

    /// The pixels that anything but the ground may be in.
    pub fn touched(&self) -> Rect {
        self.parts().into_iter().fold(Rect::default(), |all, part| all.around_both(part.rect))
    }

    /// The longest run of a row that is of one opaque colour in the end, because a surface fills it and nothing lies in front.
    fn solid(&self, y: i32, x0: i32, width: usize) -> Option<(Range<usize>, Pixel)> {
        let (piece, columns, colour) = self.hiding(self.painters.len(), RowStart { y, x0 }, width)?;
        let front = self.painters[piece + 1..].iter().zip(&self.layers[piece + 1..]);
        let left = front.fold(columns, |run, (painter, layers)| {
            let run = longest_run_outside(run, &painter.columns(y, x0, width));
            // What a piece softens behind it, it softens within its outline.
            longest_run_outside(run, &layers.outer.columns(y, x0, width))
        });
        (!left.is_empty()).then_some((left, colour))
    }

    /// Paints the first pieces. Where one of them hides all below it, only the pieces in front of it are painted.
    fn up_to(&self, pieces: usize, RowStart { y, x0 }: RowStart, pixels: &mut [Pixel]) {
        let Some((piece, columns, colour)) = self.hiding(pieces, RowStart { y, x0 }, pixels.len()) else {
            self.start(y, x0, pixels);
            return self.pieces(0..pieces, RowStart { y, x0 }, pixels);
        };
        pixels[columns.clone()].fill(colour);
        self.up_to(piece + 1, RowStart { y, x0 }, &mut pixels[..columns.start]);
        self.up_to(piece + 1, RowStart { y, x0: x0 + columns.end as i32 }, &mut pixels[columns.end..]);
        self.pieces(piece + 1..pieces, RowStart { y, x0 }, pixels);
    }

    /// The longest run of a row in which one of the first pieces hides all that is below it: which piece, and its colour there.
    fn hiding(
        &self,
        pieces: usize,
        RowStart { y, x0 }: RowStart,
        width: usize,
    ) -> Option<(usize, Range<usize>, Pixel)> {
        let solids = self.solids.iter().take_while(|(piece, _)| *piece < pieces);
        let runs = solids.map(|(piece, solid)| (*piece, solid.columns(y, x0, width), solid.colour));
        runs.filter(|(_, columns, _)| !columns.is_empty()).max_by_key(|(_, columns, _)| columns.len())
    }

    /// Paints some pieces over the picture there.
    fn pieces(&self, pieces: Range<usize>, RowStart { y, x0 }: RowStart, pixels: &mut [Pixel]) {
        for at in pieces {
            self.painters[at].paint(&self.behind[at], RowStart { y, x0 }, pixels);
        }
    }

    /// Everything that is painted, in order.
    pub fn parts(&self) -> Vec<Painted> {
        let mut parts = Vec::new();
        for (at, painter) in self.painters.iter().enumerate() {
            let shown = self.layers[at].outer.rect();
            let softened = self.behind[at].iter().map(|softened| softened.key[0]);
            parts.extend(softened.map(|key| Painted { key, rect: shown, under: None, source: None }));
            painter.parts(&mut parts);
        }
        parts
    }

    /// The silhouette that a part says it lies under.
    pub fn cover(&self, under: u64) -> Option<&PlacedMask> {
        self.painters.iter().find_map(|painter| painter.cover(under))
    }

    fn start(&self, y: i32, x0: i32, pixels: &mut [Pixel]) {
        match &self.below {
            InitialBackdrop::Ground(ground) => ground.paint(y, x0, pixels),
            InitialBackdrop::Nothing => pixels.fill([0.0; 4]),
            InitialBackdrop::Canvas(canvas) => {
                let start = y as usize * canvas.width as usize + x0 as usize;
                pixels.copy_from_slice(&canvas.pixels[start..start + pixels.len()]);
            }
        }
    }

    /// All that the first pieces show in a rectangle.
    fn describe_up_to(&self, pieces: usize, rect: Rect, hasher: &mut impl Hasher) {
        for (layers, behind) in self.layers.iter().zip(&self.behind).take(pieces) {
            for softened in behind.iter().filter(|_| !layers.outer.rect().intersect(rect).is_empty()) {
                softened.key.hash(hasher);
            }
            layers.describe(rect, hasher);
        }
    }

    /// Softens the backdrop of a piece, as far as it is painted by the pieces before it. An unchanged backdrop is not
    /// softened anew.
    fn soften_behind(&mut self, at: usize, piece: &Piece, context: &RenderContext<'_>) {
        let (layers, cache) = (&self.layers[at], context.cache);
        let area = device_box(piece, context.to_device).intersect(self.window);
        if area.is_empty() {
            return;
        }
        for (backdrop, mode, opacity) in layers.behind.iter().rev() {
            let behind = content_hash(|hasher| {
                ("behind", self.below_fingerprint(), area).hash(hasher);
                context.to_device.as_coeffs().map(f64::to_bits).hash(hasher);
                self.behind[at].iter().for_each(|softened| softened.key.hash(hasher));
                self.describe_up_to(at, area, hasher);
            });
            let shown = layers.outer.rect();
            let key = content_hash(|hasher| {
                ("backdrop", behind, layers.key, shown, *mode as u8, opacity.to_bits()).hash(hasher);
                backdrop.fingerprint(hasher);
            });
            let tile = cache.tile(Key { content: key, clip: area }, || {
                let pixels = cache.tile(Key { content: behind, clip: area }, || {
                    let mut pixels = Tile::empty(area);
                    pixels.each_row(|y, row| self.span_behind(at, y, area.x0, row));
                    pixels
                });
                BackdropPixels { pixels, key: behind }.softened(backdrop, shown, context.scale, cache)
            });
            let in_group = matches!(self.below, InitialBackdrop::Nothing);
            self.behind[at].push(FilteredBackdrop { tile, key, mode: *mode, opacity: *opacity, in_group });
        }
    }

    /// Pixels of a row of a piece's backdrop, with the part that is softened so far.
    fn span_behind(&self, at: usize, y: i32, x0: i32, pixels: &mut [Pixel]) {
        self.up_to(at, RowStart { y, x0 }, pixels);
        self.behind[at].iter().for_each(|softened| softened.apply(&self.layers[at].outer, y, x0, pixels));
    }

    fn below_fingerprint(&self) -> u64 {
        match &self.below {
            InitialBackdrop::Ground(ground) => ground.fingerprint(),
            InitialBackdrop::Canvas(_) => 0,
            InitialBackdrop::Nothing => 1,
        }
    }
}

/// The device pixels of a piece's box, with the strokes around it.
pub(in crate::compose) fn device_box(piece: &Piece, to_device: Affine) -> Rect {
    let bounds = snapped(to_device * piece.place()).transform_rect_bbox(piece.outer.bounds());
    Rect::around(bounds.x0, bounds.y0, bounds.x1, bounds.y1)
}

pub(in crate::compose) fn has_backdrop(piece: &Piece) -> bool {
    piece.coats.iter().any(|coat| matches!(coat.op, PaintOp::Backdrop(_)))
}

/// The layers of pieces that are on the scene.
pub(in crate::compose) fn layers(pieces: &[&Piece], context: &RenderContext<'_>) -> Vec<PieceLayers> {
    parallel_map(pieces, |piece| PieceLayers::new(piece, context))
}

/// The ground of a scene.
pub(in crate::compose) struct Ground<'a> {
    own: u64,
    viewport: &'a Viewport,
    size: (f64, f64),
    sampler: Option<Sampler>,
    /// All of it in the view, where that is kept.
    kept: Option<Arc<Tile>>,
}

impl<'a> Ground<'a> {
    pub fn new(scene: &Scene, viewport: &'a Viewport, options: &RenderOptions) -> Self {
        let size = (scene.width, scene.height);
        let sampler = (!options.shadow_only && scene.ground != Paint::None)
            .then(|| scene.ground.sampler(size.0, size.1, viewport.scale));
        Self { own: scene.ground.fingerprint(), viewport, size, sampler, kept: None }
    }

    /// With its pixels kept for the next pictures of the same view, where they take longer to work out than to copy.
    pub fn kept_in(mut self, cache: &MaskCache) -> Self {
        let window = self.viewport.window();
        if matches!(self.sampler, None | Some(Sampler::Flat(_))) || !cache.keeps_tile(window) {
            return self;
        }
        let Viewport { x, y, scale, .. } = self.viewport;
        let content = content_hash(|hasher| {
            ("ground", self.fingerprint(), x.to_bits(), y.to_bits(), scale.to_bits()).hash(hasher);
        });
        self.kept = Some(cache.tile(Key { content, clip: window }, || {
            let mut tile = Tile::empty(window);
            tile.each_row(|y, row| self.paint(y, window.x0, row));
            tile
        }));
        self
    }

    /// Equal for grounds that are painted the same in one view.
    pub fn fingerprint(&self) -> u64 {
        let [first, _] = content_hash(|hasher| {
            (self.own, self.sampler.is_some(), self.size.0.to_bits(), self.size.1.to_bits()).hash(hasher);
        });
        first
    }

    /// The colour of every pixel of the view, where it is one.
    pub fn flat(&self) -> Option<Pixel> {
        let Some(Sampler::Flat(colour)) = &self.sampler else { return None };
        let (Viewport { x, y, scale, .. }, window) = (self.viewport, self.viewport.window());
        let within = |from: f64, size: f64, first: i32, end: i32| {
            let middle = |at: i32| from + (f64::from(at) + 0.5) / scale;
            middle(first) >= 0.0 && middle(end - 1) < size
        };
        let is_covered =
            within(*x, self.size.0, window.x0, window.x1) && within(*y, self.size.1, window.y0, window.y1);
        is_covered.then_some(*colour)
    }

    /// Starts pixels of a row, from `x0` on: every one is the ground's, or transparent where there is none.
    fn paint(&self, row_number: i32, x0: i32, pixels: &mut [Pixel]) {
        if let Some(tile) = &self.kept {
            let (_, kept) = tile.span(row_number, x0, pixels.len());
            if kept.len() == pixels.len() {
                return pixels.copy_from_slice(kept);
            }
        }
        let (Some(sampler), Viewport { x, y, scale, .. }) = (&self.sampler, self.viewport) else {
            return pixels.fill([0.0; 4]);
        };
        let y = y + (f64::from(row_number) + 0.5) / scale;
        if !(0.0..self.size.1).contains(&y) {
            return pixels.fill([0.0; 4]);
        }
        // The ground's own first and last pixel of a row do not depend on which of them are painted.
        let end = i64::from(x0) + pixels.len() as i64;
        let edge = |at: f64| (((at - x) * scale - 0.5).ceil() as i64).clamp(i64::from(x0), end);
        let [from, to] = [0.0, self.size.0].map(|at| (edge(at) - i64::from(x0)) as usize);
        if from >= to {
            return pixels.fill([0.0; 4]);
        }
        pixels[..from].fill([0.0; 4]);
        pixels[to..].fill([0.0; 4]);
        let start = Point::new(x + 0.5 / scale, y);
        let before = i64::from(x0) + from as i64;
        sampler.row(start, Vec2::new(1.0 / scale, 0.0), before, &mut pixels[from..to]);
    }
}
