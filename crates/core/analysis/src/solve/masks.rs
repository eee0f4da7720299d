//! The coverage of any silhouette, from the renderer's own masks.
//!
//! Derivatives come from the masks too: to the right and down by the difference of neighbouring pixels, with blur by
//! the heat equation (a Gaussian's change with σ is σ times its Laplacian), with spread from the masks a step of spread
//! below and above. Soft shadows are drawn at half the size or less, where that shows no difference.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex};

use kurbo::Affine;

use super::field::{Coverage as Covered, Field};
use super::shadow::Shadow;
use crate::blur::{gaussian, reach};
use crate::budget;
use crate::compose::{Coverage, MaskCache};
use crate::geometry::Silhouette;
use crate::raster::{Mask, Rect};

/// Silhouettes are spread in steps of so many px; between two, coverage is taken in proportion.
const STEP: f64 = 0.5;
/// The most pixels a side that masks are made at; larger pieces are looked at from farther away.
const SIDE: f64 = 200.0;
/// The most places.
const PLACES: usize = 900;
/// Pixels of σ that are enough for a soft edge: with twice as many, masks are halved, so many times at most.
const SOFT: f64 = 2.5;
const HALVED: f64 = 4.0;
/// Bytes of sharp masks that are kept for the next step, which mostly needs the same spreads.
const KEPT: u64 = 48 << 20;

/// Places around or in a silhouette.
pub struct MaskField {
    silhouette: Silhouette,
    /// Pixels of a mask for one px.
    scale: f64,
    window: Rect,
    places: Vec<(i32, i32)>,
    weights: Vec<f64>,
    shown: Vec<f64>,
    sharp: Mutex<BTreeMap<(i64, i32), Arc<Mask>>>,
    /// The spread of its edge.
    distances: MaskCache,
}

impl MaskField {
    /// Outside the silhouette as far as `reach` px, or inside it, and at `also` some more places.
    #[must_use]
    pub fn new(silhouette: Silhouette, reach: f64, inside: bool, also: &[(f64, f64)]) -> Self {
        let bounds = silhouette.bounds().inflate(reach + 2.0, reach + 2.0);
        let scale = (SIDE / bounds.width().max(bounds.height())).min(1.0);
        let window = scaled(bounds, scale);
        let mut field = Self::empty(silhouette, scale, window);
        let body = field.sharp(0.0, 0);
        let share = |(x, y): &(i32, i32)| {
            let covered = f64::from(body.at(*x, *y));
            if inside { covered } else { 1.0 - covered }
        };
        let counted = |place: &(i32, i32)| share(place) > 0.02;
        let all = (window.y0..window.y1).flat_map(|y| (window.x0..window.x1).map(move |x| (x, y)));
        let places: Vec<(i32, i32)> = all.filter(&counted).collect();
        let every = places.len().div_ceil(PLACES).max(1);
        // A stride that shares no factor with the rows' length leaves no stripes.
        field.places = places.into_iter().step_by(every | 1).collect();
        let pixel = |(x, y): &(f64, f64)| ((x * scale).floor() as i32, (y * scale).floor() as i32);
        field.places.extend(also.iter().map(pixel).filter(counted));
        field.weights = vec![1.0; field.places.len()];
        field.shown = field.places.iter().map(share).collect();
        field
    }

    /// Along places one by one, in px of the piece, each with its weight.
    #[must_use]
    pub fn along(silhouette: Silhouette, places: &[(f64, f64)], weights: Vec<f64>) -> Self {
        let mut window = Rect::default();
        let places: Vec<(i32, i32)> =
            places.iter().map(|(x, y)| (x.floor() as i32, y.floor() as i32)).collect();
        for (x, y) in &places {
            window = window.around_both(Rect::new(*x, *y, x + 1, y + 1));
        }
        let shown = vec![1.0; places.len()];
        Self { places, weights, shown, ..Self::empty(silhouette, 1.0, window) }
    }

    fn empty(silhouette: Silhouette, scale: f64, window: Rect) -> Self {
        let (places, weights, shown) = (Vec::new(), Vec::new(), Vec::new());
        let (sharp, distances) = (Mutex::default(), MaskCache::with_capacity(KEPT));
        Self { silhouette, scale, window, places, weights, shown, sharp, distances }
    }

    /// The silhouette spread by so many steps, neither moved nor blurred, halved so many times.
    fn sharp(&self, number: f64, halved: i32) -> Arc<Mask> {
        let scale = self.scale / f64::from(1 << halved);
        let mut coverage = Coverage::plain(&self.silhouette, Affine::scale(scale));
        coverage.spread = number * STEP;
        let key = (number as i64, halved);
        if let Some(mask) = self.sharp.lock().ok().and_then(|kept| kept.get(&key).cloned()) {
            return mask;
        }
        let around = coverage.reach(0.0).unwrap_or_default();
        let steps = STEPS_A_MASK + area(around) * STEPS_A_SHARP_PIXEL;
        if !budget::spend(steps) || !budget::allow_memory(area(around) * 4) {
            return Arc::new(Mask::empty(around));
        }
        let mask = Arc::new(coverage.sharp(around, &self.distances));
        if let Ok(mut kept) = self.sharp.lock() {
            if kept.len() as u64 * area(around) * 4 >= KEPT {
                kept.clear();
            }
            kept.insert(key, Arc::clone(&mask));
        }
        mask
    }

    /// A mask spread by so many steps and blurred, over the places and a pixel around them. Soft masks are drawn
    /// smaller.
    fn blurred(&self, shadow: &Shadow, number: f64) -> Moved {
        let sigma = shadow.blur / 2.0 * self.scale;
        let halved = crate::maths::log2(sigma / SOFT).floor().clamp(0.0, HALVED) as i32;
        let step = f64::from(1 << halved);
        let (dx, dy) = (shadow.dx * self.scale, shadow.dy * self.scale);
        let sharp = self.sharp(number, halved);
        let window = self.window.grown(3 << halved);
        let end = |at: i32, moved: f64| (f64::from(at) - moved) / step;
        let window = Rect::around(
            end(window.x0, dx) - 1.0,
            end(window.y0, dy) - 1.0,
            end(window.x1, dx) + 1.0,
            end(window.y1, dy) + 1.0,
        );
        let sigma = sigma / step;
        let _ = budget::spend((area(window) + area(sharp.rect)) * STEPS_A_BLURRED_PIXEL);
        let mask = if sigma > 0.0 {
            let source = sharp.rect.intersect(window.grown(reach(sigma)));
            gaussian(&sharp.cropped(source), sigma, window)
        } else {
            sharp.cropped(window)
        };
        Moved { mask, step, dx, dy }
    }
}

/// A mask of pixels `step` wide, moved. Between pixels it is interpolated linearly, which equals moving an edge along
/// an axis.
struct Moved {
    mask: Mask,
    step: f64,
    dx: f64,
    dy: f64,
}

impl Moved {
    /// Around the middle of a pixel of width 1, and so many of its own pixels beside that.
    fn at(&self, (x, y): (i32, i32), (right, down): (i32, i32)) -> f64 {
        let own = |at: i32, moved: f64| (f64::from(at) + 0.5 - moved) / self.step - 0.5;
        let (across, under) = (own(x, self.dx), own(y, self.dy));
        let (x, y) = (across.floor() as i32 + right, under.floor() as i32 + down);
        let whole = |x: i32, y: i32| f64::from(self.mask.at(x, y));
        let along = |y: i32| whole(x, y) + (across - across.floor()) * (whole(x + 1, y) - whole(x, y));
        along(y) + (under - under.floor()) * (along(y + 1) - along(y))
    }
}

impl Field for MaskField {
    fn count(&self) -> usize {
        self.places.len()
    }

    fn weights(&self) -> &[f64] {
        &self.weights
    }

    fn visible_shares(&self) -> &[f64] {
        &self.shown
    }

    fn is_slow(&self) -> bool {
        true
    }

    fn places(&self) -> Vec<(usize, f64, f64)> {
        let middle = |at: i32| (f64::from(at) + 0.5) / self.scale;
        self.places.iter().map(|(x, y)| (0, middle(*x), middle(*y))).collect()
    }

    fn cover(&self, shadow: &Shadow) -> Covered {
        let mut covered = Covered::zeros(self.places.len());
        let number = (shadow.spread / STEP).floor();
        let (below, above) = (self.blurred(shadow, number), self.blurred(shadow, number + 1.0));
        let share = shadow.spread / STEP - number;
        let per_pixel = self.scale / below.step;
        // d/d blur = ½·d/dσ = ½·σ·∇², at least as far as one pixel blurs by itself.
        let sigma = (shadow.blur / 2.0 * per_pixel).max(0.3);
        for (number, place) in self.places.iter().enumerate() {
            let ends = |beside: (i32, i32)| (below.at(*place, beside), above.at(*place, beside));
            let at = |right: i32, down: i32| {
                let (below, above) = ends((right, down));
                below + share * (above - below)
            };
            let (narrow, wide) = ends((0, 0));
            let (middle, right, under) = (at(0, 0), at(1, 0), at(0, 1));
            let (before, over) = (at(-1, 0), at(0, -1));
            covered.value[number] = middle;
            covered.dx[number] = (before - right) / 2.0 * per_pixel;
            covered.dy[number] = (over - under) / 2.0 * per_pixel;
            let laplacian = right + before + under + over - 4.0 * middle;
            covered.blur[number] = 0.5 * sigma * laplacian * per_pixel;
            covered.spread[number] = (wide - narrow) / STEP;
        }
        covered
    }
}

/// Steps of the budget that masks take: each, each of its pixels while it is sharp, and each that is blurred.
const STEPS_A_MASK: u64 = 1_000_000;
const STEPS_A_SHARP_PIXEL: u64 = 100;
const STEPS_A_BLURRED_PIXEL: u64 = 18;

fn area(rect: Rect) -> u64 {
    rect.width() as u64 * rect.height() as u64
}

fn scaled(bounds: kurbo::Rect, scale: f64) -> Rect {
    Rect::around(bounds.x0 * scale, bounds.y0 * scale, bounds.x1 * scale, bounds.y1 * scale)
}
