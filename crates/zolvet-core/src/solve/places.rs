//! Where a stack is looked at: close together at edges, wide apart where nothing changes quickly.

use super::boxes::BoxField;
use super::shadow::{Shadow, Side};
use crate::geometry::RoundedBox;

/// Most places along one axis.
const MOST: usize = 56;

/// Places around a box, or in it, for everything that a stack does there.
#[must_use]
pub fn around(shape: RoundedBox, shadows: &[Shadow], side: Side) -> BoxField {
    let is_straight = shadows.iter().all(|shadow| shadow.dx == 0.0) && is_even(&shape);
    let across: Vec<Reach> = shadows.iter().map(|shadow| Reach::new(shadow, shadow.dx, side)).collect();
    let down: Vec<Reach> = shadows.iter().map(|shadow| Reach::new(shadow, shadow.dy, side)).collect();
    let mut xs = along(shape.width, &across, side);
    if is_straight {
        // The right half looks like the left one.
        xs.retain(|x| *x <= shape.width / 2.0);
    }
    let ys = along(shape.height, &down, side);
    let outline = Outline(shape);
    BoxField::grid(shape, xs, ys, |x, y| outline.holds(x, y) == (side == Side::Inside))
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
    thinned(places, length)
}

/// From the edge outward: each step a quarter longer than what it is away.
fn distances(most: f64) -> Vec<f64> {
    std::iter::successors(Some(0.5), |at| Some(at + (at * 0.22).max(1.0)))
        .take_while(|at| *at < most)
        .collect()
}

/// Without those that lie too near one another for how far they are from the edges.
fn thinned(places: Vec<f64>, length: f64) -> Vec<f64> {
    let mut share = 0.06;
    loop {
        let mut kept: Vec<f64> = Vec::new();
        for place in &places {
            let from_edge = place.abs().min((place - length).abs());
            let gap = (from_edge * share).max(0.75);
            if kept.last().is_none_or(|last| place - last >= gap) {
                kept.push(*place);
            }
        }
        if kept.len() <= MOST {
            return kept;
        }
        share *= 1.4;
        if share > 4.0 {
            let every = kept.len().div_ceil(MOST);
            return kept.into_iter().step_by(every).collect();
        }
    }
}

struct Outline(RoundedBox);

impl Outline {
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
