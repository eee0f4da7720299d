//! The parts of a painted piece, so that a later picture can tell which of them have changed.

use std::hash::{DefaultHasher, Hash as _};

use super::source::Source;
use crate::blend::Pixel;
use crate::compose::layers::layer::{Layer, LayerContent, key_of};
use crate::compose::masks::placed_mask::PlacedMask;
use crate::compose::paint::piece::PiecePainter;
use crate::compose::paint::under::UnderLayer;
use crate::raster::Rect;
use crate::resolve::Sampler;

/// Something that is painted.
#[derive(Debug, Clone)]
pub(in crate::compose) struct Painted {
    /// A hash of its inputs.
    pub key: u64,
    /// The pixels it may touch.
    pub rect: Rect,
    /// Where a surface in front of it covers whole pixels it touches none: a hash of all that decides where that is.
    pub under: Option<u64>,
    /// Its source, where each pixel depends on nothing else.
    pub source: Option<Source>,
}

impl PartialEq for Painted {
    /// The key is of all inputs it is painted from.
    fn eq(&self, other: &Self) -> bool {
        (self.key, self.rect, self.under) == (other.key, other.rect, other.under)
    }
}

impl Eq for Painted {}

impl PiecePainter<'_> {
    /// Everything that is painted, in order.
    pub fn parts(&self, parts: &mut Vec<Painted>) {
        let piece = self.layers.key;
        for (step, under) in self.under.iter().enumerate() {
            let together: &[&Layer] = match under {
                UnderLayer::Single(layer) => &[*layer],
                UnderLayer::Merged(merged) => &merged.layers,
            };
            for (i, layer) in together.iter().enumerate() {
                let key = key_of(|hasher| (piece, step, i, layer.key).hash(hasher));
                let knock_out = knocks_out(layer);
                let under = (knock_out || self.hides_below).then(|| self.cover_key(knock_out));
                let source = self.source(layer, (step, i));
                parts.push(Painted { key, rect: layer.content.rect(), under, source });
            }
        }
        parts.push(Painted {
            key: self.surface_key(),
            rect: self.layers.visible_rect(),
            under: None,
            source: self.surface_source(),
        });
    }

    /// The source of a layer under the piece, `at` a place among the others. That it may be cut to the outside of the
    /// surface shows in that one's source.
    fn source(&self, layer: &Layer, at: (usize, usize)) -> Option<Source> {
        let LayerContent::Shadow { knock_out, content } = &layer.content else { return None };
        let way = |colour: Option<Pixel>| {
            self.way(|hasher| {
                let colour = colour.map(|colour| colour.map(f32::to_bits));
                (at, knock_out, colour, layer.blend as u8, layer.opacity.to_bits()).hash(hasher);
            })
        };
        let body = &self.layers.silhouette;
        match content.as_ref() {
            LayerContent::Flat(colour, mask) => Some(Source::new(way(Some(*colour))?, body, &[mask], None)),
            LayerContent::Pixels(tile) => Some(Source::new(way(None)?, body, &[], Some(tile))),
            LayerContent::AroundHole(..)
            | LayerContent::Paint(..)
            | LayerContent::Edge { .. }
            | LayerContent::Shadow { .. } => None,
        }
    }

    /// The source of the surface, with the values that decide where layers under it are seen.
    fn surface_source(&self) -> Option<Source> {
        let Self { layers, piece, .. } = self;
        let way = |colour: Option<Pixel>| {
            self.way(|hasher| (colour.map(|colour| colour.map(f32::to_bits)), piece.blend as u8).hash(hasher))
        };
        let body = &layers.silhouette;
        let masks = [body, &layers.outer];
        match (&layers.surface, &layers.fill) {
            (Some(tile), _) => Some(Source::new(way(None)?, body, &masks, Some(tile))),
            (None, Some(Sampler::Flat(colour))) if layers.is_plain() => {
                Some(Source::new(way(Some(*colour))?, body, &masks, None))
            }
            (None, None) if layers.is_plain() => Some(Source::new(way(None)?, body, &masks, None)),
            _ => None,
        }
    }

    /// How the piece is painted, with more of that; none where a pixel may depend on others.
    fn way(&self, more: impl Fn(&mut DefaultHasher)) -> Option<u64> {
        (self.mode.is_exact() && self.layers.clip.is_none()).then(|| {
            key_of(|hasher| {
                (self.piece.opacity.to_bits(), self.hides_below).hash(hasher);
                more(hasher);
            })
        })
    }

    fn surface_key(&self) -> u64 {
        key_of(|hasher| {
            (self.layers.key, self.layers.surface_sigma.to_bits()).hash(hasher);
            self.layers.on.iter().for_each(|layer| layer.key.hash(hasher));
        })
    }

    fn cover_key(&self, knock_out: bool) -> u64 {
        key_of(|hasher| ("cover", self.surface_key(), knock_out).hash(hasher))
    }

    /// The silhouette that a part says it lies under, if it is this piece's.
    pub fn cover(&self, under: u64) -> Option<&PlacedMask> {
        [false, true]
            .into_iter()
            .find(|knock_out| self.cover_key(*knock_out) == under)
            .map(|knock_out| self.body(knock_out))
    }
}

fn knocks_out(layer: &Layer) -> bool {
    matches!(layer.content, LayerContent::Shadow { knock_out: true, .. })
}
