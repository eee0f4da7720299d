//! The layers of one piece: every mask and tile it needs, ready to be composited row by row.

use std::hash::{Hash, Hasher};
use std::sync::Arc;

use kurbo::{Affine, Point};

use super::builder::{LayerBuilder, piece_mask};
use super::drawn::drawn_surface;
use super::layer::{Layer, Members, PieceLayers, key_of};
use crate::blend::BlendMode;
use crate::compose::cache::{Key, content_hash};
use crate::compose::context::RenderContext;
use crate::compose::masks::coverage::{Coverage, Renderer};
use crate::compose::masks::placed_mask::PlacedMask;
use crate::compose::paint::group::painted_members;
use crate::maths::snapped;
use crate::model::Surface;
use crate::parallel::parallel_map;
use crate::resolve::{Backdrop, Coat, Paint, PaintOp, Piece, Sampler, surface_sigma};

impl PieceLayers {
    /// Everything a piece is painted with, made near the origin, so that what is kept of it serves wherever it is moved.
    pub fn new(piece: &Piece, context: &RenderContext<'_>) -> Self {
        let (local, place, by) = context.near_the_origin(context.place(piece));
        let layers = Self::with_surface(piece, place, &local);
        Self { key: body_key(piece, context), ..layers.moved(by) }
    }

    /// As [`Self::new`], for few pixels, for which painting the surface while compositing is faster.
    pub fn unpainted(piece: &Piece, context: &RenderContext<'_>) -> Self {
        let (local, place, by) = context.near_the_origin(context.place(piece));
        let layers = Self::without_surface(piece, place, &local);
        let layers = if layers.surface_sigma > 0.0 { layers.painted_once(&local) } else { layers };
        Self { key: body_key(piece, context), ..layers.moved(by) }
    }

    /// `place` leads from the piece's px to device pixels.
    fn with_surface(piece: &Piece, place: Affine, context: &RenderContext<'_>) -> Self {
        let mut layers = Self::without_surface(piece, place, context);
        if let Some(members) = layers.members.as_ref().filter(|_| layers.on.is_empty())
            && layers.surface_sigma == 0.0
        {
            layers.surface = Some(Arc::clone(&members.tile));
            return layers;
        }
        let keeps = context.cache.keeps_tile(layers.surface_rect());
        if layers.surface_sigma == 0.0 && (layers.is_plain() || !keeps) {
            // What is one colour, or too large to be kept, is painted where it is seen.
            layers
        } else {
            layers.painted_once(context)
        }
    }

    fn painted_once(mut self, context: &RenderContext<'_>) -> Self {
        let key = Key { content: self.surface_key(context), clip: self.surface_rect() };
        let tile = context.cache.tile(key, || {
            self.paint_base(context);
            self.painted(context.window)
        });
        self.surface = Some(tile);
        self
    }

    /// Paints the layers under the coats on a surface, so that they are there when only the coats change, where
    /// painting takes long: the parts of a join, and a fill that differs from pixel to pixel.
    fn paint_base(&mut self, context: &RenderContext<'_>) {
        let right = self.to_piece * Point::new(1.0, 0.0) - self.to_piece * Point::ZERO;
        let is_even = self.fill.as_ref().is_none_or(|fill| fill.is_steady(right));
        if self.on.is_empty() {
            return self.paint_parts(context);
        }
        if self.parts.is_empty() && is_even {
            return;
        }
        let content = content_hash(|hasher| {
            "base".hash(hasher);
            self.describe_base(context, hasher);
        });
        let key = Key { content, clip: self.surface_rect() };
        self.base = Some(context.cache.tile(key, || {
            self.paint_parts(context);
            self.painted_base()
        }));
    }

    /// Paints the parts of a join, so that those are there that do not change.
    fn paint_parts(&mut self, context: &RenderContext<'_>) {
        let parts = std::mem::take(&mut self.parts).into_iter().map(|part| {
            let is_kept = context.cache.keeps_tile(part.surface_rect());
            let needs_none = part.is_plain() || part.surface_sigma > 0.0 || !is_kept;
            if needs_none { part } else { part.painted_once(context) }
        });
        self.parts = parts.collect();
    }

    /// Equal for surfaces that are painted the same.
    fn surface_key(&self, context: &RenderContext<'_>) -> [u64; 2] {
        content_hash(|hasher| {
            ("surface", self.surface_sigma.to_bits()).hash(hasher);
            self.describe_base(context, hasher);
            self.on.iter().for_each(|layer| layer.key.hash(hasher));
            if self.surface_sigma > 0.0 {
                context.window.hash(hasher);
            }
        })
    }

    fn describe_base(&self, context: &RenderContext<'_>, hasher: &mut impl Hasher) {
        // A part of a join that is cut out has lost its fill, and that between its own parts.
        (self.look, self.fill.is_some(), self.gap_fill.is_some()).hash(hasher);
        self.members.as_ref().map(|members| (members.key, members.tile.rect)).hash(hasher);
        (context.options.shadow_only, context.options.mode).hash(hasher);
        (context.scale.to_bits(), self.to_piece.as_coeffs().map(f64::to_bits)).hash(hasher);
    }

    /// As [`Self::with_surface`], the surface not painted yet.
    fn without_surface(piece: &Piece, place: Affine, context: &RenderContext<'_>) -> Self {
        let shown: Vec<&Coat> =
            piece.coats.iter().filter(|coat| context.options.coats.includes(&coat.id)).collect();
        let surface_sigma = surface_sigma(shown.iter().copied()) * context.scale;
        // A softened surface takes in what lies around the picture.
        let window = if surface_sigma > 0.0 {
            context.window.grown(crate::blur::reach(surface_sigma))
        } else {
            context.window
        };
        let context = &RenderContext { window, ..*context };
        let mode = context.options.mode;
        let mut coverage = Coverage::plain(&piece.silhouette, place).in_mode(mode);
        if let Paint::Solid(colour) = &piece.fill {
            coverage = coverage.coloured(*colour);
        }
        let silhouette = coverage.mask(context.window, context.cache);
        let (outer, inner) = stroked(piece, &silhouette, place, context);
        let builder = LayerBuilder { piece, place, context, silhouette: &silhouette };
        let layers = parallel_map(&shown, |coat| builder.layer(coat));
        let CoatLayers { under, on, behind } = CoatLayers::new(&shown, layers);
        let (width, height) = piece.silhouette.size();
        let draws_fill = piece.surface == Surface::Keep && !context.options.shadow_only;
        let sampler = |paint: &Paint| paint.sampler(width, height, context.scale);
        // Parts are placed in the join, and so is what they are clipped to.
        let inside = RenderContext { to_device: place, ..*context };
        let parts: Vec<Self> = parallel_map(&piece.parts.iter().collect::<Vec<_>>(), |part| {
            let layers = Self::without_surface(part, place * part.place(), &inside);
            if piece.surface == Surface::Keep { layers } else { layers.without_fill() }
        });
        Self {
            fill: (draws_fill && piece.fill != Paint::None).then(|| sampler(&piece.fill)),
            gap_fill: piece.parts.first().filter(|_| draws_fill).map(|part| {
                let mean = part.fill.mean().unwrap_or_default();
                Sampler::Flat(mean.premultiplied())
            }),
            to_piece: place.inverse(),
            surface_sigma,
            clips_each_layer: mode.other().is_some_and(Renderer::clips_each_layer),
            clip: clip_mask(piece, context),
            silhouette,
            outer,
            inner,
            behind,
            under,
            on,
            parts,
            members: members(piece, place, context),
            opacity: piece.opacity as f32,
            blend: piece.blend,
            base: None,
            surface: None,
            key: 0,
            look: look_key(piece, context),
        }
    }
}

/// The surface of a group or drawing as pixels; `None` for other pieces, and where it is not shown.
fn members(piece: &Piece, place: Affine, context: &RenderContext<'_>) -> Option<Members> {
    if !piece.members.is_empty() {
        return Some(painted_members(&piece.members, context));
    }
    if piece.surface != Surface::Keep || context.options.shadow_only {
        return None;
    }
    drawn_surface(&piece.silhouette, place, context)
}

/// Equal for pieces that draw the same in the same place, but for their coats.
fn body_key(piece: &Piece, context: &RenderContext<'_>) -> u64 {
    key_of(|hasher| {
        piece.fingerprint(hasher);
        hash_filter(piece, context, hasher);
    })
}

/// Equal for pieces with the same fill and parts, wherever they are.
fn look_key(piece: &Piece, context: &RenderContext<'_>) -> u64 {
    key_of(|hasher| {
        piece.look_fingerprint(hasher);
        hash_filter(piece, context, hasher);
    })
}

/// The layers' own keys say which coats are drawn, except for those of parts.
fn hash_filter(piece: &Piece, context: &RenderContext<'_>, hasher: &mut impl Hasher) {
    if !piece.parts.is_empty() || !piece.members.is_empty() {
        context.options.coats.hash(hasher);
    }
}

/// The silhouette with the strokes outside it, and without those inside it.
fn stroked(
    piece: &Piece,
    silhouette: &PlacedMask,
    place: Affine,
    context: &RenderContext<'_>,
) -> (PlacedMask, PlacedMask) {
    let has_strokes = piece.coats.iter().any(|coat| matches!(coat.op, PaintOp::Stroke { .. }));
    let is_join = piece.joined.is_some();
    let outer =
        if has_strokes || is_join { piece_mask(&piece.outer, place, context) } else { silhouette.clone() };
    let inner = match &piece.inner {
        Some(inner) if has_strokes => piece_mask(inner, place, context),
        Some(_) => silhouette.clone(),
        None => PlacedMask::nothing(),
    };
    (outer, inner)
}

/// The layers of coats by where they lie.
#[derive(Default)]
struct CoatLayers {
    under: Vec<Layer>,
    on: Vec<Layer>,
    behind: Vec<(Backdrop, BlendMode, f32)>,
}

impl CoatLayers {
    /// Each coat with its layer, where it has one.
    fn new(coats: &[&Coat], layers: Vec<Option<Layer>>) -> Self {
        let mut sorted = Self::default();
        for (coat, layer) in coats.iter().zip(layers) {
            if let PaintOp::Backdrop(backdrop) = &coat.op {
                sorted.behind.push((*backdrop, coat.blend, coat.opacity as f32));
            } else if coat.op.is_on_surface() {
                sorted.on.extend(layer);
            } else {
                sorted.under.extend(layer);
            }
        }
        sorted
    }
}

/// The coverage of the silhouette that a piece is clipped to.
fn clip_mask(piece: &Piece, context: &RenderContext<'_>) -> Option<PlacedMask> {
    let clip = piece.clip.as_ref()?;
    let coverage = Coverage::plain(&clip.silhouette, snapped(context.to_device * clip.place));
    Some(coverage.in_mode(context.options.mode).mask(context.window, context.cache))
}
