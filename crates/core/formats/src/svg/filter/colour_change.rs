//! The effects of `feColorMatrix` and `feComponentTransfer` on the colours of a layer, as far as they are depth.

use crate::lower::Curve;

/// The effect of a filter on the colours of a layer.
#[derive(Clone, Copy)]
pub(super) enum ColourChange {
    Keep,
    /// In place of every colour.
    Set([f32; 3]),
}

/// A line that maps alpha to alpha.
#[derive(Clone, Copy)]
pub(super) struct AlphaLine {
    slope: f64,
    intercept: f64,
}

impl AlphaLine {
    pub(super) fn at(self, alpha: f64) -> f64 {
        self.slope * alpha + self.intercept
    }
}

/// The effect of a matrix on colours and on alpha. `None` where it mixes channels.
pub(super) fn matrix_change(rows: &[f64; 20]) -> Option<(ColourChange, AlphaLine)> {
    let row = |at: usize| &rows[at * 5..at * 5 + 5];
    let colours = [row(0), row(1), row(2)];
    let keeps = colours.iter().enumerate().all(|(at, row)| {
        row.iter().enumerate().all(|(column, value)| *value == if column == at { 1.0 } else { 0.0 })
    });
    let puts_in = colours.iter().all(|row| row[..4].iter().all(|value| *value == 0.0));
    let alpha = row(3);
    if (!keeps && !puts_in) || alpha[..3].iter().any(|value| *value != 0.0) {
        return None;
    }
    let set = || ColourChange::Set(colours.map(|row| row[4].clamp(0.0, 1.0) as f32));
    let change = if keeps { ColourChange::Keep } else { set() };
    Some((change, AlphaLine { slope: alpha[3], intercept: alpha[4] }))
}

/// The effect of transfer functions on colours. `None` where that is not depth.
pub(super) fn colour_change(curves: &[Curve; 4]) -> Option<ColourChange> {
    let colours = &curves[..3];
    if colours
        .iter()
        .all(|curve| (0..=4).all(|i| (curve.at(f64::from(i) / 4.0) - f64::from(i) / 4.0).abs() < 1e-9))
    {
        return Some(ColourChange::Keep);
    }
    let flat = |curve: &Curve| {
        let value = curve.at(0.0);
        (0..=8)
            .all(|i| (curve.at(f64::from(i) / 8.0) - value).abs() < 1e-9)
            .then_some(value.clamp(0.0, 1.0) as f32)
    };
    Some(ColourChange::Set([flat(&colours[0])?, flat(&colours[1])?, flat(&colours[2])?]))
}
