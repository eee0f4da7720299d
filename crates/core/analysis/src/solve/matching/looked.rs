//! A side of an element with the pixels that are looked at, and how far drawings are off there.

use super::drawn::Drawn;
use super::pixels::apart;
use super::side::{FoundSide, Looks, PictureSide};
use crate::blur::box_length;
use crate::solve::shadow::Shadow;

/// A side, and what is looked at while stacks are refined and when the best is told.
pub struct Looked<'a> {
    pub side: PictureSide<'a>,
    refined: Looks,
    closely: Looks,
}

impl<'a> Looked<'a> {
    pub fn new(side: PictureSide<'a>) -> Self {
        let (refined, closely) = (side.looks_rounded(), side.looks_closely());
        Self { side, refined, closely }
    }

    /// What is looked at, less what a browser's drawing of a stack has more than the closed form: that knows nothing of the 8 bits
    /// that a browser rounds to after each shadow.
    pub fn corrected(&self, found: &FoundSide, drawn: &Drawn) -> Looks {
        let mut looks = self.refined.clone();
        let is_round = self.side.place.radius > 0.0;
        let shadows = found.shadows.iter().map(|shadow| as_drawn(shadow, is_round)).collect();
        let rest = self.side.rest(&looks, &FoundSide { shadows, ..found.clone() });
        for ((target, rest), (x, y)) in looks.target.iter_mut().zip(rest).zip(&looks.places) {
            if let Some(drawn) = drawn.at(*x, *y) {
                for channel in 0..3 {
                    let seen = target[channel] - rest[channel];
                    target[channel] += seen - drawn[channel];
                }
            }
        }
        looks
    }

    /// How far a stack is off at the pixels that are looked at, and how many each stands for: its drawing, or where it was not
    /// drawn, its closed form.
    pub fn offs(&self, found: &FoundSide, drawn: Option<&Drawn>) -> Vec<(f64, f64)> {
        let looks = &self.closely;
        let sizes: Vec<f64> = match drawn {
            None => self.side.rest(looks, found).into_iter().map(|rest| apart(rest, [0.0; 3])).collect(),
            Some(drawn) => {
                let of_place = |((x, y), target): (&(f64, f64), &[f64; 4])| {
                    let seen = drawn.at(*x, *y).unwrap_or_else(|| found.under.at(*x, *y));
                    apart([target[0], target[1], target[2]], seen)
                };
                looks.places.iter().zip(&looks.target).map(of_place).collect()
            }
        };
        sizes.into_iter().zip(looks.weights()).map(|(size, weight)| (size, weight * weight)).collect()
    }
}

/// The shadow that a browser draws for one: with colours of 8 bits, and where it blurs by running means, one that has the same.
fn as_drawn(shadow: &Shadow, is_round: bool) -> Shadow {
    let in_8_bits = |value: f64| (value * 255.0).round() / 255.0;
    let sigma = shadow.blur / 2.0;
    let blur = if is_round && sigma >= MEANS { 2.0 * sigma_of_means(sigma) } else { shadow.blur };
    Shadow { blur, opacity: in_8_bits(shadow.opacity), colour: shadow.colour.map(in_8_bits), ..*shadow }
}

/// The σ in pixels from which a browser blurs rounded boxes by three running means.
const MEANS: f64 = 2.0;

/// The σ in the middle of those that a browser blurs with the same running means as one.
fn sigma_of_means(sigma: f64) -> f64 {
    box_length(sigma) as f64 * 4.0 / (3.0 * (2.0 * std::f64::consts::PI).sqrt())
}
