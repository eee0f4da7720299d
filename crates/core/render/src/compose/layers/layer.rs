//! Layers: a piece is composited from them, row by row.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::Arc;

use kurbo::Affine;

use crate::blend::{BlendMode, Pixel};
use crate::compose::masks::placed_mask::PlacedMask;
use crate::compose::masks::tile::Tile;
use crate::raster::Rect;
use crate::resolve::{Backdrop, Sampler};

/// The layers of one piece. Coats keep their order: first is nearest the eye.
pub(in crate::compose) struct PieceLayers {
    /// The piece's own coverage.
    pub silhouette: PlacedMask,
    /// With the strokes outside it.
    pub outer: PlacedMask,
    /// Without the strokes inside it.
    pub inner: PlacedMask,
    pub behind: Vec<(Backdrop, BlendMode, f32)>,
    pub under: Vec<Layer>,
    pub on: Vec<Layer>,
    /// The σ in device pixels that the whole surface is softened by.
    pub surface_sigma: f64,
    /// Each layer on the surface is cut to the silhouette by itself, as in browsers.
    pub clips_each_layer: bool,
    /// The fill, over the piece's box.
    pub fill: Option<Sampler>,
    pub to_piece: Affine,
    pub parts: Vec<PieceLayers>,
    /// The members of a group, painted over one another and nothing else.
    pub members: Option<Members>,
    /// Its opacity, and its blend mode; for a part of a join, among the other parts.
    pub opacity: f32,
    pub blend: BlendMode,
    /// The colour that rounding adds between parts.
    pub gap_fill: Option<Sampler>,
    pub clip: Option<PlacedMask>,
    /// The surface under the coats on it, as pixels, where working it out takes longer than copying it.
    pub base: Option<Arc<Tile>>,
    /// The surface as pixels, where it is more than one colour.
    pub surface: Option<Arc<Tile>>,
    /// Equal for pieces that draw the same in the same place, but for their coats.
    pub key: u64,
    /// Equal for pieces with the same fill and parts, wherever they are.
    pub look: u64,
}

/// The painted members of a group.
pub(in crate::compose) struct Members {
    pub tile: Arc<Tile>,
    /// A hash of all they are painted from.
    pub key: [u64; 2],
}

/// A coat ready to be composited.
pub(in crate::compose) struct Layer {
    /// Equal for coats that draw the same on one piece.
    pub key: u64,
    pub blend: BlendMode,
    pub opacity: f32,
    pub content: LayerContent,
}

/// The source that a layer is composited from.
pub(in crate::compose) enum LayerContent {
    /// One premultiplied colour through a mask.
    Flat(Pixel, PlacedMask),
    /// One colour around a hole, within the inner silhouette.
    AroundHole(Pixel, PlacedMask),
    /// A paint all over the surface; its transform leads to its box.
    Paint(Sampler, Affine),
    /// A paint between two edges.
    Edge { paint: Sampler, to_box: Affine, outer: PlacedMask, inner: PlacedMask },
    /// Pixels, their coverage in their alpha.
    Pixels(Arc<Tile>),
    /// A shadow, knocked out under the piece or not.
    Shadow { knock_out: bool, content: Box<LayerContent> },
}

impl PieceLayers {
    /// Whether the surface is one colour at the most, with nothing on it.
    pub fn is_plain(&self) -> bool {
        let one_colour = matches!(self.fill, None | Some(Sampler::Flat(_)));
        one_colour && self.on.is_empty() && self.parts.is_empty() && self.members.is_none()
    }

    /// The same layers farther right and down by whole pixels.
    pub fn moved(self, by: (i32, i32)) -> Self {
        let mask = |mask: PlacedMask| mask.moved_by(by);
        let layers = |layers: Vec<Layer>| layers.into_iter().map(|layer| layer.moved(by)).collect();
        Self {
            silhouette: mask(self.silhouette),
            outer: mask(self.outer),
            inner: mask(self.inner),
            under: layers(self.under),
            on: layers(self.on),
            to_piece: before_move(self.to_piece, by),
            parts: self.parts.into_iter().map(|part| part.moved(by)).collect(),
            members: self.members.map(|members| Members { tile: moved_tile(&members.tile, by), ..members }),
            clip: self.clip.map(mask),
            base: self.base.map(|tile| moved_tile(&tile, by)),
            surface: self.surface.map(|tile| moved_tile(&tile, by)),
            ..self
        }
    }

    pub fn without_fill(mut self) -> Self {
        self.fill = None;
        self.gap_fill = None;
        self.parts = self.parts.into_iter().map(Self::without_fill).collect();
        self
    }

    /// The pixels that anything of the piece may be in.
    pub fn bounds(&self) -> Rect {
        let rects = self.under.iter().map(|layer| layer.content.rect());
        rects.fold(self.visible_rect(), Rect::around_both)
    }

    /// Everything about the piece that shows in some rows.
    pub fn describe(&self, rows: Rect, hasher: &mut impl Hasher) {
        let touches = |rect: Rect| !rect.intersect(rows).is_empty();
        let under: Vec<u64> =
            self.under.iter().filter(|layer| touches(layer.content.rect())).map(|layer| layer.key).collect();
        let surface = touches(self.visible_rect());
        if under.is_empty() && !surface {
            return;
        }
        (self.key, &under, surface).hash(hasher);
        if surface {
            self.on.iter().for_each(|layer| layer.key.hash(hasher));
            self.surface_sigma.to_bits().hash(hasher);
        }
    }

    /// The pixels the surface touches.
    pub fn visible_rect(&self) -> Rect {
        self.surface.as_ref().map_or_else(|| self.surface_rect(), |tile| tile.rect)
    }

    /// The pixels the surface may touch before it is softened.
    pub fn surface_rect(&self) -> Rect {
        let own = self.outer.rect().around_both(self.silhouette.rect());
        self.members.as_ref().map_or(own, |members| own.around_both(members.tile.rect))
    }
}

impl Layer {
    fn moved(self, by: (i32, i32)) -> Self {
        Self { content: self.content.moved(by), ..self }
    }
}

impl LayerContent {
    fn moved(self, by: (i32, i32)) -> Self {
        match self {
            Self::Flat(colour, mask) => Self::Flat(colour, mask.moved_by(by)),
            Self::AroundHole(colour, hole) => Self::AroundHole(colour, hole.moved_by(by)),
            Self::Paint(paint, to_box) => Self::Paint(paint, before_move(to_box, by)),
            Self::Edge { paint, to_box, outer, inner } => Self::Edge {
                paint,
                to_box: before_move(to_box, by),
                outer: outer.moved_by(by),
                inner: inner.moved_by(by),
            },
            Self::Pixels(tile) => Self::Pixels(moved_tile(&tile, by)),
            Self::Shadow { knock_out, content } => {
                Self::Shadow { knock_out, content: Box::new(content.moved(by)) }
            }
        }
    }

    /// The pixels it may touch; empty where the surface itself bounds it.
    pub fn rect(&self) -> Rect {
        match self {
            Self::Flat(_, mask) => mask.rect(),
            Self::Edge { outer, .. } => outer.rect(),
            Self::Pixels(tile) => tile.rect,
            Self::Shadow { content, .. } => content.rect(),
            Self::AroundHole(..) | Self::Paint(..) => Rect::default(),
        }
    }
}

fn moved_tile(tile: &Tile, (dx, dy): (i32, i32)) -> Arc<Tile> {
    Arc::new(tile.moved(dx, dy))
}

/// The way from device pixels, where it led from them before they were moved.
fn before_move(way: Affine, (dx, dy): (i32, i32)) -> Affine {
    way * Affine::translate((-f64::from(dx), -f64::from(dy)))
}

pub(in crate::compose) fn key_of(describe: impl Fn(&mut DefaultHasher)) -> u64 {
    let mut hasher = DefaultHasher::new();
    describe(&mut hasher);
    hasher.finish()
}
