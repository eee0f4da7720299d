//! What Chromium does to shadows besides what the standards say, as far as it changes pictures (DESIGN §4.7; measured in
//! Chromium 156).

use std::sync::Arc;

use kurbo::{Rect, Vec2};

use super::Target;
use crate::geometry::Silhouette;
use crate::model::Surface;
use crate::resolve::{Coat, Draws, Layer, Piece, Shadow};

/// Text shadows softer than this blur radius tell whether glyphs are blurred one by one or together.
const TELLING: f64 = 12.0;

/// A piece's element as the pieces that Chromium paints for it, lowest first, at `scale` device pixels for one px.
pub(super) fn painted_as(element: &Piece, target: Target, scale: f64) -> Vec<Piece> {
    match target {
        Target::BoxShadow if element.rotation == 0.0 => vec![snapped(element, scale)],
        Target::TextShadow => by_glyph(element),
        _ => vec![element.clone()],
    }
}

/// Blurred shadows of boxes are cast from whole pixels: the box that casts them is rounded outwards.
fn snapped(element: &Piece, scale: f64) -> Piece {
    let mut piece = element.clone();
    let Silhouette::Box(outer) = &element.outer.silhouette else { return piece };
    let corner = Vec2::new(element.x, element.y);
    let at = Vec2::new(element.outer.x, element.outer.y);
    for coat in &mut piece.coats {
        let Draws::Shadow(shadow) = &mut coat.draws else { continue };
        if shadow.layer == Layer::Inner || shadow.blur == 0.0 {
            continue;
        }
        let Some(mut cast) = outer.spread(shadow.spread) else { continue };
        let by = Vec2::new(shadow.dx - shadow.spread, shadow.dy - shadow.spread) + at;
        let exact = Rect::new(0.0, 0.0, cast.width, cast.height) + by + corner;
        let whole = exact.scale_from_origin(scale).expand().scale_from_origin(1.0 / scale) - corner;
        (cast.width, cast.height) = (whole.width(), whole.height());
        (shadow.dx, shadow.dy, shadow.spread) = (0.0, 0.0, 0.0);
        shadow.substitute = Some((Silhouette::Box(cast), Vec2::new(whole.x0, whole.y0)));
    }
    piece
}

/// Each glyph casts its own shadow, so that where those of neighbours meet they lie over one another.
fn by_glyph(element: &Piece) -> Vec<Piece> {
    let soft = |coat: &Coat| matches!(&coat.draws, Draws::Shadow(shadow) if shadow.blur > TELLING);
    if !element.coats.iter().any(soft) {
        return vec![element.clone()];
    }
    let glyphs = element.silhouette.outline().glyphs();
    let (drops, others): (Vec<Coat>, Vec<Coat>) =
        element.coats.iter().cloned().partition(|coat| matches!(coat.draws, Draws::Shadow(_)));
    let mut pieces = Vec::new();
    for coat in drops.iter().rev() {
        for glyph in &glyphs {
            let Draws::Shadow(shadow) = &coat.draws else { continue };
            let glyph = Silhouette::Outline(Arc::new(glyph.clone()));
            let substitute = Some((glyph, Vec2::ZERO));
            let draws = Draws::Shadow(Shadow { substitute, ..shadow.clone() });
            let mut piece = element.with_coats(vec![Coat { draws, ..coat.clone() }]);
            piece.surface = Surface::Hide;
            pieces.push(piece);
        }
    }
    pieces.push(element.with_coats(others));
    pieces
}
