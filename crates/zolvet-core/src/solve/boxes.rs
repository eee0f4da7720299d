//! The coverage of a rounded box in closed form.
//!
//! A box is cut into horizontal strips: one over the whole straight part, several over each end where the corners
//! are round. Blurred by a Gaussian, a strip is the product of what its sides give along x and what its top and
//! bottom give along y, and a box is the sum of its strips.

use super::field::{Coverage, Field, sigma_of};
use super::normal::{cumulative, density};
use super::shadow::Shadow;
use crate::geometry::RoundedBox;

/// Strips over each end with round corners. A corner of r px is met within r/100.
const STRIPS: usize = 12;
/// The step in spread that the slopes of a box's edges are taken over, in px.
const STEP: f64 = 1e-3;

/// Places around a rounded box at 0,0.
#[derive(Debug, Clone)]
pub struct BoxField {
    shape: RoundedBox,
    xs: Vec<f64>,
    ys: Vec<f64>,
    /// Numbers of an x and a y.
    places: Vec<(usize, usize)>,
    weights: Vec<f64>,
}

/// A strip's edges, in px.
#[derive(Debug, Clone, Copy)]
struct Strip {
    left: f64,
    right: f64,
    top: f64,
    bottom: f64,
}

/// A blurred strip along one axis at one place, and its slopes.
#[derive(Debug, Clone, Copy, Default)]
struct Along {
    value: f64,
    moved: f64,
    blur: f64,
    spread: f64,
}

impl BoxField {
    /// The places of a grid for which `counts` says so.
    #[must_use]
    pub fn grid(
        shape: RoundedBox,
        xs: Vec<f64>,
        ys: Vec<f64>,
        mut counts: impl FnMut(f64, f64) -> bool,
    ) -> Self {
        let pairs = (0..ys.len()).flat_map(|y| (0..xs.len()).map(move |x| (x, y)));
        let places: Vec<_> = pairs.filter(|&(x, y)| counts(xs[x], ys[y])).collect();
        let weights = vec![1.0; places.len()];
        Self { shape, xs, ys, places, weights }
    }

    /// Places one by one, each with its weight.
    #[must_use]
    pub fn along(shape: RoundedBox, places: &[(f64, f64)], weights: Vec<f64>) -> Self {
        let (xs, ys) = places.iter().copied().unzip();
        Self { shape, xs, ys, places: (0..places.len()).map(|i| (i, i)).collect(), weights }
    }
}

impl Field for BoxField {
    fn len(&self) -> usize {
        self.places.len()
    }

    fn weights(&self) -> &[f64] {
        &self.weights
    }

    fn cover(&self, shadow: &Shadow) -> Coverage {
        let mut coverage = Coverage::of(self.len());
        let strips = strips(&self.shape, shadow.spread);
        if strips.is_empty() {
            return coverage;
        }
        let wider = strips_like(&self.shape, shadow.spread + STEP, &strips);
        let sigma = sigma_of(shadow.blur);
        // d σ / d blur, from σ² = blur²/4 + 1/12.
        let per_blur = shadow.blur / (4.0 * sigma);
        let line = |at: f64, from: fn(&Strip) -> (f64, f64)| -> Vec<Along> {
            let edges = strips.iter().zip(&wider);
            edges.map(|(strip, wider)| along(at, from(strip), from(wider), sigma, per_blur)).collect()
        };
        let across: Vec<Vec<Along>> =
            self.xs.iter().map(|x| line(x - shadow.dx, |strip| (strip.left, strip.right))).collect();
        let down: Vec<Vec<Along>> =
            self.ys.iter().map(|y| line(y - shadow.dy, |strip| (strip.top, strip.bottom))).collect();
        for (number, &(x, y)) in self.places.iter().enumerate() {
            let mut sum = [0.0; 5];
            for (across, down) in across[x].iter().zip(&down[y]) {
                sum[0] += across.value * down.value;
                sum[1] += across.moved * down.value;
                sum[2] += across.value * down.moved;
                sum[3] += across.blur * down.value + across.value * down.blur;
                sum[4] += across.spread * down.value + across.value * down.spread;
            }
            let to = [
                &mut coverage.value,
                &mut coverage.dx,
                &mut coverage.dy,
                &mut coverage.blur,
                &mut coverage.spread,
            ];
            for (to, sum) in to.into_iter().zip(sum) {
                to[number] = sum;
            }
        }
        coverage
    }
}

fn along(
    at: f64,
    (start, end): (f64, f64),
    (start_wider, end_wider): (f64, f64),
    sigma: f64,
    per_blur: f64,
) -> Along {
    let (from, to) = ((at - start) / sigma, (at - end) / sigma);
    let (at_start, at_end) = (density(from), density(to));
    let moved = (at_end - at_start) / sigma;
    let blur = (at_end * to - at_start * from) / sigma * per_blur;
    let spread =
        (at_end * (end_wider - end) / STEP - at_start * (start_wider - start) / STEP) / sigma;
    Along { value: cumulative(from) - cumulative(to), moved, blur, spread }
}

/// The strips of a box after its spread; none when nothing is left of it.
fn strips(shape: &RoundedBox, spread: f64) -> Vec<Strip> {
    let Some(shape) = shape.spread(spread) else { return Vec::new() };
    let [top_left, top_right, bottom_right, bottom_left] = shape.radii;
    let (top, bottom) = (top_left.1.max(top_right.1), bottom_left.1.max(bottom_right.1));
    let ends = if top > 0.0 || bottom > 0.0 { STRIPS } else { 0 };
    cut(&shape, spread, ends)
}

/// As [`strips`], as many as there are already.
fn strips_like(shape: &RoundedBox, spread: f64, strips: &[Strip]) -> Vec<Strip> {
    let ends = strips.len() / 2;
    shape.spread(spread).map_or_else(|| strips.to_vec(), |shape| cut(&shape, spread, ends))
}

fn cut(shape: &RoundedBox, spread: f64, ends: usize) -> Vec<Strip> {
    let RoundedBox { width, height, radii: [top_left, top_right, bottom_right, bottom_left] } = *shape;
    let (top, bottom) = (top_left.1.max(top_right.1), bottom_left.1.max(bottom_right.1));
    let strip = |left: f64, right: f64, top: f64, bottom: f64| Strip {
        left: left - spread,
        right: width - right - spread,
        top: top - spread,
        bottom: bottom - spread,
    };
    let mut strips = vec![strip(0.0, 0.0, top, height - bottom)];
    // Equal steps of the angle about the corner's middle, so that strips are thin where the edge is flat.
    let depth = |share: f64, zone: f64| zone * (1.0 - (share * std::f64::consts::FRAC_PI_2).cos());
    for number in 0..ends {
        let (from, to) = (number as f64 / ends as f64, (number + 1) as f64 / ends as f64);
        let middle = (from + to) / 2.0;
        let at = depth(middle, top);
        let (near, far) = (depth(from, top), depth(to, top));
        strips.push(strip(inset(top_left, at), inset(top_right, at), near, far));
        let at = depth(middle, bottom);
        let (near, far) = (depth(from, bottom), depth(to, bottom));
        strips.push(strip(inset(bottom_left, at), inset(bottom_right, at), height - far, height - near));
    }
    strips
}

/// How far a corner draws a box's side in, so deep under its end.
fn inset((rx, ry): (f64, f64), depth: f64) -> f64 {
    if ry <= 0.0 || depth >= ry {
        return 0.0;
    }
    let height = 1.0 - depth / ry;
    rx * (1.0 - (1.0 - height * height).sqrt())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::blur::gaussian;
    use crate::raster::{Rect, rasterize};
    use kurbo::Affine;

    fn card() -> RoundedBox {
        RoundedBox::new(120.0, 80.0, [(16.0, 16.0), (16.0, 16.0), (30.0, 20.0), (0.0, 0.0)])
    }

    fn shadow(blur: f64, spread: f64) -> Shadow {
        Shadow { dx: 3.25, dy: 9.5, blur, spread, opacity: 1.0, colour: [0.0; 3] }
    }

    fn grid() -> BoxField {
        let steps = |from: i32, to: i32| (from..to).map(|i| f64::from(i) * 5.0 + 0.5).collect();
        BoxField::grid(card(), steps(-8, 34), steps(-8, 26), |_, _| true)
    }

    /// The closed form is what the renderer's own masks and blur give.
    #[test]
    fn a_box_in_closed_form_is_the_rendered_one() {
        for (blur, spread) in [(0.0, 0.0), (3.0, -6.0), (12.0, 0.0), (24.0, 8.0), (60.0, -12.0)] {
            let (field, shadow) = (grid(), shadow(blur, spread));
            let window = Rect::new(-60, -60, 220, 200);
            let shape = card().spread(spread).unwrap();
            let place = Affine::translate((shadow.dx - spread, shadow.dy - spread));
            let mask = gaussian(&rasterize(&shape.path(), place, window.grown(200)), blur / 2.0, window);
            let coverage = field.cover(&shadow);
            let mut worst: f64 = 0.0;
            for (value, &(x, y)) in coverage.value.iter().zip(&field.places) {
                let drawn = mask.at(field.xs[x].floor() as i32, field.ys[y].floor() as i32);
                worst = worst.max((f64::from(drawn) - value).abs());
            }
            // A sharp edge of a pixel is drawn as a straight slope and met here as a steep Gaussian one.
            let allowed = if blur < 2.0 { 0.12 } else { 0.006 };
            assert!(worst < allowed, "blur {blur}, spread {spread}: {worst}");
        }
    }

    #[test]
    fn slopes_are_what_small_steps_give() {
        let (field, at) = (grid(), shadow(14.0, -4.0));
        let coverage = field.cover(&at);
        let step = 1e-4;
        let moved = |change: fn(&mut Shadow, f64)| {
            let (mut less, mut more) = (at, at);
            change(&mut less, -step);
            change(&mut more, step);
            (field.cover(&less).value, field.cover(&more).value)
        };
        let cases: [(&[f64], fn(&mut Shadow, f64)); 4] = [
            (&coverage.dx, |shadow, step| shadow.dx += step),
            (&coverage.dy, |shadow, step| shadow.dy += step),
            (&coverage.blur, |shadow, step| shadow.blur += step),
            (&coverage.spread, |shadow, step| shadow.spread += step),
        ];
        for (number, (slopes, change)) in cases.into_iter().enumerate() {
            let (less, more) = moved(change);
            for (slope, (less, more)) in slopes.iter().zip(less.iter().zip(&more)) {
                assert!((slope - (more - less) / (2.0 * step)).abs() < 2e-4, "slope {number}: {slope}");
            }
        }
    }
}
