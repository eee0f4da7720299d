//! Several silhouettes looked at together.

use super::field::{Coverage, Field};
use super::shadow::Shadow;

/// The places of several fields, one after another.
pub struct Fields {
    all: Vec<Box<dyn Field>>,
    weights: Vec<f64>,
    shown: Vec<f64>,
}

impl Fields {
    /// Each counts as much as the next, however many places it has.
    #[must_use]
    pub fn new(all: Vec<Box<dyn Field>>) -> Self {
        let most = all.iter().map(|field| field.count()).max().unwrap_or(0) as f64;
        let weights = all
            .iter()
            .flat_map(|field| {
                let share = most / field.count().max(1) as f64;
                field.weights().iter().map(move |weight| weight * share)
            })
            .collect();
        let shown = all.iter().flat_map(|field| field.shown().to_vec()).collect();
        Self { all, weights, shown }
    }
}

impl Field for Fields {
    fn count(&self) -> usize {
        self.weights.len()
    }

    fn weights(&self) -> &[f64] {
        &self.weights
    }

    fn shown(&self) -> &[f64] {
        &self.shown
    }

    fn cover(&self, shadow: &Shadow) -> Coverage {
        let mut whole = Coverage::default();
        for field in &self.all {
            let part = field.cover(shadow);
            whole.value.extend(part.value);
            whole.dx.extend(part.dx);
            whole.dy.extend(part.dy);
            whole.blur.extend(part.blur);
            whole.spread.extend(part.spread);
        }
        whole
    }
}
