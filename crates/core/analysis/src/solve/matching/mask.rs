//! Pixels that belong neither to an element's shadows nor to its surface: letters, icons, other elements.

use super::pixels::{Pixels, apart};
use super::place::PlacedBox;

/// Pixels that are left out.
#[derive(Clone)]
pub struct Mask {
    width: usize,
    height: usize,
    all: Vec<bool>,
}

/// A step that may be an edge, on pictures without and with traces of compression.
const STEP: [f64; 2] = [4.0 / 255.0, 9.0 / 255.0];
/// The share of an edge's step that steps beside it do not have: half of a blurred one's is seen beside it.
const SHARP: f64 = 0.55;
/// How far around an edge pixels are left out.
const AROUND: i64 = 2;
/// How near an element's own outline steps are its own.
const OWN: f64 = 2.5;

impl Mask {
    /// Everything counts.
    pub fn none(pixels: &Pixels) -> Self {
        Self { width: pixels.width, height: pixels.height, all: vec![false; pixels.width * pixels.height] }
    }

    /// What has sharp edges that are none of an element's, and what they enclose. `border` is the width of the element's own.
    pub fn of_others(pixels: &Pixels, place: &PlacedBox, border: f64) -> Self {
        let sharp = Self::sharp(pixels, place, border);
        let mut mask = sharp.unreached(place, border);
        mask.join(&sharp);
        mask.widened(AROUND)
    }

    pub fn has(&self, x: i64, y: i64) -> bool {
        let inside = x >= 0 && y >= 0 && (x as usize) < self.width && (y as usize) < self.height;
        inside && self.all[y as usize * self.width + x as usize]
    }

    pub fn put(&mut self, x: i64, y: i64) {
        if x >= 0 && y >= 0 && (x as usize) < self.width && (y as usize) < self.height {
            self.all[y as usize * self.width + x as usize] = true;
        }
    }

    /// With another's pixels.
    pub fn join(&mut self, other: &Self) {
        self.all.iter_mut().zip(&other.all).for_each(|(own, other)| *own |= other);
    }

    /// With the pixels around its own.
    pub fn widened(&self, by: i64) -> Self {
        let mut wider = self.clone();
        for (at, _) in self.all.iter().enumerate().filter(|(_, is)| **is) {
            let (x, y) = ((at % self.width) as i64, (at / self.width) as i64);
            for down in -by..=by {
                for across in -by..=by {
                    wider.put(x + across, y + down);
                }
            }
        }
        wider
    }

    /// Pixels beside steps that are edges, away from the element's own.
    fn sharp(pixels: &Pixels, place: &PlacedBox, border: f64) -> Self {
        let mut mask = Self::none(pixels);
        let least = STEP[usize::from(pixels.is_noisy())];
        for y in 0..pixels.height as i64 {
            for x in 0..pixels.width as i64 {
                let distance = place.distance(x as f64 + 0.5, y as f64 + 0.5);
                if distance > -border - OWN && distance < OWN {
                    continue;
                }
                for (right, down) in [(1, 0), (0, 1)] {
                    let at = |by: i64| pixels.at(x + by * right, y + by * down);
                    let (before, here, after, beyond) = (at(-1), at(0), at(1), at(2));
                    let step = apart(here, after);
                    if step < least {
                        continue;
                    }
                    let beside = (apart(before, here) + apart(after, beyond)) / 2.0;
                    if step - beside > SHARP * step {
                        mask.put(x, y);
                        mask.put(x + right, y + down);
                    }
                }
            }
        }
        mask
    }

    /// Pixels that are not reached from an element's outline without crossing those of the mask.
    fn unreached(&self, place: &PlacedBox, border: f64) -> Self {
        let mut unreached = Self { all: vec![true; self.all.len()], ..self.clone() };
        let mut next = Vec::new();
        for y in 0..self.height as i64 {
            for x in 0..self.width as i64 {
                let distance = place.distance(x as f64 + 0.5, y as f64 + 0.5);
                let is_own = distance > -border - OWN - 1.0 && distance < OWN + 1.0;
                if is_own && !self.has(x, y) {
                    unreached.all[y as usize * self.width + x as usize] = false;
                    next.push((x, y));
                }
            }
        }
        while let Some((x, y)) = next.pop() {
            for (x, y) in [(x - 1, y), (x + 1, y), (x, y - 1), (x, y + 1)] {
                if unreached.has(x, y) && !self.has(x, y) {
                    unreached.all[y as usize * self.width + x as usize] = false;
                    next.push((x, y));
                }
            }
        }
        unreached
    }
}
