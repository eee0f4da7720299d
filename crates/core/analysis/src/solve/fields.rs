//! Several silhouettes looked at together.

use super::field::{Coverage, Field};
use super::shadow::Shadow;

/// The field of one shape.
pub struct Part {
    /// The number of the shape.
    pub shape: usize,
    /// Where the field's silhouette lies on the piece, in px.
    pub x: f64,
    /// See [`Part::x`].
    pub y: f64,
    /// The field.
    pub field: Box<dyn Field>,
}

/// The places of several fields, one after another.
pub struct Fields {
    all: Vec<Part>,
    weights: Vec<f64>,
    shown: Vec<f64>,
}

impl Fields {
    /// Each counts as much as the next, however many places it has.
    #[must_use]
    pub fn new(all: Vec<Part>) -> Self {
        let most = all.iter().map(|part| part.field.count()).max().unwrap_or(0) as f64;
        let weights = all
            .iter()
            .flat_map(|Part { field, .. }| {
                let share = most / field.count().max(1) as f64;
                field.weights().iter().map(move |weight| weight * share)
            })
            .collect();
        let shown = all.iter().flat_map(|part| part.field.visible_shares().to_vec()).collect();
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

    fn visible_shares(&self) -> &[f64] {
        &self.shown
    }

    fn is_slow(&self) -> bool {
        self.all.iter().any(|part| part.field.is_slow())
    }

    fn places(&self) -> Vec<(usize, f64, f64)> {
        let mut all = Vec::new();
        for part in &self.all {
            let placed = part.field.places().into_iter();
            all.extend(placed.map(|(_, x, y)| (part.shape, x + part.x, y + part.y)));
        }
        all
    }

    fn cover(&self, shadow: &Shadow) -> Coverage {
        let mut whole = Coverage::default();
        for Part { field, .. } in &self.all {
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
