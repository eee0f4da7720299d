//! Chromium's deviations from the standards that change pictures of shadows (docs/rendering.md, "Chromium"; measured in
//! Chromium 156).

use std::sync::Arc;

use kurbo::{Affine, BezPath, PathEl, Point, Vec2};

use super::flatten::in_lines;
use crate::budget;
use crate::geometry::text::{Glyph, to_quarters};
use crate::geometry::{Outline, RoundedBox, SetText, Silhouette, text};
use crate::lower::Target;
use crate::model::Surface;
use crate::resolve::{Coat, PaintOp, Piece, Shadow};

/// Steps that making a piece of a glyph takes.
const STEPS_A_GLYPH: u64 = 10_000;

/// A piece's element as the pieces that Chromium paints for it, lowest first, at `scale` device pixels for one px.
pub(super) fn painted_as(element: &Piece, target: Target, scale: f64) -> Vec<Piece> {
    if element.rotation != 0.0 {
        return vec![element.clone()];
    }
    match &element.silhouette {
        Silhouette::Box(rounded) => vec![snapped(element, rounded, scale)],
        Silhouette::Outline(outline) => match outline.text().filter(|_| target == Target::TextShadow) {
            Some(text) => as_text(element, text, scale),
            None => vec![element.clone()],
        },
        Silhouette::Alpha(_) | Silhouette::Drawing(_) => vec![element.clone()],
    }
}

/// An upright box lies on whole device pixels, to the nearest; its shadows are cast from there.
fn snapped(element: &Piece, rounded: &RoundedBox, scale: f64) -> Piece {
    let whole = |from: f64, length: f64| {
        let pixel = |at: f64| (at * scale + 0.5).floor() / scale;
        (pixel(from), pixel(from + length) - pixel(from))
    };
    let ((x, width), (y, height)) = (whole(element.x, rounded.width), whole(element.y, rounded.height));
    let silhouette = Silhouette::Box(RoundedBox::new(width, height, rounded.radii));
    let piece = Piece { x, y, silhouette, ..element.clone() };
    piece.with_coats(piece.coats.clone())
}

/// Browsers lay out in 64ths of a device pixel, rounded down.
fn laid_out(at: f64) -> f64 {
    (at * 64.0).floor() / 64.0
}

/// A glyph as fonts are scaled to device pixels: its points lie on 64ths of one.
fn in_64ths(path: &BezPath) -> BezPath {
    let near = |at: Point| Point::new((at.x * 64.0).round() / 64.0, (at.y * 64.0).round() / 64.0);
    let element = |element: &PathEl| match *element {
        PathEl::MoveTo(to) => PathEl::MoveTo(near(to)),
        PathEl::LineTo(to) => PathEl::LineTo(near(to)),
        PathEl::QuadTo(a, to) => PathEl::QuadTo(near(a), near(to)),
        PathEl::CurveTo(a, b, to) => PathEl::CurveTo(near(a), near(b), near(to)),
        PathEl::ClosePath => PathEl::ClosePath,
    };
    path.elements().iter().map(element).collect()
}

/// Text is set in device pixels: each glyph, of the text itself and of each of its shadows, stands on a whole one and at
/// a quarter of one across; a shadow is moved from where the text stands. Each glyph casts its own shadow, so that where
/// soft ones of neighbours meet they lie over one another.
fn as_text(element: &Piece, text: &SetText, scale: f64) -> Vec<Piece> {
    if !budget::spend(text.shape.string.len() as u64 * (element.coats.len() + 1) as u64 * STEPS_A_GLYPH) {
        return vec![element.clone()];
    }
    let set = text::set(&text.shape, &text.faces, scale);
    // A glyph's outline in the piece's px, moved by a shadow's offset.
    let placed_mask = |glyph: &Glyph, (dx, dy): (f64, f64)| {
        let whole = |y: f64| (y + 0.5).floor();
        let x = to_quarters(laid_out(element.x * scale) + dx * scale + glyph.x);
        let y = whole(whole(laid_out(element.y * scale) + glyph.baseline) + dy * scale);
        let to_px = Affine::translate((-element.x, -element.y)) * Affine::scale(1.0 / scale);
        let place = Affine::translate((x, y));
        to_px
            * if glyph.has_cubics {
                in_lines(&(place * glyph.path.clone()))
            } else {
                place * in_64ths(&glyph.path)
            }
    };
    let (width, height) = element.silhouette.size();
    let together = |offset: (f64, f64)| {
        let glyphs = set.glyphs.iter().map(|glyph| placed_mask(glyph, offset));
        Silhouette::Outline(Arc::new(Outline::from_glyphs(glyphs, kurbo::Size { width, height }, text)))
    };
    let (drops, others): (Vec<Coat>, Vec<Coat>) =
        element.coats.iter().cloned().partition(|coat| matches!(coat.op, PaintOp::Shadow(_)));
    let mut body = Piece { silhouette: together((0.0, 0.0)), ..element.clone() };
    body = body.with_coats(others);
    let mut pieces = Vec::new();
    for coat in drops.iter().rev() {
        let PaintOp::Shadow(shadow) = &coat.op else { continue };
        let offset = (shadow.dx, shadow.dy);
        let cast_from = if shadow.blur > 0.0 {
            let alone = |glyph: &Glyph| Outline::new(placed_mask(glyph, offset), width, height);
            set.glyphs.iter().map(|glyph| Silhouette::Outline(Arc::new(alone(glyph)))).collect()
        } else {
            vec![together(offset)]
        };
        for silhouette in cast_from {
            let substitute = Some((silhouette, Vec2::ZERO));
            let op = PaintOp::Shadow(Shadow { substitute, dx: 0.0, dy: 0.0, ..shadow.clone() });
            let mut piece = body.with_coats(vec![Coat { op, ..coat.clone() }]);
            piece.surface = Surface::Hide;
            pieces.push(piece);
        }
    }
    pieces.push(body);
    pieces
}
