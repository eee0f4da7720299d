//! The backdrop of a piece, which SVG has no access to.

use kurbo::Shape as _;
use serde::{Deserialize, Serialize};

use crate::compose::{MaskCache, RenderOptions, Rounding, Viewport, picture};
use crate::model::Surface;
use crate::picture::png_data_url;
use crate::resolve::{Paint, PaintOp, Piece, Scene};

/// The replacement for a blur of the backdrop, which SVG lacks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Backdrops {
    /// It is left out, which is said.
    #[default]
    LeftOut,
    /// It is a picture in the file, drawn here.
    Pictures,
}

/// A picture of everything behind a piece, blurred as its coats do.
pub(super) struct BackdropPicture {
    /// Its left, top, width and height in px.
    pub at: [f64; 4],
    pub url: String,
}

/// Device pixels for a px of such a picture.
const BEHIND_SCALE: f64 = 2.0;

/// The backdrop of a piece of a scene; `None` where no coat blurs it, or it is too much to draw.
pub(super) fn backdrop(scene: &Scene, at: usize) -> Option<BackdropPicture> {
    let piece = scene.pieces.get(at)?;
    // With the strokes around it: what lies behind them is blurred too.
    let mut bare = Piece { fill: Paint::None, surface: Surface::Hide, joined: None, ..piece.clone() };
    bare.parts.clear();
    bare.coats.retain(|coat| matches!(coat.op, PaintOp::Backdrop(_) | PaintOp::Stroke { .. }));
    if !bare.coats.iter().any(|coat| matches!(coat.op, PaintOp::Backdrop(_))) {
        return None;
    }
    for coat in bare.coats.iter_mut().filter(|coat| matches!(coat.op, PaintOp::Stroke { .. })) {
        coat.opacity = 0.0;
    }
    let below = scene.pieces.iter().take(at).cloned();
    let shown = scene.with_pieces(below.chain([bare]).collect());
    let bounds = (piece.place() * piece.outer.place() * piece.outer.silhouette.outline().path.clone())
        .bounding_box()
        .expand();
    let pixels = |length: f64| (length * BEHIND_SCALE).ceil().max(1.0) as u32;
    let viewport = Viewport {
        x: bounds.x0,
        y: bounds.y0,
        scale: BEHIND_SCALE,
        width: pixels(bounds.width()),
        height: pixels(bounds.height()),
    };
    viewport.check_size().ok()?;
    let cache = MaskCache::with_capacity(16 << 20);
    let drawn = picture(&shown, &viewport, &RenderOptions::default(), Rounding::Nearest, &cache);
    Some(BackdropPicture {
        at: [bounds.x0, bounds.y0, bounds.width(), bounds.height()],
        url: png_data_url(&drawn.to_png().ok()?),
    })
}
