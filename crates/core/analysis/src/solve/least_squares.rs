//! Weighted least squares on the numbers of a stack: Levenberg's and Marquardt's method with bounds.
//!
//! Written here and not taken from a package because opacities, blurs and spreads end up on their bounds in good
//! stacks, which the packages that solve without bounds reach only through a change of variables that has no slope
//! there. The linear systems have at most some dozens of unknowns.

use super::field::Coverage;
use super::forward::{JacobianRow, Model, PremultipliedLayer};
use super::ground::{GroundShift, WithGround};
use super::shadow::Shadow;

/// The target that a stack is fitted to.
pub struct Objective<'a> {
    /// At every place.
    pub target: &'a [PremultipliedLayer],
    /// The power that differences are raised to before they are squared: 1 is plain least squares, more comes nearer to
    /// the least greatest difference.
    pub power: i32,
    /// A difference that counts as 1.
    pub scale: f64,
    /// Numbers that shall stay near where they were.
    pub prior: Option<&'a Prior>,
    /// Parameters that do not move, by number of shadow and of parameter.
    pub held: &'a [(usize, usize)],
    /// Whether the ground, where it is known, is moved by whichever colour brings a stack nearest to the target.
    pub is_ground_free: bool,
}

/// Where the numbers were, and how strongly each is held there.
pub struct Prior {
    /// By shadow, then by parameter.
    pub at: Vec<f64>,
    /// The cost of one unit of distance, in the square root of the objective's.
    pub strength: Vec<f64>,
}

/// The sum of squares at which a stack is as good as exact.
const EXACT: f64 = 1e-12;

/// Moves a stack towards the goal, in at most so many steps, and tells the sum of squares left.
pub fn refine(model: &Model<'_>, goal: &Objective<'_>, shadows: &mut Vec<Shadow>, steps: usize) -> f64 {
    let mut coverages = model.coverages(shadows);
    let mut cost = cost_with(model, goal, shadows, &coverages);
    let mut damping = 1e-2;
    for _ in 0..steps {
        if cost < EXACT || crate::budget::is_stopped() {
            break;
        }
        if !crate::budget::spend(System::steps(model, shadows.len())) {
            break;
        }
        let system = System::new(model, goal, shadows, &coverages);
        let before = cost;
        for _ in 0..8 {
            let moved = system.step(damping).map(|step| stepped(model, shadows, &step));
            if let Some(moved) = moved {
                let covered = model.coverages(&moved);
                let tried = cost_with(model, goal, &moved, &covered);
                if tried < cost {
                    (*shadows, cost, coverages) = (moved, tried, covered);
                    damping = (damping / 5.0_f64).max(1e-9);
                    break;
                }
            }
            damping *= 4.0;
        }
        if before - cost <= 1e-5 * before {
            break;
        }
    }
    cost
}

/// The weighted sum of squares.
fn cost_with(model: &Model<'_>, goal: &Objective<'_>, shadows: &[Shadow], coverages: &[Coverage]) -> f64 {
    let mut seen = model.seen_with(shadows, coverages);
    if goal.is_ground_free {
        let shift = GroundShift::nearest(model, goal.target, &seen);
        seen.iter_mut().for_each(|layer| shift.apply(layer));
    }
    let places = seen.iter().zip(goal.target).zip(model.field.weights());
    let off: f64 = places
        .map(|((seen, wanted), weight)| {
            let squares = model
                .channels()
                .map(|channel| ((seen[channel] - wanted[channel]) / goal.scale).powi(2 * goal.power));
            weight * squares.sum::<f64>()
        })
        .sum();
    off + goal.prior.map_or(0.0, |prior| prior.cost(model, shadows))
}

impl Prior {
    fn cost(&self, model: &Model<'_>, shadows: &[Shadow]) -> f64 {
        let off = numbers(model, shadows).into_iter().zip(self.at.iter().zip(&self.strength));
        off.map(|(value, (at, strength))| (strength * (value - at)).powi(2)).sum()
    }
}

/// Every number that may move, by shadow, then by parameter.
#[must_use]
pub fn numbers(model: &Model<'_>, shadows: &[Shadow]) -> Vec<f64> {
    let parameters = model.freedom.parameters();
    let of = |shadow| parameters.iter().map(move |parameter| (shadow, *parameter));
    shadows.iter().flat_map(of).map(|(shadow, parameter)| model.freedom.get(shadow, parameter)).collect()
}

fn stepped(model: &Model<'_>, shadows: &[Shadow], step: &[f64]) -> Vec<Shadow> {
    let parameters = model.freedom.parameters();
    let mut moved = shadows.to_vec();
    for (shadow, step) in moved.iter_mut().zip(step.chunks(parameters.len())) {
        for (parameter, step) in parameters.iter().zip(step) {
            let value = model.freedom.get(shadow, *parameter);
            model.freedom.set(shadow, *parameter, value + step);
        }
    }
    moved
}

/// The normal equations at one stack.
struct System {
    /// Jᵀ·W·J, row by row.
    matrix: Vec<f64>,
    /// −Jᵀ·W·r.
    right: Vec<f64>,
    /// Parameters that may move.
    free: Vec<usize>,
}

impl System {
    /// Steps that the equations of so many shadows take, of the budget of a request: four products for each.
    fn steps(model: &Model<'_>, shadows: usize) -> u64 {
        let size = model.freedom.parameters().len() * shadows;
        (model.field.count() * model.channels().len() * size * size) as u64 / 4
    }

    fn new(model: &Model<'_>, goal: &Objective<'_>, shadows: &[Shadow], coverages: &[Coverage]) -> Self {
        let per_shadow = model.freedom.parameters().len();
        let size = per_shadow * shadows.len();
        let (mut matrix, mut right) = (vec![0.0; size * size], vec![0.0; size]);
        let mut slopes = JacobianRow::new(model.freedom, shadows.len());
        let shift = goal
            .is_ground_free
            .then(|| GroundShift::nearest(model, goal.target, &model.seen_with(shadows, coverages)));
        let mut with_ground = WithGround::new(size);
        for place in 0..model.field.count() {
            let mut seen = model.slopes(shadows, coverages, place, &mut slopes);
            if let Some(shift) = &shift {
                shift.apply(&mut seen);
                shift.slope(&mut slopes);
                with_ground.add(&slopes, seen[3], model.field.weights()[place] / goal.scale.powi(2));
            }
            for channel in model.channels() {
                let off = (seen[channel] - goal.target[place][channel]) / goal.scale;
                // With residuals offᵖ, slopes are p·offᵖ⁻¹ times those of the difference.
                let steeper = f64::from(goal.power) * off.powi(goal.power - 1) / goal.scale;
                let weight = model.field.weights()[place] * steeper * steeper;
                let off = if steeper == 0.0 { 0.0 } else { off.powi(goal.power) / steeper };
                let slopes = &slopes.of[channel];
                for (row, slope) in slopes.iter().enumerate() {
                    let weighted = weight * slope;
                    right[row] -= weighted * off;
                    let line = &mut matrix[row * size..=row * size + row];
                    line.iter_mut().zip(slopes).for_each(|(cell, other)| *cell += weighted * other);
                }
            }
        }
        if let Some(shift) = &shift {
            with_ground.eliminate(shift, &mut matrix);
        }
        if let Some(prior) = goal.prior {
            let values = numbers(model, shadows);
            for (at, value) in values.iter().enumerate() {
                let strength = prior.strength[at].powi(2);
                matrix[at * size + at] += strength;
                right[at] -= strength * (value - prior.at[at]);
            }
        }
        let mut system = Self { matrix, right, free: Vec::new() };
        system.free = system.free_ones(model, goal, shadows);
        system
    }

    /// All but those that are held, and those on a bound that the slope would push past it.
    fn free_ones(&self, model: &Model<'_>, goal: &Objective<'_>, shadows: &[Shadow]) -> Vec<usize> {
        let parameters = model.freedom.parameters();
        let is_free = |at: &usize| {
            let (number, which) = (at / parameters.len(), at % parameters.len());
            let mut pushed = shadows[number];
            let value = model.freedom.get(&pushed, parameters[which]);
            let push = 1e-6 * self.right[*at].signum();
            model.freedom.set(&mut pushed, parameters[which], value + push);
            let moves = model.freedom.get(&pushed, parameters[which]) != value;
            moves && !goal.held.contains(&(number, which)) && self.diagonal(*at) > 0.0
        };
        (0..self.right.len()).filter(is_free).collect()
    }

    fn diagonal(&self, at: usize) -> f64 {
        self.matrix[at * self.right.len() + at]
    }

    /// The step for a damping, as a share of the diagonal (Marquardt 1963).
    fn step(&self, damping: f64) -> Option<Vec<f64>> {
        let (size, free) = (self.right.len(), &self.free);
        let cell = |row: usize, column: usize| {
            let (row, column) = (free[row].max(free[column]), free[row].min(free[column]));
            self.matrix[row * size + column]
        };
        let mut lower = vec![0.0; free.len() * free.len()];
        for row in 0..free.len() {
            for column in 0..=row {
                let own = if row == column { 1.0 + damping } else { 1.0 };
                let sum: f64 =
                    (0..column).map(|k| lower[row * free.len() + k] * lower[column * free.len() + k]).sum();
                let rest = cell(row, column) * own - sum;
                lower[row * free.len() + column] = if row == column {
                    if rest <= 0.0 {
                        return None;
                    }
                    rest.sqrt()
                } else {
                    rest / lower[column * free.len() + column]
                };
            }
        }
        let right: Vec<f64> = free.iter().map(|at| self.right[*at]).collect();
        let solved = substituted(&lower, right);
        let mut step = vec![0.0; size];
        free.iter().zip(solved).for_each(|(at, value)| step[*at] = value);
        Some(step)
    }
}

/// Solves L·Lᵀ·x = right for a lower triangle L (Cholesky).
fn substituted(lower: &[f64], mut x: Vec<f64>) -> Vec<f64> {
    let size = x.len();
    for row in 0..size {
        let sum: f64 = (0..row).map(|k| lower[row * size + k] * x[k]).sum();
        x[row] = (x[row] - sum) / lower[row * size + row];
    }
    for row in (0..size).rev() {
        let sum: f64 = (row + 1..size).map(|k| lower[k * size + row] * x[k]).sum();
        x[row] = (x[row] - sum) / lower[row * size + row];
    }
    x
}
