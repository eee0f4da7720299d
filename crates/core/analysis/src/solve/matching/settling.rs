//! Stacks refined against a browser's drawing of them, until their numbers are known.

use super::best::{Best, NEARLY, cost, error};
use super::drawn::Drawn;
use super::element::Element;
use super::found::MatchedStack;
use super::looked::Looked;
use super::radius;
use super::rounding::Tolerance;
use super::side::FoundSide;
use crate::compose::MaskCache;
use crate::parallel::parallel_map;
use crate::solve::shadow::{Shadow, Side};

impl Element<'_> {
    /// The best stack for each number of shadows, in CSS px. Ground and fill are those of the greatest, which tells them best.
    pub fn by_count(&mut self) -> Vec<MatchedStack> {
        let cache = MaskCache::default();
        let most = self.outside.len().max(self.inside.len());
        let greatest = self.exchanged(most - 1, &self.looked(), &Exchange::SETTLING, &cache);
        let least: f64 = greatest.iter().filter_map(|best| best.cost).sum();
        self.settle(greatest, &cache);
        let looked = self.looked();
        let counts: Vec<usize> = (0..most).collect();
        let settled = parallel_map(&counts, |count| {
            let unrounded = usize::from(*count + 1 < most);
            let last = Exchange { unrounded, enough: ENOUGH * least + NEARLY, ..Exchange::LAST };
            self.exchanged(*count, &looked, &last, &cache)
        });
        let most = self.outside.len() + self.inside.len() - 1;
        let pairs: Vec<[&Best; 2]> = (0..most).filter_map(|count| self.best_of(count, &settled)).collect();
        let mut stacks: Vec<MatchedStack> = pairs.iter().map(|pair| stacked(*pair)).collect();
        let at = suggested(&stacks);
        if let Some(pair) = pairs.get(at) {
            let mut best = pair.map(Clone::clone);
            for side in [0, 1] {
                self.type_numbers(side, &looked, &mut best, &cache);
            }
            stacks[at] = stacked([&best[0], &best[1]]);
        }
        stacks
    }

    /// Both sides with what is looked at.
    fn looked(&self) -> [Looked<'_>; 2] {
        [Side::Outside, Side::Inside].map(|side| Looked::new(self.side(side)))
    }

    /// The stacks of so many shadows outside and inside, or the most that were found.
    fn start(&self, count: usize) -> [FoundSide; 2] {
        [&self.outside, &self.inside].map(|all| all[count.min(all.len() - 1)].clone())
    }

    /// Takes what is under the greatest stack for that of all.
    fn settle(&mut self, greatest: [Best; 2], cache: &MaskCache) {
        for (all, best) in [&mut self.outside, &mut self.inside].into_iter().zip(greatest) {
            if let (Some(found), Some(last)) = (best.found, all.last_mut()) {
                let under = found.under.in_8_bits();
                *last = found;
                all.iter_mut().for_each(|found| found.under = under);
            }
        }
        self.settle_radius(cache);
    }

    /// The radius whose drawing is nearest to what corners show; a whole number of CSS px where one does.
    fn settle_radius(&mut self, cache: &MaskCache) {
        let [outside, inside] = self.start(usize::MAX);
        let shadows = [self.in_px(&outside.shadows, 0), self.in_px(&inside.shadows, 1)];
        let drawn = |radius: f64| {
            let mut drawing = self.drawing();
            drawing.place.radius = radius;
            drawing.drawn(&shadows[0], &shadows[1], cache)
        };
        let is_strange = |x: i64, y: i64| self.masks.iter().all(|mask| mask.has(x, y));
        let place = self.place.scaled(1.0 / self.density);
        self.place.radius = radius::drawn(self.pixels, &self.place, &place, is_strange, drawn) * self.density;
    }

    /// The stacks of so many shadows outside and inside, or the most that were found, refined until a browser's drawing of
    /// them gets no nearer to the picture, and rounded.
    fn exchanged(
        &self,
        count: usize,
        looked: &[Looked<'_>; 2],
        how: &Exchange,
        cache: &MaskCache,
    ) -> [Best; 2] {
        let mut now = self.start(count);
        // What has fewer shadows at most comes out of the turn with that number.
        let is_own = [self.outside.len(), self.inside.len()].map(|len| how.is_ground_free || count < len);
        let mut best = [Best::default(), Best::default()];
        let mut before = f64::INFINITY;
        for round in 0..=how.rounds {
            let Some(drawn) = self.take(looked, &now, &mut best, false, cache) else { break };
            let open = [0, 1].map(|at| is_own[at] && !now[at].shadows.is_empty() && !best[at].is_exact());
            let cost: f64 = best.iter().filter_map(|best| best.cost).sum();
            let is_done = round == how.rounds || open == [false; 2] || crate::budget::is_stopped();
            if is_done || round > 0 && cost > how.enough || round > how.unrounded && cost > STILL * before {
                break;
            }
            before = cost;
            let looks = [0, 1].map(|at| looked[at].corrected(&now[at], &drawn));
            let sides = [&looked[0].side, &looked[1].side];
            for at in [0, 1].into_iter().filter(|at| open[*at]) {
                now[at] = sides[at].refined_on(&looks[at], &now[at], how.is_ground_free);
            }
            if round < how.unrounded {
                continue;
            }
            for (tolerance, worth) in TOLERANCES {
                let rounds = [0, 1].map(|at| {
                    open[at] && best[at].cost.is_some_and(|cost| cost < worth) && !best[at].is_exact()
                });
                if rounds == [false; 2] {
                    continue;
                }
                let rounded = [0, 1].map(|at| match rounds[at] {
                    true => sides[at].rounded_on(&looks[at], &now[at], tolerance),
                    false => now[at].clone(),
                });
                self.take(looked, &rounded, &mut best, true, cache);
            }
        }
        best
    }

    /// Draws a stack, and takes each side of it where it is the best so far.
    fn take(
        &self,
        looked: &[Looked<'_>; 2],
        now: &[FoundSide; 2],
        best: &mut [Best; 2],
        is_rounded: bool,
        cache: &MaskCache,
    ) -> Option<Drawn> {
        let (shadows, drawn) = self.draw(now, cache);
        for (at, shadows) in shadows.into_iter().enumerate() {
            let offs = looked[at].offs(&now[at], drawn.as_ref());
            best[at].take(&now[at], (shadows, offs), is_rounded);
        }
        drawn
    }

    /// Both sides in CSS px, and a browser's drawing of them.
    pub fn draw(&self, now: &[FoundSide; 2], cache: &MaskCache) -> ([Vec<Shadow>; 2], Option<Drawn>) {
        let shadows = [0, 1].map(|at| self.in_px(&now[at].shadows, at));
        let drawing = self.drawing_on([now[0].under, now[1].under]);
        let drawn = drawing.drawn(&shadows[0], &shadows[1], cache);
        (shadows, drawn)
    }

    /// Of the stacks with so many shadows, on whichever side they are, the best.
    fn best_of<'b>(&self, count: usize, settled: &'b [[Best; 2]]) -> Option<[&'b Best; 2]> {
        let lengths = [self.outside.len(), self.inside.len()];
        let pairs = (0..=count).filter(|at| *at < lengths[0] && count - at < lengths[1]);
        let pairs = pairs.map(|at| [&settled[at][0], &settled[count - at][1]]);
        pairs.min_by(|a, b| cost(&stacked(*a).error).total_cmp(&cost(&stacked(*b).error)))
    }
}

/// What is found on both sides.
fn stacked(sides: [&Best; 2]) -> MatchedStack {
    let [(outside, off), (inside, off_inside)] = sides.map(|best| &best.stack);
    MatchedStack {
        outside: outside.clone(),
        inside: inside.clone(),
        error: error(off.iter().chain(off_inside)),
    }
}

/// The first stack that is as good as whole 255ths are, or nearly as good as the best.
pub fn suggested(all: &[MatchedStack]) -> usize {
    let least = all.iter().map(|stack| cost(&stack.error)).fold(f64::INFINITY, f64::min);
    let is_exact = |stack: &MatchedStack| stack.error.mean <= 0.3 && stack.error.p99 <= 1.5;
    all.iter().position(|stack| is_exact(stack) || cost(&stack.error) <= least * 1.12 + 0.06).unwrap_or(0)
}

/// How stacks are refined against what a browser draws.
struct Exchange {
    /// How often.
    rounds: usize,
    /// Rounds in which they are not rounded yet.
    unrounded: usize,
    /// Whether what is under them is looked for too.
    is_ground_free: bool,
    /// What is worse after a round is left as it is.
    enough: f64,
}

impl Exchange {
    /// Until ground and fill are known.
    const SETTLING: Self =
        Self { rounds: 3, unrounded: usize::MAX, is_ground_free: true, enough: f64::INFINITY };
    /// Until numbers are.
    const LAST: Self = Self { rounds: 3, unrounded: 0, is_ground_free: false, enough: f64::INFINITY };
}

/// How numbers are rounded, each for stacks that cost less than this: only what nearly draws the picture can be it.
const TOLERANCES: [(Tolerance, f64); 2] = [(Tolerance::UNSEEN, f64::INFINITY), (Tolerance::BY_CHANCE, 0.5)];
/// What costs more than this share of what it did before gets no better.
const STILL: f64 = 0.97;

/// A stack that costs so many times what the greatest does is of no use.
const ENOUGH: f64 = 4.0;
