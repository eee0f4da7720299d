//! Falloff and grain: changes of blurred coverage before it is drawn.

use std::hash::{Hash, Hasher};

use crate::parallel::for_each_row;
use crate::raster::Mask;
use crate::resolve::{Grain, Tone};

/// A tone at the size it is drawn.
#[derive(Clone, Copy)]
pub(in crate::compose) struct Toning<'a> {
    pub tone: &'a Tone,
    /// The mask is a hole: the tone applies to the area around it.
    pub inverted: bool,
    /// Device pixels for one px.
    pub scale: f64,
}

impl Toning<'_> {
    pub fn changes_nothing(&self) -> bool {
        self.tone.falloff.is_none() && self.tone.grain.is_none()
    }

    pub fn fingerprint(&self, hasher: &mut impl Hasher) {
        (self.inverted, self.scale.to_bits()).hash(hasher);
        self.tone.fingerprint(hasher);
    }

    /// Tones a mask in place; `origin` is where the shadow's own box starts.
    pub fn apply(&self, mask: &mut Mask, origin: (f64, f64)) {
        let rect = mask.rect;
        let width = rect.width().max(1);
        for_each_row(mask.values_mut(), width, |row, line| {
            let y = rect.y0 + row;
            for (i, value) in line.iter_mut().enumerate() {
                let coverage = if self.inverted { 1.0 - *value } else { *value };
                let mut toned = self.falloff(coverage);
                if let Some(grain) = &self.tone.grain {
                    let cell = (grain.size * self.scale).max(1.0);
                    let at =
                        |pixel: i32, origin: f64| ((f64::from(pixel) + 0.5 - origin) / cell).floor() as i64;
                    let noise = noise(grain.seed, at(rect.x0 + i as i32, origin.0), at(y, origin.1));
                    toned = grained(grain, toned, noise);
                }
                *value = if self.inverted { 1.0 - toned } else { toned };
            }
        });
    }

    /// The curve at a coverage. At almost no coverage nothing is drawn even where the curve has a value there, so that a
    /// shadow stays bounded.
    fn falloff(&self, coverage: f32) -> f32 {
        let Some(points) = &self.tone.falloff else { return coverage };
        let after = points.partition_point(|(from, _)| *from <= coverage);
        let drawn = match (after.checked_sub(1).and_then(|i| points.get(i)), points.get(after)) {
            (Some((from, below)), Some((to, above))) => {
                below + (above - below) * (coverage - from) / (to - from)
            }
            (Some((_, last)), None) => *last,
            (None, Some((_, first))) => *first,
            (None, None) => coverage,
        };
        drawn * (coverage * 255.0).clamp(0.0, 1.0)
    }
}

/// Scatter draws a grain wholly or not at all, as often as its coverage says, so that the mean stays the same.
fn grained(grain: &Grain, coverage: f32, noise: f32) -> f32 {
    let amount = grain.amount as f32;
    let scattered = if noise < coverage { 1.0 } else { 0.0 };
    coverage + (scattered - coverage) * amount
}

/// A number from 0 up to 1 that looks like chance, the same every time: the finishing steps of SplitMix64.
fn noise(seed: u32, x: i64, y: i64) -> f32 {
    let mut bits = u64::from(seed).wrapping_mul(0x9E37_79B9_7F4A_7C15);
    for part in [x, y] {
        bits = bits.wrapping_add(part as u64).wrapping_add(0x9E37_79B9_7F4A_7C15);
        bits = (bits ^ (bits >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        bits = (bits ^ (bits >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        bits ^= bits >> 31;
    }
    (bits >> 40) as f32 / (1_u64 << 24) as f32
}

/// The same noise for dithering a whole picture.
pub(in crate::compose) fn dither_noise(channel: u32, x: i64, y: i64) -> f32 {
    noise(channel, x, y)
}
