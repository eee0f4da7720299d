//! Stacks with offsets, blurs and spreads of whole CSS px, as most are typed.
//!
//! A browser blurs with whole numbers of pixels, so what it draws hardly changes with a part of a px, and then by a step:
//! refining comes near the numbers that a picture was drawn with, and whole numbers around are tried by drawing them.

use super::best::{Best, Counted, EXACT, root_mean_square};
use super::element::Element;
use super::looked::Looked;
use super::pixels::Colour;
use super::side::{FoundSide, Looks, Moves, PictureSide};
use crate::compose::MaskCache;
use crate::parallel::parallel_map;
use crate::solve::shadow::Shadow;

/// Stacks that cost more were drawn with other numbers of shadows, or compressed.
const WORTH: f64 = 0.8;
/// With more shadows there are too many numbers to try.
const MOST: usize = 3;
/// Steps to better numbers, and drawings for each.
const TURNS: usize = 8;
const DRAWINGS: usize = 4;
/// Steps in which colours and opacities follow.
const STEPS: usize = 3;
/// Numbers of a shadow that are lengths: they come first.
const LENGTHS: usize = 4;

impl Element<'_> {
    /// Tries whole numbers on one side of a stack, and takes them where a browser's drawing with them is nearer to the picture.
    pub fn type_numbers(&self, at: usize, looked: &[Looked<'_>; 2], best: &mut [Best; 2], cache: &MaskCache) {
        let is_worth = best[at].cost.is_some_and(|cost| (EXACT..WORTH).contains(&cost));
        let found = [best[0].found.clone(), best[1].found.clone()];
        let [Some(outside), Some(inside)] = found else { return };
        let count = [&outside, &inside][at].shadows.len();
        if !is_worth || count == 0 || count > MOST {
            return;
        }
        let begin = Typing {
            element: self,
            at,
            looked,
            cache,
            now: [outside, inside],
            least: None,
            left: 0,
            is_coloured: true,
        };
        let found = begin.best();
        if let Some(stack) = found.drawn_now() {
            best[at].take_typed(&found.now[at], stack);
        }
    }
}

/// A search for the numbers of one side.
#[derive(Clone)]
struct Typing<'a> {
    element: &'a Element<'a>,
    at: usize,
    looked: &'a [Looked<'a>; 2],
    cache: &'a MaskCache,
    now: [FoundSide; 2],
    /// How far the best that was drawn is off.
    least: Option<f64>,
    /// How many more drawings it may take.
    left: usize,
    /// Whether colours are looked for.
    is_coloured: bool,
}

/// Greys that are tried, of 255: rounding tells them apart only near by.
const GREYS: [f64; 3] = [16.0, 32.0, 64.0];

/// How much farther off greys may be that are tried, in shares and from 0 to 1.
const GREYER: f64 = 1.2;
const SLIGHTLY: f64 = 0.03 / 255.0;

/// Drawings that a search may take: for black, for each grey, and for a colour.
const DRAWN_BLACK: usize = 60;
const DRAWN_GREY: usize = 24;
const DRAWN_COLOURED: usize = 40;
/// What is off by less is as good as drawn with the same numbers.
const UNSEEN: f64 = 0.12 / 255.0;

/// How often lengths and opacities are looked for in turn.
const PASSES: usize = 3;

impl Typing<'_> {
    /// The nearest of black shadows, greys where there is one shadow, and any colour; black where that is nearly as near.
    fn best(self) -> Self {
        let black = self.in_grey(0.0).map(|black| black.typed(DRAWN_BLACK));
        if let Some(black) = black.as_ref().filter(|black| black.off() < UNSEEN) {
            return black.clone();
        }
        let greys: &[f64] = if self.now[self.at].shadows.len() == 1 { &GREYS } else { &[] };
        let greys = greys.iter().filter_map(|grey| self.in_grey(*grey)).map(|grey| grey.typed(DRAWN_GREY));
        let grey = greys.min_by(|a, b| a.off().total_cmp(&b.off()));
        let coloured = self.typed(DRAWN_COLOURED);
        let grey = grey.filter(|grey| grey.off() < coloured.off());
        let coloured = grey.map_or(coloured, |grey| Self { is_coloured: true, ..grey }.typed(DRAWN_COLOURED));
        black.filter(|black| black.off() <= coloured.off() * LIKELY).unwrap_or(coloured)
    }

    fn off(&self) -> f64 {
        self.least.unwrap_or(f64::INFINITY)
    }

    fn is_exact(&self) -> bool {
        self.least.is_some_and(|least| least < EXACT / 255.0)
    }

    /// With shadows of a grey, where that can be it.
    fn in_grey(&self, grey: f64) -> Option<Self> {
        let looks = self.corrected()?;
        let side = &self.looked[self.at].side;
        let mut greys = self.now[self.at].clone();
        greys.shadows.iter_mut().for_each(|one| one.colour = [in_8_bits(grey / 255.0); 3]);
        let held = self.held(false);
        let moves = Moves { steps: 4 * STEPS, is_ground_free: false, held: &held[..] };
        greys.off = side.refined(&looks, greys.under, &mut greys.shadows, &moves);
        let is_likely = greys.off <= side.off_of(&looks, &self.now[self.at]) * GREYER + SLIGHTLY;
        let mut now = self.now.clone();
        now[self.at] = greys;
        is_likely.then(|| Self { now, is_coloured: false, ..self.clone() })
    }

    /// With numbers as people type them.
    fn typed(mut self, most: usize) -> Self {
        let side = &self.looked[self.at].side;
        self.left = most;
        self.takes(side.whole(&self.now[self.at]));
        for _ in 0..PASSES {
            let before = self.least;
            self.opacities();
            self.lengths();
            if self.is_coloured {
                self.lightnesses();
            }
            if self.least >= before {
                break;
            }
        }
        self.rounder_opacities();
        self
    }

    /// Opacities of whole hundredths, where they are no farther off.
    fn rounder_opacities(&mut self) {
        for number in 0..self.now[self.at].shadows.len() {
            let mut with = self.clone();
            let opacity = &mut with.now[self.at].shadows[number].opacity;
            *opacity = ((*opacity * 100.0).round() / 100.0).max(0.01);
            let off = with.drawn_now().map(|(_, offs)| root_mean_square(&offs));
            if off.zip(self.least).is_some_and(|(off, least)| off <= least) {
                *self = with;
            }
        }
    }

    /// Numbers that do not follow when lengths are changed.
    fn held(&self, is_coloured: bool) -> Vec<(usize, usize)> {
        let numbers = (0..LENGTHS).chain((LENGTHS + 1..LENGTHS + 4).filter(move |_| !is_coloured));
        let count = self.now[self.at].shadows.len();
        (0..count).flat_map(|number| numbers.clone().map(move |which| (number, which))).collect()
    }

    /// Whole lengths: of all that are one step away, those that promise most are drawn.
    fn lengths(&mut self) {
        let side = &self.looked[self.at].side;
        let mut tried: Vec<Vec<[i64; LENGTHS]>> = Vec::new();
        for _ in 0..TURNS {
            let Some(looks) = self.corrected() else { return };
            let mut candidates = side.beside(&self.now[self.at]);
            candidates.retain(|one| !tried.contains(&side.lengths(one)));
            let nearest = side.nearest(&looks, &candidates, &self.held(self.is_coloured));
            tried.extend(nearest.iter().map(|one| side.lengths(one)));
            if !nearest.into_iter().any(|candidate| self.takes(candidate)) {
                return;
            }
        }
    }

    /// Opacities of ever finer steps, one after the other.
    fn opacities(&mut self) {
        for step in [0.01, 0.005, 0.002] {
            for number in 0..self.now[self.at].shadows.len() {
                let whole = |opacity: f64| ((opacity / step).round() * step).clamp(step, 1.0);
                let with = |by: f64, now: &FoundSide| {
                    let mut with = now.clone();
                    with.shadows[number].opacity = whole(with.shadows[number].opacity + by);
                    with
                };
                let near = with(0.0, &self.now[self.at]);
                self.takes(near);
                for by in [step, -step] {
                    while self.takes(with(by, &self.now[self.at])) {}
                }
            }
        }
    }

    /// Lighter and darker colours, with opacities that change the ground as much: only rounding tells them apart.
    fn lightnesses(&mut self) {
        for step in [16.0, 8.0, 4.0, 2.0, 1.0] {
            for number in 0..self.now[self.at].shadows.len() {
                let with = |by: f64, now: &FoundSide| {
                    let mut with = now.clone();
                    let one = &mut with.shadows[number];
                    let (ground, dark) = (light(now.under.at_corner), light(one.colour));
                    one.colour = one.colour.map(|channel| in_8_bits(channel + by / 255.0));
                    let other = ground - light(one.colour);
                    if other.abs() > 0.02 {
                        one.opacity = (one.opacity * (ground - dark) / other).clamp(0.001, 1.0);
                    }
                    with
                };
                for by in [step, -step] {
                    while self.takes(with(by, &self.now[self.at])) {}
                }
            }
        }
    }

    /// Takes a stack where its drawing is nearer than all before.
    fn takes(&mut self, candidate: FoundSide) -> bool {
        if self.left == 0 || self.is_exact() || crate::budget::is_stopped() {
            return false;
        }
        self.left -= 1;
        let before = std::mem::replace(&mut self.now[self.at], candidate);
        let off = self.drawn_now().map_or(f64::INFINITY, |(_, offs)| root_mean_square(&offs));
        let is_better = self.least.is_none_or(|least| off < least);
        if is_better {
            self.least = Some(off);
        } else {
            self.now[self.at] = before;
        }
        is_better
    }

    fn drawn_now(&self) -> Option<Counted> {
        let (shadows, drawn) = self.element.draw(&self.now, self.cache);
        let offs = self.looked[self.at].offs(&self.now[self.at], Some(&drawn?));
        let [outside, inside] = shadows;
        Some((if self.at == 0 { outside } else { inside }, offs))
    }

    fn corrected(&self) -> Option<Looks> {
        let (_, drawn) = self.element.draw(&self.now, self.cache);
        Some(self.looked[self.at].corrected(&self.now[self.at], &drawn?))
    }
}

fn light(colour: Colour) -> f64 {
    colour.into_iter().sum::<f64>() / 3.0
}

fn in_8_bits(channel: f64) -> f64 {
    (channel.clamp(0.0, 1.0) * 255.0).round() / 255.0
}

/// A black shadow may be so many times farther off than one of a colour: most are black.
const LIKELY: f64 = 1.1;

impl PictureSide<'_> {
    /// The lengths of a stack, to know it by.
    fn lengths(&self, found: &FoundSide) -> Vec<[i64; LENGTHS]> {
        let whole = |length: f64| (length / self.density).round() as i64;
        let of = |one: &Shadow| [one.dx, one.dy, one.blur, one.spread].map(whole);
        found.shadows.iter().map(of).collect()
    }

    /// With the whole numbers nearest to its lengths.
    fn whole(&self, found: &FoundSide) -> FoundSide {
        let mut found = found.clone();
        let whole = |length: f64| (length / self.density).round() * self.density;
        for one in &mut found.shadows {
            (one.dx, one.dy) = (whole(one.dx), whole(one.dy));
            (one.blur, one.spread) = (whole(one.blur), whole(one.spread));
        }
        found
    }

    /// Stacks in which one length, or the blur and the spread of one shadow, are another whole number.
    fn beside(&self, found: &FoundSide) -> Vec<FoundSide> {
        let mut all = Vec::new();
        for number in 0..found.shadows.len() {
            for by in BESIDE {
                let mut beside = found.clone();
                let one = &mut beside.shadows[number];
                let [dx, dy, blur, spread] = by.map(|by| by * self.density);
                one.dx += dx;
                one.dy += dy;
                one.blur = (one.blur + blur).max(0.0);
                one.spread += spread;
                all.push(beside);
            }
        }
        all
    }

    /// The stacks that come nearest to what is looked at when their colours follow.
    fn nearest(&self, looks: &Looks, candidates: &[FoundSide], held: &[(usize, usize)]) -> Vec<FoundSide> {
        let mut followed = parallel_map(candidates, |one| {
            let mut one = one.clone();
            let moves = Moves { steps: STEPS, is_ground_free: false, held };
            one.off = self.refined(looks, one.under, &mut one.shadows, &moves);
            one
        });
        followed.sort_by(|a, b| a.off.total_cmp(&b.off));
        followed.truncate(DRAWINGS);
        followed
    }
}

/// By how much dx, dy, blur and spread are changed, in CSS px.
const BESIDE: [[f64; LENGTHS]; 14] = [
    [1.0, 0.0, 0.0, 0.0],
    [-1.0, 0.0, 0.0, 0.0],
    [0.0, 1.0, 0.0, 0.0],
    [0.0, -1.0, 0.0, 0.0],
    [0.0, 0.0, 1.0, 0.0],
    [0.0, 0.0, -1.0, 0.0],
    [0.0, 0.0, 2.0, 0.0],
    [0.0, 0.0, -2.0, 0.0],
    [0.0, 0.0, 0.0, 1.0],
    [0.0, 0.0, 0.0, -1.0],
    [0.0, 0.0, 1.0, 1.0],
    [0.0, 0.0, -1.0, -1.0],
    [0.0, 0.0, 1.0, -1.0],
    [0.0, 0.0, -1.0, 1.0],
];
