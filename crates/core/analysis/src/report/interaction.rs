//! Numbers that fields and imports of an interface take: the front end gets them with its constants.
//!
//! Common practice, no published source.

use serde::Serialize;

use crate::limits;
use crate::model::Strength;

/// Numbers for typing and for imports.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Interaction {
    /// Px along the longest side of an icon that is brought in.
    pub icon_side: f64,
    /// Px along the longest side of a picture that is brought in, at most.
    pub picture_side: f64,
    /// Px along the longest side of a drawing that is brought in, at most.
    pub drawing_side: f64,
    /// Px right and down from a piece where its duplicate lies.
    pub duplicate_offset: f64,
    /// Px between a piece and an alternative to it.
    pub alternative_gap: f64,
    /// The difference of two pictures, in 255ths, that hardly anybody sees.
    pub unseen_difference: f64,
    /// Limits of the fields of a ramp.
    pub ramp: RampFields,
    /// How strong a rule for elements of a page may be, the weakest first, with a selector as strong as one in the place of `%`.
    pub strengths: Vec<(Strength, String)>,
}

/// The lowest and the highest value of each field.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct RampFields {
    /// The growth of its steps; documents may come closer to 0.
    pub growth: [f64; 2],
    /// The lean of its opacities; documents may come closer to -1 and 1.
    pub lean: [f64; 2],
    /// The opacity of all its shadows where they overlap.
    pub total: [f64; 2],
}

/// The numbers the application uses.
#[must_use]
pub fn interaction() -> Interaction {
    Interaction {
        icon_side: 120.0,
        picture_side: 240.0,
        drawing_side: 480.0,
        duplicate_offset: 16.0,
        alternative_gap: 32.0,
        unseen_difference: 1.0,
        ramp: RampFields { growth: [0.01, 100.0], lean: [-0.99, 0.99], total: [0.0, limits::RAMP_TOTAL] },
        strengths: Strength::ALL.map(|strength| (strength, strength.selector(":is(%)"))).to_vec(),
    }
}
