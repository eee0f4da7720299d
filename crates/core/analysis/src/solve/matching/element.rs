//! An element on a picture: where it is, and the stacks on both sides of its outline.

use super::border::{self, Border};
use super::drawn::Drawing;
use super::find;
use super::found::{MatchRequest, MatchedStack};
use super::mask::Mask;
use super::pixels::{Pixels, rgba};
use super::place::PlacedBox;
use super::radius::{self, Sides};
use super::side::{FoundSide, PictureSide};
use crate::compose::MaskCache;
use crate::parallel::parallel_map;
use crate::solve::error::SolveError;
use crate::solve::shadow::{Shadow, Side};
use crate::syntax::round_to;

/// An element, in pixels of its picture.
pub struct Element<'a> {
    pixels: &'a Pixels,
    density: f64,
    most: usize,
    pub place: PlacedBox,
    pub border: Option<Border>,
    /// For each number of shadows, none first.
    pub outside: Vec<FoundSide>,
    pub inside: Vec<FoundSide>,
    masks: [Mask; 2],
}

/// A share of the looked-at pixels that are none of the element's, above which shadows are looked for once more.
const MANY_STRANGERS: f64 = 0.02;
/// A blur that nobody chooses, in CSS px.
const HAIRLINE: f64 = 1.6;
/// How far a stack is off right beside an element that has a border of one pixel more.
const NO_SHADOW: f64 = 2.5 / 255.0;

impl<'a> Element<'a> {
    /// The element of a picture.
    pub fn found(pixels: &'a Pixels, request: &MatchRequest<'_>) -> Option<Self> {
        let (density, most) = (request.density, request.most);
        let new = |place: PlacedBox| Self::new(pixels, place, density, most);
        if let Some(place) = request.place {
            return Some(new(place));
        }
        let edges = pixels.for_edges();
        let place = find::find(&edges)?;
        let element = match find::bordered(&edges, place, density) {
            // Two pixels of one colour are no shadow; one may be.
            Some(bordered) if moved(&place, &bordered) > 1.0 => new(bordered),
            Some(bordered) => {
                let element = new(place);
                let is_border = element.off_beside() > NO_SHADOW || element.has_a_hairline();
                if is_border { new(bordered) } else { element }
            }
            None => new(place),
        };
        Some(element.with_radius())
    }

    fn new(pixels: &'a Pixels, place: PlacedBox, density: f64, most: usize) -> Self {
        let border = border::find(&pixels.for_edges(), &place, density);
        let border = border.map(|border| border.coloured(pixels, &place));
        let mask = Mask::of_others(pixels, &place, border.map_or(0.0, |border| border.width));
        let masks = [mask.clone(), mask];
        let none = Vec::new;
        let mut element =
            Self { pixels, density, most, place, border, outside: none(), inside: none(), masks };
        element.outside = element.searched(Side::Outside);
        element.inside = element.searched(Side::Inside);
        element
    }

    fn side(&self, side: Side) -> PictureSide<'a> {
        let mask = &self.masks[usize::from(side == Side::Inside)];
        PictureSide {
            pixels: self.pixels,
            place: self.place,
            side,
            border: self.border.map_or(0.0, |border| border.width),
            density: self.density,
            mask: mask.clone(),
        }
    }

    fn searched(&mut self, of: Side) -> Vec<FoundSide> {
        let mut side = self.side(of);
        let mut found = side.by_count(self.most);
        if let Some(best) = found.last() {
            let share = side.without_strangers(best);
            if share > MANY_STRANGERS {
                found = side.by_count(self.most);
            } else if share > 0.0 {
                found = side.again(&found);
            }
        }
        self.masks[usize::from(of == Side::Inside)] = side.mask;
        found
    }

    /// Whether a shadow outside is as narrow as nobody makes one: it stands for a line.
    fn has_a_hairline(&self) -> bool {
        let shadows = self.outside.last().map_or(&[][..], |found| &found.shadows);
        shadows.iter().any(|shadow| shadow.blur < HAIRLINE * self.density)
    }

    fn off_beside(&self) -> f64 {
        self.outside.last().map_or(0.0, |found| self.side(Side::Outside).off_beside(found))
    }

    /// With the radius that its corners' pixels show.
    fn with_radius(mut self) -> Self {
        let (Some(outside), Some(inside)) = (self.outside.last(), self.inside.last()) else { return self };
        let (out, within) = (self.side(Side::Outside), self.side(Side::Inside));
        let sides = |places: &[(f64, f64)]| -> Vec<Sides> {
            let both = out.colours(outside, places).into_iter().zip(within.colours(inside, places));
            both.map(|(outside, inside)| {
                let edge = self.border.map_or(inside, |border| border.colour);
                Sides { outside, edge, inside }
            })
            .collect()
        };
        let border = self.border.map_or(0.0, |border| border.width);
        let radius = radius::refined(self.pixels, &self.place, border, sides);
        if (radius - self.place.radius).abs() < 0.1 {
            return self;
        }
        self.place.radius = radius;
        self.outside = self.side(Side::Outside).again(&self.outside);
        self.inside = self.side(Side::Inside).again(&self.inside);
        self
    }

    /// The best stack for each number of shadows, in CSS px.
    pub fn by_count(&self) -> Vec<MatchedStack> {
        let cache = MaskCache::default();
        let pairs: Vec<usize> = (0..self.outside.len().max(self.inside.len())).collect();
        let settled = parallel_map(&pairs, |at| self.exchanged(*at, &cache));
        let (outside, inside): (Vec<Counted>, Vec<Counted>) = settled.into_iter().unzip();
        let (outside, inside) = (&outside[..self.outside.len()], &inside[..self.inside.len()]);
        let most = outside.len() + inside.len() - 1;
        (0..most).filter_map(|count| self.best_of(count, outside, inside)).collect()
    }

    /// The stacks of so many shadows outside and inside, or the most that were found, refined until a browser's drawing of
    /// them gets no nearer to the picture, and rounded.
    fn exchanged(&self, count: usize, cache: &MaskCache) -> (Counted, Counted) {
        let sides = [(Side::Outside, &self.outside), (Side::Inside, &self.inside)];
        let sides = sides.map(|(side, all)| (self.side(side), &all[count.min(all.len() - 1)]));
        let mut now = [0, 1].map(|at| sides[at].1.clone());
        let mut best = [Best::default(), Best::default()];
        for round in 0..=ROUNDS {
            let [outside, inside] = [0, 1].map(|at| self.in_px(&now[at].shadows, at));
            let Some(drawn) = self.drawing().drawn(&outside, &inside, cache) else {
                // Too large to be drawn: the closed form is all there is.
                for (at, shadows) in [outside, inside].into_iter().enumerate().filter(|_| round == 0) {
                    best[at].take(shadows, sides[at].0.offs_undrawn(&now[at]), false);
                }
                break;
            };
            for (at, shadows) in [outside, inside].into_iter().enumerate() {
                let offs = sides[at].0.offs(&now[at], &drawn);
                best[at].take(shadows, offs, round > REFINED);
            }
            let open = [0, 1].map(|at| !sides[at].1.shadows.is_empty() && !best[at].is_exact());
            if round == ROUNDS || open == [false; 2] || crate::budget::is_stopped() {
                break;
            }
            for at in [0, 1].into_iter().filter(|at| open[*at]) {
                now[at] = sides[at].0.exchanged(&now[at], &drawn, round >= REFINED);
            }
        }
        let [outside, inside] = best.map(|best| best.stack);
        (outside, inside)
    }

    /// What stays the same for all stacks.
    pub fn drawing(&self) -> Drawing {
        let under = |sides: &[FoundSide]| sides.last().map_or([1.0; 3], |found| found.under.at_corner);
        Drawing {
            place: self.place.scaled(1.0 / self.density),
            ground: rgba(under(&self.outside)),
            fill: rgba(under(&self.inside)),
            border: self.border.map(|border| (border.width / self.density, rgba(border.colour))),
            density: self.density,
            size: (self.pixels.width, self.pixels.height),
        }
    }

    /// Shadows of a side in CSS px; those inside begin inside the border.
    fn in_px(&self, shadows: &[Shadow], side: usize) -> Vec<Shadow> {
        let border = if side == 1 { self.border.map_or(0.0, |border| border.width) } else { 0.0 };
        let in_px = |shadow: &Shadow| Shadow {
            dx: round_to(shadow.dx / self.density, 2),
            dy: round_to(shadow.dy / self.density, 2),
            blur: round_to(shadow.blur / self.density, 2),
            spread: round_to((shadow.spread - border) / self.density, 2),
            ..*shadow
        };
        shadows.iter().map(in_px).collect()
    }

    /// Of the stacks with so many shadows, on whichever side they are, the best.
    fn best_of(&self, count: usize, outside: &[Counted], inside: &[Counted]) -> Option<MatchedStack> {
        let pairs = (0..=count).filter_map(|at| outside.get(at).zip(inside.get(count - at)));
        let stacks = pairs.map(|((outside, off), (inside, off_inside))| MatchedStack {
            outside: outside.clone(),
            inside: inside.clone(),
            error: error(off.iter().chain(off_inside)),
        });
        stacks.min_by(|a, b| cost(&a.error).total_cmp(&cost(&b.error)))
    }
}

/// Rounds in which a stack is refined only, before it is rounded too, and the number of all rounds.
const REFINED: usize = 1;
const ROUNDS: usize = 4;

/// The best stack of those that were drawn.
#[derive(Default)]
struct Best {
    stack: Counted,
    cost: Option<f64>,
    is_rounded: bool,
}

/// How much more a rounded stack may cost, in shares and in 255ths: numbers as people type them are worth a little.
const ROUNDER: f64 = 1.1;
const NEARLY: f64 = 0.05;
/// What a stack costs that draws the picture itself.
const EXACT: f64 = 0.06;

impl Best {
    fn take(&mut self, shadows: Vec<Shadow>, offs: Vec<(f64, f64)>, is_rounded: bool) {
        let now = cost(&error(offs.iter()));
        let most = match self.cost {
            None => f64::INFINITY,
            Some(least) if is_rounded && !self.is_rounded => least * ROUNDER + NEARLY,
            Some(least) => least,
        };
        if now < most {
            *self = Self { stack: (shadows, offs), cost: Some(now), is_rounded };
        }
    }

    fn is_exact(&self) -> bool {
        self.is_rounded && self.cost.is_some_and(|cost| cost < EXACT)
    }
}

/// How bad an error is: its mean, and its worst places a little.
pub fn cost(error: &SolveError) -> f64 {
    error.mean + error.p99 / 6.0
}

/// Shadows in CSS px, and how far they are off.
type Counted = (Vec<Shadow>, Vec<(f64, f64)>);

fn moved(place: &PlacedBox, other: &PlacedBox) -> f64 {
    let sides = [
        place.left - other.left,
        place.top - other.top,
        other.right() - place.right(),
        other.bottom() - place.bottom(),
    ];
    sides.into_iter().fold(0.0, f64::max)
}

/// The error of differences, of which each stands for so many pixels.
fn error<'o>(offs: impl Iterator<Item = &'o (f64, f64)>) -> SolveError {
    let mut all: Vec<(f64, f64)> = offs.map(|(off, weight)| (off * 255.0, *weight)).collect();
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    let whole: f64 = all.iter().map(|off| off.1).sum();
    let Some((worst, _)) = all.last() else { return SolveError::default() };
    let mean = all.iter().map(|(off, weight)| off * weight).sum::<f64>() / whole.max(1e-9);
    let mut sum = 0.0;
    let p99 = all.iter().find(|(_, weight)| {
        sum += weight;
        sum >= 0.99 * whole
    });
    let p99 = p99.map_or(*worst, |off| off.0);
    SolveError { mean: round_to(mean, 3), p99: round_to(p99, 2), worst: round_to(*worst, 2) }
}
