//! Coats for a height: the shadow that a thin plate above the ground really casts (docs/measuring.md, "Heights").

mod around;
mod coats;
mod plate;
mod relit;
mod rig;
mod stack;

use super::boxes::BoxField;
use super::error::SolveError;
use super::field::Field as _;
use super::forward::{Model, PremultipliedLayer};
use super::least_squares::{Objective, refine};
use super::search::worst;
use super::shadow::{Freedom, OffsetAxis, Shadow, Side};
use crate::geometry::RoundedBox;
use crate::limits;
use crate::model::{Coat, Id};
use crate::parallel::parallel_map;
use crate::syntax::round_to;
use around::{Around, PLACES, SEEN, outside, reach, seen_on, veil_on};

pub use coats::{at_height, darkening, error as height_error, raised_coat};
pub use plate::Plate;
pub use relit::{relit, shadows_under};
pub use rig::LightRig;
pub use stack::{LEAST_HEIGHT, MOST_COATS, MOST_HEIGHT, RaisedStack, SaidHeight};

/// The best stack of so many shadows for a plate's height: black, all in the light's direction.
#[must_use]
pub fn raise(shape: RoundedBox, height: f64, rig: &LightRig, count: usize) -> RaisedStack {
    let height = height.clamp(LEAST_HEIGHT, MOST_HEIGHT);
    let fit = Fit::new(shape, height, rig, 1.0);
    let starts = starts(height, rig, count.clamp(1, MOST_COATS));
    let tried = parallel_map(&starts, |start| fit.stages(start));
    let best = tried.into_iter().flatten().min_by(|a, b| cost(&a.error).total_cmp(&cost(&b.error)));
    best.unwrap_or(RaisedStack { shadows: Vec::new(), error: SolveError::default() })
}

/// A stack for a plate's height at once, while a hand moves: near the best, and the key's place and blur as they are there.
#[must_use]
pub fn raise_roughly(shape: RoundedBox, height: f64, rig: &LightRig, count: usize) -> RaisedStack {
    let height = height.clamp(LEAST_HEIGHT, MOST_HEIGHT);
    let fit = Fit::new(shape, height, rig, ROUGH);
    let mut start = starts(height, rig, count.clamp(1, MOST_COATS)).into_iter().next().unwrap_or_default();
    fit.stage(&mut start, (1, ROUGH_STEPS))
}

/// Coats for several heights of one plate, which all are the same function of their height: the one found for the height in the
/// middle. Each with how far it is from what the plate casts there.
#[must_use]
pub fn raise_all(
    shape: RoundedBox,
    heights: &[f64],
    rig: &LightRig,
    count: usize,
    follows: Option<&Id>,
) -> Vec<(Coat, SolveError)> {
    let lowest = heights.iter().copied().fold(f64::INFINITY, f64::min);
    let highest = heights.iter().copied().fold(0.0, f64::max);
    if highest <= 0.0 {
        return Vec::new();
    }
    // Heights are told apart by their ratios.
    let middle = (lowest * highest).sqrt();
    let stack = raise(shape, middle, rig, count);
    let one = raised_coat(&stack, middle, rig, follows.cloned());
    let at = |height: &f64| (at_height(&one, *height), height_error(&one, shape, *height, rig));
    heights.iter().map(at).collect()
}

/// How much farther apart places are looked at for a rough stack, and its steps.
const ROUGH: f64 = 3.0;
const ROUGH_STEPS: usize = 8;

/// How bad an error is: its mean, and its worst places a little.
fn cost(error: &SolveError) -> f64 {
    error.mean + error.p99 / 7.0 + error.worst / 6.0
}

/// A plate's shadow that stacks are fitted to.
struct Fit {
    height: f64,
    around: Around,
    field: BoxField,
    target: Vec<PremultipliedLayer>,
    freedom: Freedom,
    /// Where the light's own shadow lies is known, and how soft it is.
    held: &'static [(usize, usize)],
}

/// No length of a shadow is longer, in heights.
const MOST_SHARE: f64 = 20.0;

/// The powers that differences are raised to, one after another, and steps for each.
const STAGES: [(i32, usize); 3] = [(1, 30), (2, 10), (4, 10)];

impl Fit {
    /// `apart` is how much farther apart places are looked at.
    fn new(shape: RoundedBox, height: f64, rig: &LightRig, apart: f64) -> Self {
        let plate = Plate::new(shape, height, rig);
        let (x, y) = rig.away();
        let reach = reach(height, rig);
        let far = rig.distance() * height;
        let lines = |length: f64, moved: f64| lines(length, moved, height * rig.softness(), (reach, apart));
        let (xs, ys) = (lines(shape.width, x * far), lines(shape.height, y * far));
        let places = ys.iter().flat_map(|y| xs.iter().map(move |x| (*x, *y))).collect();
        let field = outside(shape, places);
        let target = veil_on(&field, &plate);
        let freedom = Freedom {
            axis: OffsetAxis::Along { x, y },
            spread: true,
            blur: true,
            colour: false,
            least_spread: -(shape.width.min(shape.height) / 2.0 - 0.5).max(0.0),
            most_spread: limits::SPREAD,
        };
        let held: &[(usize, usize)] = if rig.ambient < 1.0 { &[(0, 0), (0, 1)] } else { &[] };
        Self {
            height,
            around: Around::new(shape, &plate, reach, PLACES / (apart * apart)),
            field,
            target,
            freedom,
            held,
        }
    }

    /// A stack refined evenly, then more and more where it is worst; it is looked at after each.
    fn stages(&self, start: &[Shadow]) -> Vec<RaisedStack> {
        let mut shadows = start.to_vec();
        STAGES.into_iter().map(|stage| self.stage(&mut shadows, stage)).collect()
    }

    /// Whether a shadow's lengths are such as a plate's at this height are.
    fn is_near(&self, shadow: &Shadow) -> bool {
        let longest = shadow.dx.abs().max(shadow.dy.abs()).max(shadow.blur).max(shadow.spread.abs());
        longest < MOST_SHARE * self.height
    }

    /// Whether a shadow is seen anywhere around the plate: one that is of no use may have been moved far away.
    fn is_seen(&self, shadow: &Shadow) -> bool {
        let covered = self.field.cover(shadow).value;
        let shown = covered.iter().zip(self.field.visible_shares());
        shown.into_iter().any(|(covered, shown)| covered * shown * shadow.opacity > SEEN)
    }

    /// A stack refined in some steps, with differences raised to a power.
    fn stage(&self, shadows: &mut Vec<Shadow>, (power, steps): (i32, usize)) -> RaisedStack {
        let (field, freedom) = (&self.field, &self.freedom);
        let model = Model { field, side: Side::Outside, freedom, coloured: false, ground: None };
        let scale = worst(&model, &self.target, shadows).max(1e-9);
        let goal = Objective {
            target: &self.target,
            power,
            scale,
            prior: None,
            held: self.held,
            is_ground_free: false,
        };
        refine(&model, &goal, shadows, steps);
        let seen = shadows.iter().copied().filter(|shadow| self.is_near(shadow) && self.is_seen(shadow));
        let shadows: Vec<Shadow> = seen.map(tidied).collect();
        let error = self.around.error(&shadows);
        RaisedStack { shadows, error }
    }
}

/// Places along one axis: close to the plate's edges and to those of its shadow, farther apart away from them.
fn lines(length: f64, moved: f64, soft: f64, (reach, apart): (f64, f64)) -> Vec<f64> {
    let mut places = Vec::new();
    for edge in [0.0, length] {
        let mut distance = 0.5;
        while distance < reach {
            places.extend([edge - distance, edge + distance]);
            distance += (distance * 0.3).max(1.0) * apart;
        }
        places.extend([-1.5, -0.75, -0.3, 0.0, 0.3, 0.75, 1.5].map(|by| edge + moved + by * soft.max(1.0)));
    }
    places.retain(|at| (-reach..=length + reach).contains(at));
    // In the middle of pixels, as a picture has them.
    places.iter_mut().for_each(|at| *at = at.floor() + 0.5);
    places.sort_by(f64::total_cmp);
    places.dedup();
    places
}

/// The height at which a plate's shadow is most like that of a stack, under a light; nothing where the stack is not seen.
#[must_use]
pub fn height_of(shadows: &[Shadow], shape: RoundedBox, rig: &LightRig) -> Option<SaidHeight> {
    let far = shadows.iter().map(Shadow::reach).fold(1.0, f64::max);
    let (xs, ys) =
        (lines(shape.width, 0.0, 0.0, (2.0 * far, 1.0)), lines(shape.height, 0.0, 0.0, (2.0 * far, 1.0)));
    let pixels = ys.iter().flat_map(|y| xs.iter().map(move |x| (*x, *y)));
    let field = outside(shape, across_edges(shape, far).into_iter().chain(pixels).collect());
    let seen = seen_on(&field, shadows);
    if seen.iter().all(|layer| layer[3] > 1.0 - SEEN) {
        return None;
    }
    // Each place stands for as much of its line as it is away from the edge.
    let away = |x: f64, y: f64| (-x).max(-y).max(x - shape.width).max(y - shape.height);
    let lengths: Vec<f64> = field.places().iter().map(|(_, x, y)| away(*x, *y)).collect();
    let off = |height: f64| -> f64 {
        let target = veil_on(&field, &Plate::new(shape, height, rig));
        let pairs = seen.iter().zip(&target).zip(&lengths);
        pairs.map(|((seen, wanted), length)| length * (seen[3] - wanted[3]).powi(2)).sum()
    };
    let at = |step: usize| {
        let share = step as f64 / HEIGHTS as f64;
        LEAST_HEIGHT * crate::maths::powf(MOST_HEIGHT / LEAST_HEIGHT, share)
    };
    let steps: Vec<usize> = (0..=HEIGHTS).collect();
    let offs = parallel_map(&steps, |step| off(at(*step)));
    let nearest = (0..offs.len()).min_by(|a, b| offs[*a].total_cmp(&offs[*b]))?;
    let height = least(at(nearest.saturating_sub(1)), at((nearest + 1).min(HEIGHTS)), off);
    let around = Around::new(shape, &Plate::new(shape, height, rig), reach(height, rig), PLACES);
    let error = around.error(shadows);
    Some(SaidHeight { height: round_to(height, 2), error })
}

/// Places on lines outward from the middles of the sides and from the corners, so that also a shadow of less than a px is seen to
/// begin and end.
fn across_edges(RoundedBox { width, height, .. }: RoundedBox, far: f64) -> Vec<(f64, f64)> {
    let (middle, centre) = (width / 2.0, height / 2.0);
    let outward = |by: f64| {
        let (left, right, top, bottom) = (-by, width + by, -by, height + by);
        [
            (left, centre),
            (right, centre),
            (middle, top),
            (middle, bottom),
            (left, top),
            (right, top),
            (right, bottom),
            (left, bottom),
        ]
    };
    let distances = std::iter::successors(Some(far / 400.0), |at| Some(at * 1.06));
    distances.take_while(|at| *at < 2.0 * far).flat_map(outward).collect()
}

/// Heights that are looked at before the nearest of them is looked at closely.
const HEIGHTS: usize = 48;

/// Where a function between two places is least, to a thousandth of them (golden section; Kiefer 1953).
fn least(mut low: f64, mut high: f64, of: impl Fn(f64) -> f64) -> f64 {
    let share = (5.0_f64.sqrt() - 1.0) / 2.0;
    let (mut a, mut b) = (high - share * (high - low), low + share * (high - low));
    let (mut of_a, mut of_b) = (of(a), of(b));
    while high - low > 1e-3 * high {
        if of_a < of_b {
            (high, b, of_b) = (b, a, of_a);
            a = high - share * (high - low);
            of_a = of(a);
        } else {
            (low, a, of_a) = (a, b, of_b);
            b = low + share * (high - low);
            of_b = of(b);
        }
    }
    (low + high) / 2.0
}

/// Stacks to begin with.
fn starts(height: f64, rig: &LightRig, count: usize) -> Vec<Vec<Shadow>> {
    let (x, y) = rig.away();
    let far = rig.distance() * height;
    let shadow = |distance: f64, blur: f64, opacity: f64| Shadow {
        dx: x * distance,
        dy: y * distance,
        blur,
        spread: 0.0,
        opacity: opacity.clamp(0.01, 0.95),
        colour: [0.0; 3],
    };
    let has_light = rig.ambient < 1.0;
    let key = Shadow { spread: 0.0, ..shadow(far, height * rig.softness(), 0.0) };
    let start = |first: OfHeight, second: OfHeight| -> Vec<Shadow> {
        let key = Shadow { opacity: 1.0 - 0.9 * crate::maths::powf(rig.ambient, 0.45), ..key };
        let others = count - usize::from(has_light);
        let of_others = (0..others).map(|number| {
            if rig.ambient <= 0.0 {
                // What the light's own shadow is not like by itself: its edge, nearer and farther.
                return shadow(far, key.blur * (0.5 + number as f64), 0.2);
            }
            let of = if number % 2 == 0 { first } else { second };
            let wider = 1.0 + (number / 2) as f64;
            let (distance, blur) = (of.distance * height, of.blur * height * wider);
            let opacity = of.opacity * (rig.ambient / 0.4).min(1.0) / wider;
            Shadow { spread: of.spread * height, ..shadow(distance, blur, opacity) }
        });
        has_light.then_some(key).into_iter().chain(of_others).collect()
    };
    let wide = OfHeight { distance: 0.2, blur: 1.5, spread: -0.6, opacity: 0.6 };
    let soft = OfHeight { distance: 0.0, blur: 2.3, spread: -1.4, opacity: 0.9 };
    let tight = OfHeight { distance: 0.3, blur: 0.3, spread: 0.1, opacity: 0.06 };
    let far = OfHeight { distance: -0.8, blur: 1.8, spread: 0.9, opacity: 0.03 };
    let even = OfHeight { distance: 0.0, blur: 1.2, spread: 0.0, opacity: 0.2 };
    let broad = OfHeight { distance: 0.0, blur: 4.5, spread: 0.0, opacity: 0.1 };
    vec![start(wide, far), start(wide, tight), start(soft, tight), start(soft, even), start(even, broad)]
}

/// A shadow of what is around, in shares of the height.
#[derive(Clone, Copy)]
struct OfHeight {
    distance: f64,
    blur: f64,
    spread: f64,
    opacity: f64,
}

/// Hundredths of a px, and opacities of four digits.
fn tidied(shadow: Shadow) -> Shadow {
    let hundredths = |number: f64| (number * 100.0).round() / 100.0 + 0.0;
    Shadow {
        dx: hundredths(shadow.dx),
        dy: hundredths(shadow.dy),
        blur: hundredths(shadow.blur),
        spread: hundredths(shadow.spread),
        opacity: (shadow.opacity * 1e4).round() / 1e4,
        ..shadow
    }
}
