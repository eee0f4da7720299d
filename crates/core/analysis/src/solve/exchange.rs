//! A found stack held against the real renderer, and refined where that is worst.
//!
//! The model looks at chosen places only, and is only close to the renderer. So each solution is drawn, the places
//! where its picture is worst are added, and the goal at every place is shifted by the difference between the renderer
//! and the model.

use super::error::{Differences, Pictures};
use super::field::{Field, Places};
use super::forward::{Model, PremultipliedLayer};
use super::search::{Candidate, levelled};
use super::shadow::Shadow;
use crate::resolve;

/// Rounds at most; each looks at some more places.
const ROUNDS: usize = 3;
/// Rounds in a row that may bring nothing.
const PATIENCE: usize = 2;
/// Places of each shape that a round adds.
const MORE: usize = 60;
/// A difference that is not worth another round, and one that is so great that nobody takes the stack.
const FAINT: f64 = 0.1 / 255.0;
const POOR: f64 = 10.0 / 255.0;

/// The result of refining a stack against rendered pictures.
pub struct Refined {
    /// The stack.
    pub candidate: Candidate,
    /// Where it is looked at.
    pub field: Box<dyn Field>,
    /// The model's values where the picture is right.
    pub target: Vec<PremultipliedLayer>,
}

/// Inputs for refining a stack.
pub struct Refiner<'a> {
    /// Pictures of the stack it stands for.
    pub pictures: &'a Pictures<'a>,
    /// The places, with those to be added, by shape.
    pub field: &'a (dyn Fn(&[Places]) -> Box<dyn Field> + Sync),
    /// Shadows as the coats they are drawn as.
    pub resolved: &'a (dyn Fn(&[Shadow]) -> Vec<resolve::Coat> + Sync),
}

impl Refiner<'_> {
    /// How far a stack's pictures are off, and where.
    fn off(&self, shadows: &[Shadow]) -> (f64, Vec<Differences>) {
        let offs = self.pictures.differences(&(self.resolved)(shadows));
        (offs.iter().map(Differences::greatest).fold(0.0, f64::max), offs)
    }

    /// Refines a candidate until its picture gets no better.
    #[must_use]
    pub fn exchanged(&self, model: &Model<'_>, start: Refined) -> Refined {
        let mut best = start;
        let mut shadows = best.candidate.shadows.clone();
        let (mut least, mut offs) = self.off(&shadows);
        let mut also = vec![Places::new(); offs.len()];
        let mut idle = 0;
        for _ in 0..ROUNDS {
            if !(FAINT..POOR).contains(&least) || idle == PATIENCE || crate::budget::is_stopped() {
                break;
            }
            also.iter_mut().zip(&offs).for_each(|(also, off)| also.extend(off.worst(MORE)));
            let field = (self.field)(&also);
            let model = Model { field: &*field, ..*model };
            let target = corrected(&model, &shadows, &offs);
            let candidate = levelled(&model, &target, shadows);
            shadows = candidate.shadows.clone();
            let now = self.off(&shadows);
            offs = now.1;
            idle = if now.0 < least { 0 } else { idle + 1 };
            if now.0 < least {
                least = now.0;
                best = Refined { candidate, field, target };
            }
        }
        best
    }
}

/// Targets for the model: its present values, less the error of the picture.
fn corrected(model: &Model<'_>, shadows: &[Shadow], offs: &[Differences]) -> Vec<PremultipliedLayer> {
    let seen = model.compose(shadows).into_iter().zip(model.field.places());
    let less = |(seen, (shape, x, y)): (PremultipliedLayer, (usize, f64, f64))| {
        let off = offs[shape].at(x, y);
        std::array::from_fn(|channel| seen[channel] - off[channel])
    };
    seen.map(less).collect()
}
