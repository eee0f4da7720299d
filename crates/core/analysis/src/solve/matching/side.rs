//! The shadows on one side of an element's outline, found from the pixels there.
//!
//! Shadows are added one at a time: of many, the one that takes most of what is left; then all are refined together by least
//! squares on the colours that are seen. What is under them, ground or fill, is fitted in turn with them.

use super::mask::Mask;
use super::pixels::{Colour, Pixels, Sample, Smooth, apart, median};
use super::place::PlacedBox;
use super::rounding::{Rounding, Tolerance};
use crate::limits;
use crate::parallel::parallel_map;
use crate::solve::boxes::BoxField;
use crate::solve::field::Field as _;
use crate::solve::forward::{Model, PremultipliedLayer};
use crate::solve::least_squares::{Objective, refine};
use crate::solve::shadow::{Freedom, OffsetAxis, Shadow, Side};

/// Shadows on one side, in pixels of the picture, and what they lie on.
#[derive(Debug, Clone)]
pub struct FoundSide {
    /// The first is nearest the eye.
    pub shadows: Vec<Shadow>,
    pub under: Smooth,
    /// The root of the mean square of what is left, from 0 to 1.
    pub off: f64,
}

/// One side of an element on a picture.
pub struct PictureSide<'a> {
    pub pixels: &'a Pixels,
    pub place: PlacedBox,
    pub side: Side,
    /// The width of the element's border in pixels: nothing is looked for under it.
    pub border: f64,
    pub density: f64,
    pub mask: Mask,
}

/// Pixels that are looked at, with what is seen there.
#[derive(Clone)]
pub struct Looks {
    pub field: BoxField,
    pub target: Vec<PremultipliedLayer>,
    /// In the picture.
    pub places: Vec<(f64, f64)>,
}

impl Looks {
    /// How much each counts.
    pub fn weights(&self) -> &[f64] {
        self.field.weights()
    }
}

/// Pixels of which colours are compared while shadows are looked for, and at the end.
const FEW: usize = 500;
const ROUNDED: usize = 1500;
const MANY: usize = 3000;
/// Steps for each beginning of a new shadow.
const TRIED: usize = 12;
/// Steps for the best.
const STEPS: usize = 30;
/// Rounds in which shadows and what is under them are refined in turn.
const TURNS: usize = 3;
/// A shadow is worth it where what is left becomes less than this share, by more than this.
const WORTH: f64 = 0.98;
const FAINT: f64 = 0.01 / 255.0;
/// The least opacity of a shadow.
const LEAST: f64 = 0.005;
/// A picture of whole 255ths is off by so much from the colours it shows.
const WHOLE: f64 = 0.33 / 255.0;

/// How shadows may move.
pub struct Moves<'a> {
    /// At most so many times.
    pub steps: usize,
    /// With what is under them.
    pub is_ground_free: bool,
    /// All but these numbers of theirs, by shadow and by parameter.
    pub held: &'a [(usize, usize)],
}

impl Moves<'_> {
    fn free(steps: usize) -> Self {
        Self { steps, is_ground_free: true, held: &[] }
    }
}

impl PictureSide<'_> {
    /// Stacks that were found refined once more, after pixels were left out.
    pub fn again(&self, found: &[FoundSide]) -> Vec<FoundSide> {
        let many = self.looks(MANY);
        found.iter().map(|one| self.settled(&many, one.shadows.clone(), one.under, TURNS)).collect()
    }

    /// The best shadows for each number up to `most`, none first.
    pub fn by_count(&self, most: usize) -> Vec<FoundSide> {
        let (few, many) = (self.looks(FEW), self.looks(MANY));
        let under = self.first_under(&many);
        let none = self.settled(&many, Vec::new(), under, 1);
        let mut found = vec![none];
        while found.len() <= most && !crate::budget::is_stopped() {
            let Some(smaller) = found.last() else { break };
            if smaller.off < WHOLE {
                break;
            }
            let starts = self.starts(&few, smaller);
            let tried = parallel_map(&starts, |start| {
                let mut shadows = start.clone();
                let off = self.refined(&few, smaller.under, &mut shadows, &Moves::free(TRIED));
                (off, shadows)
            });
            let Some(best) = tried.into_iter().min_by(|a, b| a.0.total_cmp(&b.0)) else { break };
            let next = self.settled(&many, best.1, smaller.under, TURNS);
            let is_worth =
                next.off < smaller.off * WORTH - FAINT && next.shadows.iter().all(|one| self.is_near(one));
            if !is_worth {
                break;
            }
            found.push(next);
        }
        found
    }

    /// Whether a shadow lies where an element's can: not as far away as the picture is large.
    fn is_near(&self, shadow: &Shadow) -> bool {
        let far = self.pixels.width.max(self.pixels.height) as f64 / 2.0;
        shadow.dx.abs().max(shadow.dy.abs()) < far && shadow.opacity > LEAST
    }

    pub fn place_middle(&self) -> (f64, f64) {
        (self.place.left + self.place.width / 2.0, self.place.top + self.place.height / 2.0)
    }

    /// Shadows and what is under them, refined in turn.
    fn settled(&self, looks: &Looks, mut shadows: Vec<Shadow>, mut under: Smooth, turns: usize) -> FoundSide {
        let mut off = f64::INFINITY;
        for _ in 0..turns {
            let before = off;
            if !shadows.is_empty() {
                self.refined(looks, under, &mut shadows, &Moves::free(STEPS));
            }
            under = self.under(looks, &shadows).unwrap_or(under);
            off = self.off(looks, under, &shadows);
            if off > before * 0.995 {
                break;
            }
        }
        FoundSide { shadows, under, off }
    }

    /// A stack refined for some pixels, with what is under it where that is not settled yet.
    pub fn refined_on(&self, looks: &Looks, found: &FoundSide, is_ground_free: bool) -> FoundSide {
        let mut shadows = found.shadows.clone();
        let under = found.under.in_8_bits();
        let off =
            self.refined(looks, under, &mut shadows, &Moves { steps: STEPS, is_ground_free, held: &[] });
        let free = is_ground_free.then(|| self.under(looks, &shadows)).flatten();
        FoundSide { shadows, under: free.unwrap_or(under), off }
    }

    /// A stack in numbers as people type them, in CSS px, where that is no farther off on some pixels.
    pub fn rounded_on(&self, looks: &Looks, found: &FoundSide, tolerance: Tolerance) -> FoundSide {
        let under = found.under.in_8_bits();
        let ground = under_places(looks, under);
        let freedom = self.freedom();
        let model = self.model(&looks.field, &freedom, Some(&ground));
        let off = |shadows: &[Shadow]| self.off(looks, under, shadows);
        let (target, density) = (&looks.target[..], self.density);
        let rounding = Rounding { model: &model, target, density, off: &off, tolerance };
        let shadows = rounding.rounded(&found.shadows);
        FoundSide { off: off(&shadows), shadows, under: found.under }
    }

    /// Pixels of which colours are compared while numbers are rounded.
    pub fn looks_rounded(&self) -> Looks {
        self.looks(ROUNDED)
    }

    /// Pixels by which the best stack is told.
    pub fn looks_closely(&self) -> Looks {
        self.looks(MANY)
    }

    /// Moves shadows, and tells how far they are off then.
    pub fn refined(&self, looks: &Looks, under: Smooth, shadows: &mut Vec<Shadow>, moves: &Moves<'_>) -> f64 {
        let ground = under_places(looks, under);
        let freedom = self.freedom();
        let model = self.model(&looks.field, &freedom, Some(&ground));
        let Moves { steps, is_ground_free, held } = *moves;
        let goal =
            Objective { target: &looks.target, power: 1, scale: 1.0, prior: None, held, is_ground_free };
        refine(&model, &goal, shadows, steps);
        self.off(looks, under, shadows)
    }

    fn freedom(&self) -> Freedom {
        let most = self.place.most_radius();
        Freedom {
            axis: OffsetAxis::Free,
            spread: true,
            blur: true,
            colour: true,
            least_spread: match self.side {
                Side::Outside => -(most - 1.0).max(0.0),
                Side::Inside => -limits::SPREAD,
            },
            most_spread: match self.side {
                Side::Outside => limits::SPREAD,
                Side::Inside => (most - 1.0).max(0.0),
            },
        }
    }

    fn model<'m>(
        &self,
        field: &'m BoxField,
        freedom: &'m Freedom,
        ground: Option<&'m [Colour]>,
    ) -> Model<'m> {
        Model { field, side: self.side, freedom, coloured: true, ground }
    }

    pub fn cover(&self, looks: &Looks, shadow: &Shadow) -> Vec<f64> {
        let freedom = self.freedom();
        self.model(&looks.field, &freedom, None).cover(shadow).value
    }

    /// What is left between the picture and a stack.
    pub fn rest(&self, looks: &Looks, found: &FoundSide) -> Vec<Colour> {
        let ground = under_places(looks, found.under);
        let freedom = self.freedom();
        let seen = self.model(&looks.field, &freedom, Some(&ground)).compose(&found.shadows);
        let less = |(target, seen): (&PremultipliedLayer, PremultipliedLayer)| {
            std::array::from_fn(|channel| target[channel] - seen[channel])
        };
        looks.target.iter().zip(seen).map(less).collect()
    }

    /// How far a stack is off.
    pub fn off_of(&self, looks: &Looks, found: &FoundSide) -> f64 {
        self.off(looks, found.under, &found.shadows)
    }

    fn off(&self, looks: &Looks, under: Smooth, shadows: &[Shadow]) -> f64 {
        let rest = self.rest(looks, &FoundSide { shadows: shadows.to_vec(), under, off: 0.0 });
        let weights = looks.field.weights();
        let (mut sum, mut all) = (0.0, 0.0);
        for (rest, weight) in rest.iter().zip(weights) {
            sum += weight * rest.iter().map(|rest| rest * rest).sum::<f64>() / 3.0;
            all += weight;
        }
        (sum / f64::max(all, 1e-9)).sqrt()
    }

    /// What is under shadows, as the picture shows it between them.
    fn under(&self, looks: &Looks, shadows: &[Shadow]) -> Option<Smooth> {
        let freedom = self.freedom();
        let layers = self.model(&looks.field, &freedom, None).compose(shadows);
        let samples: Vec<Sample> = (0..looks.places.len())
            .filter(|at| layers[*at][3] > 0.2)
            .map(|at| {
                let (layer, target) = (layers[at], looks.target[at]);
                let colour = std::array::from_fn(|channel| (target[channel] - layer[channel]) / layer[3]);
                let (x, y) = looks.places[at];
                (x, y, colour, looks.field.weights()[at] * layer[3] * layer[3])
            })
            .collect();
        Smooth::fit(&samples, true)
    }

    /// What is under all, before shadows are known: what most of the inside shows, or the picture far from the element.
    fn first_under(&self, looks: &Looks) -> Smooth {
        let distances: Vec<f64> =
            looks.places.iter().map(|(x, y)| self.place.distance(*x, *y).abs()).collect();
        let far = distances.iter().copied().fold(0.0, f64::max) * 0.7;
        let colours: Vec<Colour> = (0..distances.len())
            .filter(|at| distances[*at] >= far)
            .map(|at| {
                let [r, g, b, _] = looks.target[at];
                [r, g, b]
            })
            .collect();
        Smooth::flat(median(&colours).unwrap_or_default())
    }

    /// At most about so many places, close together along the outline.
    fn looks(&self, most: usize) -> Looks {
        let mut growth = 0.04;
        loop {
            let is_last = growth > 2.0;
            let looks = self.looks_with(growth, if is_last { usize::MAX / SHARE } else { most });
            if let Some(looks) = looks.filter(|looks| is_last || looks.places.len() <= most) {
                return looks;
            }
            growth *= 1.35;
        }
    }

    /// Places that lie the farther apart, the farther away they are; nothing where they are many more than `most`.
    fn looks_with(&self, growth: f64, most: usize) -> Option<Looks> {
        let PlacedBox { left, top, width, height, .. } = self.place;
        let xs = lines(left, width, self.pixels.width as f64, growth);
        let ys = lines(top, height, self.pixels.height as f64, growth);
        // Of this many, enough are on this side.
        if xs.len() * ys.len() > SHARE * most {
            return None;
        }
        let (mut places, mut weights, mut target) = (Vec::new(), Vec::new(), Vec::new());
        for (y, tall) in &ys {
            for (x, wide) in &xs {
                if !self.shows(*x, *y) {
                    continue;
                }
                let [r, g, b] = self.pixels.at(x.floor() as i64, y.floor() as i64);
                places.push((*x, *y));
                weights.push((wide * tall).sqrt());
                target.push([r, g, b, 0.0]);
            }
        }
        let own: Vec<(f64, f64)> = places.iter().map(|(x, y)| (x - left, y - top)).collect();
        let field = BoxField::along(self.place.shape(), &own, weights);
        Some(Looks { field, target, places })
    }

    /// Whether a pixel is wholly on this side, and of nothing else.
    fn shows(&self, x: f64, y: f64) -> bool {
        let distance = self.place.distance(x, y);
        // No outline runs through pixels beside a straight side.
        let beside = if self.is_at_corner(x, y) { BESIDE } else { 0.4 };
        let beside = if self.pixels.is_noisy() { beside + NOISY } else { beside };
        let is_here = match self.side {
            Side::Outside => distance > beside,
            Side::Inside => distance < -self.border - beside,
        };
        is_here && !self.mask.has(x.floor() as i64, y.floor() as i64)
    }

    /// The colours of a stack at places, wherever they are.
    pub fn colours(&self, found: &FoundSide, places: &[(f64, f64)]) -> Vec<Colour> {
        let own: Vec<(f64, f64)> =
            places.iter().map(|(x, y)| (x - self.place.left, y - self.place.top)).collect();
        let field = BoxField::along(self.place.shape(), &own, vec![1.0; own.len()]);
        let ground: Vec<Colour> = places.iter().map(|(x, y)| found.under.at(*x, *y)).collect();
        let freedom = self.freedom();
        let seen = self.model(&field, &freedom, Some(&ground)).compose(&found.shadows);
        seen.into_iter().map(|[r, g, b, _]| [r, g, b]).collect()
    }

    fn is_at_corner(&self, x: f64, y: f64) -> bool {
        let PlacedBox { left, top, radius, .. } = self.place;
        let (across, down) =
            (left + radius..=self.place.right() - radius, top + radius..=self.place.bottom() - radius);
        !across.contains(&x) && !down.contains(&y)
    }

    /// How far a stack is off right beside the element, on average.
    pub fn off_beside(&self, found: &FoundSide) -> f64 {
        let looks = self.looks(MANY);
        let rest = self.rest(&looks, found);
        let near = rest.iter().zip(&looks.places).filter(|(_, (x, y))| {
            (0.0..1.0).contains(&self.place.distance(*x, *y)) && !self.is_at_corner(*x, *y)
        });
        let sizes: Vec<f64> = near.map(|(rest, _)| apart(*rest, [0.0; 3])).collect();
        sizes.iter().sum::<f64>() / sizes.len().max(1) as f64
    }

    /// Leaves out what a stack cannot be: pixels that are off by far more than most.
    pub fn without_strangers(&mut self, found: &FoundSide) -> f64 {
        let looks = self.looks(MANY);
        let rest = self.rest(&looks, found);
        let sizes: Vec<f64> = rest.iter().map(|rest| apart(*rest, [0.0; 3])).collect();
        let mut sorted = sizes.clone();
        sorted.sort_by(f64::total_cmp);
        let usual = sorted.get(sorted.len() * 7 / 10).copied().unwrap_or(0.0);
        let most = (4.0 * usual).max(3.0 / 255.0);
        let mut strangers = Mask::none(self.pixels);
        let mut count = 0_u32;
        for (size, (x, y)) in sizes.iter().zip(&looks.places) {
            if *size > most {
                strangers.put(x.floor() as i64, y.floor() as i64);
                count += 1;
            }
        }
        self.mask.join(&strangers.widened(2));
        f64::from(count) / sizes.len().max(1) as f64
    }
}

/// At least one in so many places on the lines that are looked at is on a side.
const SHARE: usize = 16;

/// Pixels through which the outline may run lie so near it.
const BESIDE: f64 = 1.0;

/// How far compression makes an edge felt, in px.
const NOISY: f64 = 1.5;

fn under_places(looks: &Looks, under: Smooth) -> Vec<Colour> {
    looks.places.iter().map(|(x, y)| under.at(*x, *y)).collect()
}

/// The middles of pixels along one axis, close to a box's sides and farther apart away from them; each with how many it
/// stands for.
fn lines(start: f64, length: f64, end: f64, growth: f64) -> Vec<(f64, f64)> {
    let mut places = Vec::new();
    for edge in [start, start + length] {
        let mut distance = 0.5;
        while distance < end {
            places.extend([edge - distance, edge + distance]);
            distance += (distance * growth).max(1.0).floor();
        }
    }
    let middle = start + length / 2.0;
    places.push(middle);
    places.retain(|at| (0.0..end).contains(at));
    // Those of the farther side would lie between the nearer ones of the other.
    places.iter_mut().for_each(|at| *at = at.floor() + 0.5);
    places.sort_by(f64::total_cmp);
    places.dedup();
    let mut kept: Vec<f64> = Vec::new();
    for at in places {
        let from_edge = (at - start).abs().min((at - start - length).abs());
        let gap = (from_edge * growth).max(1.0).floor();
        if kept.last().is_none_or(|last| at - last >= gap) {
            kept.push(at);
        }
    }
    let gap = |at: usize| {
        let before = if at == 0 { 1.0 } else { kept[at] - kept[at - 1] };
        let after = if at + 1 == kept.len() { 1.0 } else { kept[at + 1] - kept[at] };
        (before + after) / 2.0
    };
    (0..kept.len()).map(|at| (kept[at], gap(at))).collect()
}
