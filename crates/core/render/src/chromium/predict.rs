//! Predicting how a browser draws a lowered piece.

use std::sync::Arc;

use super::element::painted_as;
use super::renderer::{CSS, SVG};
use crate::blend::{BlendMode, blend, over_in_8_bits};
use crate::budget;
use crate::compose::{
    Canvas, MaskCache, RenderOptions, Rounding, Viewport, picture, render, render_onto, render_over,
};
use crate::geometry::{RoundedBox, Silhouette};
use crate::lower::{Graph, Input, Lowered, LoweredFilter, Notes, Step, Target, best_target, exact_target};
use crate::model::{Id, Surface};
use crate::picture::{Bitmap, Picture};
use crate::raster::Fit;
use crate::resolve::{Coat, Paint, PaintOp, Piece, Scene};

/// The design beside the prediction.
#[derive(Debug, Clone, PartialEq)]
pub struct Predicted {
    /// Everything below the piece, without the piece.
    pub before: Picture,
    /// As it was designed.
    pub designed: Picture,
    /// As a browser draws the lowered piece.
    pub shown: Picture,
}

impl Predicted {
    /// White where both pictures are alike, black where they are 32/255 apart or more.
    #[must_use]
    pub fn difference(&self) -> Picture {
        let apart = |(a, b): (&[u8], &[u8])| {
            let most = a.iter().zip(b).take(3).map(|(a, b)| a.abs_diff(*b)).max().unwrap_or(0);
            let grey = 255 - most.saturating_mul(8);
            [grey, grey, grey, 255]
        };
        let pairs = self.designed.rgba.chunks(4).zip(self.shown.rgba.chunks(4));
        Picture { rgba: pairs.flat_map(apart).collect(), ..self.designed }
    }
}

/// Draws a piece of a scene, with everything below it, as it was designed and as a browser draws the lowered piece.
/// `None` when there is no such piece.
#[must_use]
pub fn predicted(
    scene: &Scene,
    lowered: &Lowered,
    viewport: &Viewport,
    cache: &MaskCache,
) -> Option<Predicted> {
    let at = scene.pieces.iter().position(|piece| piece.id == lowered.element.id)?;
    let exact = |pieces: Vec<Piece>| {
        let shown = scene.with_pieces(scene.pieces[..at].iter().cloned().chain(pieces).collect());
        render(&shown, viewport, &RenderOptions::default(), cache)
    };
    let (before, piece) = (exact(Vec::new()), &scene.pieces[at]);
    let designed = render_onto(&before, piece, viewport, cache).unwrap_or_else(|| exact(vec![piece.clone()]));
    let [before, designed] = [before, designed].map(|canvas| canvas.to_picture(Rounding::Nearest));
    let lower = scene.with_pieces(scene.pieces[..at].to_vec());
    let shown = shown_by_browser(&lower, lowered, viewport, cache);
    Some(Predicted { before, designed, shown: shown.to_picture(Rounding::Nearest) })
}

/// A scene with a lowered piece on top of it, as a browser draws both.
fn shown_by_browser(lower: &Scene, lowered: &Lowered, viewport: &Viewport, cache: &MaskCache) -> Canvas {
    let with = |pieces: Vec<Piece>| Scene {
        pieces: lower.pieces.iter().cloned().chain(pieces).collect(),
        ..lower.clone()
    };
    if lowered.filter.is_none() {
        return browser(&with(painted(lowered, viewport, cache)), viewport, cache);
    }
    let below = browser(&with(vec![only(&lowered.element, true)]), viewport, cache);
    with_filtered(below, lowered, viewport, cache)
}

/// The element of a lowered piece, as a browser paints it.
fn painted(lowered: &Lowered, viewport: &Viewport, cache: &MaskCache) -> Vec<Piece> {
    let element = with_members_as_drawn(&lowered.element, viewport, cache);
    painted_as(&element, lowered.target, viewport.scale)
}

/// Everything of a scene as a browser draws it from the code of its pieces, lowest first; anything the code does not
/// say is not drawn. The view is of the whole scene.
#[must_use]
pub fn scene_of_code(scene: &Scene, code: &[Lowered], viewport: &Viewport, cache: &MaskCache) -> Picture {
    let ground = scene.with_pieces(Vec::new());
    let options = RenderOptions { mode: CSS, ..RenderOptions::default() };
    let over = |below: Canvas, pieces: &[Piece]| render_over(below, pieces, viewport, &options, cache);
    let put = |below: Canvas, lowered: &Lowered| match &lowered.filter {
        None => over(below, &painted(lowered, viewport, cache)),
        Some(_) => {
            let below = over(below, &[only(&lowered.element, true)]);
            with_filtered(below, lowered, viewport, cache)
        }
    };
    code.iter().fold(browser(&ground, viewport, cache), put).to_picture(Rounding::Nearest)
}

/// A lowered piece, put through its filter, on a picture of everything below it.
fn with_filtered(mut below: Canvas, lowered: &Lowered, viewport: &Viewport, cache: &MaskCache) -> Canvas {
    below.round_to_8_bits();
    let Some(own) = filtered(lowered, viewport, cache) else { return below };
    let (opacity, mode) = (lowered.element.opacity as f32, lowered.element.blend);
    for (below, own) in below.pixels.iter_mut().zip(&own.pixels) {
        *below = match mode {
            BlendMode::Normal if opacity >= 1.0 => over_in_8_bits(*own, *below),
            mode => blend(mode, own.map(|part| part * opacity), *below),
        };
    }
    below
}

/// A scene as a browser draws it: each piece as the CSS that is closest to it, with its whole pixels and its 8 bits, and
/// what CSS cannot express as it was designed. `filters` are coats that are written as a `filter` on their piece.
#[must_use]
pub fn shown_as_css(
    scene: &Scene,
    filters: &[Id],
    viewport: &Viewport,
    part: &RenderOptions,
    cache: &MaskCache,
) -> Picture {
    let natural = |piece: &Piece| match &piece.silhouette {
        Silhouette::Outline(outline) if outline.text().is_some() => Target::TextShadow,
        Silhouette::Box(_) => Target::BoxShadow,
        Silhouette::Outline(_) | Silhouette::Alpha(_) | Silhouette::Drawing(_) => Target::DropShadow,
    };
    let paint = |piece: &Piece| painted_as(piece, natural(piece), viewport.scale);
    if filters.is_empty() {
        let pieces = scene.pieces.iter().flat_map(paint).collect();
        let part = RenderOptions { mode: CSS, ..part.clone() };
        return picture(&scene.with_pieces(pieces), viewport, &part, Rounding::Nearest, cache);
    }
    let mut lower = scene.with_pieces(Vec::new());
    let mut shown = Canvas::new(0, 0);
    for piece in &scene.pieces {
        let (filter, own): (Vec<Coat>, Vec<Coat>) =
            piece.coats.iter().cloned().partition(|coat| filters.contains(&coat.id));
        let element = piece.with_coats(own);
        let filter = (!filter.is_empty()).then(|| LoweredFilter::Functions(function_graph(&filter)));
        let lowered = Lowered { target: natural(piece), element, filter, notes: Notes::default() };
        shown = shown_by_browser(&lower, &lowered, viewport, cache);
        lower.pieces.push(piece.clone());
    }
    shown.to_picture(Rounding::Nearest)
}

/// Coats that were read from filter functions as those functions, in their order.
fn function_graph(coats: &[Coat]) -> Graph {
    let (mut graph, mut last) = (Graph::default(), Input::Source);
    for coat in coats {
        last = match &coat.op {
            PaintOp::Shadow(shadow) => {
                let (dx, dy, sigma, colour) = (shadow.dx, shadow.dy, shadow.blur / 2.0, shadow.colour());
                graph.add(Step::DropShadow { of: last, dx, dy, sigma, colour })
            }
            PaintOp::Blur(sigma) => graph.add(Step::Blur { of: last, sigma: *sigma }),
            PaintOp::Highlight(_)
            | PaintOp::Tint(_)
            | PaintOp::Stroke { .. }
            | PaintOp::Backdrop(_)
            | PaintOp::Extrude(_)
            | PaintOp::Cast(_) => last,
        };
    }
    graph
}

/// `drop-shadow()` moves by whole device pixels, rounded down (measured in Chromium 156 at 1x and 2x).
fn by_whole_pixels(graph: &Graph, scale: f64) -> Graph {
    let mut graph = graph.clone();
    for step in &mut graph.steps {
        if let Step::DropShadow { dx, dy, .. } = step {
            let whole = |px: f64| (px * scale).floor() / scale;
            (*dx, *dy) = (whole(*dx), whole(*dy));
        }
    }
    graph
}

/// A scene as a browser draws its stand-alone SVG file, as far as the file is exact.
#[must_use]
pub fn shown_as_svg(scene: &Scene, viewport: &Viewport, cache: &MaskCache) -> Picture {
    let part = RenderOptions { mode: SVG, ..RenderOptions::default() };
    render(scene, viewport, &part, cache).to_picture(Rounding::Nearest)
}

/// A piece on its ground as it was designed, and as a browser draws its stand-alone SVG file there.
#[must_use]
pub fn predicted_as_svg(scene: &Scene, piece: &Piece, viewport: &Viewport, cache: &MaskCache) -> Predicted {
    let with = |pieces: Vec<Piece>| scene.with_pieces(pieces);
    let (bare, alone) = (with(Vec::new()), with(vec![piece.clone()]));
    // The file does not hold what lies behind the piece.
    let held = Piece { coats: only(piece, false).coats, ..piece.clone() };
    let designed = picture(&alone, viewport, &RenderOptions::default(), Rounding::Nearest, cache);
    Predicted {
        before: shown_as_svg(&bare, viewport, cache),
        designed,
        shown: shown_as_svg(&with(vec![held]), viewport, cache),
    }
}

fn browser(scene: &Scene, viewport: &Viewport, cache: &MaskCache) -> Canvas {
    render(scene, viewport, &RenderOptions { mode: CSS, ..RenderOptions::default() }, cache)
}

/// The element alone with only its backdrop coats, nothing of itself drawn; or all but those.
fn only(element: &Piece, backdrops: bool) -> Piece {
    let mut piece = element.clone();
    piece.coats.retain(|coat| matches!(coat.op, PaintOp::Backdrop(_)) == backdrops);
    if backdrops {
        piece.surface = Surface::Hide;
        piece.parts.clear();
        piece.members.clear();
        piece.joined = None;
        if !piece.silhouette.is_box() {
            // `backdrop-filter` fills the element's box, whatever is painted in it.
            let (width, height) = piece.silhouette.size();
            piece.silhouette = Silhouette::Box(RoundedBox::new(width, height, [(0.0, 0.0); 4]));
            return piece.with_coats(piece.coats.clone());
        }
    }
    piece
}

/// A group with pictures in place of those groups in it that its code does not draw as they were designed.
fn with_members_as_drawn(group: &Piece, viewport: &Viewport, cache: &MaskCache) -> Piece {
    let members = group.members.iter().map(|member| as_drawn(member, viewport, cache)).collect();
    Piece { members, ..group.clone() }
}

fn as_drawn(member: &Piece, viewport: &Viewport, cache: &MaskCache) -> Piece {
    if member.members.is_empty() {
        return member.clone();
    }
    if exact_target(member, false).is_some() {
        return with_members_as_drawn(member, viewport, cache);
    }
    let lowered = best_target(member, false);
    let Some(drawn) = filtered(&lowered, viewport, cache) else { return member.clone() };
    let (width, height) = (f64::from(viewport.width), f64::from(viewport.height));
    let whole = RoundedBox::new(width / viewport.scale, height / viewport.scale, [(0.0, 0.0); 4]);
    let bitmap = Arc::new(Bitmap::new(drawn.to_picture(Rounding::Nearest)));
    let picture = Piece {
        silhouette: Silhouette::Box(whole),
        x: viewport.x,
        y: viewport.y,
        rotation: 0.0,
        fill: Paint::Image { bitmap, fit: Fit::Stretch, bare: false },
        members: Vec::new(),
        joined: None,
        ..member.clone()
    };
    picture.with_coats(Vec::new())
}

/// The element, painted on nothing and put through its filter, where it has one; surroundings of the view are included as far as the
/// filter reaches.
fn filtered(lowered: &Lowered, viewport: &Viewport, cache: &MaskCache) -> Option<Canvas> {
    match lowered.filter.as_ref()? {
        LoweredFilter::Functions(graph) => {
            Some(run_on_element(lowered, &by_whole_pixels(graph, viewport.scale), viewport, cache))
        }
        LoweredFilter::Svg(graph) => Some(run_on_element(lowered, graph, viewport, cache)),
    }
}

fn run_on_element(lowered: &Lowered, graph: &Graph, viewport: &Viewport, cache: &MaskCache) -> Canvas {
    let own = Piece { opacity: 1.0, blend: Default::default(), ..only(&lowered.element, false) };
    // Nothing of the filter lies farther from the piece than it reaches.
    let far = graph.reach().into_iter().fold(0.0, f64::max);
    let bounds = own.place().transform_rect_bbox(own.outer.bounds()).inflate(far, far);
    let (right, bottom) = (
        viewport.x + f64::from(viewport.width) / viewport.scale,
        viewport.y + f64::from(viewport.height) / viewport.scale,
    );
    let margin = |beyond: f64| (beyond.clamp(0.0, far) * viewport.scale).ceil().min(MARGIN);
    let [left, top, right, bottom] =
        [viewport.x - bounds.x0, viewport.y - bounds.y0, bounds.x1 - right, bounds.y1 - bottom].map(margin);
    let wide = Viewport {
        x: viewport.x - left / viewport.scale,
        y: viewport.y - top / viewport.scale,
        width: viewport.width + (left + right) as u32,
        height: viewport.height + (top + bottom) as u32,
        ..*viewport
    };
    let size = (f64::from(wide.width) / wide.scale, f64::from(wide.height) / wide.scale);
    let own = with_members_as_drawn(&own, &wide, cache);
    let pieces = painted_as(&own, lowered.target, viewport.scale);
    let alone = Scene { width: size.0, height: size.1, ground: Paint::None, pieces, notes: Vec::new() };
    if !budget::spend(graph.cost(u64::from(wide.width) * u64::from(wide.height))) {
        return Canvas::new(viewport.width, viewport.height);
    }
    let mut painted = browser(&alone, &wide, cache);
    painted.round_to_8_bits();
    graph.run(&painted, viewport.scale).crop(left as u32, top as u32, viewport.width, viewport.height)
}

/// Pixels around a picture that a filter can draw from, at most.
const MARGIN: f64 = 600.0;
