//! The coverage of a rounded box in closed form.
//!
//! A box is cut into horizontal strips: one over the whole straight part, several over each end where the corners
//! are round. Blurred by a Gaussian, a strip is the product of what its sides give along x and what its top and
//! bottom give along y, and a box is the sum of its strips.

use std::collections::BTreeMap;

use super::field::{Coverage, Field};
use super::normal::normal;
use super::shadow::Shadow;
use crate::geometry::RoundedBox;

/// Strips over each end with round corners, for shadows up to so many px of blur: the sharper, the finer.
const STRIPS: [(f64, usize); 4] = [(2.5, 36), (5.0, 22), (12.0, 12), (f64::INFINITY, 8)];
/// The step in spread that the slopes of a box's edges are taken over, in px.
const STEP: f64 = 1e-3;

/// A place of which less is seen is left out.
const LEAST_SHARE: f64 = 0.02;

/// Places around a rounded box at 0,0.
#[derive(Debug, Clone)]
pub struct BoxField {
    shape: RoundedBox,
    xs: Vec<f64>,
    ys: Vec<f64>,
    /// Numbers of an x and a y.
    places: Vec<(usize, usize)>,
    weights: Vec<f64>,
    shown: Vec<f64>,
}

/// A strip's edges, in px.
#[derive(Debug, Clone, Copy)]
pub struct Strip {
    /// Its left edge.
    pub left: f64,
    /// Its right edge.
    pub right: f64,
    /// Its upper edge.
    pub top: f64,
    /// Its lower edge.
    pub bottom: f64,
}

/// A blurred strip along one axis at one place, and its slopes.
#[derive(Debug, Clone, Copy, Default)]
struct Along {
    value: f64,
    moved: f64,
    blur: f64,
    spread: f64,
}

impl Along {
    fn less(&self, other: &Self) -> Self {
        Self {
            value: self.value - other.value,
            moved: self.moved - other.moved,
            blur: self.blur - other.blur,
            spread: self.spread - other.spread,
        }
    }
}

impl BoxField {
    /// The places of which `share` says that something is seen.
    #[must_use]
    pub fn new(shape: RoundedBox, mut places: Vec<(f64, f64)>, share: impl Fn(f64, f64) -> f64) -> Self {
        places.retain(|(x, y)| share(*x, *y) > LEAST_SHARE);
        places.sort_by(|a, b| a.1.total_cmp(&b.1).then(a.0.total_cmp(&b.0)));
        places.dedup();
        let shown = places.iter().map(|&(x, y)| share(x, y)).collect();
        let weights = vec![1.0; places.len()];
        Self { shown, ..Self::along(shape, &places, weights) }
    }

    /// Places one by one, each with its weight.
    #[must_use]
    pub fn along(shape: RoundedBox, places: &[(f64, f64)], weights: Vec<f64>) -> Self {
        let distinct = |mut all: Vec<f64>| {
            all.sort_by(f64::total_cmp);
            all.dedup();
            all
        };
        let (xs, ys) = places.iter().copied().unzip();
        let (xs, ys) = (distinct(xs), distinct(ys));
        let number = |all: &[f64], at: f64| all.partition_point(|other| *other < at);
        let pairs = places.iter().map(|(x, y)| (number(&xs, *x), number(&ys, *y))).collect();
        Self { shape, xs, ys, places: pairs, weights, shown: vec![1.0; places.len()] }
    }
}

impl Field for BoxField {
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
        false
    }

    fn places(&self) -> Vec<(usize, f64, f64)> {
        self.places.iter().map(|(x, y)| (0, self.xs[*x], self.ys[*y])).collect()
    }

    fn cover(&self, shadow: &Shadow) -> Coverage {
        let mut coverage = Coverage::zeros(self.count());
        let ends = STRIPS.iter().find(|(most, _)| shadow.blur < *most).map_or(0, |(_, ends)| *ends);
        let strips = strips(&self.shape, shadow.spread, ends);
        if strips.is_empty() {
            return coverage;
        }
        let wider = strips_like(&self.shape, shadow.spread + STEP, &strips);
        let sides: fn(&Strip) -> (f64, f64) = |strip| (strip.left, strip.right);
        let ends: fn(&Strip) -> (f64, f64) = |strip| (strip.top, strip.bottom);
        let edges = |moved: f64, from: fn(&Strip) -> (f64, f64)| {
            Edges::new(strips.iter().map(from), wider.iter().map(from), moved, shadow.blur)
        };
        let across = edges(shadow.dx, sides).lines(&self.xs);
        let down = edges(shadow.dy, ends).lines(&self.ys);
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

/// An edge, blurred as the renderer does it: pixel by pixel. An edge on whole pixels comes out steeper than a Gaussian,
/// by 1/12 px² of its variance; one that covers a share of a pixel is between the two edges on whole pixels beside it.
struct Edge {
    /// The whole pixel before it.
    pixel: f64,
    /// How far past that it lies.
    share: f64,
    /// How far it moves per px of spread.
    spread: f64,
    /// 1/σ.
    per_sigma: f64,
    /// How σ grows per px of blur.
    per_blur: f64,
}

/// The least σ in px: half a pixel away, nothing is left of an edge.
const SHARP: f64 = 0.16;

impl Edge {
    fn new(at: f64, spread: f64, blur: f64) -> Self {
        let variance: f64 = blur * blur / 4.0 - 1.0 / 12.0;
        let sigma = variance.max(SHARP * SHARP).sqrt();
        let per_sigma = 1.0 / sigma;
        Self {
            pixel: at.floor(),
            share: at - at.floor(),
            spread,
            per_sigma,
            per_blur: blur * per_sigma / 4.0,
        }
    }

    /// The integral beyond the edge, and its derivatives.
    fn after(&self, at: f64) -> Along {
        let (near, far) = ((at - self.pixel) * self.per_sigma, (at - self.pixel - 1.0) * self.per_sigma);
        let ((of_near, by_near), (of_far, by_far)) = (normal(near), normal(far));
        let blur = -((1.0 - self.share) * by_near * near + self.share * by_far * far) * self.per_sigma;
        let moved = of_far - of_near;
        Along {
            value: of_near + self.share * moved,
            moved,
            blur: blur * self.per_blur,
            spread: moved * self.spread,
        }
    }
}

/// The edges of all strips along one axis, each once: neighbours share one, and both ends have the same sides.
struct Edges {
    distinct: Vec<Edge>,
    /// The edges that each strip starts and ends at.
    of_strips: Vec<(usize, usize)>,
}

impl Edges {
    /// From the strips' starts and ends, and those of a box that is spread a little more.
    fn new(
        strips: impl Iterator<Item = (f64, f64)>,
        wider: impl Iterator<Item = (f64, f64)>,
        moved: f64,
        blur: f64,
    ) -> Self {
        let (mut known, mut distinct) = (BTreeMap::new(), Vec::new());
        let mut number = |edge: f64, wider: f64| {
            *known.entry((edge.to_bits(), wider.to_bits())).or_insert_with(|| {
                distinct.push(Edge::new(edge + moved, (wider - edge) / STEP, blur));
                distinct.len() - 1
            })
        };
        let of_strips =
            strips.zip(wider).map(|(now, wider)| (number(now.0, wider.0), number(now.1, wider.1))).collect();
        Self { distinct, of_strips }
    }

    /// Every strip at every place.
    fn lines(&self, places: &[f64]) -> Vec<Vec<Along>> {
        let line = |at: &f64| {
            let edges: Vec<Along> = self.distinct.iter().map(|edge| edge.after(*at)).collect();
            self.of_strips.iter().map(|(start, end)| edges[*start].less(&edges[*end])).collect()
        };
        places.iter().map(line).collect()
    }
}

/// The strips of a box after its spread; none when nothing is left of it.
#[must_use]
pub fn strips(shape: &RoundedBox, spread: f64, ends: usize) -> Vec<Strip> {
    let Some(shape) = shape.spread(spread) else { return Vec::new() };
    let [top_left, top_right, bottom_right, bottom_left] = shape.radii;
    let (top, bottom) = (top_left.1.max(top_right.1), bottom_left.1.max(bottom_right.1));
    let ends = if top > 0.0 || bottom > 0.0 { ends } else { 0 };
    cut_strips(&shape, spread, ends)
}

/// As [`strips`], as many as there are already.
fn strips_like(shape: &RoundedBox, spread: f64, strips: &[Strip]) -> Vec<Strip> {
    let ends = strips.len() / 2;
    shape.spread(spread).map_or_else(|| strips.to_vec(), |shape| cut_strips(&shape, spread, ends))
}

fn cut_strips(shape: &RoundedBox, spread: f64, ends: usize) -> Vec<Strip> {
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
    let depth = |share: f64, zone: f64| zone * (1.0 - crate::maths::cos(share * std::f64::consts::FRAC_PI_2));
    for number in 0..ends {
        let (from, to) = (number as f64 / ends as f64, (number + 1) as f64 / ends as f64);
        let ends = (depth(from, top), depth(to, top));
        strips.push(strip(inset(top_left, ends), inset(top_right, ends), ends.0, ends.1));
        let ends = (depth(from, bottom), depth(to, bottom));
        let (left, right) = (inset(bottom_left, ends), inset(bottom_right, ends));
        strips.push(strip(left, right, height - ends.1, height - ends.0));
    }
    strips
}

/// How far a corner draws a box's side in, on average between two depths under its end: a strip is as large as the part
/// of the box it stands for.
fn inset((rx, ry): (f64, f64), (near, far): (f64, f64)) -> f64 {
    if ry <= 0.0 || near >= ry || far <= near {
        return 0.0;
    }
    // The corner is an ellipse's quarter: √(1 − h²) has the integral ½·(h·√(1 − h²) + asin h).
    let integral = |depth: f64| {
        let height = (1.0 - depth / ry).clamp(0.0, 1.0);
        0.5 * (height * (1.0 - height * height).sqrt() + crate::maths::asin(height))
    };
    let whole = (far.min(ry) - near) / ry;
    let covered = integral(near) - integral(far.min(ry));
    rx * (whole - covered) * ry / (far - near)
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
        let at = |number: i32| f64::from(number) * 5.0 + 0.5;
        let places = (-8..26).flat_map(|y| (-8..34).map(move |x| (at(x), at(y)))).collect();
        BoxField::new(card(), places, |_, _| 1.0)
    }

    /// The closed form equals the renderer's own masks and blur.
    #[test]
    fn a_box_in_closed_form_is_the_rendered_one() {
        for (blur, spread) in [(0.0, 0.0), (3.0, -6.0), (12.0, 0.0), (24.0, 8.0), (60.0, -12.0)] {
            let (field, shadow) = (grid(), shadow(blur, spread));
            let window = Rect::new(-60, -60, 220, 200);
            let shape = card().spread(spread).unwrap();
            let place = Affine::translate((shadow.dx - spread, shadow.dy - spread));
            let mask = gaussian(&rasterize(&shape.path(), place, window.grown(200)), blur / 2.0, window);
            let coverage = field.cover(&shadow);
            let offs = coverage.value.iter().zip(&field.places).map(|(value, &(x, y))| {
                let drawn = mask.at(field.xs[x].floor() as i32, field.ys[y].floor() as i32);
                (f64::from(drawn) - value).abs()
            });
            let offs: Vec<f64> = offs.collect();
            let mean = offs.iter().sum::<f64>() / offs.len() as f64;
            assert!(mean < 0.001, "blur {blur}, spread {spread}: {mean} on average");
            // Where a sharp corner is round, strips are steps.
            let worst = offs.into_iter().fold(0.0, f64::max);
            assert!(blur < 4.0 || worst < 0.003, "blur {blur}, spread {spread}: {worst}");
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
        type Change = fn(&mut Shadow, f64);
        let cases: [(&[f64], Change); 4] = [
            (&coverage.dx, |shadow, step| shadow.dx += step),
            (&coverage.dy, |shadow, step| shadow.dy += step),
            (&coverage.blur, |shadow, step| shadow.blur += step),
            (&coverage.spread, |shadow, step| shadow.spread += step),
        ];
        for (number, (slopes, change)) in cases.into_iter().enumerate() {
            let (less, more) = moved(change);
            for (slope, (less, more)) in slopes.iter().zip(less.iter().zip(&more)) {
                assert!((slope - (more - less) / (2.0 * step)).abs() < 2e-5, "slope {number}: {slope}");
            }
        }
    }
}
