//! The best stack for each number of shadows.
//!
//! Stacks are begun in three ways: the shadows of the input gathered into groups, the best smaller stack with one
//! shadow split, and the best larger one with one shadow left out. Each is refined by least squares; the best is then
//! refined on, with places that are far off counting more and more, because what a person sees of a stack is where
//! it is worst.

use super::error::seen_off;
use super::forward::{Model, PremultipliedLayer};
use super::least_squares::{Objective, refine};
use super::shadow::Shadow;
use crate::budget;
use crate::parallel::parallel_map;

/// A stack and how far it is off at worst, from 0 to 1.
#[derive(Debug, Clone, PartialEq)]
pub struct Candidate {
    /// First is nearest the eye.
    pub shadows: Vec<Shadow>,
    /// At the worst place, in the worst channel.
    pub worst: f64,
}

/// A difference that is not worth another search, nor another shadow.
const FAINT: f64 = 0.25 / 255.0;
/// Hundredths of a request's budget that a search takes; two, outside and inside, leave half for the rest.
const SHARE: u64 = 25;
/// Steps that each beginning is tried for; fewer where they are slow.
const TRIED: usize = 10;
const TRIED_SLOWLY: usize = 5;
/// The powers that differences are raised to, one after another, and steps for each.
const STAGES: [(i32, usize); 4] = [(1, 30), (2, 16), (4, 16), (10, 30)];
/// Beginnings that are refined where they are worst; one where that is slow.
const LEVELLED: usize = 3;

/// The best stacks of 1 to `most` shadows that look like `input`, in order.
#[must_use]
pub fn by_count(model: &Model<'_>, input: &[Shadow], most: usize) -> Vec<Candidate> {
    let target = model.compose(input);
    let starts = |count: usize| {
        let mut starts = vec![gathered(input, count, Measure::Reach), gathered(input, count, Measure::Blur)];
        if !model.freedom.spread {
            starts.iter_mut().flatten().for_each(|shadow| shadow.spread = 0.0);
        }
        starts
    };
    towards(model, &target, most.min(input.len()), starts)
}

/// The best stacks of 1 to `most` shadows near a target, begun also with the `starts` of each count.
#[must_use]
pub fn towards(
    model: &Model<'_>,
    target: &[PremultipliedLayer],
    most: usize,
    starts: impl Fn(usize) -> Vec<Vec<Shadow>>,
) -> Vec<Candidate> {
    let search = Search { model, target };
    let mut found: Vec<Candidate> = Vec::new();
    // Fewer shadows come first, and are what is looked for: where the search takes long, larger numbers are left out.
    let begun = budget::state();
    let goes_on = || {
        let may = begun.zip(budget::state());
        !budget::is_stopped()
            && may.is_none_or(|((most, before), (_, now))| now - before < most / 100 * SHARE)
    };
    for count in 1..=most {
        if !goes_on() {
            break;
        }
        let mut starts = starts(count);
        if let Some(smaller) = found.last() {
            starts.extend((0..smaller.shadows.len()).map(|at| with_one_split(&smaller.shadows, at)));
        }
        let best = search.best(starts);
        found.push(match found.last() {
            Some(smaller) if smaller.worst < best.worst => search.with_one_more(smaller),
            _ => best,
        });
        if found.last().is_some_and(|last| last.worst < FAINT) {
            break;
        }
    }
    for count in (1..found.len()).rev() {
        if found[count - 1].worst < FAINT {
            continue;
        }
        if !goes_on() {
            break;
        }
        let larger = found[count].shadows.clone();
        let starts = (0..larger.len()).map(|at| with_one_less(&larger, at)).collect();
        let other = search.best(starts);
        if other.worst < found[count - 1].worst {
            found[count - 1] = other;
        }
    }
    found
}

/// How far a stack is off at worst.
#[must_use]
pub fn worst(model: &Model<'_>, target: &[PremultipliedLayer], shadows: &[Shadow]) -> f64 {
    let seen = model.compose(shadows);
    let off = seen.iter().zip(target).map(|(seen, wanted)| off(model, seen, wanted));
    off.fold(0.0, f64::max)
}

/// On black and on white ground, whichever shows it more.
fn off(model: &Model<'_>, seen: &PremultipliedLayer, wanted: &PremultipliedLayer) -> f64 {
    let by = |channel: usize| seen[channel] - wanted[channel];
    if !model.coloured {
        return by(3).abs();
    }
    seen_off(&std::array::from_fn(by))
}

struct Search<'a> {
    model: &'a Model<'a>,
    target: &'a [PremultipliedLayer],
}

impl Search<'_> {
    /// A stack that looks the same with one shadow more, refined where it is worst.
    fn with_one_more(&self, smaller: &Candidate) -> Candidate {
        let mut shadows = smaller.shadows.clone();
        let Some(at) = (0..shadows.len()).max_by(|a, b| shadows[*a].opacity.total_cmp(&shadows[*b].opacity))
        else {
            return smaller.clone();
        };
        shadows[at].opacity = 1.0 - (1.0 - shadows[at].opacity).max(0.0).sqrt();
        shadows.insert(at, shadows[at]);
        let same = self.candidate(shadows.clone());
        let refined = self.levelled(shadows);
        if refined.worst < same.worst { refined } else { same }
    }

    fn best(&self, starts: Vec<Vec<Shadow>>) -> Candidate {
        let goal = Objective {
            target: self.target,
            power: 1,
            scale: 1.0,
            prior: None,
            held: &[],
            is_ground_free: false,
        };
        let slow = self.model.field.is_slow();
        let (steps, levelled) = if slow { (TRIED_SLOWLY, 1) } else { (TRIED, LEVELLED) };
        let mut tried: Vec<(f64, Vec<Shadow>)> = parallel_map(&starts, |start| {
            let mut shadows = start.clone();
            (refine(self.model, &goal, &mut shadows, steps), shadows)
        });
        tried.sort_by(|(a, _), (b, _)| a.total_cmp(b));
        tried.truncate(levelled);
        let levelled = parallel_map(&tried, |(_, shadows)| self.levelled(shadows.clone()));
        let best = levelled.into_iter().min_by(|a, b| a.worst.total_cmp(&b.worst));
        best.unwrap_or(Candidate { shadows: Vec::new(), worst: 1.0 })
    }

    fn levelled(&self, shadows: Vec<Shadow>) -> Candidate {
        levelled(self.model, self.target, shadows)
    }

    fn candidate(&self, shadows: Vec<Shadow>) -> Candidate {
        Candidate { worst: worst(self.model, self.target, &shadows), shadows }
    }
}

/// A stack refined evenly, then more and more where it is worst.
#[must_use]
pub fn levelled(model: &Model<'_>, target: &[PremultipliedLayer], mut shadows: Vec<Shadow>) -> Candidate {
    let candidate = |shadows: Vec<Shadow>| Candidate { worst: worst(model, target, &shadows), shadows };
    let mut best = candidate(shadows.clone());
    for (power, steps) in STAGES {
        let scale = worst(model, target, &shadows).max(1e-9);
        let goal = Objective { target, power, scale, prior: None, held: &[], is_ground_free: false };
        refine(model, &goal, &mut shadows, steps);
        let refined = candidate(shadows.clone());
        if refined.worst < best.worst {
            best = refined;
        }
        if best.worst < 1e-4 {
            break;
        }
    }
    best
}

#[derive(Clone, Copy)]
enum Measure {
    Reach,
    Blur,
}

/// The input in so many groups of neighbours, each as one shadow.
fn gathered(input: &[Shadow], count: usize, measure: Measure) -> Vec<Shadow> {
    let size = |shadow: &Shadow| match measure {
        Measure::Reach => crate::maths::ln(1.0 + shadow.reach()),
        Measure::Blur => crate::maths::ln(1.0 + shadow.blur),
    };
    let mut order: Vec<usize> = (0..input.len()).collect();
    order.sort_by(|a, b| size(&input[*a]).total_cmp(&size(&input[*b])));
    let groups = partition(&order.iter().map(|at| size(&input[*at])).collect::<Vec<_>>(), count);
    let mut gathered: Vec<(usize, Shadow)> = groups
        .into_iter()
        .map(|group| {
            let members = &order[group];
            let first = members.iter().copied().min().unwrap_or(0);
            (first, as_one(members.iter().map(|at| &input[*at])))
        })
        .collect();
    gathered.sort_by_key(|(first, _)| *first);
    gathered.into_iter().map(|(_, shadow)| shadow).collect()
}

/// Sorted sizes cut into `count` runs so that the squares within each add up to the least.
fn partition(sizes: &[f64], count: usize) -> Vec<std::ops::Range<usize>> {
    // Sums up to each place, so that a run of thousands costs no more than one of two.
    let (mut sums, mut squares) = (vec![0.0], vec![0.0]);
    for (at, size) in sizes.iter().enumerate() {
        sums.push(sums[at] + size);
        squares.push(squares[at] + size * size);
    }
    let within = |from: usize, to: usize| {
        let sum: f64 = sums[to] - sums[from];
        (squares[to] - squares[from] - sum * sum / (to - from) as f64).max(0.0)
    };
    let (length, count) = (sizes.len(), count.min(sizes.len()));
    let mut least = vec![vec![f64::INFINITY; length + 1]; count + 1];
    let mut cuts = vec![vec![0; length + 1]; count + 1];
    least[0][0] = 0.0;
    for parts in 1..=count {
        for end in parts..=length {
            for start in parts - 1..end {
                let sum = least[parts - 1][start] + within(start, end);
                if sum < least[parts][end] {
                    (least[parts][end], cuts[parts][end]) = (sum, start);
                }
            }
        }
    }
    let mut runs = Vec::new();
    let mut end = length;
    for parts in (1..=count).rev() {
        let start = cuts[parts][end];
        runs.push(start..end);
        end = start;
    }
    runs.reverse();
    runs
}

/// One shadow as dark as several, where they are on average.
fn as_one<'a>(members: impl Iterator<Item = &'a Shadow>) -> Shadow {
    let (mut shows, mut sum) = (1.0, 0.0);
    let mut one = Shadow { dx: 0.0, dy: 0.0, blur: 0.0, spread: 0.0, opacity: 0.0, colour: [0.0; 3] };
    for member in members {
        let weight = member.opacity.max(1e-6);
        sum += weight;
        shows *= 1.0 - member.opacity;
        one.dx += weight * member.dx;
        one.dy += weight * member.dy;
        one.blur += weight * member.blur;
        one.spread += weight * member.spread;
        one.colour.iter_mut().zip(member.colour).for_each(|(sum, channel)| *sum += weight * channel);
    }
    let mean = |value: f64| value / sum.max(1e-12);
    Shadow {
        dx: mean(one.dx),
        dy: mean(one.dy),
        blur: mean(one.blur),
        spread: mean(one.spread),
        opacity: (1.0 - shows).clamp(1e-4, 1.0),
        colour: one.colour.map(mean),
    }
}

/// A stack in which one shadow is two: a tighter and a wider one.
fn with_one_split(shadows: &[Shadow], at: usize) -> Vec<Shadow> {
    let shadow = shadows[at];
    let half = 1.0 - (1.0 - shadow.opacity).max(0.0).sqrt();
    let scaled = |by: f64| Shadow {
        dx: shadow.dx * by,
        dy: shadow.dy * by,
        blur: shadow.blur * by + (by - 0.5) * 0.5,
        opacity: half.clamp(1e-4, 1.0),
        ..shadow
    };
    let mut split = shadows.to_vec();
    split[at] = scaled(0.6);
    split.insert(at + 1, scaled(1.5));
    split
}

/// A stack without one shadow, whose neighbours take over its effect.
fn with_one_less(shadows: &[Shadow], at: usize) -> Vec<Shadow> {
    let mut rest = shadows.to_vec();
    let gone = rest.remove(at);
    let nearest = rest.iter_mut().min_by(|a, b| {
        let away =
            |shadow: &Shadow| (crate::maths::ln(shadow.reach()) - crate::maths::ln(gone.reach())).abs();
        away(a).total_cmp(&away(b))
    });
    if let Some(nearest) = nearest {
        *nearest = as_one([*nearest, gone].iter());
    }
    rest
}
