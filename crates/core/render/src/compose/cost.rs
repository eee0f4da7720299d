//! Estimates the cost of a picture before it is drawn: steps of about a nanosecond, and bytes.
//!
//! The numbers are those of the reference machine by one thread of a release build, of outlines with an edge at every pixel:
//! those take about what is said, what has few edges a half to a tenth. Spreading long text far takes twice what is said. What
//! they have to be is never too small by a factor that matters.

use kurbo::Affine;

use super::masks::coverage::SHARED;
use super::viewport::{Part, RenderOptions};
use crate::blur;
use crate::geometry::drawing::Painting;
use crate::geometry::{DrawnShape, Silhouette};
use crate::raster::Rect;
use crate::resolve::{Cast, Coat, Extrude, Paint, PaintOp, Piece, Scene, Shadow, ShadowKind, ShadowPaint};

/// Steps and bytes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub(super) struct Cost {
    /// About nanoseconds of one core.
    pub steps: u64,
    /// Bytes in use while it is drawn.
    pub bytes: u64,
}

impl Cost {
    fn add(&mut self, other: Self) {
        self.steps = self.steps.saturating_add(other.steps);
        self.bytes = self.bytes.saturating_add(other.bytes);
    }
}

/// Steps a pixel takes to be …
mod steps {
    /// … composited and written.
    pub const COMPOSITE: f64 = 3.0;
    /// … composited in 8 bits, layer by layer.
    pub const COMPOSITE_IN_BYTES: f64 = 12.0;
    /// … covered by an outline, besides the outline's length.
    pub const COVER: f64 = 1.0;
    /// … for each px of the outline's length.
    pub const ALONG: f64 = 24.0;
    /// … given its distance to an outline.
    pub const DISTANCE: f64 = 40.0;
    /// … for each px of that outline's length.
    pub const SEED: f64 = 400.0;
    /// … for each px of that length, and each px that its edge is moved.
    pub const SEED_A_PX: f64 = 20.0;
    /// … for both of these at most.
    pub const SEEDS: f64 = 400.0;
    /// … blurred where there is no edge.
    pub const BLUR_EVEN: f64 = 5.0;
    /// … blurred near an edge.
    pub const BLUR_NEAR: f64 = 24.0;
    /// … blurred as browsers do it.
    pub const BOXES: f64 = 40.0;
    /// … toned.
    pub const TONE: f64 = 20.0;
    /// … painted in a gradient or picture, and read from it.
    pub const PAINT: f64 = 20.0;
    /// … painted in one colour.
    pub const FLAT: f64 = 1.0;
    /// … softened in four channels.
    pub const SOFTEN: f64 = 80.0;
    /// … put through a group of coats, for each of them.
    pub const GROUP: f64 = 4.0;
}

/// Pixels beside each px of an outline's length that are near an edge.
const NEAR: f64 = 16.0;

/// Steps that a coat or piece takes however small it is.
const LEAST: u64 = 4_000;

/// The cost of some pieces in a part of a picture.
pub(super) fn pieces_cost<'a>(
    pieces: impl IntoIterator<Item = &'a Piece>,
    Part { viewport, window }: Part<'_>,
    options: &RenderOptions,
) -> Cost {
    let mut cost = Cost::default();
    for piece in pieces {
        let place = viewport.transform() * piece.place();
        Estimate { window, scale: viewport.scale, options, cost: &mut cost }.piece(piece, place);
    }
    cost
}

/// The cost of a part of a picture with all that is in it.
pub(super) fn scene_cost(scene: &Scene, part: Part<'_>, options: &RenderOptions) -> Cost {
    let chosen = |piece: &&Piece| options.piece.as_ref().is_none_or(|only| *only == piece.id);
    let mut cost = pieces_cost(scene.pieces.iter().filter(chosen), part, options);
    let pixels = area(part.window);
    cost.steps = cost.steps.saturating_add((pixels * (steps::COMPOSITE + paint(&scene.ground))) as u64);
    cost
}

struct Estimate<'a> {
    window: Rect,
    scale: f64,
    options: &'a RenderOptions,
    cost: &'a mut Cost,
}

fn area(rect: Rect) -> f64 {
    rect.width() as f64 * rect.height() as f64
}

fn paint(paint: &Paint) -> f64 {
    match paint {
        Paint::None | Paint::Solid(_) => steps::FLAT,
        Paint::Linear { .. } | Paint::Radial { .. } | Paint::Image { .. } => steps::PAINT,
    }
}

/// The length of a silhouette's outline in device pixels, where it has one.
fn length(silhouette: &Silhouette, place: Affine) -> f64 {
    match silhouette {
        Silhouette::Outline(outline) => outline.length() * place.determinant().abs().sqrt(),
        Silhouette::Box(_) => 0.0,
        // Any pixel may be an edge.
        Silhouette::Alpha(_) | Silhouette::Drawing(_) => f64::INFINITY,
    }
}

/// Steps that so many pixels take to be blurred, of a silhouette whose outline is that long.
fn blurred(pixels: f64, length: f64) -> f64 {
    pixels * steps::BLUR_EVEN + pixels.min(length * NEAR) * steps::BLUR_NEAR
}

impl Estimate<'_> {
    fn take(&mut self, steps: f64, bytes: f64) {
        self.cost.add(Cost { steps: steps as u64 + LEAST, bytes: bytes as u64 });
    }

    /// The pixels of the window that a silhouette touches once its edge is moved.
    fn touched(&self, silhouette: &Silhouette, place: Affine, by: f64) -> Rect {
        let bounds = place.transform_rect_bbox(silhouette.bounds()).inflate(by, by);
        Rect::around(bounds.x0, bounds.y0, bounds.x1, bounds.y1).intersect(self.window)
    }

    /// Coverage of a silhouette over as many pixels of it as are seen; how many those are.
    fn mask(&mut self, silhouette: &Silhouette, place: Affine, spread: f64, seen: f64) {
        if let Silhouette::Drawing(drawn) = silhouette {
            self.drawing(drawn, place);
        }
        let is_picture = matches!(silhouette, Silhouette::Alpha(_) | Silhouette::Drawing(_));
        // A picture has no line to be followed.
        let length = if is_picture { 0.0 } else { length(silhouette, place) };
        let mut steps = seen * steps::COVER + length * steps::ALONG;
        if is_picture {
            steps += seen * steps::PAINT;
        }
        if spread != 0.0 && !silhouette.is_box() {
            let moved = spread.abs() * self.scale * steps::SEED_A_PX;
            let seeds = (length * (steps::SEED + moved)).min(seen * steps::SEEDS);
            steps += seen * steps::DISTANCE + seeds;
        }
        self.take(steps, seen * 4.0);
    }

    /// The cost of painting a drawing.
    fn drawing(&mut self, drawn: &DrawnShape, place: Affine) {
        let Painting { areas, length, area, nodes, node_area, node_steps } = drawn.painting();
        let scale = place.determinant().abs().sqrt();
        // No element touches more than the window.
        let seen =
            |area: f64, count: usize| (area * scale * scale).min(self::area(self.window) * count as f64);
        let ours = seen(area, areas) * (steps::COVER + steps::COMPOSITE) + length * scale * steps::ALONG;
        // Only the pixels of the window are painted.
        let share = seen(node_area, nodes) / (node_area * scale * scale).max(1.0);
        let others = node_steps * scale * scale * share.min(1.0);
        self.take(ours + others + (areas + nodes) as f64 * LEAST as f64, seen(area.max(node_area), 1) * 40.0);
    }

    /// The cost of compositing a pixel.
    fn composite(&self) -> f64 {
        if self.options.mode.is_exact() { steps::COMPOSITE } else { steps::COMPOSITE_IN_BYTES }
    }

    fn piece(&mut self, piece: &Piece, place: Affine) {
        let coats: Vec<&Coat> =
            piece.coats.iter().filter(|coat| self.options.coats.includes(&coat.id)).collect();
        let body = self.touched(&piece.outer.silhouette, place * piece.outer.place(), 1.0);
        let seen = area(body);
        self.mask(&piece.silhouette, place, 0.0, seen);
        if let Some(clip) = &piece.clip {
            self.mask(&clip.silhouette, place, 0.0, seen);
        }
        for coat in &coats {
            self.coat(piece, coat, place, seen);
        }
        let on = coats.iter().filter(|coat| coat.op.is_on_surface()).count();
        let tile = if on > 0 || !matches!(piece.fill, Paint::None | Paint::Solid(_)) { 16.0 } else { 0.0 };
        self.take(seen * (self.composite() + paint(&piece.fill) + on as f64 * steps::GROUP), seen * tile);
        for part in &piece.parts {
            self.piece(part, place * part.place());
        }
        if !piece.members.is_empty() {
            let to_device = place * piece.place().inverse();
            // At most, its members touch the whole window.
            let pixels = area(self.window);
            self.take(pixels * self.composite(), pixels * 16.0);
            piece.members.iter().for_each(|member| self.piece(member, to_device * member.place()));
        }
    }

    fn coat(&mut self, piece: &Piece, coat: &Coat, place: Affine, seen: f64) {
        match &coat.op {
            PaintOp::Shadow(shadow) => self.shadow(piece, shadow, place, seen),
            PaintOp::Highlight(spot) => {
                let channels = if matches!(spot.paint, Paint::Solid(_)) { 1.0 } else { 4.0 };
                self.mask(&spot.silhouette, place * spot.place, 0.0, seen);
                let blurred = blurred(seen, length(&spot.silhouette, place * spot.place));
                self.take(channels * (blurred + seen * paint(&spot.paint)), seen * 4.0 * channels);
            }
            PaintOp::Tint(tint) => self.take(seen * paint(tint), 0.0),
            PaintOp::Stroke { style, paint: of } => {
                let (outer, inner) = style.around(&piece.silhouette);
                self.mask(&outer.silhouette, place, 0.0, seen);
                self.mask(&inner.unwrap_or(outer).silhouette, place, 0.0, seen);
                self.take(seen * paint(of), 0.0);
            }
            PaintOp::Blur(sigma) => {
                let reach = f64::from(blur::reach(sigma * self.scale));
                let soft = area(self.touched(&piece.outer.silhouette, place * piece.outer.place(), reach));
                self.take(soft * steps::SOFTEN, soft * 32.0);
            }
            PaintOp::Backdrop(_) => self.take(seen * 2.0 * steps::SOFTEN, seen * 40.0),
            PaintOp::Extrude(extrude) => self.extrude(piece, extrude, place),
            PaintOp::Cast(cast) => self.cast(piece, cast, place),
        }
    }

    fn shadow(&mut self, piece: &Piece, shadow: &Shadow, place: Affine, inside: f64) {
        let (silhouette, at) = match &shadow.substitute {
            Some((silhouette, at)) => (silhouette, Affine::translate(*at)),
            None => (&piece.outer.silhouette, piece.outer.place()),
        };
        let moved = Affine::translate((shadow.dx * self.scale, shadow.dy * self.scale)) * place * at;
        let (sigma, spread) = (shadow.blur / 2.0 * self.scale, shadow.spread * self.scale);
        let seen = match shadow.kind {
            ShadowKind::Inner => inside,
            ShadowKind::Drop { .. } => {
                area(self.touched(silhouette, moved, spread.max(0.0) + f64::from(blur::reach(sigma))))
            }
        };
        if seen == 0.0 {
            return self.take(0.0, 0.0);
        }
        // A blur reads its source as far out as its kernel reaches.
        let reach = blur::reach(sigma) + spread.abs().ceil() as i32;
        let window = self.window;
        self.window = window.grown(reach.min(REACH));
        let source = area(self.touched(silhouette, moved, spread.max(0.0)));
        self.window = window;
        self.mask(silhouette, moved, shadow.spread, source);
        let mut steps = seen * self.composite();
        if sigma > 0.0 {
            let exact = self.options.mode.is_exact();
            let pixels = seen + source;
            steps += if exact { blurred(pixels, length(silhouette, moved)) } else { pixels * steps::BOXES };
        }
        if shadow.tone.falloff.is_some() || shadow.tone.grain.is_some() {
            steps += seen * steps::TONE;
        }
        let mut bytes = seen * if sigma > COARSE { 0.5 } else { 4.0 };
        if shadow.paint == ShadowPaint::Picture {
            steps += (seen + source) * (steps::SOFTEN + steps::PAINT);
            bytes += (seen + source) * 24.0;
        }
        self.take(steps, bytes);
    }

    fn extrude(&mut self, piece: &Piece, extrude: &Extrude, place: Affine) {
        let swept = piece.swept(extrude);
        let seen = area(self.touched(&swept, place * piece.outer.place(), 1.0));
        self.mask(&swept, place * piece.outer.place(), 0.0, seen);
        if extrude.near == extrude.far {
            return self.take(seen * self.composite(), 0.0);
        }
        // Every line of the outline fills a swept quadrilateral.
        let length = piece.outer.silhouette.outline().length() * self.scale;
        let swept = length * crate::maths::hypot(extrude.dx, extrude.dy) * self.scale;
        self.take(seen * steps::PAINT + swept * 2.0, seen * 20.0);
    }

    fn cast(&mut self, piece: &Piece, cast: &Cast, place: Affine) {
        let (sharp, soft) = (cast.blur_near.min(cast.blur_far), cast.blur_near.max(cast.blur_far));
        let (sharp, soft) = (sharp / 2.0 * self.scale, soft / 2.0 * self.scale);
        let anchor = place.translation().y;
        let projected = cast.projection(anchor) * place * piece.outer.place();
        let reach = f64::from(blur::reach(soft));
        let seen =
            area(self.touched(&piece.outer.silhouette, projected, reach + cast.anchor.abs() * self.scale));
        // A blur reads its source as far out as its kernel reaches.
        let window = self.window;
        self.window = window.grown((reach as i32).min(REACH));
        let source = area(self.touched(&piece.outer.silhouette, projected, 1.0));
        self.window = window;
        self.mask(&piece.outer.silhouette, projected, 0.0, source);
        let levels =
            (crate::maths::ln(soft.max(1.0) / sharp.max(0.3)) / crate::maths::ln(1.25)).ceil().max(1.0);
        // All levels share the coverage they are made of, unless it is very large.
        let times = if source > SHARED as f64 { levels } else { 3.0 };
        let blurred = blurred(seen + source, length(&piece.outer.silhouette, projected));
        self.take(times * blurred + seen * levels, seen * 8.0);
    }
}

/// Above this σ coverage is stored in cells of several pixels.
const COARSE: f64 = 3.0;
/// Pixels beyond the window that are taken into account at most.
const REACH: i32 = 40_000;
