//! Where a stack is looked at: close together at edges, wide apart where nothing changes quickly.

use super::boxes::BoxField;
use super::shadow::{Shadow, Side};
use crate::geometry::RoundedBox;

/// Most places along one axis of the grid, and along one line across an edge.
const GRID: usize = 20;
const LINE: usize = 60;

/// Places around a box, or in it, for everything that a stack does there, and `also` some more.
#[must_use]
pub fn around(shape: RoundedBox, shadows: &[Shadow], side: Side, also: &[(f64, f64)]) -> BoxField {
    let is_straight = shadows.iter().all(|shadow| shadow.dx == 0.0) && is_even(&shape);
    let across: Vec<Reach> = shadows.iter().map(|shadow| Reach::new(shadow, shadow.dx, side)).collect();
    let down: Vec<Reach> = shadows.iter().map(|shadow| Reach::new(shadow, shadow.dy, side)).collect();
    let (all_xs, all_ys) = (along(shape.width, &across, side), along(shape.height, &down, side));
    let (xs, ys) = (thinned(&all_xs, shape.width, GRID), thinned(&all_ys, shape.height, GRID));
    let outline = Outline(shape);
    let (middle, centre) = (shape.width / 2.0, shape.height / 2.0);
    // Edges are looked at closely on one line each, and on lines through the corners.
    let mut more = outline.pixels();
    more.extend(also);
    more.extend(thinned(&all_xs, shape.width, LINE).into_iter().map(|x| (x, centre)));
    more.extend(thinned(&all_ys, shape.height, LINE).into_iter().map(|y| (middle, y)));
    more.extend(outline.diagonals(&xs, &ys));
    more.extend(ys.iter().flat_map(|y| xs.iter().map(move |x| (*x, *y))));
    if is_straight {
        // The right half looks like the left one.
        more.retain(|(x, _)| *x <= middle);
    }
    BoxField::new(shape, more, |x, y| {
        let covered = outline.covers(x, y);
        if side == Side::Inside { covered } else { 1.0 - covered }
    })
}

fn is_even(shape: &RoundedBox) -> bool {
    let [top_left, top_right, bottom_right, bottom_left] = shape.radii;
    top_left == top_right && bottom_left == bottom_right
}

/// A shadow along one axis.
struct Reach {
    offset: f64,
    spread: f64,
    sigma: f64,
}

impl Reach {
    fn new(shadow: &Shadow, offset: f64, side: Side) -> Self {
        let spread = if side == Side::Outside { shadow.spread } else { -shadow.spread };
        Self { offset, spread, sigma: shadow.blur / 2.0 }
    }
}

fn along(length: f64, reaches: &[Reach], side: Side) -> Vec<f64> {
    let past = |end: f64| {
        let far = reaches.iter().map(|reach| end * reach.offset + reach.spread + 3.0 * reach.sigma);
        far.fold(1.0, f64::max).min(4000.0)
    };
    let (before, after) = match side {
        Side::Outside => (past(-1.0), past(1.0)),
        Side::Inside => (0.0, 0.0),
    };
    let inner = length / 2.0;
    let mut places = Vec::new();
    for distance in distances(before.max(inner)) {
        places.extend((distance < before).then_some(-distance));
        places.extend((distance < inner).then_some(distance));
    }
    for distance in distances(after.max(inner)) {
        places.extend((distance < after).then_some(length + distance));
        places.extend((distance < inner).then_some(length - distance));
    }
    for reach in reaches {
        for sigmas in [-1.5, -0.7, 0.0, 0.7, 1.5] {
            places.push(reach.offset - reach.spread + sigmas * (reach.sigma + 0.4));
            places.push(length + reach.offset + reach.spread + sigmas * (reach.sigma + 0.4));
        }
    }
    places.push(length / 2.0);
    let within = -before - 0.5..=length + after + 0.5;
    places.retain(|place| within.contains(place));
    // In the middle of pixels, as a picture has them.
    places.iter_mut().for_each(|place| *place = place.floor() + 0.5);
    places.sort_by(f64::total_cmp);
    places.dedup();
    places
}

/// From the edge outward, in steps of a twelfth of the distance.
fn distances(most: f64) -> Vec<f64> {
    std::iter::successors(Some(0.5_f64), |at| Some(at + (at * 0.08).max(1.0)))
        .take_while(|at| *at < most)
        .collect()
}

/// Without those that lie too near one another for how far they are from the edges.
fn thinned(places: &[f64], length: f64, most: usize) -> Vec<f64> {
    let mut share = 0.02;
    loop {
        let mut kept: Vec<f64> = Vec::new();
        for place in places {
            let from_edge = place.abs().min((place - length).abs());
            let gap = (from_edge * share).max(1.0);
            if kept.last().is_none_or(|last| place - last >= gap) {
                kept.push(*place);
            }
        }
        if kept.len() <= most {
            return kept;
        }
        share *= 1.25;
        if share > 4.0 {
            let every = kept.len().div_ceil(most);
            return kept.into_iter().step_by(every).collect();
        }
    }
}

struct Outline(RoundedBox);

/// Pixels of each round corner that are looked at.
const OF_A_CORNER: usize = 8;
/// How far outside it they are looked at, in px: pixels that it runs through, and beside them.
const BESIDE: [f64; 3] = [0.0, 1.5, 4.0];
/// Samples of a pixel along each axis.
const FINER: i32 = 4;

impl Outline {
    /// How much of the pixel around a place is inside.
    fn covers(&self, x: f64, y: f64) -> f64 {
        let at = |number: i32| (f64::from(number) + 0.5) / f64::from(FINER) - 0.5;
        let samples = (0..FINER).flat_map(|row| (0..FINER).map(move |column| (at(column), at(row))));
        let inside = samples.filter(|(dx, dy)| self.holds(x + dx, y + dy)).count();
        inside as f64 / f64::from(FINER * FINER)
    }

    /// Lines outward from each corner, at the distances of the grid.
    fn diagonals(&self, xs: &[f64], ys: &[f64]) -> Vec<(f64, f64)> {
        let RoundedBox { width, height, .. } = self.0;
        let before = |places: &[f64]| places.iter().copied().filter(|at| *at < 0.0).collect::<Vec<f64>>();
        let after = |places: &[f64], end: f64| {
            places.iter().copied().filter(|at| *at > end).rev().collect::<Vec<f64>>()
        };
        let sides = [before(xs), after(xs, width)];
        let ends = [before(ys), after(ys, height)];
        let pair = |(side, end): (&Vec<f64>, &Vec<f64>)| {
            side.iter().rev().copied().zip(end.iter().rev().copied()).collect::<Vec<_>>()
        };
        let corners = sides.iter().flat_map(|side| ends.iter().map(move |end| (side, end)));
        corners.flat_map(pair).collect()
    }

    /// Pixels that the round corners run through, and some beside them.
    fn pixels(&self) -> Vec<(f64, f64)> {
        let RoundedBox { width, height, radii } = self.0;
        let turned = [
            (0.0, 0.0, 1.0, 1.0),
            (width, 0.0, -1.0, 1.0),
            (width, height, -1.0, -1.0),
            (0.0, height, 1.0, -1.0),
        ];
        let corners = turned.into_iter().zip(radii).filter(|(_, (rx, ry))| *rx > 1.0 && *ry > 1.0);
        let of_corner = |((x, y, right, down), (rx, ry)): ((f64, f64, f64, f64), (f64, f64))| {
            let all = (0..OF_A_CORNER).flat_map(|number| BESIDE.map(|beside| (number, beside)));
            all.map(move |(number, beside)| {
                let angle = (number as f64 + 0.5) / OF_A_CORNER as f64 * std::f64::consts::FRAC_PI_2;
                let across = rx - (rx + beside) * crate::maths::cos(angle);
                let under = ry - (ry + beside) * crate::maths::sin(angle);
                ((x + right * across).floor() + 0.5, (y + down * under).floor() + 0.5)
            })
        };
        corners.flat_map(of_corner).collect()
    }

    /// Whether a place lies inside.
    fn holds(&self, x: f64, y: f64) -> bool {
        let RoundedBox { width, height, radii } = self.0;
        if !(0.0..=width).contains(&x) || !(0.0..=height).contains(&y) {
            return false;
        }
        let [top_left, top_right, bottom_right, bottom_left] = radii;
        let corners = [
            (x, y, top_left),
            (width - x, y, top_right),
            (width - x, height - y, bottom_right),
            (x, height - y, bottom_left),
        ];
        corners.into_iter().all(|(x, y, (rx, ry))| {
            x >= rx || y >= ry || ((rx - x) / rx).powi(2) + ((ry - y) / ry).powi(2) <= 1.0
        })
    }
}
