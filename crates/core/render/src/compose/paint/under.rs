//! Coats under a piece: shadows of one colour that lie next to one another are composited in one step.

use crate::blend::{BlendMode, Pixel};
use crate::blur::{Scratch, Transmittance};
use crate::compose::layers::layer::{Layer, LayerContent};
use crate::compose::masks::coverage::RenderMode;
use crate::compose::masks::placed_mask::PlacedMask;
use crate::raster::RowStart;

/// Layers that are composited under a piece in one step.
pub(in crate::compose) enum UnderLayer<'a> {
    Single(&'a Layer),
    Merged(Merged<'a>),
}

/// Shadows of one colour that lie next to one another in the stack.
pub(in crate::compose) struct Merged<'a> {
    /// Solid.
    pub colour: Pixel,
    pub knock_out: bool,
    /// The opacity of each, and its coverage.
    pub masks: Vec<(f32, &'a PlacedMask)>,
    pub layers: Vec<&'a Layer>,
}

impl Merged<'_> {
    /// How much of the picture below goes through all of them at `width` pixels from `x0` on.
    pub fn through<'a>(
        &self,
        RowStart { y, x0 }: RowStart,
        width: usize,
        through: &'a mut Transmittance,
        room: &mut Scratch,
    ) -> &'a [f32] {
        through.clear(width);
        for (alpha, mask) in &self.masks {
            mask.fade(RowStart { y, x0 }, through, *alpha, room);
        }
        through.pixels()
    }
}

/// Coats under a piece, bottom to top, those of one colour put together. Browsers round each by itself.
pub(super) fn under_layers(under: &[Layer], mode: RenderMode) -> Vec<UnderLayer<'_>> {
    let mut under_layers: Vec<UnderLayer<'_>> = Vec::new();
    for layer in under.iter().rev() {
        let Some((knock_out, colour, alpha, mask)) = plain(layer).filter(|_| mode.is_exact()) else {
            under_layers.push(UnderLayer::Single(layer));
            continue;
        };
        match under_layers.last_mut() {
            Some(UnderLayer::Merged(last)) if last.knock_out == knock_out && same(last.colour, colour) => {
                last.masks.push((alpha, mask));
                last.layers.push(layer);
            }
            _ => under_layers.push(UnderLayer::Merged(Merged {
                colour,
                knock_out,
                masks: vec![(alpha, mask)],
                layers: vec![layer],
            })),
        }
    }
    under_layers
}

/// A shadow of one colour in normal blend: whether it is knocked out, its solid colour, opacity and coverage.
fn plain(layer: &Layer) -> Option<(bool, Pixel, f32, &PlacedMask)> {
    let LayerContent::Shadow { knock_out, content } = &layer.content else { return None };
    let LayerContent::Flat(colour, mask) = content.as_ref() else { return None };
    let alpha = colour[3];
    (layer.blend == BlendMode::Normal && alpha > 0.0).then(|| {
        let solid = colour.map(|part| part / alpha);
        (*knock_out, solid, alpha * layer.opacity, mask)
    })
}

fn same(a: Pixel, b: Pixel) -> bool {
    a.iter().zip(b).all(|(a, b)| (a - b).abs() < 1e-6)
}
