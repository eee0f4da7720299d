//! Beginnings of a stack with one shadow more than another.

use super::pixels::Colour;
use super::side::{FoundSide, Looks, PictureSide};
use crate::parallel::parallel_map;
use crate::solve::field::Field as _;
use crate::solve::shadow::Shadow;

/// Beginnings of a new shadow that are refined.
const BEGINNINGS: usize = 4;

impl PictureSide<'_> {
    /// Stacks with one shadow more: the one before with each of the shadows that take most of what is left.
    pub fn starts(&self, looks: &Looks, smaller: &FoundSide) -> Vec<Vec<Shadow>> {
        let rest = self.rest(looks, smaller);
        let candidates = self.candidates();
        let gains = parallel_map(&candidates, |shadow| {
            let coverage = self.cover(looks, shadow);
            let weights = looks.field.weights();
            let square: f64 =
                coverage.iter().zip(weights).map(|(cover, weight)| weight * cover * cover).sum();
            if square < 1e-6 {
                return (0.0, [0.0; 3]);
            }
            let by: Colour = std::array::from_fn(|channel| {
                let all = coverage.iter().zip(weights).zip(&rest);
                all.map(|((cover, weight), rest)| weight * cover * rest[channel]).sum()
            });
            (by.iter().map(|by| by * by).sum::<f64>() / square, by.map(|by| by / square))
        });
        let mut order: Vec<usize> = (0..candidates.len()).collect();
        order.sort_by(|a, b| gains[*b].0.total_cmp(&gains[*a].0));
        let mut kept: Vec<usize> = Vec::new();
        for at in order {
            let differs = |other: &usize| {
                let (one, other) = (&candidates[at], &candidates[*other]);
                (one.blur / other.blur).max(other.blur / one.blur) > 1.7
                    || (one.dy - other.dy).abs() + (one.dx - other.dx).abs() > 0.4 * one.blur + 2.0
            };
            if gains[at].0 > 0.0 && kept.iter().all(differs) {
                kept.push(at);
            }
            if kept.len() == BEGINNINGS {
                break;
            }
        }
        let middle = self.place_middle();
        let under = smaller.under.at(middle.0, middle.1);
        let mut starts: Vec<Vec<Shadow>> = Vec::new();
        for at in kept {
            let (opacity, colour) = darkest(under, gains[at].1);
            let mut shadows = smaller.shadows.clone();
            shadows.push(Shadow { opacity, colour, ..candidates[at] });
            shadows.sort_by(|a, b| a.blur.total_cmp(&b.blur));
            starts.push(shadows);
        }
        starts.extend((0..smaller.shadows.len()).map(|at| split(&smaller.shadows, at)));
        starts
    }

    /// Shadows of many sizes and places, of no colour yet.
    fn candidates(&self) -> Vec<Shadow> {
        let density = self.density;
        let mut all = Vec::new();
        for blur in [2.0, 4.0, 7.0, 12.0, 20.0, 32.0, 48.0, 72.0].map(|blur| blur * density) {
            for dy in [-0.3, 0.0, 0.25, 0.5, 1.0].map(|share| share * blur.max(8.0 * density)) {
                for dx in [-0.3, 0.0, 0.3].map(|share| share * blur.max(8.0 * density)) {
                    for spread in [-8.0, 0.0, 5.0].map(|spread| spread * density) {
                        all.push(Shadow { dx, dy, blur, spread, opacity: 1.0, colour: [0.0; 3] });
                    }
                }
            }
        }
        all
    }
}

/// The least opacity, and its colour, that change what is under them by so much.
pub fn darkest(under: Colour, change: Colour) -> (f64, Colour) {
    let needed = under.into_iter().zip(change).map(|(under, change)| {
        let room = if change < 0.0 { under } else { 1.0 - under };
        change.abs() / room.max(1e-3)
    });
    let opacity = needed.fold(0.004, f64::max).min(1.0);
    let colour = std::array::from_fn(|at| (under[at] + change[at] / opacity).clamp(0.0, 1.0));
    (opacity, colour)
}

/// A stack in which one shadow is two: a tighter and a wider one.
fn split(shadows: &[Shadow], at: usize) -> Vec<Shadow> {
    let shadow = shadows[at];
    let half = 1.0 - (1.0 - shadow.opacity).max(0.0).sqrt();
    let scaled = |by: f64| Shadow {
        dx: shadow.dx * by,
        dy: shadow.dy * by,
        blur: shadow.blur * by,
        opacity: half,
        ..shadow
    };
    let mut split = shadows.to_vec();
    split[at] = scaled(0.6);
    split.insert(at + 1, scaled(1.5));
    split
}
