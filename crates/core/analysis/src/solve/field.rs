//! Coverage of a shadow at the places that are looked at, and how it changes with the shadow's numbers.

use super::shadow::Shadow;

/// The coverage of one shadow's shape at every place, and its slopes.
#[derive(Debug, Clone, Default)]
pub struct Coverage {
    /// From 0 to 1.
    pub value: Vec<f64>,
    /// Per px to the right.
    pub dx: Vec<f64>,
    /// Per px down.
    pub dy: Vec<f64>,
    /// Per px of blur.
    pub blur: Vec<f64>,
    /// Per px of spread.
    pub spread: Vec<f64>,
}

impl Coverage {
    /// Room for so many places.
    #[must_use]
    pub fn zeros(places: usize) -> Self {
        let zeros = || vec![0.0; places];
        Self { value: zeros(), dx: zeros(), dy: zeros(), blur: zeros(), spread: zeros() }
    }

    /// Where only a share of each place is seen.
    pub fn clip(&mut self, shown: &[f64]) {
        for list in [&mut self.value, &mut self.dx, &mut self.dy, &mut self.blur, &mut self.spread] {
            list.iter_mut().zip(shown).for_each(|(number, shown)| *number *= shown);
        }
    }

    /// The coverage of an inner shadow: the area outside its hole, which is spread the other way.
    pub fn invert(&mut self) {
        self.value.iter_mut().for_each(|value| *value = 1.0 - *value);
        for slope in [&mut self.dx, &mut self.dy, &mut self.blur] {
            slope.iter_mut().for_each(|slope| *slope = -*slope);
        }
    }
}

/// Middles of pixels, in px of the piece.
pub type Places = Vec<(f64, f64)>;

/// Places on and around a silhouette at which a shadow's coverage is known.
pub trait Field: Send + Sync {
    /// How many places.
    fn count(&self) -> usize;

    /// How much each place counts.
    fn weights(&self) -> &[f64];

    /// The share of each place on the given side: an edge may run through its pixel.
    fn visible_shares(&self) -> &[f64];

    /// Whether coverage takes so long that a search has to do with fewer looks.
    fn is_slow(&self) -> bool;

    /// Where the places are: the number of the shape, and px of its piece.
    fn places(&self) -> Vec<(usize, f64, f64)>;

    /// Coverage and slopes of the silhouette moved, spread and blurred.
    fn cover(&self, shadow: &Shadow) -> Coverage;
}
