//! Curves of falloff to start from.

use serde::Serialize;

use crate::model::{FalloffPoint, Fraction};

/// A curve by its name.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct NamedFalloff {
    /// Its name.
    pub name: &'static str,
    /// The curve.
    pub points: Vec<FalloffPoint>,
}

/// The curves, each from blurred to drawn coverage.
#[must_use]
pub fn falloffs() -> Vec<NamedFalloff> {
    let curves: [(&str, &[(f64, f64)]); 5] = [
        ("early", &[(0.0, 0.0), (0.3, 0.05), (0.6, 0.35), (1.0, 1.0)]),
        ("late", &[(0.0, 0.0), (0.4, 0.65), (0.7, 0.95), (1.0, 1.0)]),
        ("ring", &[(0.0, 0.0), (0.35, 1.0), (0.65, 0.0), (1.0, 0.0)]),
        ("double edge", &[(0.0, 0.0), (0.25, 0.8), (0.5, 0.1), (0.75, 1.0), (1.0, 1.0)]),
        (
            "steps",
            &[(0.0, 0.0), (0.25, 0.0), (0.26, 0.35), (0.55, 0.35), (0.56, 0.7), (0.8, 0.7), (0.81, 1.0)],
        ),
    ];
    // Every number lies between 0 and 1.
    let point = |(from, to): &(f64, f64)| {
        Some(FalloffPoint { from: Fraction::new(*from).ok()?, to: Fraction::new(*to).ok()? })
    };
    curves
        .map(|(name, points)| NamedFalloff { name, points: points.iter().filter_map(point).collect() })
        .into()
}
