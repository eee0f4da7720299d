//! Faithfulness: how close a target comes to what was designed.

use serde::Serialize;

use crate::chromium::Predicted;
use crate::lower::{Fidelity, FidelityNote, Lowered, Target};
use crate::model::Id;
use crate::resolve::Piece;

/// How close a target comes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Faithfulness {
    /// Which target.
    pub target: Target,
    /// The mean difference of red, green and blue where the piece draws anything, in 1/255.
    pub mean: f64,
    /// The largest difference, in 1/255.
    pub worst: u8,
    /// The share of values, where the piece draws anything, that are more than 5/255 off.
    pub beyond: f64,
    /// How each coat comes through, first nearest the eye; those not named are exact.
    pub coats: Vec<CoatFidelity>,
    /// What differs, in words.
    pub notes: Vec<FidelityNote>,
}

/// How one coat comes through.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct CoatFidelity {
    /// The coat.
    pub coat: Id,
    /// Its name.
    pub name: String,
    /// Nothing where it is exact.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fidelity: Option<Fidelity>,
}

/// How close a stand-alone SVG file of a piece comes.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct SvgFaithfulness {
    /// The mean difference of red, green and blue where the piece draws anything, in 1/255.
    pub mean: f64,
    /// The largest difference, in 1/255.
    pub worst: u8,
    /// How each coat comes through, first nearest the eye; those not named are exact.
    pub coats: Vec<CoatFidelity>,
    /// What differs, in words.
    pub notes: Vec<FidelityNote>,
}

/// Compares what a piece was designed as with what a browser will show of its stand-alone SVG file.
#[must_use]
pub fn svg_faithfulness(piece: &Piece, notes: Vec<FidelityNote>, predicted: &Predicted) -> SvgFaithfulness {
    let Apart { mean, worst, .. } = apart(predicted);
    SvgFaithfulness { mean, worst, coats: coats_of(piece, &notes), notes }
}

/// Compares what a piece was designed as with what a browser will show of it.
#[must_use]
pub fn faithfulness(piece: &Piece, lowered: &Lowered, predicted: &Predicted) -> Faithfulness {
    let Apart { mean, worst, beyond } = apart(predicted);
    let notes = lowered.notes.0.clone();
    Faithfulness { target: lowered.target, mean, worst, beyond, coats: coats_of(piece, &notes), notes }
}

/// How far two pictures are apart where something is drawn.
struct Apart {
    mean: f64,
    worst: u8,
    beyond: f64,
}

fn apart(predicted: &Predicted) -> Apart {
    let (mut sum, mut worst, mut beyond, mut count) = (0_u64, 0, 0_u64, 0_u64);
    let pictures = [&predicted.before, &predicted.designed, &predicted.shown].map(|p| p.rgba.chunks(4));
    let [before, designed, shown] = pictures;
    for ((before, designed), shown) in before.zip(designed).zip(shown) {
        if before == designed && before == shown {
            continue;
        }
        for (a, b) in designed.iter().zip(shown).take(3) {
            let apart = a.abs_diff(*b);
            sum += u64::from(apart);
            worst = worst.max(apart);
            beyond += u64::from(apart > 5);
        }
        count += 3;
    }
    let share = |part: u64| part as f64 / count.max(1) as f64;
    Apart { mean: share(sum), worst, beyond: share(beyond) }
}

fn coats_of(piece: &Piece, notes: &[FidelityNote]) -> Vec<CoatFidelity> {
    let mut coats: Vec<CoatFidelity> = Vec::new();
    for coat in &piece.coats {
        if coats.last().is_some_and(|last| last.coat == coat.id) {
            continue;
        }
        let said = notes.iter().filter(|note| note.coat.as_ref() == Some(&coat.id));
        let fidelity = said.map(|note| note.fidelity).max();
        coats.push(CoatFidelity { coat: coat.id.clone(), name: coat.name.clone(), fidelity });
    }
    coats
}
